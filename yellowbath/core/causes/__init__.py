"""What may be wrong with a bath: what each cause changes, what is asked, and how it is judged.

May import ``core.bath`` and what is below it.
"""
