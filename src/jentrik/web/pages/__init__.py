"""Pages, a package a subject: addresses in `route`, what is shown in `view`."""
