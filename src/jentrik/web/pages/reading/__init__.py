"""The reader of sidewalls."""
