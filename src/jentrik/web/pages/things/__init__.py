"""One thing of the shelf, and where it can go."""
