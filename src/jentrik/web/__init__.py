"""Pages, fragments and the JSON interface."""
