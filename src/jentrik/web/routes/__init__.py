"""One module a page: address in, view-model and template out."""
