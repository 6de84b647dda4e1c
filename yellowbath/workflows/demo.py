"""The demo shop: volunteers of a canal lock, made through the same workflows that people use.

Everything in it is invented. Times are laid out backwards from now with a clock that is moved.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

from sqlalchemy import Engine

from yellowbath.core.run.log import AnyDetail, Entry
from yellowbath.workflows.plans.kit import add
from yellowbath.workflows.plans.plans import SavedPlan, create_plan
from yellowbath.workflows.runs.runs import enter, start_run, view_run
from yellowbath.workflows.shop.shop import Scoop, Shop, ShopSettings, save_settings


@dataclass
class _Clock:
    at: datetime

    def __call__(self) -> datetime:
        return self.at


class _Hand:
    """Writes a run's entries at moments counted from its start."""

    def __init__(self, engine: Engine, start: datetime) -> None:
        self.clock = _Clock(start)
        self.shop = Shop(engine, self.clock)
        self.start = start
        self.run_id = ""

    def plan(self, document: dict[str, Any]) -> SavedPlan:
        return create_plan(self.shop, document)

    def begin(self, kept: SavedPlan) -> None:
        self.run_id = start_run(self.shop, kept.revision.plan_id).row.id
        ticked = [p.id for p in view_run(self.shop, self.run_id).points]
        self.write(0, {"kind": "checklist", "ticked": ticked})

    def write(self, minutes: float, detail: dict[str, Any] | AnyDetail) -> None:
        self.clock.at = self.start + timedelta(minutes=minutes)
        entry = Entry.model_validate(
            {"client_id": uuid4().hex, "at": self.clock.at, "detail": detail}
        )
        enter(self.shop, self.run_id, entry)


_BUCKET = {
    "name": "Bucket",
    "shape": {
        "kind": "bucket",
        "floor_diameter_m": 0.26,
        "rim_diameter_m": 0.29,
        "height_m": 0.37,
    },
}
_TUB = {
    "name": "Long tub",
    "shape": {"kind": "box", "length_m": 0.80, "width_m": 0.40, "height_m": 0.40},
}
_CRATE = {
    "name": "Crate",
    "shape": {"kind": "box", "length_m": 0.40, "width_m": 0.30, "height_m": 0.32},
}
_SODA = {"product": "soda_anhydrous", "concentration_kg_m3": 5.0, "temperature_c": 14.0}
_CHARGER = {
    "kind": "transformer",
    "nominal_v": 12.0,
    "rated_a": 6.0,
    "polarity_tested": True,
    "rcd": True,
}
_BENCH = {
    "kind": "laboratory",
    "nominal_v": 12.0,
    "rated_a": 10.0,
    "limit_a": 3.0,
    "polarity_tested": True,
    "rcd": True,
}


def _plan(
    name: str, piece: dict[str, Any], tank: dict[str, Any], supply: dict[str, Any], **more: Any
) -> dict[str, Any]:
    return {
        "name": name,
        "pieces": [{"name": name, **piece}],
        "tank": tank,
        "mix": _SODA,
        "supply": supply,
        "layout": {"joint_clear": True},
        "place": {"where": "open_door", "lid": False, "flames": False, "visitors": False},
        **more,
    }


def seed(engine: Engine, now: datetime | None = None) -> None:
    """Fill an empty store with the demo shop."""
    now = now or datetime.now(UTC)
    _settings(engine, now)
    kit = _kit(engine, now - timedelta(days=40))
    tub = _drawn(kit, tank="Long tub", supply="Grey charger", anode="Four bars", lead="Red pair",
                 chemical="Washing soda, big box")  # fmt: skip
    _pawl(engine, now - timedelta(days=19))
    _ring(engine, now - timedelta(days=9), tub)
    _windlass(engine, now - timedelta(hours=3, minutes=10), tub)
    _boat_hook(engine, now - timedelta(hours=9))
    _bracket(engine, now - timedelta(hours=1))
    _hinge(engine, now - timedelta(minutes=40))


