"""Figures of a machine from marks on a photograph: its own wheels are the ruler."""
