"""A bath as it is solved: electrodes with their films, leads and masks, rods, walls, liquid.

On an electrode phi = V + r i + eta(i), with V its own metal's potential behind its film r [ohm m2];
V is the terminal's less what its lead drops: V - R I = terminal, I positive into the electrode.
eta is zero in the linear model and (b/ln 10) asinh(i/2 i0) in the kinetic one. Units SI.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.field.integrals.green import Green
from yellowbath.core.field.mesh.surfaces import Rod, Surface

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Body:
    """An electrode of elements: a piece or a plate.

    ``volts`` [V] of the terminal behind its lead [ohm]; film [ohm m2]; ``masked`` (n): painted or
    taped, so that no current passes.
    """

    name: str
    surface: Surface
    volts: float
    film: float
    lead: float = 0.0
    masked: NDArray[np.bool_] | None = None

    @property
    def films(self) -> Array:
        """Film of each element [ohm m2]."""
        films = np.full(len(self.surface), self.film)
        if self.masked is not None:
            films[self.masked] = _MASK
        return films


_MASK = 1e3  # ohm m2 of paint or tape: lets through a millionth


@dataclass(frozen=True)
class Kinetics:
    """Overpotentials of piece and scrap: Tafel slopes [V a decade], exchange densities [A/m2].

    eta = (b/ln 10) asinh(i / 2 i0): Tafel far from equilibrium, straight through zero, so that a
    bore with next to no current does no harm.
    """

    piece_slope: float
    piece_exchange: float
    scrap_slope: float
    scrap_exchange: float

    def eta(self, density: Array, scrap: NDArray[np.bool_]) -> tuple[Array, Array]:
        """Overpotential [V] and its derivative [ohm m2] at densities [A/m2], odd in them."""
        b = np.where(scrap, self.scrap_slope, self.piece_slope) / math.log(10)
        i0 = 2 * np.where(scrap, self.scrap_exchange, self.piece_exchange)
        return b * np.arcsinh(density / i0), b / np.hypot(density, i0)


@dataclass(frozen=True)
class FieldBath:
    """What is solved: bodies, rods at ``rod_volts`` [V], walls, conductivity [S/m].

    ``rod_leads`` [ohm], one a rod, or none; rods of one name hang on one lead.
    """

    green: Green
    bodies: Sequence[Body]
    rods: Sequence[Rod]
    rod_volts: float
    rod_film: float
    walls: Surface | None
    conductivity: float
    segments: int = 14
    kinetics: Kinetics | None = None
    rod_leads: Sequence[float] = ()

    @property
    def hung(self) -> NDArray[np.int64]:
        """Which lead each rod hangs on: rods of one name share theirs."""
        names = list(dict.fromkeys(r.name for r in self.rods))
        return np.array([names.index(r.name) for r in self.rods], dtype=np.int64)
