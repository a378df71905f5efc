"""A machine judged with its proposals, ways back, and pairs of tires, many at once."""
