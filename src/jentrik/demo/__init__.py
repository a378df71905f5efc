"""The harbour-town workshop: a made-up shop with eleven machines to try the program with."""