def _kit(engine: Engine, at: datetime) -> dict[str, str]:
    """What hangs and stands in the shop, bought before the first run; ids by name."""
    rods = {"kind": "anode", "count": 4, "new_kg": 1.42, "now_kg": 1.28,
            "anode": {"id": "a1", "kind": "rod", "diameter_m": 0.012}}  # fmt: skip
    flats = {"kind": "anode", "count": 2, "new_kg": 2.6, "now_kg": 1.1,
             "anode": {"id": "a1", "kind": "plate", "width_m": 0.06}}  # fmt: skip
    things: dict[str, dict[str, Any]] = {
        "Bucket": {"kind": "tank", "tank": _BUCKET},
        "Long tub": {"kind": "tank", "tank": _TUB},
        "Crate": {"kind": "tank", "tank": _CRATE},
        "Grey charger": {"kind": "supply", "supply": _CHARGER},
        "Bench supply": {"kind": "supply", "supply": _BENCH},
        "Four bars": rods,
        "Two old flats": flats,
        "Red pair": {"kind": "lead", "length_m": 2.0, "area_m2": 2.5e-6},
        "Pond pump": {"kind": "pump", "hourly_m3": 0.4},
        "Washing soda, big box": {"kind": "chemical", "product": "soda_anhydrous", "left_kg": 1.9},
        "Crystals, end of a bag": {
            "kind": "chemical", "product": "soda_decahydrate", "left_kg": 0.15,
        },
    }  # fmt: skip
    shop = Shop(engine, _Clock(at))
    return {name: add(shop, {"name": name, "detail": d}).id for name, d in things.items()}


def _drawn(kit: dict[str, str], **roles: str) -> list[dict[str, str]]:
    return [{"role": role, "ref": kit[name]} for role, name in roles.items()]


def _settings(engine: Engine, now: datetime) -> None:
    scoop = Scoop(name="Tea caddy lid", level_kg=0.021)
    shop = Shop(engine, _Clock(now))
    save_settings(shop, ShopSettings(name="Withy Lock volunteers", scoops=[scoop]))


def _finish(hand: _Hand, start: float, choice: str, steps: tuple[str, ...]) -> float:
    hand.write(start, {"kind": "finish_start"})
    at = start
    for step in steps:
        at += 12
        chosen = choice if step == "protect" else ""
        hand.write(at, {"kind": "finish_step", "step": step, "mark": "done", "choice": chosen})
    return at


def _pawl(engine: Engine, start: datetime) -> None:
    """A finished run: the paddle-gear pawl."""
    hand = _Hand(engine, start)
    piece = {
        "shape": {"kind": "plate", "length_m": 0.18, "width_m": 0.055, "thickness_m": 0.022},
        "metal": "wrought",
        "grade": "moderate",
        "aim": "patina",
        "fragility": "robust",
    }
    hand.begin(hand.plan(_plan("Paddle-gear pawl", piece, _BUCKET, _CHARGER)))
    hand.write(2, {"kind": "switch_on"})
    hand.write(2.3, {"kind": "look", "bubbles": "whole"})
    hand.write(38, {"kind": "reading", "current_a": 2.4, "tank_v": 12.9, "method": "clamp"})
    hand.write(95, {"kind": "asked", "ask": "crust", "outcome": "scrap"})
    hand.write(240, {"kind": "reading", "current_a": 2.1, "method": "clamp"})
    hand.write(310, {"kind": "lift"})
    shares = {"p1.front": 0.8, "p1.back": 0.65, "p1.edges": 0.9}
    hand.write(315, {"kind": "inspection", "verdict": "share", "shares": shares})
    hand.write(320, {"kind": "back_in"})
    hand.write(321, {"kind": "switch_on"})
    hand.write(322, {"kind": "look", "bubbles": "whole"})
    hand.write(450, {"kind": "reading", "current_a": 1.9, "method": "clamp"})
    hand.write(470, {"kind": "lift"})
    shares = {"p1.front": 1.0, "p1.back": 0.95, "p1.edges": 1.0}
    hand.write(475, {"kind": "inspection", "verdict": "share", "shares": shares})
    hand.write(476, {"kind": "clean"})
    at = _finish(hand, 477, "oil", ("scrub", "dry", "protect"))
    close = {
        "kind": "close",
        "hands_s": 2700,
        "materials": 1.2,
        "stamps": "A crown over W, on the nose",
        "remarks": "The tooth is worn but sharp. Swings freely again.",
        "photos": ["Before, from the front", "After, from the front"],
    }
    hand.write(at + 10, close)


