"""The list of jobs, and a job on its bench from Read to Check."""
