"""Yellow Bath: plan, run and write down an electrolysis rust-removal bath."""

__version__ = "0.1.0"

import os

# A waiting thread of the linear algebra spins: on a shared core it costs as much as it helps.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
