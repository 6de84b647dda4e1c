"""What may be done about a piece: its answers, its place, another tank."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any, get_args

from yellowbath.core.checks.fixes.trying import Sets, fixes
from yellowbath.core.checks.registry import Context, Finding, Mend
from yellowbath.core.document import (
    BoxTank,
    Hang,
    Piece,
    Plan,
)
from yellowbath.core.geometry.hanging import goes_into, smallest
from yellowbath.core.geometry.piece import posed
from yellowbath.core.units import show


def _at(plan: Plan, finding: Finding) -> list[int]:
    """Places in the list of the pieces that a finding is about."""
    return [k for k, p in enumerate(plan.pieces) if not finding.about or p.id in finding.about]


@fixes("ordnance_whole", "ordnance_hollow")
def _take_out(c: Context, finding: Finding) -> Iterator[Mend]:
    left = [p for k, p in enumerate(c.plan.pieces) if k not in _at(c.plan, finding)]
    kept = [p.model_dump(mode="json") for p in left or [Piece()]]
    yield Mend((("/pieces", kept),), "Take it out of this plan")


@fixes("named_explosive", "named_risky")
def _only_a_name(c: Context, finding: Finding) -> Iterator[Mend]:
    """One tap, and remembered with the name: what it is, or that it is only called so."""
    those = _at(c.plan, finding)
    yield Mend(
        tuple((f"/pieces/{k}/meant", c.plan.pieces[k].name) for k in those),
        "It is only called so",
    )
    is_one: Sets = {
        "pressure": ("hollow", "sealed"),
        "fuel": ("hollow", "sealed"),
        "gun": ("duty", "firearm"),
    }.get(finding.case, ())  # type: ignore[assignment]
    if is_one:
        name, value = is_one
        yield Mend(tuple((f"/pieces/{k}/{name}", value) for k in those), "It is one")


@fixes("half_dip")
def _deeper(c: Context, _: Finding) -> Iterator[Mend]:
    yield from larger_tank(c)


@fixes("basket_plastic")
def _steel_basket(c: Context, finding: Finding) -> Iterator[Mend]:
    yield Mend(
        tuple((f"/pieces/{k}/shape/basket", "steel") for k in _at(c.plan, finding)),
        "Use a basket of steel mesh",
    )


@fixes("metal_light", "metal_cadmium", "metal_dissolves")
def _part_off(c: Context, finding: Finding) -> Iterator[Mend]:
    gone = {
        "metal_light": {"aluminium", "magnesium"}, "metal_cadmium": {"cadmium"},
        "metal_dissolves": {"zinc", "tin", "lead"},
    }[finding.id]  # fmt: skip
    sets = tuple(
        (f"/pieces/{k}/other_metals", [m for m in p.other_metals if m not in gone])
        for k, p in enumerate(c.plan.pieces)
    )
    yield Mend(sets, "That part is off")


@fixes("no_fit", "pieces_meet")
def fit(c: Context, finding: Finding) -> Iterator[Mend]:
    plan = c.plan
    every = range(len(plan.pieces))
    middle = tuple((f"/pieces/{k}/{axis}", 0.0) for k in every for axis in ("x_m", "y_m"))
    free = tuple((f"/pieces/{k}/bottom_m", None) for k in _at(plan, finding))
    yield Mend(middle, "Hang it in the middle" if len(plan.pieces) == 1 else "Hang them apart")
    yield Mend((*middle, *free), "Hang it where it is covered")
    for hang in get_args(Hang):
        sets = (*middle, *free, *_hung(plan, finding, hang))
        hung = [plan.pieces[k].model_copy(update={"hang": hang}) for k in _at(plan, finding)]
        out = any(posed(p)[2] > c.fill.level.value for p in hung)
        yield Mend(sets, ("Dip it end by end: " if out else "Hang it ") + _HANGS[hang])
    fits = [goes_into(plan.pieces[k], plan.tank, plan.layout) for k in _at(plan, finding)]
    the_way = tuple(
        pair
        for k, f in zip(_at(plan, finding), fits, strict=True)
        for pair in ((f"/pieces/{k}/hang", f.hang), (f"/pieces/{k}/turn_deg", f.turn_deg),
                     (f"/pieces/{k}/tilt_deg", f.tilt_deg))
    )  # fmt: skip
    yield Mend((*middle, *free, *the_way), "Hang it the way it fits")
    yield from larger_tank(c)


_HANGS: Mapping[str, str] = {
    "long_across": "long side across", "long_down": "long side down", "flat": "flat",
}  # fmt: skip


def _hung(plan: Plan, finding: Finding, hang: Hang) -> Sets:
    return tuple(
        pair
        for k in _at(plan, finding)
        for pair in ((f"/pieces/{k}/hang", hang), (f"/pieces/{k}/turn_deg", 0.0))
    )


def larger_tank(c: Context) -> Iterator[Mend]:
    """A box that takes all pieces with room for the scrap, and the scrap at its walls."""
    plan = c.plan
    box, hang = smallest(plan.pieces)
    for grow in (0.0, 0.1, 0.3, 0.8):
        made = BoxTank(
            length_m=min(box.length_m + grow, 5.0), width_m=min(box.width_m + 2 * grow, 3.0),
            height_m=min(box.height_m + grow, 3.0),
        )  # fmt: skip
        size = " by ".join(
            str(show(s, "length", plan.system)) for s in (made.length_m, made.width_m)
        )
        deep = show(made.height_m, "length", plan.system)
        sets: list[tuple[str, Any]] = [
            ("/tank/shape", made.model_dump()), ("/tank/marks", []), ("/tank/water_m3", None),
            ("/tank/level_m", None), ("/tank/hole_height_m", None),
        ]  # fmt: skip
        for k, _ in enumerate(plan.pieces):
            sets += [
                (f"/pieces/{k}/{name}", value)
                for name, value in (
                    ("hang", hang), ("turn_deg", 0.0), ("tilt_deg", 0.0), ("x_m", 0.0),
                    ("y_m", 0.0), ("bottom_m", None),
                )
            ]  # fmt: skip
        yield Mend((*sets, *_at_walls(plan, made)), f"Take a tank of {size}, {deep} deep")


def _at_walls(plan: Plan, box: BoxTank) -> Sets:
    """The scrap set out anew for a box: like anodes opposite, unlike ones in their order along its
    long walls."""
    if not plan.mixed_scrap and plan.sample.stands:
        return (("/layout/arrangement", "opposite"),)
    if not plan.mixed_scrap:
        return ()
    sets: list[tuple[str, Any]] = [("/layout/arrangement", "by_hand")]
    standing = [k for k, a in enumerate(plan.anodes) if a.stands]
    half = (len(standing) + 1) // 2
    gap = plan.layout.wall_gap_m
    for n, k in enumerate(standing):
        side, place = divmod(n, half)
        x = box.length_m * ((place + 0.5) / half - 0.5)
        y = box.width_m / 2 - gap
        sets += [(f"/anodes/{k}/x_m", x), (f"/anodes/{k}/y_m", y if side else -y)]
    return tuple(sets)
