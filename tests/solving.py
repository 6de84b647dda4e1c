"""One solver for all tests of a process, so that its kernels are loaded once; and fields that were
solved once for all processes of a run of tests.

What a field depends on is its key, so that what one server solved another would solve again to the
same digits. Only whole runs keep them; what is tested of the solver itself makes its own.
"""

from __future__ import annotations

import hashlib
import os
import pickle
from collections.abc import Callable
from pathlib import Path
from typing import Any

from yellowbath.workflows.shop.solver import Solver

FIELDS = "YB_FIELDS"  # names a folder for fields that were solved in this run of tests
_solve = Solver.field


def _from_folder(solver: Solver, key: str, make: Callable[[Any], Any], drag: Any = None) -> Any:
    """``Solver.field``, with what another process has solved already."""

    def found(kept: Any) -> Any:
        file = Path(os.environ[FIELDS]) / hashlib.sha256(key.encode()).hexdigest()
        if file.exists():
            return pickle.loads(file.read_bytes())
        made = make(kept)
        part = file.with_suffix(f".{os.getpid()}")
        part.write_bytes(pickle.dumps(made, protocol=5))
        part.replace(file)  # at once, whoever writes it too
        return made

    return _solve(solver, key, found if FIELDS in os.environ else make, drag)


class _Sharing(Solver):
    field = _from_folder


def share_fields() -> None:
    """Every solver of this process takes what was solved in this run of tests."""
    Solver.field = _from_folder  # type: ignore[method-assign]


SOLVER: Solver = _Sharing()
