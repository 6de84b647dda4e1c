"""How clean a run's pieces are spot by spot: against its own dose and belief."""

import numpy as np

from tests.shops import QUIET, ShopCase
from yellowbath.api.views.looks import looks_out
from yellowbath.core.field.reference import reference
from yellowbath.workflows.looks import looks
from yellowbath.workflows.runs import start_run, view_run


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

    def test_before_there_was_power_nothing_is_known(self) -> None:
        plan = self.plan(**dict(QUIET))
        run = start_run(self.shop, plan.revision.plan_id)
        self.assertIsNone(looks(self.shop, run.row.id))
