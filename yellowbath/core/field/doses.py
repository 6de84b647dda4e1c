"""Amps and evenness against dose for one tank, piece and scrap.

Conductivity only rescales the operator, so the mesh, the operator and the rods' rows are made once;
each dose costs a factorisation. Solved on the live mesh; see docs/models/field.md for its error.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from yellowbath.core.document import Plan
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.assembly.assemble import BlockCache
from yellowbath.core.field.live import FINE
from yellowbath.core.field.plan_bath import quantiles_of
from yellowbath.core.field.plan_bodies import build
from yellowbath.core.field.solver.result import PieceCurrent
from yellowbath.core.field.solver.solve import solve


@dataclass(frozen=True)
class AtDose:
    """Resistance with films [ohm], and density over its mean at hundredths of the surface [-]."""

    resistance: float
    quantiles: tuple[float, ...]


def solve_doses(
    plan: Plan,
    bottoms: Mapping[str, float],
    depth: float,
    conductivities: Sequence[float],
    kept: BlockCache | None = None,
) -> list[AtDose]:
    """One solve a conductivity [S/m]; lengths [m]. Raises NoAnswerError without a current path."""
    kept, displaced, out = kept or BlockCache(), None, []
    bath, pieces = build(plan, dict(bottoms), depth, conductivities[0], FINE)
    if not pieces:
        raise NoAnswerError("Nothing of the piece is in the liquid.")
    bodies = bath.bodies[:pieces]
    for sigma in conductivities:
        solved = solve(replace(bath, conductivity=sigma), kept, displaced)
        displaced = solved.displaced
        share = PieceCurrent.of(bodies, solved.density)
        out.append(AtDose(1 / share.current, quantiles_of(share.bare, share.ratio)))
    return out
