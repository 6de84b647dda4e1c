"""What of the whole piece a plan's hours are not about: out of the liquid, taped over, or where no
current comes. Shares of its whole surface [-]."""

from __future__ import annotations

from yellowbath.core.document import Plan
from yellowbath.core.geometry import piece as pieces
from yellowbath.core.hours.outlook import LEAST
from yellowbath.core.plan.reading.filling import wetted_share
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.words import word


def apart(plan: Plan, worked: Answer) -> tuple[tuple[str, float], ...]:
    """Each reason with the share that it takes, the largest first; what is next to nothing left
    out."""
    areas = [pieces.area_figure(p).value for p in plan.pieces]
    under = [wetted_share(plan, p, worked.fill.level.value) for p in plan.pieces]
    whole, wet = sum(areas), worked.wetted_area.value
    in_liquid = sum(a * u for a, u in zip(areas, under, strict=True))
    lost = sum(worked.coverage.lost.values())
    found = {
        "dry": (whole - in_liquid) / whole,
        "outside" if plan.tank.is_piece else "taped": (in_liquid - wet) / whole,
        "beyond": wet / whole * lost / (1 + lost),
    }
    told = sorted(found.items(), key=lambda f: -f[1])
    return tuple((kind, share) for kind, share in told if share >= LEAST)


def apart_words(plan: Plan, worked: Answer, turned: bool = False) -> str:
    """The same in words, empty where the hours are of all of it; ``turned``: they are of what
    stands out too, which has its own dip."""
    return ", ".join(
        word(f"apart.{kind}", percent=round(100 * share))
        for kind, share in apart(plan, worked)
        if not (turned and kind == "dry")
    )


def apart_said(plan: Plan, worked: Answer, turned: bool = False) -> str:
    """The same as a sentence."""
    what = apart_words(plan, worked, turned)
    return f"{word('apart.title')}: {what}." if what else ""
