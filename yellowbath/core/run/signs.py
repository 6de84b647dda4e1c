"""What the newest thing read or seen says of the bath, whatever its plan expects.

Five classes. *Danger*: off, before anything else. *Caution*: eyes and hands soon. *Not running*:
nothing flows, so nothing counts since the last sign of life. *Unsure*: a meter says nought, and gas
has not been asked for. *Weak*: it works, though little is seen of it. Common practice.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import islice, takewhile
from typing import Literal

from yellowbath.core.checks.limits import limit
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.dangers import Danger, Figures, Key, judge
from yellowbath.core.run.log import Alarm, Asked, Change, Entry, Look, Mended, Reading
from yellowbath.core.run.touch import touch_by_plan
from yellowbath.core.words import word


@dataclass(frozen=True)
class Sign:
    """A class, in words, since when, and which kind of thing said it."""

    kind: Literal["danger", "caution", "not_running", "unsure", "weak"]
    title: str
    why: str
    at: datetime
    by: str = ""


_SEEN: Mapping[str, tuple[str, str]] = {
    "touch": (
        word("choice.run.sign.touch"),
        "A short: the current goes through the touch and heats it. Off at the supply or its "
        "switch first; then move them apart so that they cannot swing together.",
    ),
    "smoke": (
        "Smoke",
        "Something burns: charger, lead or clip. Off at the wall, not at the bath; keep away from "
        "the gas over the bath. If it does not stop at once, call the fire brigade.",
    ),
    "smell": (
        "A smell that should not be",
        "Hot plastic, burning, or chlorine. Off from a distance, upwind, and let it air out before "
        "you go near.",
    ),
    "sparks": (
        "Sparks",
        "A spark can set off the gas over the bath. Off at the wall, never by pulling a clip.",
    ),
    "hot": (
        "Something is too hot to touch",
        "A clip, a lead, the charger or the tank: a poor joint or too many amps. Off, let it cool, "
        "find it before it goes on.",
    ),
}


def dangers(entry: Entry, basis: Basis) -> list[Sign]:
    """Every danger, and every caution, that one entry tells of."""
    detail = entry.detail
    if isinstance(detail, Look):
        return [Sign("danger", *_SEEN[s], entry.at, s) for s in detail.signs]
    if isinstance(detail, Alarm):
        return [_sign(Danger(detail.which, detail.by, detail.reason), entry)]
    if isinstance(detail, Asked):
        return [_sign(d, entry) for d in answered(detail.ask, detail.outcome)]
    told = figures_of(detail)
    by_hand = not isinstance(detail, Reading) or detail.method != "line"  # a line has its own guard
    touch = touch_by_plan(told, basis) if by_hand else []
    return [_sign(d, entry) for d in (*touch, *judge(told, basis))]


def figures_of(detail: object) -> Figures:
    """The figures that an entry says, whichever way it says them."""
    if isinstance(detail, Reading):
        return Figures(detail.current_a, detail.supply_v, detail.tank_v, detail.bath_c)
    if isinstance(detail, Change):
        return Figures(detail.before_a if detail.after_a is None else detail.after_a)
    return Figures()


def answered(ask: str, outcome: str) -> list[Danger]:
    """The danger that an answer tells of, as much as a look of that name."""
    key = _ANSWERED.get((ask, outcome))
    return [Danger(key, "leads", word(f"danger.{key}.why"))] if key else []


_ANSWERED: Mapping[tuple[str, str], Key] = {
    ("leads", "touching"): "touch", ("leads", "swapped"): "swapped", ("crust", "piece"): "swapped",
    ("poles", "swapped"): "swapped",
}  # fmt: skip


Poles = Literal["", "right", "swapped"]
# amps and gas are the same both ways: only a meter's sign and fresh crust tell; common practice
_POLES: Mapping[tuple[str, str], Poles] = {
    ("poles", "right"): "right", ("poles", "swapped"): "swapped", ("crust", "scrap"): "right",
    ("crust", "piece"): "swapped", ("leads", "swapped"): "swapped",
}  # fmt: skip


def poles_told(detail: object, known: Poles) -> Poles:
    """Whether plus sits on the scrap, after an entry; what was swapped is looked at once more when
    it is mended."""
    if isinstance(detail, Asked):
        return _POLES.get((detail.ask, detail.outcome), known)
    mended = isinstance(detail, Mended) and detail.helped and known == "swapped"
    return "" if mended else known


def _sign(d: Danger, entry: Entry) -> Sign:
    return Sign("danger" if d.grave else "caution", d.title, d.why, entry.at, d.by)


def clears(sign: Sign, entry: Entry) -> bool:
    """Whether newer figures of the same thing, or the mend of it, take a danger back; what was seen
    stays."""
    detail = entry.detail
    told = figures_of(detail)
    if isinstance(detail, Mended):
        return detail.helped and sign.by == "leads"
    if isinstance(detail, Asked):
        return (detail.ask, detail.outcome, sign.by) == ("leads", "right", "leads")
    newer = {"amps": told.amps, "supply_v": told.supply_v, "tank_v": told.tank_v,
             "bath": told.bath_c}  # fmt: skip
    if sign.by == "amps" and asks_gas(entry):
        return False  # a nought that may be the meter's takes nothing back
    if sign.by == "meter":  # a meter that moves again
        return isinstance(detail, Reading) and detail.method == "line"
    return newer.get(sign.by) is not None


# --- Does anything flow? ------------------------------------------------------------------------


def _flows(detail: object) -> bool:
    return (
        isinstance(detail, Reading)
        and detail.current_a is not None
        and detail.current_a > limit("advice", "still_amps")
    )


def alive(entry: Entry) -> bool:
    """Whether an entry shows that current flows: amps, gas, or amps after a change."""
    detail = entry.detail
    if isinstance(detail, Look):
        return detail.bubbles in ("whole", "one_side", "clip_only")
    if isinstance(detail, Change):
        return detail.after_a is not None and detail.after_a > limit("advice", "still_amps")
    return _flows(detail)


def asks_gas(entry: Entry) -> bool:
    """Whether an entry is nought amps by hand, read by itself or after a change, with nothing that
    says why: a meter on a wrong range reads it too. A line has read it ten times."""
    detail = entry.detail
    if isinstance(detail, Change):
        return detail.after_a is not None and not alive(entry)
    if not isinstance(detail, Reading) or detail.current_a is None or _flows(detail):
        return False
    return detail.method != "line" and not _no_volts(detail.tank_v, detail.supply_v)


def _no_volts(*volts: float | None) -> bool:
    return any(v is not None and v < limit("advice", "still_volts") for v in volts)


def silence(entry: Entry, log: Sequence[Entry], again: bool = False) -> Sign | None:
    """Whether an entry shows that nothing flows: no volts at the tank, no amps off a line or for
    the second time (``again``), or no gas.

    No gas beside amps read within a quarter of an hour of it is weak, and not silence.
    """
    detail = entry.detail
    if isinstance(detail, Reading) and not _flows(detail):
        if _no_volts(detail.tank_v):
            return Sign("not_running", "No volts at the tank: nothing flows", _NO_VOLTS, entry.at)
        if _no_volts(detail.supply_v):
            return Sign(
                "not_running", "No volts at the supply: nothing flows", _NO_SUPPLY, entry.at
            )
        if detail.current_a is not None and (again or not asks_gas(entry)):
            why = _VOLTS_NO_AMPS if detail.tank_v else _NO_AMPS
            if detail.supply_v and detail.tank_v is None:
                why = _SUPPLY_NO_AMPS
            return Sign("not_running", "No amps: nothing flows", why, entry.at)
    if isinstance(detail, Change) and again and asks_gas(entry):
        return Sign("not_running", "No amps: nothing flows", _NO_AMPS, entry.at)
    if isinstance(detail, Look) and detail.bubbles == "none" and not _amps_near(entry, log):
        return Sign("not_running", "No gas: nothing flows, as far as can be seen", _NO_GAS,
                    entry.at)  # fmt: skip
    return None


def nought(entry: Entry, gas_at: datetime | None) -> Sign | None:
    """What nought amps say by themselves: where gas was seen just before (``gas_at``) the meter is
    wrong, and otherwise gas is asked for."""
    if not asks_gas(entry):
        return None
    if gas_at is not None and entry.at - gas_at <= amps_stand():
        return meter_wrong(entry)
    return Sign("unsure", word("sign.nought"), word("sign.nought_why"), entry.at, "nought")


def meter_wrong(entry: Entry) -> Sign:
    """Gas rises while a meter says nought: the bath works, and its amps are not known."""
    return Sign("weak", word("sign.meter"), word("sign.meter_why"), entry.at, "nought")


def weak(entry: Entry, log: Sequence[Entry]) -> Sign | None:
    """No visible gas, but amps read near it: the amps stand."""
    detail = entry.detail
    if isinstance(detail, Look) and detail.bubbles == "none" and _amps_near(entry, log):
        return Sign("weak", "Weak but working", _WEAK, entry.at)
    return None


def amps_stand() -> timedelta:
    """How long amps that were read stand against what is seen, before and after."""
    return timedelta(minutes=limit("advice", "amps_stand_min"))


def _when(entry: Entry) -> datetime:
    return entry.at


def _amps_near(entry: Entry, log: Sequence[Entry]) -> bool:
    """The reading of amps nearest to it in time, within the limit, tells of a current."""
    reach = amps_stand()
    first = bisect_left(log, entry.at - reach, key=_when)
    read = [
        e for e in takewhile(lambda e: e.at <= entry.at + reach, islice(log, first, None))
        if isinstance(e.detail, Reading) and e.detail.current_a is not None
    ]  # fmt: skip
    nearest = min(read, key=lambda e: abs(e.at - entry.at), default=None)
    return nearest is not None and _flows(nearest.detail)


_NO_VOLTS = (
    "Supply off or asleep, a fuse, a flat battery, the leads. Mend that with the power off, "
    "switch on again and look for gas. Hours since the last sign of life are counted as unsure."
)
_NO_SUPPLY = (
    "It is off, asleep or tripped, its own fuse is gone, or a battery is flat. Look at its lamp, "
    "and listen: what clicks every few seconds is overloaded. Hours since the last sign of life "
    "are counted as unsure."
)
_SUPPLY_NO_AMPS = (
    "The supply has its volts and no amps go out. Read the volts at the tank: none there points to "
    "a fuse in the line or a lead that is off; full volts there to a contact at either end, a "
    "coated hanger, or scrap out of the liquid. Hours since the last sign of life are counted as "
    "unsure."
)
_NO_AMPS = (
    "Read the volts at the tank: none points to supply, fuse and leads; full volts to a contact at "
    "either end, a coated hanger, or scrap out of the liquid. Hours since the last sign of life "
    "are counted as unsure."
)
_VOLTS_NO_AMPS = (
    "Volts are there and no amps: a contact under the rust at the piece, a contact at the scrap, a "
    "coated hanger or wood in the way, or scrap out of the liquid. Hours since the last sign of "
    "life are counted as unsure."
)
_NO_GAS = (
    "Read the volts at the tank first: supply asleep, fuse, flat battery, a contact at either end, "
    "a coated hanger. If you can read amps, enter them: amps stand even where no gas is seen."
)
_WEAK = (
    "Amps flow though no gas is seen: a weak current works, slowly. The amps stand and the hours "
    "count; plain tap water gives a few bubbles too, so a few prove nothing."
)
