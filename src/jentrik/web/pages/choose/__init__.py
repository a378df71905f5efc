"""What can go on a machine."""
