"""Station Ride, and set-ups that are ridden."""
