"""What is kept: plans as immutable revisions, runs as append-only logs, the book."""
