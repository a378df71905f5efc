"""Rides as tracks."""
