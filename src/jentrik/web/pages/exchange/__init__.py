"""Documents in and out: the shop, spreadsheets, contacts."""
