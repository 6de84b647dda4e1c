"""Texts that state a figure, against what the model says."""

import re
import unittest
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

from scipy.optimize import brentq

from tests.shops import QUIET
from tests.solving import SOLVER
from yellowbath.core.checks.limits import ADVICE, LISTENING, check_rows, limits
from yellowbath.core.chemistry.electrolyte import conductivity, product
from yellowbath.core.chemistry.liquid import baked_share
from yellowbath.core.data import param, table
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.power.supply import lead_heat_figure
from yellowbath.core.words import words
from yellowbath.workflows.plans.field import field_of

SODA, BICARBONATE, LYE = "sodium_carbonate", "sodium_bicarbonate", "sodium_hydroxide"


def amps(grams: float, **document: Any) -> float:
    mix = {**QUIET["mix"], "concentration_kg_m3": grams, **document.pop("mix", {})}
    return field_of(SOLVER, {**QUIET, **document, "mix": mix}, "preview").answer.gives.value


def check_text(check: str, part: str) -> str:
    return str(check_rows()[check][part])


def _lost_in_full_bake() -> float:
    """The share of its weight at which the model says that all has turned."""
    return float(brentq(lambda lost: baked_share(1.0, 1.0 - lost) - 0.999, 0.1, 0.37))


def _twice_the_amps() -> float:
    made = answer(read_plan(QUIET).plan)
    twice = replace(made.gives, value=2 * made.gives.value)
    once, more = (lead_heat_figure(made.leads, i, made.form) for i in (made.gives, twice))
    return more.value / once.value


def _gas() -> float:
    made = answer(read_plan(QUIET).plan)
    return made.hydrogen.value / made.oxygen.value


# What a text says, where it stands, what the model gives, and between what it may lie.
SAID: tuple[tuple[str, Callable[[], str], Callable[[], float], float, float], ...] = (
    ("hold only 37 % soda", lambda: check_text("product_unknown", "reason"),
     lambda: 100 * product("soda_decahydrate").share, 36.5, 37.5),
    ("the wire with about twice the bubbles is minus", lambda: check_text("polarity", "fix"),
     _gas, 1.9, 2.1),
    ("about twice the bubbles", lambda: words()["hint.supply.polarity_tested"], _gas, 1.9, 2.1),
    ("conducts about half", lambda: check_text("cold_mix", "reason"),
     lambda: conductivity(SODA, 5, 1) / conductivity(SODA, 5, 20), 0.45, 0.6),
    ("near freezing about half", lambda: str(table("tables")["conducts"]["lead"]),
     lambda: conductivity(SODA, 5, 1) / conductivity(SODA, 5, 20), 0.45, 0.6),
    ("about 2.5 % a degree", lambda: words()["hint.mix.warming"],
     lambda: 100 * (conductivity(SODA, 5, 25) / conductivity(SODA, 5, 20) - 1) / 5, 2.2, 2.8),
    ("about 0.6 times as well by weight", lambda: check_text("bicarbonate_turns", "reason"),
     lambda: conductivity(BICARBONATE, 5, 20) / conductivity(SODA, 5, 20), 0.55, 0.65),
    ("three to four times what soda does", lambda: str(table("products")["lye"]["refused"]),
     lambda: conductivity(LYE, 5, 20) / conductivity(SODA, 5, 20), 3.0, 4.0),
    ("2.7 times weaker", lambda: str(table("tables")["strength"]["lead"]),
     lambda: 1 / product("soda_decahydrate").share, 2.65, 2.75),
    ("63 % is all of it", lambda: words()["hint.mix.baked_after_kg"],
     lambda: 100 * (1 - _lost_in_full_bake()), 62.5, 63.5),
    ("At twice its amps a lead gets four times as hot", lambda: check_text("lead_far", "reason"),
     _twice_the_amps, 3.99, 4.01),
    ("half of what burns", lambda: check_text("room_full", "evidence"),
     lambda: 2 * 2 * param("room_limit").value / 0.04, 0.99, 1.01),
)  # fmt: skip

# How a limit may stand in its check's "when": as it is, in percent, in mm, in g, in days.
_WAYS = (1.0, 100.0, 1000.0, 1 / 86400.0)
# limits that are the edge of a word, not of a number in it
_SPELT = {"a fifth": 0.8, "a tenth": 0.1, "seven tenths": 0.7, "twice": 2.0, "three days": 259200.0,
          "part of": 0.999, "more than the lead carries": 1.0, "bigger than what": 1.0}  # fmt: skip


def stated(text: str) -> set[float]:
    """Every number in a text, spelt ones by what limit they are."""
    found = {float(x) for x in re.findall(r"\d+(?:\.\d+)?", text)}
    return found | {v for word, v in _SPELT.items() if word in text.lower()}


class Figures(unittest.TestCase):
    def test_each_text_says_what_the_model_gives(self) -> None:
        for words_, text, model, low, high in SAID:
            with self.subTest(words_):
                self.assertIn(words_, text())
                self.assertTrue(low <= model() <= high, model())

    def test_each_limit_stands_in_the_words_of_its_check(self) -> None:
        """The rule over the list: what a check says calls it up is the number that does."""
        quiet = {
            ("hole_caps", "freeboard"),
            ("hole_caps", "under"),
            ("salt", "got_in"),
            ("overload_far", "surely"),
            ("froth", "surface"),
        }  # said elsewhere, or in a table
        for check, name, owned in limits():
            if check in (ADVICE, *LISTENING) or (check, name) in quiet:
                continue
            value = param(owned["param"]).value if "param" in owned else float(owned["value"])
            numbers = stated(check_text(check, "when"))
            with self.subTest(check, limit=name, says=numbers):
                ways = {round(value * w, 6) for w in _WAYS}
                self.assertTrue(ways & {round(n, 6) for n in numbers})


class Counts(unittest.TestCase):
    def test_the_documents_count_the_checks_as_they_are(self) -> None:
        root = Path(__file__).parents[2]
        for name in ("README.md", "CHANGELOG.md"):
            said = re.search(r"(\d+) checks", (root / name).read_text("utf-8"))
            assert said is not None, name
            self.assertEqual(int(said[1]), len(check_rows()), name)


class Soda(unittest.TestCase):
    def test_from_15_to_30_grams_adds_a_quarter_to_a_third(self) -> None:
        """Solved, for two rods, one side, and a supply that holds its volts."""
        says = check_text("dose_high", "reason")
        self.assertIn("From 15 to 30 g/L the amps rise by a quarter to a third", says)
        strong = {"kind": "laboratory", "nominal_v": 12, "rated_a": 60, "limit_a": 60}
        for what in ({}, {"layout": {"arrangement": "one_side"}}, {"supply": strong}):
            more = amps(30, **what) / amps(15, **what)
            with self.subTest(what=what):
                self.assertTrue(1.2 <= more <= 1.4, more)

    def test_crystals_taken_for_dry_soda_may_halve_the_amps(self) -> None:
        self.assertIn("down to less than half", check_text("product_unknown", "reason"))
        share = product("soda_decahydrate").share
        self.assertLess(amps(5 * share) / amps(5), 0.5)
        gives = answer(read_plan({**QUIET, "mix": {"product": "unknown"}}).plan).gives
        assert gives.low is not None
        self.assertLess(gives.low / gives.value, 0.5)
