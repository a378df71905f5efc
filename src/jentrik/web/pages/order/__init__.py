"""The order list of a job, by supplier, what is ordered, and what work cost."""
