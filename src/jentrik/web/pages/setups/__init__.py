"""Set-ups, wheels and wheel sets of a machine."""
