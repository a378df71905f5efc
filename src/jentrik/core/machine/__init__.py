"""A machine and its parts, as plain values."""
