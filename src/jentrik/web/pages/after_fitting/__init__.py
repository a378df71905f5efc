"""After fitting: measured again, and put on the sheet."""
