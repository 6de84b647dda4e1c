"""What a field model is asked and what it answers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from yellowbath.core.figures import Figure


@dataclass(frozen=True)
class Layout:
    """A bath as the field sees it. Lengths [m] from the tank's centre, areas [m2].

    ``tank_m`` is (length, width) or (diameter, 0) of the section at half depth.
    """

    round_tank: bool
    tank_m: tuple[float, float]
    depth_m: float
    piece_m: tuple[float, float, float]
    piece_area_m2: float
    rods_m: Sequence[tuple[float, float]]
    rod_radius_m: float
    rod_length_m: float
    one_sided: bool
    all_round: bool


@dataclass(frozen=True)
class FieldAnswer:
    """Bath resistance [ohm] without threshold and leads, and the spread of density (log)."""

    resistance: Figure
    spread: Figure
    parts: tuple[Figure, ...]


class FieldModel(Protocol):
    """Turns a layout and a conductivity into a bath resistance and a spread of density."""

    name: str

    def solve(self, layout: Layout, conductivity: Figure) -> FieldAnswer:
        """Raises NoAnswerError where the layout has no current path."""
        ...
