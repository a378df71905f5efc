"""Lists as spreadsheets."""
