"""Elements put together into operators, lines of rods among them.

It may be made faster, never less exact; blocks that stay are kept.
"""
