"""Checks of the plus side: every anode is judged for what it is and where it stands."""

from __future__ import annotations

from collections.abc import Iterator

from yellowbath.core.checks.limits import limit
from yellowbath.core.checks.registry import Context, Evidence, check
from yellowbath.core.checks.words import about, numbers, when
from yellowbath.core.chemistry import mixing
from yellowbath.core.chemistry.metals import metals, why_refused
from yellowbath.core.document import Anode, FloorAnode
from yellowbath.core.geometry.anode import wet
from yellowbath.core.geometry.fit import TOUCHING, scrap_fits, scrap_meets
from yellowbath.core.geometry.piece import posed, sizes
from yellowbath.core.words import said

REFUSED = metals("refused")


def made_of(c: Context, *materials: str) -> list[Anode]:
    """The anodes of one of some materials."""
    return [a for a in c.plan.anodes if a.material in materials]


@check("joint_wet")
def joint_wet(c: Context) -> Iterator[Evidence]:
    return when(c.plan.layout.joint_clear is False)


@check("joint_asked")
def joint_asked(c: Context) -> Iterator[Evidence]:
    return when(c.plan.layout.joint_clear is None)


@check("scrap_outside")
def scrap_outside(c: Context) -> Iterator[Evidence]:
    level = c.fill.level.value
    out = [a for a in c.plan.anodes if not scrap_fits(a, c.plan.tank, level)]
    named = " and ".join(str(1 + c.plan.anodes.index(a)) for a in out)
    return about(out, which=named)


@check("scrap_meets")
def scrap_touches(c: Context) -> Iterator[Evidence]:
    return when(scrap_meets(c.plan))


@check("short")
def short(c: Context) -> Iterator[Evidence]:
    gap = c.fill.gap.value
    return when(gap <= TOUCHING, gap=c.show(max(gap, 0.0), "length"))


@check("clearance")
def clearance(c: Context) -> Iterator[Evidence]:
    gap, wanted = c.fill.gap.value, limit("clearance", "gap")
    if c.plan.tank.is_piece:  # spacers hold it, as its own check asks
        return when(False)
    return when(TOUCHING < gap < wanted, gap=c.show(gap, "length"), wanted=c.show(wanted, "length"))


@check("anode_refused")
def anode_refused(c: Context) -> Iterator[Evidence]:
    salt = mixing.chloride(c.plan)
    instead = "graphite or coated titanium" if salt else "plain bare steel"
    for material in sorted(REFUSED & c.plan.metals):
        those = made_of(c, material)
        surface = sum(wet(a, c.plan, c.fill.level.value).area for a in those)
        yield from about(
            those, case=material, which=numbers(c.plan, those),
            metal=said("anode.material", material),
            why=why_refused(material), area=c.show(surface, "area"), instead=instead,
        )  # fmt: skip


@check("anode_unknown")
def anode_unknown(c: Context) -> Iterator[Evidence]:
    those = made_of(c, "unknown")
    return about(those, which=numbers(c.plan, those)) if those else when(False)


@check("anode_painted")
def anode_painted(c: Context) -> Iterator[Evidence]:
    those = made_of(c, "painted")
    return about(those, which=numbers(c.plan, those)) if those else when(False)


@check("floor_only")
def floor_only(c: Context) -> Iterator[Evidence]:
    if any(not isinstance(a, FloorAnode) for a in c.plan.anodes):
        return
    plate = max(a.depth_m for a in c.plan.anodes)
    for piece in c.plan.pieces:
        along = max(posed(piece)[0], posed(piece)[1])
        if plate < limit("floor_only", "share") * along:
            yield from about([piece], plate=c.show(plate, "length"), piece=c.show(along, "length"))


@check("scrap_short")
def scrap_short(c: Context) -> Iterator[Evidence]:
    standing = [a for a in c.plan.anodes if a.stands]
    foot = min((a.floor_gap_m for a in standing), default=0.0)
    if not standing or c.fill.level.value <= foot:
        return
    for piece in c.plan.pieces:
        bottom = c.fill.bottoms[piece.id]
        if foot > bottom + limit("scrap_short", "above"):
            yield from about(
                [piece], foot=c.show(foot, "length"), bottom=c.show(bottom, "length"),
                longest=c.show(sizes(piece)[0], "length"),
            )  # fmt: skip


@check("scrape")
def scrape(c: Context) -> Iterator[Evidence]:
    made, window = c.answer.of("scrap.scrape"), c.answer.window
    if made is None or window is None:
        return when(False)
    sooner = made.value < window.value
    return when(sooner, time=c.show(made.value, "time"), count=str(len(c.plan.anodes)))


@check("scrap_worn")
def scrap_worn(c: Context) -> Iterator[Evidence]:
    life, window = c.answer.scrap_life, c.answer.window
    if life is None or window is None:
        return when(False)
    return when(life.value < window.value, life=c.show(life.value, "time"))
