"""How inner loops are compiled: once for a machine, kept on disk, without loosening arithmetic."""

from typing import Any

import numba

compiled: Any = numba.njit(cache=True, nogil=True)
