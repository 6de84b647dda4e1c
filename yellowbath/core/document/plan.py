"""A plan for one bath: a versioned value; workflows store it as immutable revisions."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yellowbath.core.document.base import Doc, Id, Texts, number
from yellowbath.core.document.mix import Mix
from yellowbath.core.document.piece import Piece, Tube
from yellowbath.core.document.room import Place
from yellowbath.core.document.scrap import Anode, AnodeBase, BoreAnode, Layout, RodAnode, Scrap
from yellowbath.core.document.supply import Supply, Transformer
from yellowbath.core.document.tank import Tank
from yellowbath.core.units import System

SCHEMA_VERSION: Literal[8] = 8
"""What is written now; older documents are brought up by upgrade.py."""


class KitRef(Doc):
    """A thing of the shop's own that the plan was made with."""

    role: Literal["tank", "supply", "lead", "pump", "anode", "chemical", "scoop", "batch"]
    ref: Id


class Meter(Doc):
    """A reading of the bath as planned, and the one factor that it puts on its resistance."""

    part = "meter"

    read_a: float | None = number("current", None, 0.0, 1000.0)
    factor: float = number("ratio", 1.0, 0.05, 20.0)


def _one_rod() -> list[Anode]:
    return [RodAnode(id="a1")]


class Plan(Doc):
    """A plan for one bath; the unit of saving, comparing and running.

    Pieces and anodes are asked for by what is wanted of them; nothing else reads a list by number.
    """

    part = "plan"

    schema_version: Literal[8] = SCHEMA_VERSION
    name: str = Field(default="", max_length=200)
    notes: str = Field(default="", max_length=4000)
    system: System = "metric"
    pieces: list[Piece] = Field(default_factory=lambda: [Piece()], min_length=1, max_length=20)
    tank: Tank = Field(default_factory=Tank)
    mix: Mix = Field(default_factory=Mix)
    layout: Layout = Field(default_factory=Layout)
    anodes: list[Anode] = Field(default_factory=_one_rod, min_length=1, max_length=40)
    supply: Supply = Field(default_factory=Transformer)
    place: Place = Field(default_factory=Place)
    meter: Meter = Field(default_factory=Meter)
    kit: list[KitRef] = Field(default_factory=list, max_length=40)
    typed: Texts = Field(default_factory=dict)
    said: list[Annotated[str, Field(max_length=120)]] | None = Field(default=None, max_length=600)
    """Pointers of what somebody said, where the rest is only assumed; None: all of it was said."""

    @property
    def title(self) -> str:
        """What a person would call the bath: by its pieces, else by the plan's own name."""
        names = [p.name for p in self.pieces if p.name]
        if len(names) > 2:
            return f"{names[0]}, {names[1]} and {len(self.pieces) - 2} more"
        return " and ".join(names) or self.name

    def piece(self, piece_id: str) -> Piece | None:
        """The piece of that id."""
        return next((p for p in self.pieces if p.id == piece_id), None)

    def called(self, piece: Piece) -> str:
        """A piece by its name, else by where it stands in the list."""
        return piece.name or f"piece {1 + self.pieces.index(piece)}"

    def bored(self, anode: AnodeBase) -> Piece | None:
        """The piece whose bore an anode runs through: as named, else the only tube."""
        if anode.piece is not None:
            return self.piece(anode.piece)
        tubes = [p for p in self.pieces if isinstance(p.shape, Tube)]
        return tubes[0] if len(tubes) == 1 else None

    @property
    def own_tube(self) -> Piece | None:
        """The piece that is its own vessel: a tube, alone in the bath."""
        alone = self.pieces if self.tank.is_piece and len(self.pieces) == 1 else []
        return next((p for p in alone if isinstance(p.shape, Tube)), None)

    def covered(self, piece: Piece) -> frozenset[str]:
        """Regions of a piece that no liquid touches: taped over, or the outside of its own
        vessel."""
        own = ("outside", "ends") if self.tank.is_piece else ()
        return frozenset(piece.masked) | {f"{piece.id}.{side}" for side in own}

    def lined(self, piece: Piece) -> bool:
        """Whether scrap stands in a piece's own bore."""
        if self.tank.is_piece:
            return True
        return any(isinstance(a, BoreAnode) and self.bored(a) is piece for a in self.anodes)

    def assumes(self, pointer: str) -> bool:
        """Whether what stands at a pointer, or all that stands under it, was only assumed."""
        if self.said is None:
            return False
        return not any(
            f"{pointer}/".startswith(f"{s}/") or s.startswith(f"{pointer}/") for s in self.said
        )

    @property
    def metals(self) -> frozenset[Scrap]:
        """Everything that hangs on the plus side."""
        return frozenset(a.material for a in self.anodes)

    @property
    def mixed_scrap(self) -> bool:
        """Whether the anodes are not all alike."""
        return len({repr(a.pattern) for a in self.anodes}) > 1

    @property
    def sample(self) -> Anode:
        """One of the anodes, where they are all alike."""
        return next(iter(self.anodes))
