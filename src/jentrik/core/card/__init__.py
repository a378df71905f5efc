"""Job cards."""
