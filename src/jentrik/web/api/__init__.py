"""The JSON interface: typed bodies in, the changed thing out, and its description."""
