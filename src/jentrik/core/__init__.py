"""Arithmetic and rules of the trade: no web, database, files, clock or settings."""
