"""Properties over the whole evaluation, drawn by Hypothesis: what must hold for any input."""

import math
import unittest
from itertools import pairwise
from typing import Any, get_args

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.core.test_properties import CHOICES, SHAPES
from tests.longer import of
from tests.solving import SOLVER
from yellowbath.core import document as d
from yellowbath.core.checks import find
from yellowbath.core.chemistry.liquid import BICARBONATE, SALT, SODA, Liquid
from yellowbath.core.document import Transformer
from yellowbath.core.errors import InvalidDocumentError, YellowBathError
from yellowbath.core.figures import evaluate, figure, typed
from yellowbath.core.geometry.tank import level_of, volume_at
from yellowbath.core.plan.reading.entries import locate, read_plan, texts
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.power.supply import drop_figure, lead_figure
from yellowbath.workflows.plans.field import live, warm_up

FEW = settings(max_examples=of(250, 100), deadline=None, suppress_health_check=list(HealthCheck),
               derandomize=True)  # fmt: skip
_BASE = read_plan({}).plan
_POINTERS = [p for p, _ in texts(_BASE)]


def _one_of(*values: Any) -> st.SearchStrategy[Any]:
    return st.sampled_from(values)


PIECE = st.fixed_dictionaries({
    "shape": st.fixed_dictionaries({"kind": st.sampled_from(SHAPES)}),
    **{key: st.sampled_from(values) for key, values in CHOICES.items()},
    "treatment": _one_of("none", "hardened", "case_hardened"),
    "parts": _one_of("one", "seized", "moving", "chain"),
    "hardness_hrc": st.none() | st.floats(0, 70),
    "tempered_c": st.none() | st.floats(100, 700),
})  # fmt: skip
DOCUMENT = st.fixed_dictionaries({
    "system": _one_of("metric", "us", "imperial"),
    "pieces": st.lists(PIECE, min_size=1, max_size=2),
    "tank": st.fixed_dictionaries({
        "shape": st.fixed_dictionaries({"kind": _one_of("bucket", "box", "drum")}),
        "bar": _one_of("wood", "steel_bar", "steel_tube"), "limit_c": st.floats(30, 95),
    }),
    "mix": st.fixed_dictionaries({
        "product": st.sampled_from(d.PRODUCTS), "concentration_kg_m3": st.floats(0.2, 60),
        "temperature_c": st.floats(0, 60), "source": _one_of("fresh", "reuse"),
        "kept_kg": st.none() | st.floats(0, 50), "kept_bicarbonate_kg": st.floats(0, 50),
        "strip_ph": st.none() | st.floats(2, 14), "vinegar_share": st.floats(0, 0.3),
        "baked_before_kg": st.none() | st.just(1.0),
        "baked_after_kg": st.none() | st.floats(0.64, 1),
    }),
    "layout": st.fixed_dictionaries({
        "arrangement": _one_of("one_side", "opposite", "corners", "ring")}),
    "anodes": st.fixed_dictionaries({
        "id": st.just("a1"), "kind": _one_of("rod", "plate", "floor", "ring"),
        "material": st.sampled_from(get_args(d.Scrap))}).map(lambda a: [a]),
    "supply": st.fixed_dictionaries({
        "kind": _one_of("transformer", "selector", "laboratory", "smart", "fixed", "battery"),
        "nominal_v": st.floats(1.5, 48), "rated_a": st.floats(0.2, 100),
        "protection": _one_of("foldback", "hiccup", "fuse"), "other_a": st.floats(0, 100),
        "buffer_battery": st.booleans(), "manual_mode": st.booleans(),
    }),
    "place": st.fixed_dictionaries({
        "where": _one_of("outdoors", "open_door", "closed_room"),
        "air_c": st.none() | st.floats(-10, 45), "humidity": st.floats(0.1, 1),
        "opening_m2": st.none() | st.floats(0, 20), "room_m3": st.floats(3, 5000),
    }),
})  # fmt: skip


TYPED = (
    st.text(max_size=24)
    | st.floats().map(str)
    | st.sampled_from(["0", "-3", "1e9 mm", "3,5 L", "5 g", "1/0 in", "2 m 3 kg", "NaN"])
)
KEYS = st.sampled_from(["pieces", "tank", "mix", "shape", "kind", "supply", "x"])
JSON = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=8),
    lambda x: st.lists(x, max_size=3) | st.dictionaries(KEYS, x, max_size=4),
    max_leaves=8,
)


