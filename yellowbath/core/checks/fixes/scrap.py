"""What may be done about scrap: what it is, how large, where it stands."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import Any

from yellowbath.core.checks.fixes.piece import fit, larger_tank
from yellowbath.core.checks.fixes.trying import Sets, fixes
from yellowbath.core.checks.registry import Context, Finding, Mend
from yellowbath.core.checks.scrap import REFUSED
from yellowbath.core.chemistry import mixing
from yellowbath.core.document import (
    Anode,
    BoreAnode,
    FloorAnode,
    Sheet,
    Tube,
)
from yellowbath.core.geometry.fit import scrap_fits
from yellowbath.core.plan.reading.arrange import positions
from yellowbath.core.units import show


@fixes("anode_refused", "anode_unknown", "anode_painted", "acid_anode")
def _other_metal(c: Context, finding: Finding) -> Iterator[Mend]:
    """Another metal of the same size, on all that the same check is about, whichever case."""
    plan = c.plan
    those = {
        "anode_refused": REFUSED, "anode_unknown": {"unknown"}, "anode_painted": {"painted"},
        "acid_anode": plan.metals - mixing.INERT,
    }[finding.id]  # fmt: skip

    def made(material: str) -> Sets:
        return tuple(
            (f"/anodes/{k}/material", material)
            for k, a in enumerate(plan.anodes)
            if a.material in those
        )

    if not mixing.chloride(plan):
        yield Mend(made("plain_steel"), "Use plain steel of the same size")
        return
    yield Mend(made("coated_titanium"), "Use coated titanium of the same size")
    steel = tuple(
        (f"/anodes/{k}/material", "plain_steel")
        for k, a in enumerate(plan.anodes)
        if a.material not in mixing.INERT
    )
    yield Mend((*fresh_soda(), *steel), "Use washing soda, and plain steel of the same size")


def fresh_soda() -> Sets:
    return (
        ("/mix/product", "soda_anhydrous"), ("/mix/source", "fresh"), ("/mix/batch_id", None),
        ("/mix/kept_kg", None), ("/mix/kept_bicarbonate_kg", 0.0), ("/mix/kept_salt_kg", 0.0),
        ("/mix/strip_ph", None),
    )  # fmt: skip


@fixes("clearance")
def _nearer_the_wall(c: Context, _: Finding) -> Iterator[Mend]:
    for gap in (0.03, 0.02, 0.012):
        if gap < c.plan.layout.wall_gap_m:
            words = show(gap, "length", c.plan.system)
            yield Mend((("/layout/wall_gap_m", gap),), f"Scrap {words} from the wall")


@fixes("scrap_worn")
def _thicker_scrap(c: Context, _: Finding) -> Iterator[Mend]:
    for factor in (1.5, 2.0, 3.0):
        sets = []
        for k, a in enumerate(c.plan.anodes):
            name = "thickness_m" if isinstance(a, Sheet) else "diameter_m"
            most = 0.1 if name == "thickness_m" else 0.2
            sets.append((f"/anodes/{k}/{name}", min(getattr(a, name) * factor, most)))
        yield Mend(tuple(sets), f"Scrap {factor:g} times as thick")


@fixes("scrap_outside")
def _inside(c: Context, finding: Finding) -> Iterator[Mend]:
    """Nearer to the middle, else narrower, until all of it stands within the wall."""
    plan, level = c.plan, c.fill.level.value

    def fits(anode: Anode) -> bool:
        return scrap_fits(anode, plan.tank, level)

    if plan.layout.arrangement != "by_hand" and plan.sample.stands:
        for step in range(1, 61):
            gap = round(plan.layout.wall_gap_m + 0.005 * step, 3)
            spots = positions(plan.layout.model_copy(update={"wall_gap_m": gap}), plan.tank)
            stand = zip(plan.anodes, spots, strict=False)
            if all(fits(a.model_copy(update={"x_m": x, "y_m": y})) for a, (x, y) in stand):
                yield Mend((("/layout/wall_gap_m", gap),), "Stand it clear of the wall")
                break
    sets: list[tuple[str, Any]] = []
    for k, anode in enumerate(plan.anodes):
        if fits(anode):
            continue
        near = _first(anode, fits, lambda a, f: {"x_m": a.x_m * f, "y_m": a.y_m * f})
        if near is not None:
            sets += [(f"/anodes/{k}/x_m", near.x_m), (f"/anodes/{k}/y_m", near.y_m)]
    by_hand = (("/layout/arrangement", "by_hand"),)
    if sets:
        yield Mend((*by_hand, *sets), "Move it nearer to the middle")
    smaller: list[tuple[str, Any]] = []
    for k, anode in enumerate(plan.anodes):
        less = anode if fits(anode) else _first(anode, fits, _smaller)
        if less is not None and less is not anode:
            smaller += [(f"/anodes/{k}/{n}", getattr(less, n)) for n in _smaller(anode, 1.0)]
            smaller += [(f"/anodes/{k}/x_m", less.x_m), (f"/anodes/{k}/y_m", less.y_m)]
    if smaller:
        yield Mend(tuple(smaller), "Take scrap that is narrower")
        yield Mend((*by_hand, *smaller), "Take scrap that is narrower")
    yield from larger_tank(c)


def _smaller(anode: Anode, share: float) -> dict[str, float]:
    if not isinstance(anode, Sheet):
        return {"diameter_m": max(round(anode.diameter_m * share, 4), 0.002)}
    return {n: max(round(getattr(anode, n) * share, 3), 0.005) for n in anode.sizes}


def _first(
    anode: Anode, fits: Callable[[Anode], bool],
    made: Callable[[Anode, float], Mapping[str, float]],
) -> Anode | None:  # fmt: skip
    """The largest share by which a changed anode fits."""
    for part in range(19, 0, -1):
        smaller = anode.model_copy(update=dict(made(anode, part / 20)))
        if fits(smaller):
            return smaller
    return None


@fixes("scrap_meets")
def _spread(c: Context, _: Finding) -> Iterator[Mend]:
    plan = c.plan
    if not plan.mixed_scrap:
        yield Mend((("/layout/arrangement", "opposite"),), "Set it out on opposite sides")
        yield Mend(
            (("/layout/arrangement", "opposite"), ("/anodes/0/width_m", 0.05)),
            "Take narrower flats, on opposite sides",
        )
    standing = [k for k, a in enumerate(plan.anodes) if a.stands]
    around = plan.layout.model_copy(update={"arrangement": "ring", "count": max(len(standing), 3)})
    spots = positions(around, plan.tank)
    sets: list[tuple[str, Any]] = [("/layout/arrangement", "by_hand")]
    for k, (x, y) in zip(standing, spots, strict=False):
        sets += [(f"/anodes/{k}/x_m", x), (f"/anodes/{k}/y_m", y)]
    yield Mend(tuple(sets), "Spread it round the wall")
    kept = [
        a for k, a in enumerate(plan.anodes)
        if not a.stands or all(
            max(abs(a.x_m - b.x_m), abs(a.y_m - b.y_m)) > (a.across_m + b.across_m) / 2
            for b in plan.anodes[:k] if b.stands
        )
    ]  # fmt: skip
    left = [a.model_dump(mode="json") for a in kept]
    yield Mend((("/layout/arrangement", "by_hand"), ("/anodes", left)), "Remove those in the way")
    yield from larger_tank(c)


@fixes("short")
def _apart(c: Context, finding: Finding) -> Iterator[Mend]:
    plan = c.plan
    for gap in (0.02, 0.01, 0.005, 0.002):
        if plan.layout.wall_gap_m > gap and plan.layout.arrangement != "by_hand":
            yield Mend((("/layout/wall_gap_m", gap),), "Set the scrap nearer to the wall")
    bored: list[tuple[str, Any]] = []
    lying: list[tuple[str, Any]] = []
    for k, anode in enumerate(plan.anodes):
        through = plan.bored(anode) if isinstance(anode, BoreAnode) else None
        if through is not None and isinstance(through.shape, Tube):
            fine = min(anode.diameter_m, round(0.4 * through.shape.inner_diameter_m, 4))
            bored.append((f"/anodes/{k}/diameter_m", max(fine, 0.002)))
        if isinstance(anode, FloorAnode):
            lying += [(f"/anodes/{k}/floor_gap_m", 0.0), (f"/anodes/{k}/thickness_m", 0.001)]
    if bored:
        yield Mend(tuple(bored), "Take a thinner rod through the bore")
    free = tuple((f"/pieces/{k}/bottom_m", None) for k in range(len(plan.pieces)))
    if lying:
        yield Mend((*free, *lying), "Lay a thinner plate on the floor")
    if plan.layout.arrangement == "by_hand" and not plan.mixed_scrap:
        yield Mend((("/layout/arrangement", "opposite"),), "Set it out at the walls")
    yield from fit(c, finding)
    others = [a for a in plan.anodes if not isinstance(a, BoreAnode)]
    if others and len(others) < len(plan.anodes):
        left = [a.model_dump(mode="json") for a in others]
        yield Mend((("/anodes", left),), "Leave the rod in the bore out")
