"""The first questions: sizes, vessels and labels as people say them, and the plan that follows."""

import csv
import math
import random
import unittest
from pathlib import Path

import numpy as np

from yellowbath.core.data import param
from yellowbath.core.document import Mesh, Piece, Plan, Shape, Taped, Weighed
from yellowbath.core.errors import InputError
from yellowbath.core.field.mesh.solids import solid
from yellowbath.core.geometry.piece import area_sigma, mass_of, measure, volume
from yellowbath.core.geometry.tank import volume_at
from yellowbath.core.plan.reading.entries import misfits, read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.plan.start import vessels
from yellowbath.core.plan.start.begin import Begun, First, begin
from yellowbath.core.plan.start.label import read_label
from yellowbath.core.plan.start.sizes import asked, read_sizes, with_rest
from yellowbath.core.units import US_GALLON
from yellowbath.core.words import options
from yellowbath.workflows.plans.plans import answer_document, begun

ROWS = Path(__file__).parent / "begin.csv"


def rows(kind: str) -> list[dict[str, str]]:
    with ROWS.open(encoding="utf-8") as file:
        return [r for r in csv.DictReader(file) if r["kind"] == kind]


def of(kind: str) -> type[Shape]:
    return next(s for s in Taped.__args__ if s.model_fields["kind"].default == kind)


class Phrases(unittest.TestCase):
    def test_sizes_as_they_are_said(self) -> None:
        """Inches and feet are exact by definition (1959); the rest is multiplication."""
        for row in rows("sizes"):
            with self.subTest(row["text"]):
                wanted = [float(v) for v in row["read"].split()]
                got = [1000 * v for v in read_sizes(row["text"], row["system"])]  # type: ignore[arg-type]
                np.testing.assert_allclose(got, wanted, rtol=1e-9)

    def test_labels_as_they_are_printed(self) -> None:
        for row in rows("label"):
            with self.subTest(row["text"]):
                made = read_label(row["text"])
                said = [made.volts, made.amps, made.hours]
                self.assertEqual(
                    " ".join("-" if v is None else f"{v:g}" for v in said), row["read"]
                )

    def test_what_cannot_be_read_says_how_to_write_it(self) -> None:
        for row in rows("refused"):
            read = read_label if row["system"] == "label" else lambda t: read_sizes(t, "metric")
            with self.subTest(row["text"]), self.assertRaisesRegex(InputError, row["read"]):
                read(row["text"])


class Vessels(unittest.TestCase):
    def test_what_is_printed_on_it_is_what_it_holds(self) -> None:
        for row in rows("vessel"):
            with self.subTest(row["text"]):
                name, litres = row["text"].split()
                tank = vessels.by_volume(name, float(litres) / 1000)
                height = tank.shape.height_m
                self.assertAlmostEqual(volume_at(tank, height) * 1000, float(litres), places=6)
                across, tall = (float(v) for v in row["read"].split())
                got = tank.shape.model_dump()
                first = got.get("rim_diameter_m") or got.get("top_length_m") or got["length_m"]
                self.assertAlmostEqual(1000 * first, across, delta=0.5)
                self.assertAlmostEqual(1000 * height, tall, delta=0.5)

    def test_its_own_sizes_go_before_its_proportions(self) -> None:
        box = vessels.by_sizes("crate", [0.6, 0.4, 0.32])
        self.assertAlmostEqual(volume_at(box, 0.32), 0.6 * 0.4 * 0.32, places=9)
        self.assertAlmostEqual(vessels.by_sizes("bucket", [0.3, 0.35]).shape.height_m, 0.35)
        self.assertAlmostEqual(vessels.by_sizes("lying", [0.9, 0.6]).shape.length_m, 0.9)

    def test_the_smallest_that_has_room_is_taken_where_none_is_named(self) -> None:
        """Each usual vessel in turn, by its volume: the one before it has no room."""
        sized = sorted(
            (
                (row["of"][k], v)
                for v, row in vessels.vessels().items()
                for k in range(len(row["of"]))
            )
        )
        for long in (0.1, 0.25, 0.4, 0.6, 0.75):
            piece = Piece.model_validate(
                {
                    "shape": {
                        "kind": "plate",
                        "length_m": long,
                        "width_m": 0.05,
                        "thickness_m": 0.006,
                    }
                }
            )
            found, holds = vessels.smallest_for(piece)
            for litres, vessel in sized:
                fits = vessels.hung_in(piece, vessels.by_volume(vessel, litres / 1000)) is not None
                if litres / 1000 < holds:
                    self.assertFalse(fits, (long, vessel))
            self.assertIsNotNone(vessels.hung_in(piece, vessels.by_volume(found, holds)))


