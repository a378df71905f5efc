"""Tests of practice items."""
