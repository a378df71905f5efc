"""Ways back and pairs of tires, many at once."""
