"""Drawings: a view-model in, SVG out, millimetres with y turned once at the root."""
