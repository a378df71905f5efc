"""Published values as data; each module names its document."""
