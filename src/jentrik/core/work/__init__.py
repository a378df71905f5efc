"""A job and what it needs: order, card, logbook, and what the shop sets and keeps."""
