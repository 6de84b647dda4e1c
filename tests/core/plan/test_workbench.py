"""Changes, dips, variants, the scrap judge, levels chosen by hand: what the workbench says."""

import unittest
from typing import Any

from tests.shops import QUIET
from tests.solving import SOLVER
from yellowbath.core.data import param, table
from yellowbath.core.document import SCHEMA_VERSION, BoxTank
from yellowbath.core.errors import InputError, InvalidDocumentError, LaterVersionError
from yellowbath.core.plan.advice.changes import Effect, helps, proposals, why_not
from yellowbath.core.plan.advice.other_baths import OwnTank
from yellowbath.core.plan.comparison.compare import differences
from yellowbath.core.plan.placement.dips import dip_plans
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.plan.results.scrap import items, judge
from yellowbath.workflows.plans.field import answer_plan, field_of, solvable, solve_answered
from yellowbath.workflows.plans.search import WeighedChanges, weigh_changes

ONE_SIDE: dict[str, Any] = {
    **QUIET,
    "tank": {"shape": {"kind": "box"}},
    "layout": {"arrangement": "one_side"},
}
EVEN = Effect("p1.front", 0.9, 3.0, 0.5, 5.0, 1.6, 0)


class Changes(unittest.TestCase):
    def test_every_effect_is_what_the_changed_plan_comes_to(self) -> None:
        """Recomputed from the proposal's own plan by the solver that the page uses."""
        found = list(weigh_changes(SOLVER, ONE_SIDE))[-1]
        assert isinstance(found, WeighedChanges)
        self.assertTrue(found.best)
        for w in (*found.best, *found.others):
            with self.subTest(w.proposal.id):
                again = answer_plan(w.proposal.plan)
                self.assertTrue(solvable(again))
                solved = solve_answered(SOLVER, again, "preview")
                regions = {k: n.value for k, n in solved.field.regions.items()}
                self.assertAlmostEqual(w.effect.worst, min(regions.values()), places=9)
                self.assertAlmostEqual(w.effect.gives_a, solved.answer.gives.value, places=9)
                self.assertAlmostEqual(w.effect.load, solved.answer.load.value, places=9)
        # a rod behind the piece is the remedy for a rod on one side only
        self.assertIn("one_more", {w.proposal.id for w in found.best})
        best = found.best[0].effect
        self.assertGreater(best.worst, found.effect.worst)
        costs = [w.effect.whole for w in found.best]
        self.assertEqual(costs, sorted(costs))

    def test_what_a_proposal_sets_gives_its_plan_and_no_two_are_alike(self) -> None:
        read = read_plan(ONE_SIDE)
        made = list(proposals(read.plan, answer(read.plan), "p1.back"))
        self.assertGreater(len(made), 4)
        dumps = [p.plan.model_dump_json() for p in made]
        self.assertEqual(len(dumps), len(set(dumps)))
        for p in made:
            parts = {k.removeprefix("/"): v for k, v in p.sets.items()}
            self.assertEqual(read.plan.model_copy(update=parts), p.plan)

    def test_a_bath_of_its_own_and_the_shops_other_tanks_are_tried(self) -> None:
        """Two baths in turn are held against one by the hours of both, recomputed."""
        both = {**ONE_SIDE, "pieces": [{"name": n} for n in ("Ring", "Strap")]}
        box = {"kind": "box", "length_m": 0.6, "width_m": 0.45, "height_m": 0.4}
        owned = [OwnTank("k1", "Trough", read_plan({"tank": {"shape": box}}).plan.tank)]
        found = list(weigh_changes(SOLVER, both, owned))[-1]
        assert isinstance(found, WeighedChanges)
        tried = {w.proposal.id: w for w in (*found.best, *found.others)}
        fewer, vessel = tried["fewer"], tried["vessel_k1"]
        assert fewer.proposal.then is not None
        hours = [solve_answered(SOLVER, answer_plan(p), "preview").answer.whole_h
                 for p in (fewer.proposal.plan, fewer.proposal.then)]  # fmt: skip
        self.assertAlmostEqual(fewer.effect.hours, sum(hours), places=9)
        self.assertEqual([len(fewer.proposal.plan.pieces), len(fewer.proposal.then.pieces)], [1, 1])
        self.assertTrue(vessel.proposal.words.startswith("In Trough, "))
        self.assertTrue(solvable(answer_plan(vessel.proposal.plan)))
        self.assertEqual([(k.role, k.ref) for k in vessel.proposal.plan.kit], [("tank", "k1")])
        hung = list(proposals(vessel.proposal.plan, vessel.solved.answer, "p1.back", owned))
        self.assertNotIn("vessel_k1", {p.id for p in hung}, "not the one it is in")

    def test_a_rod_through_a_bore_is_worth_what_it_does_to_the_whole_piece(self) -> None:
        """It saves no hour outside, and two fifths of the surface are inside."""
        tube = {
            "kind": "tube",
            "length_m": 0.25,
            "outer_diameter_m": 0.07,
            "inner_diameter_m": 0.06,
        }
        *_, found = weigh_changes(SOLVER, {**ONE_SIDE, "layout": {"arrangement": "opposite"},
                                           "pieces": [{"shape": tube}]})  # fmt: skip
        assert isinstance(found, WeighedChanges)
        self.assertGreater(found.effect.left, 0.3)
        self.assertIn("bore", {w.proposal.id for w in found.best})
        [bore] = [w for w in found.best if w.proposal.id == "bore"]
        self.assertLess(bore.effect.left, 0.05)

    def test_a_stop_outweighs_any_gain(self) -> None:
        worse = Effect("p1.front", 0.99, 9.0, 0.5, 1.0, 0.0, 1)
        self.assertFalse(helps(EVEN, worse))
        self.assertIn("stop", why_not(EVEN, worse))
        self.assertTrue(helps(worse, EVEN))
        over = Effect("p1.front", 0.9, 9.0, 1.4, 3.0, 2.6, 0)
        self.assertFalse(helps(EVEN, over))
        self.assertIn("140 %", why_not(EVEN, over))


