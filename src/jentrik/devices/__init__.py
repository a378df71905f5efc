"""Gauges: the protocol a measuring tool speaks, and simulated ones that speak it."""
