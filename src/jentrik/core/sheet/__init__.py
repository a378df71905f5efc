"""A machine's sheet: figures with where they came from."""
