"""The paper of a job: the offer before the work, what was agreed, the hand-over after it."""
