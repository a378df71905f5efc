"""Tests of measuring by photograph."""
