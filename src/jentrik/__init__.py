"""Jentrik: what a change of wheel size does to a bicycle or motorcycle."""

__version__ = "0.1.0"
