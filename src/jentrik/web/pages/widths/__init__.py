"""How wide a tire may be on a machine: the chart, and the lines it follows from."""
