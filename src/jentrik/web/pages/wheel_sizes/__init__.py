"""Wheel sizes beside each other."""
