"""The bin, and what was done."""
