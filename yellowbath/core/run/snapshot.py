"""A run as it is kept between two entries: what its log added up to, without what it ran under.

The basis is the run's own and never changes; a snapshot made under another is of no use, which its
mark tells.
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, fields, replace
from datetime import datetime
from typing import Any

from pydantic import TypeAdapter

from yellowbath.core.run.basis import Basis, Stretch
from yellowbath.core.run.charge import compact
from yellowbath.core.run.run import Run

_VERSION = 13  # one more whenever a run holds something else
_ADAPTER = TypeAdapter(Run)
_OWN = [f.name for f in fields(Stretch) if f.name != "basis"]


@dataclass(frozen=True)
class Snapshot:
    """What the entries up to one came to: its time and number, and the state as it is kept."""

    at: datetime
    entry_id: int
    mark: str
    state: dict[str, Any]


def mark_of(basis: Basis) -> str:
    """What a basis and this way of keeping are known by."""
    return hashlib.sha256(f"{_VERSION} {basis.text}".encode()).hexdigest()[:16]


def kept(run: Run) -> dict[str, Any]:
    """A run as JSON, its stretches added up to the last two."""
    made = compact(run)
    out: dict[str, Any] = _ADAPTER.dump_python(replace(made, stretches=[]), mode="json")
    out["stretches"] = [
        {**{n: value for n, value in _plain(s).items() if n in _OWN}, "out": s.basis.out}
        for s in made.stretches
    ]
    return out


def opened(state: dict[str, Any], basis: Basis) -> Run:
    """The run that was kept; raises ValidationError where it is none."""
    plain = _ADAPTER.validate_python({**state, "stretches": []})
    plain.stretches = [_stretch(s, basis) for s in state["stretches"]]
    return plain


def _stretch(state: dict[str, Any], basis: Basis) -> Stretch:
    own = {name: state[name] for name in _OWN}
    made = _STRETCH.validate_python({**own, "basis": _NO_BASIS})
    return replace(made, basis=basis.under(tuple(state["out"])))


_STRETCH = TypeAdapter(Stretch)
_NO_BASIS = {
    "revision": 0, "level_m": 0, "anodes": "", "mix": "", "supply": "", "expected_a": 0,
    "expected_low_a": 0, "expected_high_a": 0, "wetted_area_m2": 1,
    "coverage": {"weights": [], "poses": []},
}  # fmt: skip


def _plain(s: Stretch) -> dict[str, Any]:
    found: dict[str, Any] = _STRETCH.dump_python(replace(s, basis=_EMPTY), mode="json")
    return found


_EMPTY: Basis = TypeAdapter(Basis).validate_python(_NO_BASIS)