class Dips(unittest.TestCase):
    def plan(self, length: float) -> Any:
        shape = {"kind": "bar", "length_m": length, "diameter_m": 0.03}
        read = read_plan({**QUIET, "pieces": [{"shape": shape, "hang": "long_down"}]})
        worked = answer(read.plan)
        return next(iter(dip_plans(read.plan, worked)), None), worked

    def test_two_dips_meet_by_what_is_left_over(self) -> None:
        """Closed form: depth wetted twice less the length."""
        found, worked = self.plan(0.36)
        deep = worked.fill.wetted_share * 0.36
        self.assertAlmostEqual(found.overlap_m, 2 * deep - 0.36, places=9)
        self.assertEqual(found.dry_m, 0.0)
        self.assertEqual([round(d.high_m - d.low_m, 9) for d in found.dips], [round(deep, 9)] * 2)

    def test_each_half_has_its_own_hours_whatever_the_shape(self) -> None:
        """Symmetry: a wheel's halves are alike within two meshes' error, an anvil's are not."""
        apart = {}
        for shape in ({"kind": "wheel", "diameter_m": 0.3}, {"kind": "anvil", "length_m": 0.3}):
            tank = {"shape": {"kind": "box"}, "level_m": BoxTank().height_m - 0.1}
            document = {**QUIET, "tank": tank,
                        "pieces": [{"shape": shape, "hang": "long_down"}]}  # fmt: skip
            solved = field_of(SOLVER, document, "fine")
            other = solved.answered.other_half
            found = next(iter(dip_plans(solved.plan, solved.answer, other)))
            one, two = found.dips
            self.assertAlmostEqual(found.seconds, one.seconds + two.seconds)
            self.assertAlmostEqual(found.overlap_m, one.high_m - two.low_m, places=9)
            apart[shape["kind"]] = abs(two.seconds / one.seconds - 1)
        self.assertLess(apart["wheel"], 0.03)
        self.assertGreater(apart["anvil"], 0.1)

    def test_too_long_for_two_dips_says_what_is_missing(self) -> None:
        found, worked = self.plan(0.6)
        deep = worked.fill.wetted_share * 0.6
        wanted = param("dip_overlap_m").value
        self.assertAlmostEqual(found.dry_m, wanted - (2 * deep - 0.6), places=9)
        self.assertIsNone(self.plan(0.1)[0])


