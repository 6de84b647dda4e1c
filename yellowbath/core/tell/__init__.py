"""What is told of a plan and of a run: next hands, advice, card, one line, finish, book.

May import ``core.run`` and what is below it.
"""
