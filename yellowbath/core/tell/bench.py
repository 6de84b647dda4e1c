"""What the hands at the bench need, in the order of the work: one source for card and set-up page.

Places are from the inside edges of the rim, left and front, and from the floor, as on every sheet.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from yellowbath.core import units
from yellowbath.core.data import param
from yellowbath.core.document import Anode, Piece, Plan
from yellowbath.core.figures import Figure
from yellowbath.core.geometry.anode import foot
from yellowbath.core.geometry.tank import plan_size
from yellowbath.core.hours.said import from_to, outlook_said, seconds
from yellowbath.core.plan.placement.dips import dipped, how_many
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.plan.results.apart import apart_said, apart_words
from yellowbath.core.plan.results.measures import by_measure
from yellowbath.core.power.supply import next_fuse
from yellowbath.core.tell.finish import delicate
from yellowbath.core.tell.schedule import first_lift_s
from yellowbath.core.units import show
from yellowbath.core.words import said, small, word

Rows = tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class PlacedAnode:
    """An anode in words; lengths from the rim's left and front edges and from the floor."""

    number: int
    kind: str
    left: str
    front: str
    foot: str


def placed(plan: Plan) -> tuple[PlacedAnode, ...]:
    """Every anode by where it stands."""
    return tuple(_placed(plan, k, a) for k, a in enumerate(plan.anodes, start=1))


def _placed(plan: Plan, number: int, anode: Anode) -> PlacedAnode:
    rim = plan_size(plan.tank, plan.tank.shape.height_m)

    def long(metres: float) -> str:
        return str(show(metres, "length", plan.system))

    kind, low = said("anode.kind", anode.kind), long(foot(anode, plan.tank))
    if not anode.stands or (plan.tank.is_piece and anode.x_m == anode.y_m == 0):
        return PlacedAnode(number, kind, "middle", "middle", low)
    left, front = long(anode.x_m + rim[0] / 2), long(anode.y_m + rim[1] / 2)
    return PlacedAnode(number, kind, left, front, low)


def written(f: Figure, plan: Plan) -> str:
    """A figure as the screen has it."""
    if f.low is not None and f.high is not None:
        return str(units.window(f.value, f.low, f.high, f.quantity, plan.system)[0])
    return str(show(f.value, f.quantity, plan.system, 2 if f.quantity == "number" else 3))


def _window(f: Figure, plan: Plan) -> str:
    if f.low is None or f.high is None:
        return written(f, plan)
    return from_to((f.low, f.value, f.high), plan.system, f.quantity)


def put_in(plan: Plan, a: Answer) -> str:
    """What goes in, by its name, in grams and in the person's own measure."""
    name = small(word(f"choice.mix.product.{plan.mix.product}"))
    if plan.mix.product == "unknown":
        name = "soda"
    if a.product_mass.value <= 0:
        return f"nothing more: what is kept has enough {name} in it"
    much, mass = by_measure(plan, a), written(a.product_mass, plan)
    text = f"{much} of {name}, {mass}" if much else f"{mass} of {name}"
    if a.scoops is not None:
        text += f", or {written(a.scoops, plan)} of {plan.mix.scoop_name or 'the scoop'}"
    if (vinegar := a.of("mix.vinegar")) is not None:
        text += f"; and {written(vinegar, plan)} of vinegar in place of as much water"
    return text


def look_and_lift(plan: Plan, a: Answer) -> tuple[str, str] | None:
    """When to look again and when to lift first, after switching on; None where it never is clean.
    As the run will ask for them."""
    hours = seconds(a.outlook.main.hours) if a.outlook else None
    if hours is None:
        return None
    # of several pieces the one that is clean first is lifted by itself
    early = seconds(a.outlook.first) if a.outlook else None
    lift = first_lift_s(early or hours, any(delicate(p) for p in plan.pieces))
    return reading_times()[-1], str(show(lift, "time", plan.system, 1))


def reading_times() -> tuple[str, ...]:
    """When the amps are read after switching on: at once, and once more."""
    wanted = (param("fill_time_s").value, param("second_look_s").value)
    return tuple(str(show(s, "time", "metric", 2)) for s in wanted)


def mix_rows(plan: Plan, a: Answer) -> Rows:
    """Water, what goes in, the level, and how every piece hangs."""
    return (
        ("Water", written(a.fill.water, plan)),
        (word("line.name.put_in"), put_in(plan, a)),
        ("Level, all in", f"{written(a.fill.level, plan)} above the floor"),
        *((_hangs(plan, p), hung(plan, a, p)) for p in plan.pieces),
        ("Least gap", f"{written(a.fill.gap, plan)} between scrap and piece"),
    )


def _hangs(plan: Plan, piece: Piece) -> str:
    if plan.tank.is_piece:
        return word("set_up.own_rows")
    return "Piece hangs" if len(plan.pieces) == 1 else f"{plan.called(piece)} hangs"


def hung(plan: Plan, a: Answer, piece: Piece) -> str:
    """How deep a piece hangs and how it is turned."""
    if plan.tank.is_piece:
        return word("set_up.upright")
    low = show(a.fill.bottoms[piece.id], "length", plan.system)
    turned = f", turned {piece.turn_deg:g}°" if piece.turn_deg else ""
    leant = f", one end {abs(piece.tilt_deg):g}° lower" if piece.tilt_deg else ""
    flipped = ", put end for end" if piece.flipped else ""
    out = ", one end at a time" if piece.id in {p.id for p in dipped(plan, a)} else ""
    return f"{low} above the floor, {said('piece.hang', piece.hang)}{leant}{turned}{flipped}{out}"


