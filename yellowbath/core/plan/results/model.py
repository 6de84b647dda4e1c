"""What a plan's answer is made of: every figure that its page shows."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, field, fields
from functools import cached_property

from yellowbath.core.dose import READ_ERROR, Need, hours_per_need
from yellowbath.core.field.model import Coverage, Profile
from yellowbath.core.field.watch import Doubt
from yellowbath.core.figures import Figure
from yellowbath.core.hours.outlook import Outlook, outlook
from yellowbath.core.plan.reading.filling import Fill
from yellowbath.core.power import warming


@dataclass(frozen=True)
class Band:
    """The working band of mean density and the bound of the most served twentieth [A/m2]."""

    name: str
    low: float
    high: float
    p95_high: float


@dataclass(frozen=True)
class Answer:
    """Everything the plan's page shows that is computed."""

    fill: Fill
    area: Figure
    wetted_area: Figure
    mass: Figure
    concentration: Figure
    product_mass: Figure
    spoons: Figure
    scoops: Figure | None
    temperature: Figure
    conductivity: Figure
    resistance: Figure
    threshold: Figure
    form: Figure
    leads: Figure
    draws: Figure
    gives: Figure
    load: Figure
    bath_volts: Figure
    drop: Figure
    density: Figure
    spread: Figure
    profile: Profile
    coverage: Coverage
    p5: Figure
    p95: Figure
    below: Figure
    band: Band
    need: Figure
    window: Figure | None
    prior: Need
    hours_claim: float
    inside: float
    hydrogen: Figure
    oxygen: Figure
    air: Figure
    room: Figure
    water_split: Figure
    iron: Figure
    scrap_area: Figure
    scrap_life: Figure | None
    heat: Figure
    energy: Figure | None
    cost: Figure | None
    keeps: tuple[str, ...]
    model_error: float
    doubts: tuple[Doubt, ...]
    warm: warming.Warm
    models: tuple[str, ...] = field(default=())
    surroundings: tuple[Figure, ...] = field(default=())

    @property
    def whole_h(self) -> float:
        """Hours until all but the bores is clean at the median need, whichever side it is on: what
        layouts are compared by, since the main surface moves with the scrap."""
        if self.density.value <= 0:
            return math.inf
        whole = self.coverage.without("bore")
        return self.need.value * hours_per_need(self.density.value, self.profile, whole)

    @cached_property
    def outlook(self) -> Outlook | None:
        """The hours side by side, worked out where they are asked for."""
        turned = self.coverage.poses[1] if len(self.coverage.poses) > 1 else None
        sided = self.coverage if self.coverage.sides else None
        return outlook(
            self.prior, self.density, self.profile, sided, turned, self.inside, READ_ERROR
        )

    def of(self, key: str) -> Figure | None:
        """A figure of ``surroundings`` by its key; None where this plan has none."""
        return next((f for f in self.surroundings if f.key == key), None)

    def figures(self) -> Iterator[Figure]:
        """Every figure of the answer, in order."""
        yield from (self.fill.level, self.fill.water, self.fill.freeboard, self.fill.gap)
        for item in fields(self):
            value = getattr(self, item.name)
            if isinstance(value, Figure):
                yield value
        yield from self.surroundings
