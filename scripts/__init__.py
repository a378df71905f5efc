"""What is run by hand: pictures, demo files, the styles of Bulma that are used."""
