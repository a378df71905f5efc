"""Tires of one size for a use."""
