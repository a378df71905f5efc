"""What the shop sets, and what lies on its shelf."""
