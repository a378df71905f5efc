"""Practice items made and answered by the core: by a seed, never typed in."""
