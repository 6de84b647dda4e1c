"""The switch-on list: what is looked at with the power off, before every first switching on."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

from yellowbath.core.checks.registry import Finding
from yellowbath.core.chemistry import mixing
from yellowbath.core.document import Plan
from yellowbath.core.errors import StepRefusedError
from yellowbath.core.words import word


@dataclass(frozen=True)
class ListPoint:
    """One point to tick."""

    id: str
    text: str


def _unsaid(plan: Plan, name: str) -> bool:
    """Whether nothing was said of some piece in a field."""
    said = plan.said or ()
    return any(
        not (f"/pieces/{k}/{name}" in said or getattr(p, name)) for k, p in enumerate(plan.pieces)
    )


def points(plan: Plan, findings: Sequence[Finding]) -> list[ListPoint]:
    """The points for a plan; each caution becomes one, so that none is passed over unread."""
    own = plan.tank.is_piece
    found = [
        ListPoint("polarity", "+ goes to the scrap (anode), − to the piece (cathode)"),
        ListPoint("touch", word("on_list.touch_own" if own else "on_list.touch")),
        *_metals(plan),
        *([] if own else [ListPoint("vessel", word("on_list.vessel"))]),
        ListPoint("joint", "The plus joint is clear of the liquid, also with froth and top-up"),
        ListPoint("contact", _contact(plan)),
        ListPoint("lid", "No lid, nothing that sparks, fresh air"),
        ListPoint("hands", "Power off before hands go in, always; eyes and gloves"),
    ]
    if plan.place.visitors is None:
        found.append(ListPoint("visitors", "Children and pets cannot get at it"))
    if plan.supply.may_have_battery:
        found.append(ListPoint("battery", "Fuse near the battery, switch in the line"))
    found += [
        ListPoint(f"caution.{f.id}", f.tick or f"{f.title}: {f.fix}")
        for f in findings
        if f.severity == "caution" and f.listed
    ]
    return found


def _metals(plan: Plan) -> list[ListPoint]:
    said = []
    if not plan.metals <= mixing.INERT:
        said.append(word("on_list.scrap"))
    said += [word(f"on_list.{n}") for n in ("other_metals", "coats") if _unsaid(plan, n)]
    return [ListPoint("metal", ". ".join(said))] if said else []


def _contact(plan: Plan) -> str:
    more = f". {word('on_list.parts')}" if _unsaid(plan, "parts") else ""
    return word("on_list.contact") + more


def in_bath_first(asked: Sequence[Finding]) -> StepRefusedError:
    """Why a bath is not switched on while its plan says what would be a stop."""
    return StepRefusedError(
        f"Since this bath was set up its plan says: {'; '.join(f.title for f in asked[:3])}.",
        allowed="Switching on, once you have said whether that is so in the bath.",
        remedy="Say whether it is so in the bath now, or only an idea.",
    )


def unread(wanted: Sequence[ListPoint], ticked: Collection[str]) -> list[ListPoint]:
    """Points that became known after the list was gone through."""
    return [p for p in wanted if p.id not in ticked]


def require_read(wanted: Sequence[ListPoint], ticked: Collection[str]) -> None:
    """Raises StepRefusedError for points that nobody has ticked yet."""
    new = unread(wanted, ticked)
    if new:
        raise StepRefusedError(
            f"New since the list was ticked: {'; '.join(p.text for p in new[:3])}.",
            allowed="Switching on, once every point was read.",
            remedy="Tick what is new on the list first.",
        )


def require_all(wanted: Sequence[ListPoint], ticked: Sequence[str]) -> None:
    """Raises StepRefusedError naming what is not ticked yet."""
    open_points = [p.text for p in wanted if p.id not in set(ticked)]
    if open_points:
        raise StepRefusedError(
            f"{len(open_points)} of {len(wanted)} points are not ticked.",
            allowed="Every point is ticked before switching on.",
            remedy="Open: " + "; ".join(open_points[:3]) + ".",
        )
