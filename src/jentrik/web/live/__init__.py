"""Fields that save themselves, and what other screens do while it happens."""
