"""Tests and benchmarks. Imported first, so that linear algebra has one thread in all of them."""

import yellowbath  # noqa: F401 - it says so before NumPy is loaded
