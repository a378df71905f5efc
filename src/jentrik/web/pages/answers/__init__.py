"""The answer to a proposal: whether it goes, what decides it, what would go instead."""
