"""A job and what it needs."""
