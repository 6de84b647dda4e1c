"""First cases as people have them: hung, filled, heaped and asked as a restorer would."""

import csv
import random
import unittest
from pathlib import Path
from typing import Any

from tests.core.plan import test_begin
from tests.shops import QUIET
from tests.solving import SOLVER
from yellowbath.core.document import AMOUNT, Piece, Pile, Plan
from yellowbath.core.geometry.fit import inside, piece_fits
from yellowbath.core.geometry.hanging import full_level, room
from yellowbath.core.geometry.piece import footprint, posed
from yellowbath.core.geometry.tank import volume_at
from yellowbath.core.plan.placement.dips import how_many
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.reading.filling import fill
from yellowbath.core.plan.start import vessels
from yellowbath.core.plan.start.begin import Begun, First, begin
from yellowbath.core.plan.start.likely import likely
from yellowbath.core.plan.start.sizes import with_rest
from yellowbath.core.run.switch_on import points
from yellowbath.core.tell.bench import set_up, wiring_rows
from yellowbath.core.tell.finish import finish_steps
from yellowbath.core.tell.oneline import one_line
from yellowbath.core.words import options
from yellowbath.workflows.plans.field import field_of
from yellowbath.workflows.plans.plans import begun


class AsPeopleDo(unittest.TestCase):
    """Filled higher before it is turned, leant before it is dipped, and every dip counted."""

    def said(self, **words: object) -> tuple[Begun, Any]:
        made, answered = begun(First.model_validate(words))
        return made, answered

    def test_a_spanner_in_a_bucket_is_one_dip(self) -> None:
        """250 mm in 20 L misses by some 20 mm of water: common practice fills higher, no source."""
        made, answered = self.said(kind="wrench", sizes="250 x 45 x 8", vessel="bucket",
                                   holds="20 L")  # fmt: skip
        self.assertEqual((made.question, made.faults), ("", {}))
        fill = answered.answer.fill
        self.assertEqual(list(fill.shares.values()), [1.0])
        self.assertGreaterEqual(fill.freeboard.value, 0.05)
        self.assertNotIn("near_rim", {f.id for f in answered.findings})

    def test_whatever_hangs_whole_in_any_pose_hangs_whole(self) -> None:
        """Over random bars and plates in random vessels: what some pose of a fine grid covers, by
        level and box alone, is covered by the first plan's; what none does is not said to be."""
        rng = random.Random(7)
        for _ in range(60):
            kind = rng.choice(("bar", "plate"))
            sizes = [rng.uniform(0.08, 0.7), rng.uniform(0.01, 0.15), 0.006][
                : 2 if kind == "bar" else 3
            ]
            shape = test_begin.of(kind)(**with_rest(kind, sizes))
            piece, tank = Piece(shape=shape), vessels.by_volume(
                rng.choice(list(vessels.vessels())), rng.uniform(0.012, 0.12))  # fmt: skip
            hung = vessels.hung_in(piece, tank)
            with self.subTest(shape=shape, tank=tank.shape):
                if hung is not None:
                    plan = read_plan(Plan(pieces=[hung], tank=tank).model_dump(mode="json")).plan
                    self.assertGreater(min(fill(plan).shares.values()), 0.999)
                    self.assertTrue(piece_fits(hung, tank, 0.03))
                else:
                    deep = full_level(tank) - 0.04  # sludge under it and the least over it
                    for hang in ("long_across", "long_down", "flat"):
                        tried = piece.model_copy(update={"hang": hang})
                        wide = piece_fits(tried, tank, 0.03)
                        x, y, _ = footprint(tried)
                        roomy = inside(tank, [(x / 2 + 0.02, y / 2), (0, y / 2 + room())], 0.03)
                        self.assertFalse(wide and roomy and posed(tried)[2] <= deep)

    def test_what_stands_out_is_done_end_by_end_and_every_surface_counts_it(self) -> None:
        made, answered = self.said(kind="bar", sizes="400 x 20", vessel="bucket", holds="20 L",
                                   feeds="transformer")  # fmt: skip
        self.assertIn("one end, then the other", made.question)
        assert made.plan is not None
        line = {p.part: p.text for p in one_line(made.plan, answered.answer, answered.findings)}
        self.assertIn("each of 2 dips", line["clean"])
        rows = dict(wiring_rows(answered.read.plan, answered.answer))
        self.assertTrue(any("each of 2 dips" in text for text in rows.values()), rows)
        steps = " ".join(s.title for s in set_up(answered.read.plan, answered.answer))
        self.assertIn("one end at a time", steps)

    def test_a_heap_by_its_number_weight_or_room(self) -> None:
        """A bolt of 8 by 50 mm of steel (7850 kg/m3) weighs 19.7 g; a heap is a quarter metal."""
        for words, count in (
            ({"many": "two dozen"}, 24), ({"many": "3 kg"}, 152), ({"weighs": "3 kg"}, 152),
            ({"many": "half a litre"}, 50), ({"many": "a 1 L jar half full"}, 50),
        ):  # fmt: skip
            made, _ = self.said(kind="pile", sizes="50 x 8", **words)
            assert made.plan is not None, made.faults
            shape = made.plan.pieces[0].shape
            assert isinstance(shape, Pile)
            self.assertAlmostEqual(shape.count / count, 1, delta=0.02)
            self.assertFalse(made.plan.assumes("/pieces/0/shape/count"))
        made, _ = self.said(kind="pile", sizes="50 x 8")
        self.assertIn("Assumed", made.heard["many"])
        made, _ = self.said(kind="pile", sizes="50 x 8", many="lots")
        self.assertIn("number", made.faults["many"])

    def test_what_was_not_said_is_never_given_back_as_heard(self) -> None:
        for label, feeds, heard, kind in (
            ("12V 7Ah", "", "12 V, 7 Ah.", "battery"),
            ("12 V", "transformer", "12 V; assumed: 6 A.", "transformer"),
            ("4 A", "transformer", "4 A; assumed: 12 V.", "transformer"),
            ("", "", "Assumed: 12 V, 6 A.", "unknown"),
        ):
            made, _ = self.said(kind="plate", sizes="200 x 40 x 6", label=label, feeds=feeds)
            assert made.plan is not None
            with self.subTest(label):
                self.assertEqual(made.heard["label"], heard)
                self.assertEqual(made.plan.supply.kind, kind)

    def test_vessels_by_their_nouns_and_doubted_sizes(self) -> None:
        for holds, name, litres in (
            ("a 5 gallon pail", "Bucket", 18.93), ("55 gal drum", "Drum, upright", 208.2),
            ("200 litre barrel", "Drum, upright", 200), ("my old 40 L tub", "Round tub", 40),
        ):  # fmt: skip
            made, _ = self.said(kind="plate", sizes="200 x 40 x 6", holds=holds)
            assert made.plan is not None
            tank = made.plan.tank
            with self.subTest(holds):
                self.assertEqual(tank.name, name)
                self.assertAlmostEqual(
                    1000 * volume_at(tank, tank.shape.height_m), litres, delta=0.1
                )
        made, _ = self.said(kind="plate", sizes="20 x 4 x 0.6", holds="60 x 40 x 30")
        self.assertIn("60 x 40 x 30 cm", made.faults["holds"])
        self.assertIn("20 x 4 x 0.6 cm", made.heard["sizes"])
        made, _ = self.said(kind="plate", sizes="25 cm by 4 by 8 mm")
        self.assertIn("which unit has 4", made.faults["sizes"])

    def test_a_loose_measure_says_how_far_it_reaches(self) -> None:
        document = {**QUIET, "typed": {AMOUNT: "two handfuls in all"}}
        read = read_plan(document)
        self.assertEqual(read.faults, {})
        self.assertIn("it may be", read.heard[AMOUNT])
        level = {"typed": {"/tank/water_m3": "about 15 litres"}}
        self.assertEqual(read_plan(level).heard, {"/tank/water_m3": "Read as 15 L."})
        self.assertEqual(read_plan({"typed": {"/tank/water_m3": "15 L"}}).heard, {})


