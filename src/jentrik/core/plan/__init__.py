"""A machine judged with its proposals."""
