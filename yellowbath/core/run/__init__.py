"""A run: its log, what it folds to, what was read and seen, and what is believed of it.

Pure: facts and an entry in, a run out. May import ``core.causes`` and what is below it.
"""
