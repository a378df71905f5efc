"""The order list of a job, by supplier, and what work cost."""
