"""Open formats, a module each: between a document and core values."""
