"""The handbook, the rules and the words."""