class Solids(unittest.TestCase):
    NEW = ("shell", "pan", "lattice", "tines", "anvil")

    def test_surface_and_volume_are_the_solids_own(self) -> None:
        """Closed meshes made and joined by manifold3d, of random sizes; polygons are 0.3 % off."""
        rng = random.Random(4)
        for kind in self.NEW:
            for _ in range(12):
                shape = self.drawn(kind, rng)
                with self.subTest(kind, shape=shape):
                    by_rule, made = measure(shape), solid(shape)
                    self.assertAlmostEqual(by_rule.area / made.area, 1, delta=0.003)
                    self.assertAlmostEqual(by_rule.volume / made.volume, 1, delta=0.003)
                    box = sorted(by_rule.box, reverse=True)
                    np.testing.assert_allclose(np.ptp(made.vertices, axis=0), box, rtol=0.003)

    @staticmethod
    def drawn(kind: str, rng: random.Random) -> Shape:
        while True:
            long = rng.uniform(0.1, 0.6)
            sizes = {n: s * long for n, s in zip(asked(kind), ((1, 0.6, 0.4), (1, 0.3, 0.02),
                     (1, 0.7, 0.05), (1, 0.9, 0.03), (1, 0.25, 0.55))[Solids.NEW.index(kind)],
                     strict=True)}  # fmt: skip
            more = {"between": rng.randrange(4)} if kind == "lattice" else {}
            given = {
                k: v * rng.uniform(0.8, 1.2) for k, v in with_rest(kind, [*sizes.values()]).items()
            }
            shape = of(kind)(**given, **more)
            if not list(misfits(Plan(pieces=[Piece(shape=shape)]))):
                return shape

    def test_a_weighed_thing_is_within_its_band_of_what_it_is(self) -> None:
        """Bodies of every other shape, only weighed: their true surface in the 10 to 90 % band of
        four in five, with the thickness known and without; the weight itself is exact."""
        rng, inside, asked_of = random.Random(9), {True: 0, False: 0}, 0
        for kind in [k for k in options("shape.kind") if k not in ("mesh", "pile", "weighed")]:
            for _ in range(20):
                sizes = [v * rng.uniform(0.6, 1.6) for v in self.usual(kind)]
                shape = of(kind)(**with_rest(kind, sizes))
                if list(misfits(Plan(pieces=[Piece(shape=shape)]))):
                    continue
                true, asked_of = measure(shape), asked_of + 1
                a, b, c = sorted(true.box, reverse=True)
                for known in (True, False):
                    weighed = Weighed(
                        mass_kg=true.volume * param("steel_kg_m3").value, length_m=a, width_m=b,
                        height_m=c, section_m=true.thinnest if known else None,
                    )  # fmt: skip
                    piece = Piece(shape=weighed)
                    self.assertAlmostEqual(volume(piece), true.volume, places=9)
                    off = math.log(true.area / measure(weighed).area)
                    inside[known] += abs(off) < 1.2816 * area_sigma(piece)
        for known, count in inside.items():
            self.assertTrue(0.72 < count / asked_of < 0.95, (known, count, asked_of))

    @staticmethod
    def usual(kind: str) -> list[float]:
        default = of(kind)()
        return [getattr(default, n) for n in asked(kind)]

    def test_a_typed_weight_goes_before_solid_iron(self) -> None:
        """A casting as a solid block is three times too heavy; too heavy is refused in words."""
        block = {"shape": {"kind": "box"}, "mass_kg": 2.3}
        piece = read_plan({"pieces": [block]}).plan.pieces[0]
        self.assertAlmostEqual(mass_of(piece), 2.3)
        self.assertAlmostEqual(volume(piece) * param("steel_kg_m3").value, 2.3)
        full = answer(read_plan({"pieces": [{"shape": {"kind": "box"}}]}).plan)
        light = answer(read_plan({"pieces": [block]}).plan)
        self.assertGreater(light.fill.water.value, full.fill.water.value)
        typed = {"pieces": [{"shape": {"kind": "box"}}], "typed": {"/pieces/0/mass_kg": "80 kg"}}
        self.assertIn("heavier than solid iron", read_plan(typed).faults["/pieces/0/mass_kg"])


