"""Yellow Bath: plan, run and write down an electrolysis rust-removal bath."""

__version__ = "0.1.0"
