"""Checks of the pieces: what they are, what is on them, what they will carry.

Conditions only, judged on every piece; words, severity, limits and source stand in
core/data/checks.toml by the same id.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from yellowbath.core.checks.limits import limit
from yellowbath.core.checks.registry import Context, Evidence, check
from yellowbath.core.checks.words import about, when
from yellowbath.core.data import param, table
from yellowbath.core.document import Mesh, Piece, Pile, Tube
from yellowbath.core.ear import said_word
from yellowbath.core.geometry.piece import mass_of, thinnest
from yellowbath.core.plan.results.anode_life import limited
from yellowbath.core.plan.results.relief import relief
from yellowbath.core.words import said, small

_OLD = ("relic", "thin")


def _those(c: Context, test: Callable[[Piece], bool]) -> list[Piece]:
    return [p for p in c.plan.pieces if test(p)]


def _has_hollow(piece: Piece) -> bool:
    """Whether there is or may be a room inside: as answered, by its shape, or by its mesh."""
    shape = piece.shape
    inside = isinstance(shape, Mesh) and any("hollow" in note for note in shape.notes)
    said = piece.hollow != "none" or piece.solid is False
    return said or isinstance(shape, Tube) or inside


@check("sealed_hollow")
def sealed_hollow(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: p.hollow == "sealed"))


@check("ordnance_whole")
def ordnance_whole(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: p.ordnance == "whole"))


@check("ordnance_hollow")
def ordnance_hollow(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: p.ordnance == "fragment" and _has_hollow(p)))


@check("ordnance_solid")
def ordnance_solid(c: Context) -> Iterator[Evidence]:
    """Asked whatever its shape: a block may be hollow too."""
    return about(_those(
        c, lambda p: p.ordnance == "fragment" and p.solid is None and not _has_hollow(p)
    ))  # fmt: skip


def called_for(piece: Piece, kind: str) -> str:
    """The word in a piece's name that says what it may be; empty where there is none, or where it
    was said to be only a name."""
    if piece.meant and piece.meant == piece.name:
        return ""
    return said_word(piece.name, table("named")[kind]["words"])


@check("named_explosive")
def named_explosive(c: Context) -> Iterator[Evidence]:
    for piece in _those(c, lambda p: p.ordnance != "whole"):
        if found := called_for(piece, "explosive"):
            yield from about([piece], word=found, name=piece.name)


@check("named_risky")
def named_risky(c: Context) -> Iterator[Evidence]:
    for piece in c.plan.pieces:
        for kind in ("pressure", "fuel", "gun", "magnesium"):
            if (found := called_for(piece, kind)) and not _answered(piece, kind):
                yield from about([piece], word=found, name=piece.name, case=kind,
                                 why=table("named")[kind]["why"])  # fmt: skip


def _answered(piece: Piece, kind: str) -> bool:
    """Whether the plan says of it already what its name does."""
    match kind:
        case "pressure" | "fuel":
            return piece.hollow in ("sealed", "vented") or piece.duty == "pressure"
        case "gun":
            return piece.duty == "firearm"
    return "magnesium" in piece.other_metals


@check("ordnance_fragment")
def ordnance_fragment(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: p.ordnance == "fragment" and not _has_hollow(p)))


@check("metal_unknown")
def metal_unknown(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: p.metal == "unknown"))


@check("hollow_unknown")
def hollow_unknown(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: p.hollow == "unknown"))


@check("coat_unknown")
def coat_unknown(c: Context) -> Iterator[Evidence]:
    for names in (("grease", "paint"), ("grease",), ("paint",)):
        those = _those(
            c,
            lambda p, names=names: [n for n in ("grease", "paint")  # type: ignore[misc]
                                    if getattr(p, n) == "unknown"] == list(names),
        )  # fmt: skip
        said_of = [those[0].field_word(n) for n in names] if those else []
        yield from about(those, which=" and ".join(small(w) for w in said_of), case="_".join(names))


@check("grease")
def grease(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: p.grease == "some"))


@check("paint_patches")
def paint_patches(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: p.paint == "patches"))


@check("paint_most")
def paint_most(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: p.paint == "most"))


@check("enamel")
def enamel(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: "enamel" in p.coats))


@check("seasoning")
def seasoning(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: "seasoning" in p.coats))


@check("lead_paint")
def lead_paint(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: p.lead_paint is True))


@check("metal_light")
def metal_light(c: Context) -> Iterator[Evidence]:
    for key, name in (("aluminium", "Aluminium"), ("magnesium", "Magnesium")):
        those = _those(c, lambda p, key=key: key in p.other_metals)  # type: ignore[misc]
        yield from about(those, metal=name, case=key)


@check("metal_cadmium")
def metal_cadmium(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: "cadmium" in p.other_metals))


@check("metal_dissolves")
def metal_dissolves(c: Context) -> Iterator[Evidence]:
    for key in ("zinc", "tin", "lead"):
        those = _those(c, lambda p, key=key: key in p.other_metals)  # type: ignore[misc]
        yield from about(those, metal=said("piece.other_metals", key), case=key)


@check("metal_copper")
def metal_copper(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: "copper" in p.other_metals))


@check("metal_chrome")
def metal_chrome(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: "chrome" in p.other_metals))


@check("embrittlement")
def embrittlement(c: Context) -> Iterator[Evidence]:
    for piece in c.plan.pieces:
        asked = piece.metal == "unknown" and piece.treatment == "none"  # then that is the caution
        made = None if asked and piece.hardness_hrc is None else relief(piece)
        if made is not None:
            words = made.words(c.plan.system)
            yield from about(
                [piece], metal=said("piece.metal", piece.metal), hard=made.steel(), bake=words
            )


@check("thin_relic")
def thin_relic(c: Context) -> Iterator[Evidence]:
    least = limit("thin_relic", "section")
    for piece in _those(c, lambda p: p.fragility in _OLD or thinnest(p) < least):
        yield from about(
            [piece],
            thinnest=c.show(thinnest(piece), "length"),
            fragility=said("piece.fragility", piece.fragility),
        )


@check("hanger_hard")
def hanger_hard(c: Context) -> Iterator[Evidence]:
    for key in ("hard_wire", "chain"):
        those = _those(c, lambda p, key=key: p.hanger == key)  # type: ignore[misc]
        yield from about(those, hanger=said("piece.hanger", key))


@check("hanger_coated")
def hanger_coated(c: Context) -> Iterator[Evidence]:
    for key in ("galvanised", "copper"):
        those = _those(c, lambda p, key=key: p.hanger == key)  # type: ignore[misc]
        yield from about(those, hanger=said("piece.hanger", key), case=key)


@check("overrun")
def overrun(c: Context) -> Iterator[Evidence]:
    made = c.answer.of("time.overrun")
    if made is not None:
        yield from about(_those(c, limited), time=c.show(made.value, "time"))


@check("left_long")
def left_long(c: Context) -> Iterator[Evidence]:
    robust = all(p.fragility == "robust" and not limited(p) for p in c.plan.pieces)
    return when(robust)


@check("heavy_lift")
def heavy_lift(c: Context) -> Iterator[Evidence]:
    most = limit("heavy_lift", "mass")
    for piece in _those(c, lambda p: mass_of(p) > most):
        yield from about([piece], mass=c.show(mass_of(piece), "mass"))


@check("basket_dissolves")
def basket_dissolves(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: isinstance(p.shape, Pile) and p.shape.basket == "aluminium"))


@check("basket_coated")
def basket_coated(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: isinstance(p.shape, Pile) and p.shape.basket == "galvanised"))


@check("basket_plastic")
def basket_plastic(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: isinstance(p.shape, Pile) and p.shape.basket == "plastic"))


@check("pile_turn")
def pile_turn(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: isinstance(p.shape, Pile)))


@check("chain")
def chain(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: "chain" in p.parts))


@check("seized")
def seized(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: "seized" in p.parts))


@check("moving_parts")
def moving_parts(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: "moving" in p.parts))


@check("drilled")
def drilled(c: Context) -> Iterator[Evidence]:
    return about(_those(c, lambda p: p.contact == "drilled" and p.fragility in _OLD))


@check("duty")
def duty(c: Context) -> Iterator[Evidence]:
    for key in ("load", "pressure", "firearm", "steering"):
        those = _those(c, lambda p, key=key: p.duty == key)  # type: ignore[misc]
        yield from about(those, duty=said("piece.duty", key))


@check("wheel_instead")
def wheel_instead(c: Context) -> Iterator[Evidence]:
    total = sum(mass_of(p) for p in c.plan.pieces)
    pile = any(isinstance(p.shape, Pile) for p in c.plan.pieces)
    return when(not pile and total < limit("wheel_instead", "mass"), mass=c.show(total, "mass"))


@check("brush_instead")
def brush_instead(c: Context) -> Iterator[Evidence]:
    by_hand = c.answer.area.value / param("brush_m2_s").value
    minutes = by_hand / 60
    light = all(_brushed(p) for p in c.plan.pieces)
    yield from when(
        light and minutes <= limit("brush_instead", "time"),
        area=c.show(c.answer.area.value, "area"), time=c.show(by_hand, "time"),
    )  # fmt: skip


def _brushed(p: Piece) -> bool:
    """Whether light rust is all there is, everywhere within a hand's reach."""
    within = isinstance(p.shape, Pile | Tube | Mesh) or p.parts
    sides = all(r.kind == "outer" and r.grade in (None, "light") for r in p.regions)
    return p.grade == "light" and not p.between and p.aim != "bright" and not within and sides
