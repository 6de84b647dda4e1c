"""What is kept of a solved field: enough to answer a plan again without solving it again."""

from __future__ import annotations

import math

from pydantic import BaseModel, ConfigDict, Field

from yellowbath.core.data import source_text
from yellowbath.core.field.model import Coverage, FieldAnswer, RodLayout, profile_of
from yellowbath.core.figures import Figure, Input, figure, typed
from yellowbath.core.power.warming import COLD, Warm


class FieldSummary(BaseModel):
    """Resistance [ohm], its relative error, a hundred quantiles of density over mean [-].

    ``areas`` [m2] of the reference facets called ``reference``, and ``poses``: density over its
    mean on each of them, as planned and (where it was solved) turned round; dry ones have none.
    ``needs``: what each wants over what the piece does, where regions are graded by themselves;
    ``dipped``: the poses put end for end, for a piece that is dipped by halves; ``pose_ohm`` and
    ``dipped_ohm``: the bath's resistance in each of them over that as planned; ``sides``: how much
    each facet belongs to the main surface and the slow places; ``meshes``: quantiles
    without bores on the finer and the coarser mesh; ``coarse_current``: its current over the
    finer one's; ``earlier``: resistance and relative error of a coarser solve of the same bath;
    ``places``: the region of each facet; ``rods``: share of the current by scrap.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    resistance_ohm: float
    relative_error: float
    quantiles: tuple[float, ...]
    facets: int
    warm: Warm | None = None
    reference: str = ""
    areas: tuple[float, ...] = ()
    poses: tuple[tuple[float, ...], ...] = ()
    needs: tuple[float, ...] = ()
    dipped: tuple[tuple[float, ...], ...] = ()
    pose_ohm: tuple[float, ...] = ()
    dipped_ohm: tuple[float, ...] = ()
    sides: dict[str, tuple[float, ...]] = Field(default_factory=dict)
    meshes: tuple[tuple[float, ...], ...] = ()
    coarse_current: float = 1.0
    earlier: tuple[float, float] | None = None
    places: tuple[str, ...] = ()
    rods: dict[str, float] = Field(default_factory=dict)

    @property
    def coverage(self) -> Coverage | None:
        """What each part of the surface gets, pose by pose; None from before facets were kept."""
        if not self.poses:
            return None
        return Coverage.of(self.areas, self.poses, self.needs, sides=self.sides, places=self.places)

    def turned_ohm(self, turns: int, flips: int) -> float:
        """Resistance after so many turns, and flips end for end, over that as planned [-]; one
        where that was not solved."""
        over = self.dipped_ohm if self.dipped_ohm and flips % 2 else self.pose_ohm
        return over[turns % len(over)] if over else 1.0

    @property
    def by_halves(self) -> Coverage | None:
        """What each part gets over all dips; None for a piece that is all in the liquid."""
        if not self.dipped:
            return None
        return Coverage.of(self.areas, self.poses, self.needs, self.dipped, self.sides, self.places)


class SolvedField:
    """A summary as a FieldModel, for the bath that it was made of and no other."""

    name = "boundary elements"

    def __init__(self, summary: FieldSummary) -> None:
        self.summary = summary

    @property
    def warm(self) -> Warm:
        """The heat, hours and amps that its conductivity was reckoned with."""
        return self.summary.warm or COLD

    def solve(self, layout: RodLayout, conductivity: Figure) -> FieldAnswer:
        """The summary's figures; layout and conductivity are those it was solved with."""
        s = self.summary
        source = source_text("field")
        resistance = figure(
            "bath.resistance", "Resistance of the bath", s.resistance_ohm, "resistance", "U/I",
            [
                typed("U", "Volts across bath and films", 1.0, "voltage"),
                Input("I", f"Current at one volt, summed over {s.facets} facets",
                      1 / s.resistance_ohm, "current", source),
            ],
            "field", note="Two meshes compared.",
        ).with_window(
            s.resistance_ohm * (1 - s.relative_error), s.resistance_ohm * (1 + s.relative_error)
        )  # fmt: skip
        coverage = s.coverage
        profile = coverage.profile if coverage else profile_of(s.quantiles)
        logs = [math.log(max(p, 1e-6)) for p in profile]
        middle = sum(logs) / len(logs)
        spread = math.sqrt(sum((x - middle) ** 2 for x in logs) / len(logs))
        made = figure(
            "density.spread", "Spread of density over the reachable surface (log)", spread,
            "number", "d", [Input("d", "Standard deviation of the log", spread, "number", source)],
            "field",
        )  # fmt: skip
        other = (s.meshes[0], s.meshes[1], s.coarse_current) if s.meshes else None
        return FieldAnswer(
            resistance, made, profile, s.relative_error, s.quantiles, coverage, other, s.earlier
        )
