"""What resists, by a reading of volts and amps, and where it sits as far as the reading tells.

Amps with volts at the supply alone give one figure for leads, joints and bath together: a worse
joint, cake and a colder liquid look alike in it. Volts at the tank part leads from bath. [ohm]
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from yellowbath.core.checks.limits import limit
from yellowbath.core.figures import Figure, Input, figure, typed, uses
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.run.log import Reading
from yellowbath.core.words import word


@dataclass(frozen=True)
class Ohms:
    """A part of the circuit: what the reading makes of it and what the plan has; ``more`` says it
    is more than a meter errs by, ``ask`` which reading would tell more."""

    read: Figure
    planned: Figure | None
    more: bool
    ask: str = ""


def ohms(reading: Reading | None, answer: Answer) -> Sequence[Ohms]:
    """The parts that a reading tells apart; nothing without amps and volts, or where none flow."""
    if reading is None or reading.current_a is None:
        return ()
    amps = reading.current_a
    if amps <= limit("advice", "still_amps"):
        return ()
    if reading.tank_v is None:
        if reading.supply_v is None:
            return ()
        whole = _over("ohms.whole", "supply_v", reading.supply_v, amps, answer)
        total = answer.leads.value + answer.resistance.value
        return (Ohms(whole, None, _more(whole.value, total), word("ohms.ask")),)
    found = [_part("ohms.bath", reading.tank_v, amps, answer, answer.resistance)]
    if reading.supply_v is not None and reading.supply_v > reading.tank_v:
        lost = figure(
            "ohms.leads", word("ohms.leads"), (reading.supply_v - reading.tank_v) / amps,
            "resistance", "(Us - Ut)/I",
            [_typed("Us", "supply_v", reading.supply_v), _typed("Ut", "tank_v", reading.tank_v),
             typed("I", word("field.entry.current_a"), amps, "current")],
            "ohm",
        )  # fmt: skip
        # two meters that differ by a hundredth are not a poor lead
        least = limit("advice", "ohms_least_v") / amps
        more = lost.value > max(least, (1 + limit("advice", "ohms_more")) * answer.leads.value)
        found.append(Ohms(lost, answer.leads, more))
    return tuple(found)


def _part(key: str, volts: float, amps: float, answer: Answer, planned: Figure) -> Ohms:
    read = _over(key, "tank_v", volts, amps, answer)
    return Ohms(read, planned, _more(read.value, planned.value))


def _over(key: str, field: str, volts: float, amps: float, answer: Answer) -> Figure:
    """What is left of some volts after those that the cell takes, over the amps."""
    return figure(
        key, word(key), max(volts - answer.threshold.value, 0.0) / amps, "resistance",
        "max(U - V0, 0)/I",
        [_typed("U", field, volts), uses("V0", answer.threshold),
         typed("I", word("field.entry.current_a"), amps, "current")],
        "ohm",
    )  # fmt: skip


def _typed(symbol: str, field: str, volts: float) -> Input:
    return typed(symbol, word(f"field.entry.{field}"), volts, "voltage")


def _more(read: float, planned: float) -> bool:
    return read > (1 + limit("advice", "ohms_more")) * planned
