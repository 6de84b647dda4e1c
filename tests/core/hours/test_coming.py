"""How a spot comes clean, and what one look would buy, against the belief itself."""

import unittest

import numpy as np
from scipy.stats import norm

from tests.shops import QUIET
from yellowbath.core import dose
from yellowbath.core.hours.cloud import Cloud
from yellowbath.core.hours.coming import chance_clean
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer

NEED = dose.Need(115.0, 0.4)


class Coming(unittest.TestCase):
    def test_it_rises_with_hours_and_density_from_nought_to_one(self) -> None:
        hours, densities = [0.1, 1, 4, 12, 60, 400], [0.0, 5, 20, 50, 100, 300]
        made = chance_clean(NEED, 0.3, densities, hours)
        self.assertTrue((np.diff(made, axis=0) >= -1e-12).all())
        self.assertTrue((np.diff(made, axis=1) >= -1e-12).all())
        self.assertEqual(made[:, 0].max(), 0.0)
        self.assertGreater(made[-1, -1], 0.999)

    def test_a_spot_whose_luck_is_known_is_a_normal_score(self) -> None:
        """Independent: dose, need and scatter drawn 200,000 times by NumPy."""
        rng = np.random.default_rng(5)
        need = NEED.median * np.exp(NEED.sigma * rng.standard_normal(200_000))
        cloud = Cloud.of(NEED)
        rows = rng.integers(len(cloud.need), size=len(need))
        scatter, js = cloud.scatter[rows], cloud.js[rows]
        factor = np.exp(0.3 * rng.standard_normal(len(need)) + cloud.area[rows])
        density, after = 50.0, 6.0
        pin = (1 + 50.0 / js) / (1 + 50.0 / 40.0)
        rate = pin * factor * density / (1 + factor * density / js)
        own = need * np.exp(scatter * (rng.standard_normal(len(need)) - norm.ppf(0.95)))
        expected = float((rate * after >= own).mean())
        got = float(chance_clean(NEED, 0.3, [density], [after])[0, 0])
        self.assertAlmostEqual(got, expected, delta=0.02)

    def test_a_look_narrows_the_hours_and_a_later_one_more(self) -> None:
        worked = answer(read_plan(dict(QUIET)).plan)
        assert worked.outlook is not None
        low, _, high = worked.outlook.main.hours or (0, 0, 0)
        width = np.log(high / low)
        bought = {at: np.log(w[2] / w[0]) / width for at, w in worked.outlook.buys}
        self.assertIn(0.0, bought, "a clamp reading")
        self.assertIn(1.0, bought)
        self.assertLess(max(bought.values()), 1.0)
        if 3.0 in bought:
            self.assertLess(bought[3.0], bought[1.0])
