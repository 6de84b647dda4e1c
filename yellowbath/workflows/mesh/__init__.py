"""A mesh file from drop to plan, read in a process of its own."""
