"""Machines and their sheets."""
