"""One bath as a circuit: what may be so before it is read, and what readings make of it.

May import the plan room and what is below it.
"""
