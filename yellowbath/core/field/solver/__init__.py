"""A bath and its solution: equations, overpotentials, what it says of a piece and how wrong it is.

What a claim of error says is measured, never tuned to a case.
"""
