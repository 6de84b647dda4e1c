"""A document into a plan: typed texts read, rods set out, faults by pointer.

Nothing is computed of the bath here but where things stand.
"""
