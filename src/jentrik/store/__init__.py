"""What the shop keeps: one SQLite file, numbered migrations, a journal of every change."""
