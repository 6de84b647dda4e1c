"""What one element does to another: kernels and Green functions.

Numbers in, numbers out; no bath, no plan. What is changed here is held by the closed forms.
"""
