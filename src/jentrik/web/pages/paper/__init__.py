"""What goes on paper: for the customer, the wheel, the tag."""
