"""The harbour-town workshop: a made-up shop to try the program with."""
