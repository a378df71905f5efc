"""The server around the application: its threads, its log, tags, and how it is started."""
