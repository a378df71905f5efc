"""Ways back to the geometry."""
