"""One file a feature."""
