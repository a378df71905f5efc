"""Fields that save themselves: what is typed, read, refused, written, and taken back."""
