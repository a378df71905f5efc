"""What a machine measures and does: contact, clearances, parking, speed, strikes."""
