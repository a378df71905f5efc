"""View-models: core values into words, units, rounding and CSS classes."""
