"""What a bit of iron is, by a look and a magnet, and whether it may hang on the plus side; how much
of it is in the liquid and how long it lasts.

Common practice, no source; the words are in core/data/scrap.toml.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from yellowbath.core.data import param, require_provenance, table
from yellowbath.core.document import Plan
from yellowbath.core.errors import InputError
from yellowbath.core.figures import Figure, figure, typed, uses
from yellowbath.core.geometry import anode as anodes

Look = Literal["bare", "shiny", "spangled", "painted", "yellow"]
Magnet = Literal["yes", "no"]


@dataclass(frozen=True)
class ScrapJudged:
    """What it is taken for, whether it may be an anode (yes, no, after work), why, what to ask."""

    material: str
    verdict: Literal["yes", "no", "after"]
    why: str
    ask: str


def items() -> Sequence[tuple[str, str]]:
    """Kinds of scrap by id and name."""
    return [(key, row["name"]) for key, row in table("scrap")["items"].items()]


def judge(item: str, magnet: Magnet, look: Look) -> ScrapJudged:
    """The first rule that fits speaks. Raises InputError for an item that is not listed."""
    rows = table("scrap")
    if item not in rows["items"]:
        raise InputError(f"{item} is no kind of scrap here.", allowed=", ".join(rows["items"]))
    told = {"item": item, "magnet": magnet, "look": look}
    for k, rule in enumerate(rows["rules"]):
        require_provenance(f"scrap.rules.{k}", rule)
        if all(told[key] == rule[key] for key in told if key in rule):
            ask = str(rows["items"][item]["ask"])
            return ScrapJudged(rule["material"], rule["verdict"], rule["why"], ask)
    raise AssertionError("the last rule has no condition")


def scrap_area_figure(plan: Plan, level: float) -> Figure:
    """Surface of all scrap in the liquid [m2], both sides of what is flat."""
    area = sum(anodes.wet(a, plan, level).area for a in plan.anodes)
    return figure(
        "scrap.area", "Surface of the scrap in the liquid", area, "area", "A",
        [typed("A", "All anodes, both sides", area, "area")], "geometry",
    )  # fmt: skip


def scrap_life_figure(plan: Plan, level: float, iron: Figure) -> Figure | None:
    """Hours under power until half of the wet scrap is gone, evenly shared; None without loss."""
    if iron.value <= 0:
        return None
    volume = sum(anodes.wet(a, plan, level).volume for a in plan.anodes)
    rho, worn = param("steel_kg_m3"), param("scrap_worn")
    value = volume * rho.value * worn.value / iron.value
    made = figure(
        "scrap.life", "Scrap lasts, under power", value, "time", "V*rho*w/r",
        [typed("V", "Scrap in the liquid", volume, "volume"), uses("rho", rho), uses("w", worn),
         uses("r", iron)],
        "faraday",
    )  # fmt: skip
    fast, slow = (edge if edge else iron.value for edge in (iron.high, iron.low))
    return made.with_window(
        value * worn.low / worn.value * iron.value / fast,
        value * worn.high / worn.value * iron.value / slow,
    )
