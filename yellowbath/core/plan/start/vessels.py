"""Vessels by name and what is printed on them: inside sizes in usual proportions (judged)."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from yellowbath.core.data import require_provenance, table
from yellowbath.core.document import BoxTank, BucketTank, DrumTank, Layout, Piece, Tank
from yellowbath.core.errors import OutOfRangeError
from yellowbath.core.geometry.hanging import goes_into, in_two_dips
from yellowbath.core.geometry.tank import volume_at
from yellowbath.core.units import System, show
from yellowbath.core.words import word

LEAST, MOST = 0.0005, 2.0  # m3 that may stand on a vessel


def row_of(vessel: str) -> Mapping[str, Any]:
    """Proportions of a vessel; refuses one without provenance."""
    row: Mapping[str, Any] = table("begin")["vessel"][vessel]
    require_provenance(f"begin.vessel.{vessel}", row)
    return row


def vessels() -> Mapping[str, Any]:
    """Every vessel by its key, in the order in which they are offered."""
    rows: Mapping[str, Any] = table("begin")["vessel"]
    return rows


def usual_m3(vessel: str) -> float:
    """What most of them hold [m3], where nothing is said."""
    return float(row_of(vessel)["of"][-1]) / 1000


def by_volume(vessel: str, holds_m3: float, system: System = "metric") -> Tank:
    """A vessel that holds so much to its brim [m3, 0.0005 to 2]; raises OutOfRangeError outside."""
    if not LEAST <= holds_m3 <= MOST:
        raise OutOfRangeError(
            f"{show(holds_m3, 'volume', system)} is no vessel for a bath.",
            allowed=f"Allowed: {show(LEAST, 'volume', system)} to {show(MOST, 'volume', system)}.",
            remedy="Read what is printed on it, and its unit.",
        )
    one = made(vessel, 1.0)
    across = (holds_m3 / volume_at(one, one.shape.height_m)) ** (1 / 3)
    return made(vessel, across)


def by_sizes(vessel: str, sizes: list[float]) -> Tank:
    """A vessel by inside sizes [m]: across and height of a round one; length, width and height, or
    length and height, of another. What was not said is in proportion."""
    usual = made(vessel, sizes[0])
    shape = usual.shape
    if isinstance(shape, BucketTank):
        height = sizes[-1] if len(sizes) > 1 else shape.height_m
        return _named(vessel, shape.model_copy(update={"height_m": height}))
    if isinstance(shape, DrumTank):
        across = sizes[1] if len(sizes) > 1 else shape.diameter_m
        cut = row_of(vessel)["height"] * across
        return _named(vessel, DrumTank(length_m=sizes[0], diameter_m=across, height_m=cut))
    assert isinstance(shape, BoxTank)
    width = sizes[1] if len(sizes) == 3 else shape.top_width_m or shape.width_m
    height = sizes[-1] if len(sizes) > 1 else shape.height_m
    floor = row_of(vessel)["floor"]
    box = BoxTank(
        length_m=sizes[0] * floor, width_m=width * floor, height_m=height,
        top_length_m=sizes[0] if floor < 1 else None, top_width_m=width if floor < 1 else None,
    )  # fmt: skip
    return _named(vessel, box)


def made(vessel: str, first: float) -> Tank:
    """A vessel in proportion to its first size [m]: across the rim, or the length at the rim."""
    row = row_of(vessel)
    shape: BucketTank | DrumTank | BoxTank
    match row["shape"]:
        case "bucket":
            shape = BucketTank(
                rim_diameter_m=first, floor_diameter_m=first * row["floor"],
                height_m=first * row["height"],
            )  # fmt: skip
        case "drum":
            across = first / row["length"]
            shape = DrumTank(length_m=first, diameter_m=across, height_m=across * row["height"])
        case _:
            floor, width = row["floor"], first * row["width"]
            shape = BoxTank(
                length_m=first * floor, width_m=width * floor, height_m=first * row["height"],
                top_length_m=first if floor < 1 else None,
                top_width_m=width if floor < 1 else None,
            )  # fmt: skip
    return _named(vessel, shape)


def _named(vessel: str, shape: BucketTank | DrumTank | BoxTank) -> Tank:
    return Tank(name=word(f"choice.begin.vessel.{vessel}"), shape=shape)


def hung_in(piece: Piece, tank: Tank) -> Piece | None:
    """The piece as it hangs, covered and with room round it, in a tank; None where it has none."""
    fits = goes_into(piece, tank, Layout())
    if not fits.fits:
        return None
    return piece.model_copy(
        update={"hang": fits.hang, "turn_deg": fits.turn_deg, "tilt_deg": fits.tilt_deg}
    )


def dipped_in(piece: Piece, tank: Tank) -> Piece | None:
    """The piece hung so that one end after the other is done; None where two dips do not do."""
    fits = in_two_dips(piece, tank, Layout())
    if fits is None:
        return None
    return piece.model_copy(update={"hang": fits.hang, "turn_deg": fits.turn_deg, "tilt_deg": 0.0})


def smallest_for(piece: Piece) -> tuple[str, float]:
    """The smallest usual vessel that a piece hangs in with room, and what it holds [m3]; the
    largest where none has room."""
    sized = sorted(_usual(), key=lambda v: v[1])
    for vessel, holds in sized:
        if hung_in(piece, by_volume(vessel, holds)) is not None:
            return vessel, holds
    return sized[-1]


def _usual() -> Iterator[tuple[str, float]]:
    for vessel, row in vessels().items():
        yield from ((vessel, litres / 1000) for litres in row["of"])
