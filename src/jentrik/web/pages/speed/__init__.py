"""An instrument compared with the truth."""
