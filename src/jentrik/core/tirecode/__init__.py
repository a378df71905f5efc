"""Tire codes: from what stands on a sidewall to millimetres, loads and speeds."""
