"""How clean a run's pieces are spot by spot: against its own dose and belief."""

import numpy as np

from tests.shops import QUIET, ShopCase
from yellowbath.api.views.looks import looks_out
from yellowbath.core.field.reference import reference
from yellowbath.workflows.runs.looks import looks
from yellowbath.workflows.runs.runs import start_run, view_run


class Spots(ShopCase):
    def test_it_rises_with_the_hours_and_is_drawn_on_the_pieces_own_facets(self) -> None:
        run_id = self.running()
        self.write(run_id, 5, "reading", current_a=3.0, method="clamp")
        self.clock.to(120)
        found = looks(self.shop, run_id)
        assert found is not None
        self.assertTrue((np.diff(found.chance, axis=0) >= -1e-12).all())
        piece = view_run(self.shop, run_id).plan.pieces[0]
        self.assertEqual(len(found.surface), len(reference(piece).surface))
        areas = found.surface.areas
        now = float(found.chance[0] @ areas / areas.sum())
        view = view_run(self.shop, run_id)
        # the mean over the belief is near the share that the middle of it says
        self.assertAlmostEqual(now, view.progress.share_clean, delta=0.2)
        made = looks_out(found)
        self.assertEqual(len(made.frames), len(made.hours))
        self.assertEqual(made.hours[0], 0.0)

    def test_a_look_that_saw_less_lowers_it(self) -> None:
        chance = []
        for share in (0.9, 0.3):
            run_id = self.running()
            self.clock.to(180)
            self.write(run_id, 180, "switch_off")
            self.write(run_id, 181, "lift")
            front = view_run(self.shop, run_id).plan.pieces[0].regions[0].id
            self.write(run_id, 182, "inspection", verdict="share", shares={front: share})
            self.write(run_id, 183, "back_in")
            self.write(run_id, 184, "switch_on")
            found = looks(self.shop, run_id)
            assert found is not None
            chance.append(float(found.chance[0].mean()))
        self.assertGreater(chance[0], chance[1] + 0.1)

    def test_region_by_region_it_adds_up_and_what_looks_away_wants_longer(self) -> None:
        """One plate with its scrap on one side, and two pieces of different rust."""
        beside = {"layout": {"arrangement": "one_side"}}
        plate = {"kind": "plate", "length_m": 0.12, "width_m": 0.05, "thickness_m": 0.006}
        two = {
            "tank": {"shape": {"kind": "box"}}, "layout": {"arrangement": "corners"},
            "pieces": [{"id": f"p{k}", "shape": plate, "x_m": x, "grade": grade}
                       for k, x, grade in ((1, -0.1, "light"), (2, 0.1, "scaled"))],
        }  # fmt: skip
        found = []
        for changes in (beside, two):
            run_id = self.running(**changes)
            self.clock.to(90)
            made = looks(self.shop, run_id)
            assert made is not None
            places = {p.id: p for p in made.places}
            areas = made.surface.areas
            model = view_run(self.shop, run_id).model
            assert model is not None
            regions = np.array(model.summary.places)
            whole = sum(p.clean * areas[regions == p.id].sum() for p in made.places)
            self.assertAlmostEqual(whole / areas.sum(), made.chance[0] @ areas / areas.sum(),
                                   delta=0.02)  # fmt: skip
            found.append(places)
        one, many = found
        near, away = sorted(
            (one["p1.front"], one["p1.back"]), key=lambda p: p.left_s[1] if p.left_s else 1e9
        )
        assert near.left_s is not None
        self.assertGreater(near.clean, away.clean)
        self.assertTrue(away.left_s is None or away.left_s[1] > 1.5 * near.left_s[1])
        light, heavy = many["p1.front"].left_s, many["p2.front"].left_s
        assert light is not None and heavy is not None
        self.assertGreater(heavy[1], 3 * light[1])

    def test_a_look_at_regions_is_held_against_those_regions(self) -> None:
        """With the scrap on one side: half of the near side clean is a thicker crust than half of
        the far one; a region that nobody knows is taken for the whole."""
        wants = {}
        for region in ("p1.front", "p1.back", "all"):
            run_id = self.running(layout={"arrangement": "one_side"})
            self.write(run_id, 180, "lift")
            self.write(run_id, 181, "inspection", verdict="share", shares={region: 0.5})
            wants[region] = view_run(self.shop, run_id).progress.need_ah_m2[1]
        apart = sorted((wants["p1.front"], wants["p1.back"]))
        self.assertGreater(apart[1], 1.15 * apart[0])
        self.assertTrue(apart[0] < wants["all"] < apart[1])

    def test_before_there_was_power_nothing_is_known(self) -> None:
        plan = self.plan(**dict(QUIET))
        run = start_run(self.shop, plan.revision.plan_id)
        self.assertIsNone(looks(self.shop, run.row.id))
