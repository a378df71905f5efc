"""A speedometer against the truth."""
