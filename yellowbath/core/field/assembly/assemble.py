"""What surfaces and rods do to one another in a tank, apart from volts, films and conductivity.

Green's identity at the point where element i's equation stands, with n out of the liquid and
current i positive into an electrode, is

  phi_i/2 + sum_j D_ij phi_j + (1/s) sum_j S_ij i_j - (1/s) sum_k H_ik q_k = c

for electrodes j and line currents q. Walls carry no current; their potentials are eliminated here,
once a tank, so that what is solved is as large as the electrodes. Blocks between two surfaces are
kept by content: a moved rod assembles its own, a moved piece finds the tank's. Lengths [m].
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import inv

from yellowbath.core.field.integrals.green import Green
from yellowbath.core.field.integrals.kernels import (
    ALL,
    ALONE,
    NEAR,
    TANK,
    elements_at,
    elements_pair,
)
from yellowbath.core.field.mesh.elements import Elements
from yellowbath.core.field.mesh.surfaces import Surface

Array = NDArray[np.float64]
T = TypeVar("T")


class BlockCache:
    """A bounded store by content of what is costly to make, oldest use dropped first.

    ``room`` bounds what is held, in bytes; zero keeps nothing between solves.
    """

    def __init__(self, room: int = 300_000_000) -> None:
        self._room = room
        self._held: OrderedDict[tuple[Any, ...], tuple[Any, int]] = OrderedDict()
        self._bytes = 0

    @property
    def held_bytes(self) -> int:
        """What is held now."""
        return self._bytes

    @property
    def count(self) -> int:
        """How many things are held."""
        return len(self._held)

    def holds(self, key: tuple[Any, ...]) -> bool:
        """Whether something is held under the key."""
        return key in self._held

    def peek(self, key: tuple[Any, ...]) -> Any | None:
        """What is held under the key, if anything; nothing is made."""
        return self._held[key][0] if key in self._held else None

    def get(self, key: tuple[Any, ...], make: Callable[[], T]) -> T:
        """What is held under the key, made where it is not."""
        if key not in self._held:
            self.put(key, make())
        self._held.move_to_end(key)
        found: T = self._held[key][0]
        return found

    def put(self, key: tuple[Any, ...], made: Any) -> None:
        """Hold something, and drop what was used longest ago where there is no room."""
        self._bytes -= self._held.pop(key, (None, 0))[1]
        self._held[key] = (made, bytes_of(made))
        self._bytes += self._held[key][1]
        while len(self._held) > 1 and self._bytes > self._room:
            self._bytes -= self._held.popitem(last=False)[1][1]


def bytes_of(made: Any) -> int:
    """What the arrays of something take, each once [bytes]."""
    seen: set[int] = set()

    def counted(part: Any) -> int:
        if id(part) in seen:
            return 0
        seen.add(id(part))
        if isinstance(part, np.ndarray):
            return part.nbytes
        if isinstance(part, tuple):
            return sum(counted(p) for p in part)
        if not hasattr(part, "__dict__"):
            return 64
        return sum(counted(p) for p in vars(part).values())

    return counted(made)


def layers_of(
    points: Array, own: Array, e: Elements, green: Green, part: int = ALL
) -> tuple[Array, Array]:
    """Single and double layer of elements at points: see ``kernels.elements_at``."""
    single, double = elements_at(
        points, own, (e.corners, e.flat), (e.first, e.whole), green.size, green.table,
        part, green.near,
    )  # fmt: skip
    return single, double


Block = tuple[Array, Array]
"""S (n, m) [m] and D (n, m) [-] of one surface at another; with its half on the diagonal."""


def _own_block(surface: Surface, green: Green, kept: BlockCache) -> Block:
    """A surface at itself. What a body does to itself with no tank about it stays as it is turned
    and shifted, and holds the costly near integrals: it is kept by the body's own shape."""
    if surface.model is None:
        return _block(surface, surface, green)
    alone, tank = alone_of(surface.model, kept), _block(surface, surface, green, TANK)
    return alone[0] + tank[0], alone[1] + tank[1]


def alone_of(model: Surface, kept: BlockCache) -> Block:
    """What a body does to itself with no tank about it, made where it is not kept."""
    return kept.get(("alone", model.digest), lambda: _block(model, model, _NOWHERE, ALONE))


_NOWHERE = Green(np.full(3, -1.0), np.zeros((2, 1, 2, 10)))


def _block(at: Surface, of: Surface, green: Green, part: int = ALL) -> Block:
    if at is of and _plain(at):
        return _finished(at, of, _pair(at, at, green, part)[0], green, part)
    seats = np.full(len(at), -1)
    if at is of and at.seats is not None:
        seats = at.seats
    layers = layers_of(np.ascontiguousarray(at.centres), seats, of.elements, green, part)
    return _finished(at, of, layers, green, part)


def _both(one: Surface, other: Surface, green: Green) -> tuple[Block, Block]:
    """The other at the one, and the one at the other; at once where their pieces are single."""
    if not (_plain(one) and _plain(other)):
        return _block(one, other, green), _block(other, one, green)
    there, back = _pair(one, other, green)
    return _finished(one, other, there, green), _finished(other, one, back, green)


