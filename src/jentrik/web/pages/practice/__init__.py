"""Practice."""