class FirstCases(unittest.TestCase):
    """Thirty first cases: fifteen written, fifteen made by crossing shape, vessel and supply."""

    def written(self) -> list[tuple[dict[str, str], dict[str, str]]]:
        with (Path(__file__).parent / "first_cases.csv").open(encoding="utf-8") as file:
            return [(dict(p.split("=", 1) for p in row["said"].split("|")), row)
                    for row in csv.DictReader(file)]  # fmt: skip

    def crossed(self) -> list[tuple[dict[str, str], dict[str, str]]]:
        rng = random.Random(30)
        kinds = [k for k in options("shape.kind") if k not in ("mesh", "weighed", "pile")]
        holders, feeds = list(vessels.vessels()), options("supply.kind")
        made = []
        for k in range(15):
            kind = kinds[k % len(kinds)]
            sizes = " x ".join(
                f"{1000 * v * rng.uniform(0.7, 1.3):.0f}" for v in test_begin.Solids.usual(kind)
            )
            said = {"kind": kind, "sizes": sizes, "vessel": holders[k % len(holders)],
                    "feeds": list(feeds)[k % len(feeds)]}  # fmt: skip
            made.append((said, {"name": f"{kind} {k}", "hangs": "", "dips": ""}))
        return made

    def test_none_is_blocked_or_wrong(self) -> None:
        for said, row in (*self.written(), *self.crossed()):
            with self.subTest(row["name"], **said):
                self.assertLessEqual(len(said), 12, "touches and fields")
                first, _ = begun(First.model_validate(
                    {k: said[k] for k in ("kind", "sizes", "weighs", "system") if k in said}
                ))  # fmt: skip
                assert first.plan is not None, "an answer after a picture and a field"
                made, answered = begun(First.model_validate(said))
                self.assertEqual(made.faults, {})
                assert made.plan is not None and answered is not None and answered.answer
                piece, fill_ = made.plan.pieces[0], answered.answer.fill
                dips = how_many(answered.read.plan, answered.answer)
                whole = vessels.hung_in(piece, made.plan.tank) is not None
                self.assertEqual(bool(made.question), not whole, "asked where it does not go in")
                if row["hangs"]:
                    self.assertEqual(piece.hang, row["hangs"])
                if row["dips"]:
                    self.assertEqual(dips, int(row["dips"]))
                if whole:
                    self.assertEqual((dips, min(fill_.shares.values()) > 0.999), (0, True))
                    stops = {f.id for f in answered.findings if f.severity == "stop"}
                    # a charger that waits for a battery, and a battery without its fuse
                    self.assertLessEqual(stops, {"smart_alone", "battery_bare"})


