"""Runs: entering, how they stand, the rack, the book, causes and estimates."""
