"""The one answer: what to put in, where the scrap hangs, what to expect, when to look, and whether
it is safe to switch on, or the one thing in the way."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from yellowbath.core.checks.registry import Finding
from yellowbath.core.document import Plan
from yellowbath.core.hours.said import from_to, seconds
from yellowbath.core.plan.placement.dips import how_many
from yellowbath.core.plan.results.answer import Answer, tells_amps
from yellowbath.core.plan.results.measures import by_measure
from yellowbath.core.tell.bench import look_and_lift
from yellowbath.core.units import show, window
from yellowbath.core.words import counted, word, words

Part = Literal["put_in", "scrap", "amps", "look", "clean", "safe"]


@dataclass(frozen=True)
class Said:
    """One part of the answer in words; ``stop``: it is what stands in the way."""

    part: Part
    text: str
    stop: bool = False


def one_line(plan: Plan, answer: Answer, findings: Sequence[Finding]) -> tuple[Said, ...]:
    """The parts in the order of the work."""
    water = show(answer.fill.water.value, "volume", plan.system)
    if answer.product_mass.value > 0:
        mass = show(answer.product_mass.value, "mass", plan.system)
        much = by_measure(plan, answer)
        key = "line.put_in" if much else "line.put_in_weight"
        put_in = word(key, much=much or "", mass=mass, water=water)
    else:
        put_in = word("line.enough", water=water)
    out = [
        Said("put_in", put_in),
        Said("scrap", word("line.scrap", count=_scrap(plan),
                           gap=show(max(answer.fill.gap.value, 0.0), "length", plan.system, 2))),
        Said("amps", _amps(plan, answer)),
    ]  # fmt: skip
    hours = answer.outlook.main.hours if answer.outlook else None
    if hours and (due := look_and_lift(plan, answer)):
        out.append(Said("look", word("line.look", look=due[0], lift=due[1])))
        clean = from_to(seconds(hours), plan.system)
        if dips := how_many(plan, answer):
            clean = word("line.dips", hours=clean, count=dips)
        out.append(Said("clean", clean))
    else:
        out.append(Said("clean", word("line.never"), stop=True))
    stops = [f for f in findings if f.severity == "stop"]
    more = word("line.more", count=len(stops) - 1) if len(stops) > 1 else ""
    open_ones = [f.id for f in findings if f"line.find_out.{f.id}" in words()]
    safe = word("line.safe")
    if open_ones:
        unknown = list(dict.fromkeys(word(f"line.find_out.{i}") for i in open_ones))
        rest = word("line.more", count=len(unknown) - 2) if len(unknown) > 2 else ""
        safe = word("line.ask", what=", ".join(unknown[:2]) + rest)
    if stops:
        safe = f"{stops[0].title}{more}"
    return (*out, Said("safe", safe, bool(stops)))


def _scrap(plan: Plan) -> str:
    """How many there are, by their form where they have one."""
    kinds = {a.kind for a in plan.anodes}
    key = f"line.{kinds.pop()}" if len(kinds) == 1 else ""
    named = key if f"{key}.one" in words() else "line.anodes"
    return counted(len(plan.anodes), named)


def _amps(plan: Plan, answer: Answer) -> str:
    f = answer.gives
    if f.value <= 0:
        return word("line.no_amps")
    if not tells_amps(plan, answer):
        return word("line.amps_later")
    if f.low is None or f.high is None:
        return str(show(f.value, "current", plan.system))
    shown, low, high = window(f.value, f.low, f.high, "current", plan.system)
    return str(shown) if low is None or high is None else f"{shown} ({low.text} to {high.text})"