class FirstPlan(unittest.TestCase):
    def said(self, **words: object) -> Begun:
        return begin(First.model_validate(words))

    def test_a_dozen_and_more_kinds_come_out_with_an_answer(self) -> None:
        """Each shape by its three sizes alone: a plan that is worked out and can be built."""
        for kind in options("shape.kind"):
            if kind == "mesh":
                continue
            usual = " x ".join(f"{1000 * v:g}" for v in Solids.usual(kind))
            weight = "2 kg" if kind == "weighed" else ""
            with self.subTest(kind):
                made, answered = begun(First(kind=kind, sizes=usual, weighs=weight))
                self.assertEqual((made.faults, made.question), ({}, ""))
                assert answered is not None and answered.answer is not None
                self.assertGreater(answered.answer.gives.value, 0.1)
                stops = [f.id for f in answered.findings if f.severity == "stop"]
                self.assertEqual(stops, [])

    def test_what_was_not_said_is_assumed_and_never_safe(self) -> None:
        made = self.said(kind="plate", sizes="250 x 40 x 8")
        assert made.plan is not None
        piece = made.plan.pieces[0]
        unknown = (piece.metal, piece.hollow, piece.grease, piece.paint, made.plan.supply.kind)
        self.assertEqual(set(unknown), {"unknown"})
        found = {f.id for f in answer_document(made.plan.model_dump(mode="json")).findings}
        self.assertLessEqual(
            {"metal_unknown", "hollow_unknown", "coat_unknown", "charger_unknown"}, found
        )
        for pointer in ("/tank", "/mix", "/anodes", "/supply", "/place", "/pieces/0/metal"):
            self.assertTrue(made.plan.assumes(pointer), pointer)
        for pointer in ("/pieces", "/pieces/0/shape/length_m"):
            self.assertFalse(made.plan.assumes(pointer), pointer)
        self.assertFalse(Plan().assumes("/tank"), "a plan without the list was all said")

    def test_everything_said_is_in_the_plan_and_not_assumed(self) -> None:
        made = self.said(
            system="us", kind="anvil", sizes="18 x 5 x 10", weighs="70 lb", metal="cast",
            hollow="none", grease="some", paint="most", grade="heavy", aim="bright",
            vessel="barrel", holds="55 gal", feeds="transformer", label="12V 10A",
            product="soda_anhydrous", dose="1 tablespoon per gallon",
        )  # fmt: skip
        plan = made.plan
        assert plan is not None
        self.assertEqual(made.faults, {})
        self.assertAlmostEqual(mass_of(plan.pieces[0]), 70 * 0.45359237)
        self.assertAlmostEqual(volume_at(plan.tank, plan.tank.shape.height_m), 55 * US_GALLON)
        self.assertEqual((plan.supply.nominal_v, plan.supply.rated_a), (12.0, 10.0))
        read = read_plan(plan.model_dump(mode="json"))
        self.assertEqual(read.faults, {})
        self.assertAlmostEqual(read.plan.mix.concentration_kg_m3, 14.787 / 3.7854, delta=0.6)
        for pointer in ("/pieces/0/metal", "/pieces/0/mass_kg", "/tank/shape/height_m",
                        "/supply/rated_a", "/mix/concentration_kg_m3"):  # fmt: skip
            self.assertFalse(plan.assumes(pointer), pointer)

    def test_a_cap_of_ones_own_is_asked_for_its_weight(self) -> None:
        made = self.said(kind="plate", sizes="20 x 8 x 1", dose="3 caps in all")
        self.assertTrue(made.scoop)
        weighed = self.said(
            kind="plate", sizes="20 x 8 x 1", dose="3 caps in all", scoop="21 g", scoop_name="Lid"
        )
        assert weighed.plan is not None
        read = read_plan(weighed.plan.model_dump(mode="json"))
        self.assertEqual((read.faults, read.plan.mix.scoop_name), ({}, "Lid"))
        self.assertAlmostEqual(answer(read.plan).product_mass.value, 0.063, places=9)
        self.assertFalse(self.said(kind="plate", sizes="20 x 8 x 1", dose="5 g/L").scoop)
        wrong = self.said(kind="plate", sizes="20 x 8 x 1", dose="3 caps", scoop="heavy")
        self.assertIn("scoop", wrong.faults)

    def test_one_question_back_or_the_fault_and_never_a_guess(self) -> None:
        self.assertIn("What is it?", self.said().question)
        unsure = dict.fromkeys(("metal", "hollow", "grease", "paint"), "unknown")
        self.assertIn("What is it?", self.said(**unsure).question)
        self.assertIn("A length, B width, C thickness", self.said(kind="plate").question)
        self.assertIn("weigh", self.said(kind="weighed", sizes="30 x 20 x 10 cm").question)
        small = self.said(kind="plate", sizes="600 x 40 x 8", vessel="bucket", holds="10 L")
        self.assertIn("Too tight", small.question)
        self.assertIsNotNone(small.plan, "an answer all the same, with its stop")
        self.assertIn("trough", self.said(kind="bar", sizes="2.5 m x 20 mm").question)
        for words, at in (
            ({"kind": "plate", "sizes": "12 parsecs"}, "sizes"),
            ({"kind": "plate", "sizes": "0.25 x 0.04"}, "sizes"),
            ({"kind": "box", "sizes": "10 x 10 x 10 cm", "weighs": "20 kg"}, "weighs"),
            ({"kind": "box", "sizes": "10 x 10 x 10 cm", "holds": "much"}, "holds"),
            ({"kind": "box", "sizes": "10 x 10 x 10 cm", "label": "230 V"}, "label"),
            ({"kind": "sieve", "sizes": "10 x 10"}, "kind"),
            ({"kind": "tube", "sizes": "200 x 20 x 30"}, "sizes"),
        ):
            with self.subTest(words):
                made = self.said(**words)
                self.assertEqual(list(made.faults), [at])
                self.assertEqual(made.question, "")

    def test_whatever_is_typed_there_is_an_answer_or_a_reason(self) -> None:
        """Any text in any field: never an error, and never a plan that is not one."""
        rng = random.Random(3)
        bits = ["12", "1/2", "x", "by", "mm", "in", "ft", "-", "0", "1e9", "V", "A", "L", "gal",
                "kg", "½", "'", '"', "/", ",", "cm", "naïve", "999999"]  # fmt: skip
        kinds = [*options("shape.kind"), "", "?"]
        for _ in range(400):

            def text() -> str:
                return " ".join(rng.choices(bits, k=rng.randrange(6)))

            made, answered = begun(First(
                kind=rng.choice(kinds), sizes=text(), weighs=text(), holds=text(), label=text(),
                vessel=rng.choice([*vessels.vessels(), ""]), dose=text(),
                feeds=rng.choice([*options("supply.kind"), ""]),
            ))  # fmt: skip
            self.assertTrue(made.faults or made.question or made.plan)
            if answered is not None:
                self.assertNotIsInstance(answered.read.plan.pieces[0].shape, Mesh)
                self.assertTrue(answered.answer or answered.trouble)


if __name__ == "__main__":
    unittest.main()