class Variants(unittest.TestCase):
    def test_differences_are_named_in_the_persons_units(self) -> None:
        one = read_plan({**QUIET, "system": "us"}).plan
        other = read_plan(
            {**QUIET, "system": "us", "pieces": [{"name": "Gate latch", "grade": "heavy"}],
             "supply": {**QUIET["supply"], "rated_a": 10}}
        ).plan  # fmt: skip
        found = {d.name: (d.one, d.other) for d in differences(one, other)}
        self.assertEqual(
            found,
            {"Piece 1: how rusty": ("orange all over", "crust and pits"),
             "Power: charger setting": ("6 A", "10 A")},
        )  # fmt: skip
        self.assertEqual(differences(one, one), [])


class Judge(unittest.TestCase):
    def test_each_rule_speaks_and_only_iron_passes(self) -> None:
        said = {
            judge(item, magnet, look).material: judge(item, magnet, look).verdict
            for item, _ in items()
            for magnet in ("yes", "no")
            for look in ("bare", "shiny", "spangled", "painted", "yellow")
        }
        self.assertEqual({r["material"] for r in table("scrap")["rules"]}, set(said))
        self.assertEqual({m for m, v in said.items() if v == "yes"}, {"plain_steel", "cast_iron"})
        self.assertEqual(judge("disc", "yes", "bare").material, "cast_iron")
        with self.assertRaises(InputError):
            judge("spoon", "yes", "bare")

    def test_scrap_lasts_as_long_as_faraday_lets_it(self) -> None:
        """Closed form: wet mass, half of it, over the iron lost an hour."""
        read = read_plan(QUIET)
        worked = answer(read.plan)
        assert worked.scrap_life is not None
        rods = len(read.plan.anodes)
        volume = rods * 3.141592653589793 / 4 * 0.012**2 * worked.fill.rod_length_m
        mass = volume * param("steel_kg_m3").value
        expected = 0.5 * mass / worked.iron.value
        self.assertAlmostEqual(worked.scrap_life.value / expected, 1, places=9)


class ByHand(unittest.TestCase):
    def test_the_tide_line_and_the_piece_stand_where_they_were_put(self) -> None:
        document = {**QUIET, "tank": {"level_m": 0.2}, "pieces": [{"bottom_m": 0.15}]}
        read = read_plan(document)
        worked = answer(read.plan)
        self.assertAlmostEqual(worked.fill.level.value, 0.2)
        self.assertAlmostEqual(worked.fill.lowest_m, 0.15)
        self.assertAlmostEqual(worked.fill.wetted_share, 0.05 / 0.08)
        # the water to measure in then stands as high: pour that in and see
        poured = {**document, "tank": {"water_m3": worked.fill.water.value}}
        again = answer(read_plan(poured).plan)
        self.assertAlmostEqual(again.fill.level.value, 0.2, places=4)

    def test_a_later_version_and_unknown_fields_are_named(self) -> None:
        later = SCHEMA_VERSION + 1
        with self.assertRaisesRegex(LaterVersionError, f"schema {later}"):
            read_plan({"schema_version": later})
        with self.assertRaisesRegex(InvalidDocumentError, "colour.*not known"):
            read_plan({"colour": "red"})
        many = [{"id": f"a{k}"} for k in range(41)]
        with self.assertRaisesRegex(InvalidDocumentError, "anodes.*at most 40"):
            read_plan({"anodes": many})
        forty = {"anodes": many[:40], "layout": {"arrangement": "by_hand"}}
        self.assertEqual(len(read_plan(forty).plan.anodes), 40)
