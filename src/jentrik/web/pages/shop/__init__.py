"""What the shop sets."""