class Likely(unittest.TestCase):
    """What is asked only where shape, vessel or name makes it likely; else it is on the list."""

    def test_each_is_asked_where_it_is_likely_and_nothing_waits_for_it(self) -> None:
        for kind, vessel, name, grade, wanted in (
            ("pan", "", "", "", ["coats"]),
            ("plate", "", "Hinge strap", "", ["parts"]),
            ("weighed", "", "Old gin traps", "", ["parts"]),
            ("box", "", "Smoothing plane", "", ["parts", "metals"]),
            ("plate", "barrel", "Plough share", "", ["vessel_of"]),
            ("plate", "box", "Plough share", "", []),
            ("plate", "", "Panel", "light", ["use"]),
        ):
            with self.subTest(name or kind):
                self.assertEqual(likely(kind, vessel, name, grade, ""), wanted)
        made, answered = begun(First(kind="pan", sizes="260 x 50 x 4"))
        self.assertIsNotNone(made.plan)
        assert answered is not None
        self.assertIsNotNone(answered.answer)

    def test_several_are_true_of_one_piece_and_reach_checks_list_and_finish(self) -> None:
        said = First(
            kind="pan", sizes="260 x 50 x 4", aim="black", coats=["seasoning", "enamel", "zinc"],
            parts=["moving", "chain"], metals=["aluminium"], vessel="barrel", vessel_of="metal",
        )  # fmt: skip
        made, answered = begun(said)
        assert made.plan is not None and answered is not None
        piece = made.plan.pieces[0]
        self.assertEqual(piece.coats, ["seasoning", "enamel"])
        self.assertEqual(piece.other_metals, ["zinc", "aluminium"])
        found = {f.id for f in answered.findings}
        for check in ("enamel", "seasoning", "chain", "moving_parts", "metal_dissolves",
                      "metal_light", "tank_metal"):  # fmt: skip
            self.assertIn(check, found)
        steps = {s.id: s for s in finish_steps(made.plan)}
        self.assertIn("sponge", steps["scrub"].how)
        self.assertIn("Work what moves", steps["dry"].how)
        self.assertEqual([c.id for c in steps["protect"].choices], ["season"])

    def test_what_was_not_said_is_on_the_list_and_what_was_is_not(self) -> None:
        unsaid, none = (
            {p.id: p.text for p in points(self.plan(**more), [])}
            for more in ({}, {"coats": [], "parts": [], "metals": []})
        )
        self.assertEqual(list(unsaid), list(none), "no point more to tick")
        self.assertIn("no aluminium", unsaid["metal"])
        self.assertIn("wire of its own", unsaid["contact"])
        self.assertNotIn("aluminium", none["metal"])
        self.assertNotIn("wire of its own", none["contact"])
        bare = {p.id: p.text for p in points(self.plan(coats=[]), [])}
        self.assertIn("no aluminium", bare["metal"], "of which nothing was said")
        self.assertNotIn("enamel", bare["metal"])

    def plan(self, **more: Any) -> Plan:
        made = begin(First(kind="plate", sizes="200 x 40 x 6", **more))
        assert made.plan is not None
        return made.plan

    def test_a_tube_may_want_its_inside_only(self) -> None:
        """Then the headline is the bore's, and nothing that is taped over counts as slow."""
        hours, kinds = {}, {}
        for side in ("all", "inside", "vessel"):
            made, answered = begun(First.model_validate(
                {"kind": "tube", "sizes": "200 x 60 x 50", "side": side}
            ))  # fmt: skip
            assert made.plan is not None and answered is not None
            stops = {f.id for f in answered.findings if f.severity == "stop"}
            self.assertEqual(stops, set())
            document = made.plan.model_dump(mode="json")
            found = field_of(SOLVER, document, "preview").answer.outlook
            assert found is not None
            hours[side] = {s.kind: (s.share, s.hours) for s in found.sides}
            kinds[side] = [a.kind for a in made.plan.anodes]
        self.assertIsNone(hours["all"]["bore"][1], "with rods by the wall it is not for this bath")
        for side, rod in (("inside", "bore"), ("vessel", "rod")):
            self.assertEqual(list(hours[side]), ["main"])
            share, window = hours[side]["main"]
            self.assertEqual(share, 1.0)
            assert window is not None
            self.assertLess(window[1], 10.0)
            self.assertEqual(kinds[side], [rod])

    def test_what_it_is_for_chooses_what_protects_it(self) -> None:
        ids = {}
        for use in ("used", "shown", None):
            steps = {s.id: s for s in finish_steps(self.plan(aim="black", use=use))}
            ids[use] = {c.id for c in steps["protect"].choices}
        self.assertEqual(ids[None] - ids["used"], {"lacquer"})
        self.assertEqual(ids[None] - ids["shown"], {"oil"})


if __name__ == "__main__":
    unittest.main()
