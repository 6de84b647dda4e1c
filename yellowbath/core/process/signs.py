"""What the newest thing read or seen says of the bath, whatever its plan expects.

Three classes. *Danger*: off, before anything else. *Not running*: nothing flows, so nothing counts
since the last sign of life. *Weak*: it works, though little is seen of it. Common practice.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import islice, takewhile
from typing import Literal

from yellowbath.core.checks.limits import limit
from yellowbath.core.process.basis import Basis
from yellowbath.core.process.log import Change, Entry, Look, Reading
from yellowbath.core.words import word


@dataclass(frozen=True)
class Sign:
    """A class, in words, since when, and which kind of thing said it."""

    kind: Literal["danger", "not_running", "weak"]
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
    """Every danger that one entry tells of."""
    detail = entry.detail
    if isinstance(detail, Look):
        return [Sign("danger", *_SEEN[s], entry.at, s) for s in detail.signs]
    if not isinstance(detail, Reading):
        return []
    found = []
    amps = detail.current_a
    if amps is not None and amps + basis.other_a > limit("advice", "over_rating") * basis.rated_a:
        found.append(Sign(
            "danger", "More amps than the supply is rated for",
            f"{amps:g} A was read; the supply is rated for {basis.rated_a:g} A"
            + (f", {basis.other_a:g} A of it for other baths." if basis.other_a else ".")
            + " It overheats. Look for a touch, then less soda, less scrap or a higher range.",
            entry.at, "amps",
        ))  # fmt: skip
    elif amps is not None and basis.fuse_a is not None and amps > basis.fuse_a:
        found.append(Sign(
            "danger", "More amps than the fuse",
            f"{amps:g} A was read through a fuse of {basis.fuse_a:g} A: it should have blown. "
            "Look for a touch, and see which fuse is really in.",
            entry.at, "amps",
        ))  # fmt: skip
    if detail.bath_c is not None and detail.bath_c > basis.limit_c:
        found.append(Sign(
            "danger", "The bath is too hot for its tank",
            "It is over what the tank may get: plastic softens under the weight of water, and the "
            "liquid scalds. Off, stand clear of the tank, let it cool.",
            entry.at, "bath",
        ))  # fmt: skip
    return found


def clears(sign: Sign, entry: Entry) -> bool:
    """Whether a newer reading of the same thing takes its danger back; what was seen stays."""
    detail = entry.detail
    if not isinstance(detail, Reading):
        return False
    told = {"amps": detail.current_a, "bath": detail.bath_c}
    return told.get(sign.by) is not None


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


def silence(entry: Entry, log: Sequence[Entry]) -> Sign | None:
    """Whether an entry shows that nothing flows: no amps, no volts at the tank, or no gas.

    No gas beside amps read within a quarter of an hour of it is weak, and not silence.
    """
    detail = entry.detail
    if isinstance(detail, Reading) and not _flows(detail):
        no_volts = detail.tank_v is not None and detail.tank_v < limit("advice", "still_volts")
        if no_volts:
            return Sign("not_running", "No volts at the tank: nothing flows", _NO_VOLTS, entry.at)
        if detail.supply_v is not None and detail.supply_v < limit("advice", "still_volts"):
            return Sign(
                "not_running", "No volts at the supply: nothing flows", _NO_SUPPLY, entry.at
            )
        if detail.current_a is not None:
            why = _VOLTS_NO_AMPS if detail.tank_v else _NO_AMPS
            if detail.supply_v and detail.tank_v is None:
                why = _SUPPLY_NO_AMPS
            return Sign("not_running", "No amps: nothing flows", why, entry.at)
    if isinstance(detail, Look) and detail.bubbles == "none" and not _amps_near(entry, log):
        return Sign("not_running", "No gas: nothing flows, as far as can be seen", _NO_GAS,
                    entry.at)  # fmt: skip
    return None


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
