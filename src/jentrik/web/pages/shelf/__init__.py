"""The wheel shelf."""
