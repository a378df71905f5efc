"""The job card."""
