"""Tires and rims: codes, marks and the published tables they are read by."""
