"""A bath on a line: instruments, samples, interlocks, and what they say in the log."""
