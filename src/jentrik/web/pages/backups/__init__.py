"""Backups: made, looked over, restored."""
