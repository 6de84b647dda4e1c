"""What routes answer: figures, scenes and lists written in the person's units.

Pure formatting: nothing is computed here, and conversions are asked of ``core.units``.
"""