def _plain(surface: Surface) -> bool:
    """Whether each element is one flat piece with its equation in the middle."""
    return surface.first is None and surface.points is None


def _pair(one: Surface, other: Surface, green: Green, part: int = ALL) -> tuple[Block, Block]:
    a, b = ((e.corners, e.flat) for e in (one.elements, other.elements))
    made = elements_pair(a, b, green.size, green.table, part, green.near)
    return (made[0], made[1]), (made[2], made[3])


def _finished(at: Surface, of: Surface, layers: Block, green: Green, part: int = ALL) -> Block:
    """Bores compared with a point inside their wall, signs and the half of the identity.

    There the identity has nothing on its left: what is outside cancels, which would else drown a
    bore's trickle.
    """
    single, double = layers
    deep = np.flatnonzero(at.wall > 0)
    if len(deep):
        inside = at.centres[deep] - at.normals[deep] * (at.wall[deep] / 2)[:, None]
        points = np.ascontiguousarray(inside)
        s_in, d_in = layers_of(points, np.full(len(deep), -1), of.elements, green, part)
        single[deep] -= s_in
        double[deep] -= d_in
    if not of.is_wall:
        double *= -1  # a body's own normal points into the liquid
    if at is of and part != TANK:
        double[np.diag_indices(len(at))] += 0.5
    return single, double


@dataclass(frozen=True)
class Operator:
    """Electrodes in their tank, walls eliminated: S [m], D [-] (n, n), c's column (n) [-].

    ``through`` (n, w) and ``wall_inverse`` (w, w) carry what lines do by way of the walls.
    """

    surfaces: tuple[Surface, ...]
    walls: Surface | None
    green: Green
    key: tuple[Any, ...]
    single: Array
    double: Array
    level: Array
    through: Array
    wall_single: Array
    wall_double: Array
    wall_inverse: Array | None


def operator(
    surfaces: Sequence[Surface], walls: Surface | None, green: Green, kept: BlockCache
) -> Operator:
    """Assemble electrodes and walls, from blocks that are kept."""
    names = [s.digest for s in surfaces]
    wall_name = b"" if walls is None else walls.digest
    key = operator_key(surfaces, walls, green)
    return kept.get(key, lambda: _operator(surfaces, names, walls, wall_name, green, kept, key))


def operator_key(
    surfaces: Sequence[Surface], walls: Surface | None, green: Green
) -> tuple[Any, ...]:
    """The name under which the operator of these is kept."""
    wall_name = b"" if walls is None else walls.digest
    return ("operator", *green.name, wall_name, *(s.digest for s in surfaces))


def _with_walls(
    walls: Surface, surface: Surface, names: tuple[Any, ...], green: Green, kept: BlockCache
) -> tuple[Block, Block]:
    return kept.get(("both", *names), lambda: _both(walls, surface, green))


def _operator(
    surfaces: Sequence[Surface],
    names: Sequence[bytes],
    walls: Surface | None,
    wall_name: bytes,
    green: Green,
    kept: BlockCache,
    key: tuple[Any, ...],
) -> Operator:
    tank = green.name

    def block(a: int, b: int) -> Block:
        if a == b:
            key = ("block", *tank, names[a])
            return kept.get(key, lambda: _own_block(surfaces[a], green, kept))
        low, high = min(a, b), max(a, b)
        both = kept.get(
            ("both", *tank, names[low], names[high]),
            lambda: _both(surfaces[low], surfaces[high], green),
        )
        return both[0] if a < b else both[1]

    rows = [[block(a, b) for b in range(len(names))] for a in range(len(names))]
    single = np.block([[b[0] for b in row] for row in rows])
    double = np.block([[b[1] for b in row] for row in rows])
    level = np.concatenate([np.where(s.wall > 0, 0.0, -1.0) for s in surfaces])
    n = len(level)
    if walls is None:
        none = np.zeros((0, n))
        return Operator(
            tuple(surfaces), None, green, key, single, double, level, none.T, none, none, None
        )
    exact = replace(green, near=NEAR)  # once a tank
    wall_inverse = kept.get(
        ("wall", *exact.name, wall_name), lambda: inv(_block(walls, walls, exact)[1])
    )
    both = [_with_walls(walls, s, (*tank, wall_name, name), green, kept)
            for s, name in zip(surfaces, names, strict=True)]  # fmt: skip
    wall_single = np.concatenate([b[0][0] for b in both], axis=1)
    wall_double = np.concatenate([b[0][1] for b in both], axis=1)
    at_piece = np.concatenate([b[1][1] for b in both])
    through = at_piece @ wall_inverse
    return Operator(
        tuple(surfaces), walls, green, key,
        single - through @ wall_single, double - through @ wall_double,
        level + through.sum(axis=1), through, wall_single, wall_double, wall_inverse,
    )  # fmt: skip
