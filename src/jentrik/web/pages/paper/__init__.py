"""What goes on paper: the machine, the wheel, the tire, the tag."""
