"""Tires over time: inspections, wear, age, rides."""
