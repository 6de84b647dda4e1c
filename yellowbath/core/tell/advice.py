"""What the last thing seen or read means, in two sentences. Common practice, no source."""

from __future__ import annotations

from dataclasses import dataclass

from yellowbath.core.bath.trend import AmpsStep
from yellowbath.core.checks.limits import limit
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.log import Look
from yellowbath.core.run.run import Run
from yellowbath.core.units import show
from yellowbath.core.words import word


@dataclass(frozen=True)
class Advice:
    """A word on the newest look or reading; ``grave`` asks for hands now."""

    title: str
    text: str
    grave: bool


_CLIP_ONLY = Advice(
    "Gas only at the clip: no contact under the rust",
    "Switch off, bare a bright spot, clamp firmer or take more turns of wire. "
    "Check the contact at the scrap too.",
    True,
)
_LOW = Advice(
    "Far below what was expected",
    "A poor contact at either end is the usual cause; then a coated hanger, a weak or cold mix, "
    "caked scrap. Read the volts at the tank: full volts there point to the liquid and the scrap, "
    "low volts to the leads and clips.",
    False,
)
_HIGH = Advice(
    "More than was expected",
    "Stronger mix, more scrap or less distance than typed in, or a touch between scrap and piece. "
    "See that nothing touches, feel the charger, and look at the fuse.",
    False,
)
_ONE_SIDE = Advice(
    "Gas from one side only",
    "The other side looks away from the scrap, or its contact does not reach it. Turn the piece at "
    "the next look, or add scrap on that side.",
    False,
)


def advise(run: Run, basis: Basis) -> Advice | None:
    """Advice on the newest look or reading of a bath under power, or None.

    Dangers and a bath that does not run are in the next action; only what is weak stands here.
    """
    if run.state not in ("running", "paused"):
        return None
    for sign in run.signs:
        told = sign.kind in ("weak", "caution")
        return Advice(sign.title, sign.why, sign.kind == "caution") if told else None
    if run.told is None:
        return None
    if isinstance(run.told, Look):
        return {"clip_only": _CLIP_ONLY, "one_side": _ONE_SIDE}.get(run.told.bubbles or "")
    return _on_amps(run.told.current_a, run, basis.under(run.out))


def _on_amps(amps: float | None, run: Run, basis: Basis) -> Advice | None:
    """By what the bath did before, then by its plan."""
    heard = run.heard
    if not amps or heard is None:
        return None
    step = heard.trend.step
    if step is not None:
        return Advice(step_said(step), word(f"trend.{_way(step)}_why"), False)
    if heard.trend.asked is not None:
        return None  # it is read again first
    if heard.off_plan:
        return _LOW if amps < basis.expected_a else _HIGH
    if amps > basis.expected_high_a:
        return _HIGH
    first = run.first_a or amps
    if amps < limit("advice", "drift") * first:
        said = word("trend.drift", before=show(first, "current"), now=show(amps, "current"))
        return Advice(said, word("trend.drift_why"), False)
    if amps < basis.expected_low_a:
        return Advice(word("trend.fewer"), word("trend.fewer_why"), False)
    return None


def step_said(step: AmpsStep) -> str:
    """What the amps did, in words."""
    before, now = (show(a, "current") for a in (step.from_a, step.to_a))
    return word(f"trend.{_way(step)}", before=before, now=now)


def _way(step: AmpsStep) -> str:
    slow = "slow_" if step.slow else ""
    return f"{slow}fell" if step.log < 0 else f"{slow}rose"
