"""How long a bath takes, and how sure that is: what is believed, and what looks and readings do.

May import the geometry, field and data rooms and ``core.dose``; plan and process import it.
"""
