"""What a plan comes to: fill, answer and what lies beyond it, wear, the relief bake.

Each figure is made by the function that computes it, with formula, inputs and source.
"""
