"""A plan, from what was typed to what it comes to.

Rooms, each on those before: ``reading``, ``comparison``, ``results``, ``placement``, ``advice``.
"""
