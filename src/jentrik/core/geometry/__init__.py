"""Plane geometry of a chassis on two wheels: exact, closed form, one machine or a million."""