class Anything(unittest.TestCase):
    @FEW
    @given(DOCUMENT)
    def test_valid_input_is_answered_without_a_nan_or_refused_in_words(
        self, document: dict[str, Any]
    ) -> None:
        try:
            plan = read_plan(document).plan
            worked = answer(plan)
        except YellowBathError as error:
            self.assertTrue(error.problem)
            return
        for f in worked.figures():
            for value in (f.value, f.low, f.high):
                self.assertTrue(value is None or math.isfinite(value), f.key)
            again = evaluate(f.expression, {i.symbol: i.value for i in f.inputs})
            self.assertTrue(math.isclose(again, f.value, rel_tol=1e-7, abs_tol=1e-9), f.key)
        for finding in find(plan, worked):
            for words in (finding.title, finding.evidence, finding.reason, finding.fix):
                self.assertNotIn("{", words)

    @FEW
    @given(st.sampled_from(_POINTERS), TYPED)
    def test_any_text_in_any_field_is_read_or_refused_beside_it(
        self, pointer: str, text: str
    ) -> None:
        read = read_plan({"typed": {pointer: text}})
        target = locate(read.plan, pointer)
        assert target is not None
        if pointer in read.faults:
            self.assertTrue(read.faults[pointer])
        elif target.get() is not None:
            low, high = target.range()
            self.assertTrue(low * (1 - 1e-9) <= (target.get() or 0) <= high * (1 + 1e-9))

    @FEW
    @given(JSON)
    def test_a_document_of_any_form_raises_our_own_errors_only(self, thing: Any) -> None:
        document = thing if isinstance(thing, dict) else {"pieces": thing}
        try:
            read_plan(document)
        except InvalidDocumentError as error:
            self.assertTrue(error.faults)
        except YellowBathError:
            pass


class Physics(unittest.TestCase):
    @FEW
    @given(st.sampled_from([SODA, BICARBONATE, SALT]), st.floats(1, 58), st.floats(0, 60),
           st.floats(0, 20))  # fmt: skip
    def test_more_salt_never_conducts_less(
        self, key: str, dose: float, temperature: float, other: float
    ) -> None:
        beside = BICARBONATE if key == SODA else SODA
        less, more = (
            Liquid({key: c, beside: other}).conductivity(temperature) for c in (dose, dose + 1)
        )
        self.assertGreaterEqual(more, less)

    @FEW
    @given(st.floats(0.1, 29), st.floats(2e-7, 70e-6), st.floats(0, 60))
    def test_a_longer_lead_never_drops_less(self, length: float, area: float, amps: float) -> None:
        current = figure("i", "I", amps, "current", "i", [typed("i", "i", amps, "current")], "ohm")
        drops = [
            drop_figure(
                lead_figure(Transformer(lead_length_m=far, lead_area_m2=area)), current
            ).value
            for far in (length, length + 1)
        ]
        self.assertLessEqual(drops[0], drops[1])

    @FEW
    @given(st.sampled_from(["bucket", "box", "drum"]), st.floats(0.01, 0.99))
    def test_level_and_volume_are_inverse(self, kind: str, share: float) -> None:
        tank = d.Tank.model_validate({"shape": {"kind": kind}})
        level = share * tank.shape.height_m
        self.assertAlmostEqual(level_of(tank, volume_at(tank, level)), level, places=7)


class Field(unittest.TestCase):
    def test_along_a_free_perpendicular_away_from_a_plate_never_more_current(self) -> None:
        """One rod before a plate in a wide box, clear of the walls; solved, to the mesh's error."""
        warm_up(SOLVER)
        box = {"shape": {"kind": "box", "length_m": 1.2, "width_m": 1.2, "height_m": 0.4}}
        amps = []
        for away in (0.06, 0.1, 0.15, 0.2, 0.25, 0.3, 0.35):
            made = live(SOLVER, {
                "mix": {"product": "soda_anhydrous"}, "tank": box,
                "layout": {"arrangement": "by_hand"},
                "anodes": [{"id": "a1", "x_m": 0.0, "y_m": -away}],
            }, ready=True)  # fmt: skip
            assert made.field is not None
            amps.append(1 / made.field.resistance.value)
        for near, far in pairwise(amps):
            self.assertLess(far, near * 1.001)
        self.assertLess(amps[-1], 0.97 * amps[0])
