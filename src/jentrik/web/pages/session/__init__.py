"""Opening the shop with its passphrase."""
