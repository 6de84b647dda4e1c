"""A practice bath, its cards and what is told at its end."""