def _ring(engine: Engine, start: datetime, kit: list[dict[str, str]]) -> None:
    """A finished run with a silent stop found in the morning: the mooring ring's staple."""
    hand = _Hand(engine, start)
    piece = {
        "shape": {"kind": "bar", "length_m": 0.52, "diameter_m": 0.024},
        "metal": "wrought",
        "grade": "heavy",
        "between": True,
        "aim": "black",
        "fragility": "robust",
    }
    document = _plan(
        "Mooring-ring staple",
        piece,
        _TUB,
        _CHARGER,
        layout={"arrangement": "corners", "joint_clear": True},
        kit=kit,
    )
    hand.begin(hand.plan(document))
    hand.write(3, {"kind": "switch_on"})
    hand.write(3.4, {"kind": "look", "bubbles": "whole"})
    hand.write(40, {"kind": "reading", "current_a": 2.8, "method": "dial"})
    hand.write(700, {"kind": "found_stopped", "cause": "Fuse, found blown at breakfast"})
    hand.write(760, {"kind": "switch_on"})
    hand.write(765, {"kind": "reading", "current_a": 2.6, "method": "dial"})
    change = {"kind": "change", "what": "scraped", "before_a": 2.2, "after_a": 2.7}
    hand.write(1000, change)
    hand.write(1130, {"kind": "lift"})
    hand.write(1140, {"kind": "inspection", "verdict": "share", "shares": {"p1.front": 0.95}})
    hand.write(1142, {"kind": "clean"})
    at = _finish(hand, 1143, "primer", ("scrub", "dry", "protect"))
    hand.write(at + 30, {"kind": "close", "hands_s": 3300, "materials": 3.5, "worth_after": 40})


def _windlass(engine: Engine, start: datetime, kit: list[dict[str, str]]) -> None:
    """The bath that runs now: a windlass handle."""
    hand = _Hand(engine, start)
    piece = {
        "shape": {"kind": "bar", "length_m": 0.42, "diameter_m": 0.028},
        "metal": "mild",
        "grade": "heavy",
        "aim": "black",
    }
    document = _plan(
        "Windlass handle",
        piece,
        _TUB,
        _CHARGER,
        layout={"arrangement": "corners", "joint_clear": True},
        kit=kit,
    )
    hand.begin(hand.plan(document))
    hand.write(4, {"kind": "switch_on"})
    hand.write(4.3, {"kind": "look", "bubbles": "whole"})
    hand.write(36, {"kind": "reading", "current_a": 2.9, "tank_v": 12.9, "method": "clamp"})
    hand.write(98, {"kind": "asked", "ask": "crust", "outcome": "scrap"})
    hand.write(120, {"kind": "reading", "current_a": 2.7, "method": "clamp"})


def _boat_hook(engine: Engine, start: datetime) -> None:
    """The bath that waits for hands: a relic, lifted and to be looked at."""
    hand = _Hand(engine, start)
    piece = {
        "shape": {"kind": "tube", "length_m": 0.24, "outer_diameter_m": 0.042,
                  "inner_diameter_m": 0.034},
        "metal": "wrought",
        "grade": "scaled",
        "aim": "black",
        "fragility": "relic",
        "hang": "long_down",
    }  # fmt: skip
    supply = {**_BENCH, "limit_a": 0.4, "nominal_v": 6.0}
    layout = {"arrangement": "ring", "count": 6, "joint_clear": True}
    document = _plan("Boat-hook head from the mud", piece, _BUCKET, supply, layout=layout)
    hand.begin(hand.plan(document))
    hand.write(3, {"kind": "switch_on"})
    hand.write(4, {"kind": "look", "bubbles": "whole"})
    hand.write(40, {"kind": "reading", "current_a": 0.4, "method": "clamp"})
    hand.write(150, {"kind": "asked", "ask": "crust", "outcome": "scrap"})
    hand.write(270, {"kind": "reading", "current_a": 0.4, "method": "clamp"})
    hand.write(520, {"kind": "lift"})


def _bracket(engine: Engine, start: datetime) -> None:
    """A plan with a stop in it: somebody wanted to use stainless rods."""
    piece = {
        "shape": {"kind": "box", "length_m": 0.16, "width_m": 0.10, "height_m": 0.05},
        "metal": "cast",
        "grade": "heavy",
        "aim": "paint_ready",
        "fragility": "robust",
        "paint": "patches",
    }
    rods = [{"id": "a1", "material": "stainless"}]
    _Hand(engine, start).plan(_plan("Cast bracket", piece, _CRATE, _CHARGER, anodes=rods))


def _hinge(engine: Engine, start: datetime) -> None:
    """A plan that is ready to go."""
    piece = {
        "shape": {"kind": "plate", "length_m": 0.30, "width_m": 0.05, "thickness_m": 0.008},
        "metal": "wrought",
        "grade": "moderate",
        "aim": "black",
    }
    _Hand(engine, start).plan(_plan("Hinge strap", piece, _CRATE, _CHARGER))
