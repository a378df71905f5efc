"""A machine, its parts and set-ups as plain values, and its sheet: figures and their origin."""
