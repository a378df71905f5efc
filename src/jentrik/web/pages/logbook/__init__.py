"""The logbook of a machine, and what is due."""