def wiring_rows(plan: Plan, a: Answer) -> Rows:
    """Which lead goes where, what feeds it, what guards it, what to expect and when."""
    s = plan.supply
    length, area = (show(s.lead_length_m, "distance", plan.system),
                    show(s.lead_area_m2, "wire", plan.system))  # fmt: skip
    rows = [
        ("Plus (red)", f"to the scrap, all {len(plan.anodes)} joined outside the liquid"),
        ("Minus (black)", "to the piece, on bright metal"),
        ("Supply", f"{s.nominal_v:g} V, {s.rated_a:g} A; leads {length}, {area}"),
    ]
    if (fuse := a.of("power.fuse")) is not None:
        set_one = f"{s.fuse_a:g} A is set" if s.fuse_a else f"{next_fuse(fuse.value):g} A, near +"
        rows.append(("Fuse", f"{set_one}; at least {written(fuse, plan)}"))
    rows.append(("Expect", f"{_window(a.gives, plan)} (middle {written(a.gives, plan)})"))
    if a.outlook is None:
        return (*rows, (word("side.after"), "no current"))
    (name, first), *slow = outlook_said(a.outlook, plan.system)
    if dips := how_many(plan, a):
        first = word("line.dips", hours=first, count=dips)
    rest = apart_words(plan, a)
    left_out = [(word("apart.title"), rest)] if rest else []
    return (*rows, (f"{name}, under power", first), *left_out, *slow)


def else_rows(plan: Plan, a: Answer) -> Rows:
    """What to do where the amps are not those."""
    low, high = a.gives.span
    rated = show(plan.supply.rated_a, "current", plan.system)
    return (
        ("None", "power, fuse, both clips; many chargers wait for a battery"),
        (f"Under {show(low, 'current', plan.system, 2)}",
         "bright metal at both clips, level, amount; cold water"),
        (f"Over {show(high, 'current', plan.system, 2)}",
         f"off: does anything touch? Never over {rated}"),
    )  # fmt: skip


# --- Set up, step by step ---------------------------------------------------------------------


@dataclass(frozen=True)
class SetStep:
    """One thing for the hands: a title to be read from afar, and what it takes."""

    id: str
    title: str
    lines: tuple[str, ...] = ()


def set_up(plan: Plan, a: Answer) -> tuple[SetStep, ...]:
    """Setting up with wet hands, power off, in the order of the work."""
    return tuple(_steps(plan, a))


def _steps(plan: Plan, a: Answer) -> Iterator[SetStep]:
    level = written(a.fill.level, plan)
    if plan.tank.is_piece:
        tub = [word("set_up.stand_cooled")] if plan.place.cooled else []
        yield SetStep("stand", word("set_up.stand"), (word("set_up.stand_how"), *tub))
    yield SetStep(
        "mix", f"Measure {put_in(plan, a)}", ("Into the empty vessel: water on top mixes it.",)
    )
    yield SetStep(
        "water", f"Pour in {written(a.fill.water, plan)} of water",
        (f"With all in it stands {level} above the floor: mark that line.",),
    )  # fmt: skip
    for p in placed(plan):
        if p.left == "middle":
            yield SetStep(f"scrap.{p.number}", f"Scrap {p.number}: {p.kind}, in the middle",
                          (f"Its foot {p.foot} above the floor.",))  # fmt: skip
            continue
        yield SetStep(
            f"scrap.{p.number}",
            f"Scrap {p.number}: {p.left} from the left, {p.front} from the front",
            (f"{p.kind.capitalize()}, its foot {p.foot} above the floor; from the inside edges.",),
        )
    if plan.tank.is_piece:
        gap = written(a.fill.gap, plan)
        yield SetStep("clip", word("set_up.clip"), (word("set_up.clip_how", gap=gap),))
    for piece in () if plan.tank.is_piece else plan.pieces:
        name = piece.name or "the piece"
        yield SetStep(
            f"hang.{piece.id}", f"Hang {name}: {hung(plan, a, piece)}",
            (f"Clip or wire on bright metal; nothing nearer than {written(a.fill.gap, plan)}.",),
        )  # fmt: skip
    joined = "to the scrap" if len(plan.anodes) == 1 else "to all of the scrap, joined outside"
    yield SetStep(
        "leads", f"+ {joined}; − to the piece",
        ("Not sure which is which? Two steel wires in the soda water, power on for a moment, hands "
         "off: the wire with about twice the bubbles is minus.",),
    )  # fmt: skip
    low, high = a.gives.span
    about, least, most = (show(v, "current", plan.system, 2) for v in (a.gives.value, low, high))
    yield SetStep(
        "meter", f"The meter should say about {about}",
        (f"Anything from {least} to {most} is as planned.",
         *(f"{name}: {text}." for name, text in else_rows(plan, a))),
    )  # fmt: skip
    if a.outlook and (due := look_and_lift(plan, a)):
        yield SetStep(
            "look", f"Look after {due[0]}; first lift after {due[1]}",
            (f"Clean likely between: {outlook_said(a.outlook, plan.system)[0][1]}.",
             *filter(None, [apart_said(plan, a)])),
        )  # fmt: skip
