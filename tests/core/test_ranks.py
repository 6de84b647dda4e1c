"""Simulation-based calibration (Talts and others, 2018, from memory): truths drawn from a belief's
own prior, what is seen of them drawn by its own laws; the truth's rank in what is then believed is
even, or the arithmetic is not what the laws say. Nothing is tempered here.
"""

import math
import unittest
from collections.abc import Callable, Iterator, Sequence
from dataclasses import fields
from typing import Any

import numpy as np
from scipy.special import expit, logit
from scipy.stats import chisquare

from tests.core.bath.baths import kind
from tests.longer import of
from yellowbath.core.bath import estimate
from yellowbath.core.bath.circuit import Wires, flows
from yellowbath.core.bath.estimate import CircuitCloud
from yellowbath.core.bath.observation import read_at
from yellowbath.core.data import param
from yellowbath.core.dose import Need
from yellowbath.core.field.model import lognormal_profile
from yellowbath.core.hours.cloud import Cloud, share_seen

SEEN = (1, 4, 12)
BATHS, BINS = of(400, 30), of(20, 5)
WEIGHTS = np.full(20, 0.05)
EVEN = np.array(lognormal_profile(0.42))


def rank(values: Any, weights: Any, true: float) -> float:
    """The share of a belief that lies under the truth."""
    return float(weights @ (values < true))


class Ranks(unittest.TestCase):
    def even(
        self, baths: Callable[[int], Iterator[Sequence[float]]], names: Sequence[str],
        seen: Sequence[int] = SEEN,
    ) -> None:  # fmt: skip
        """Ranks of each unknown after so many observations fill their bins evenly."""
        for count in seen:
            found = np.array(list(baths(count)))
            self.assertEqual(found.shape, (BATHS, len(names)))
            for name, column in zip(names, found.T, strict=True):
                bins, _ = np.histogram(column, BINS, (0.0, 1.0))
                with self.subTest(name, observations=count):
                    self.assertGreater(chisquare(bins).pvalue, 0.01, bins)

    def test_need_and_scatter_after_looks_of_one_who_speaks_in_tens(self) -> None:
        self.even(self.looked, ("need", "scatter"))

    def looked(self, count: int) -> Iterator[Sequence[float]]:
        rng = np.random.default_rng(41 + count)
        need = Need(115.0, 0.4)
        error, slip = param("look_error").value, param("look_slip").value
        for _ in range(BATHS):
            truth = Cloud.at(need, rng.standard_normal((1, 6)), np.ones(1))
            hours = np.sort(np.exp(rng.uniform(math.log(1.0), math.log(15.0), count)))
            said = []
            for h in hours:
                clean = truth.share_clean(h * truth.rates(58.0, EVEN, 0.2), WEIGHTS)[0]
                seen = logit(np.clip(clean, 0.002, 0.998)) + truth.bias[0]
                x = rng.random() if rng.random() < slip else expit(seen + error * rng.normal())
                said.append((h, round(10 * x) / 10))

            def told(cloud: Cloud, said: Any = said) -> list[Any]:
                rates = cloud.rates(58.0, EVEN, 0.2)
                return [
                    share_seen(cloud, cloud.share_clean(h * rates, WEIGHTS), s) for h, s in said
                ]

            cloud = Cloud.believed(need, told)
            yield [rank(getattr(cloud, n), cloud.weights, getattr(truth, n)[0])
                   for n in ("need", "scatter")]  # fmt: skip

    def test_conductivity_and_joints_after_readings(self) -> None:
        self.even(self.read, ("conductivity", "joint"), of(SEEN, SEEN[:2]))

    def read(self, count: int) -> Iterator[Sequence[float]]:
        """Clamp and meter at the tank, and now and then across the joint, at growing charge."""
        loop, rng = kind(0)[1], np.random.default_rng(51 + count)
        charges = np.linspace(0.0, 20.0, count)
        own = CircuitCloud(loop, [], 3 * estimate.COUNT)
        truths = [own.wires(q, 18.0) for q in charges]  # the cloud's own draws are none of them
        spread = math.hypot(0.03, estimate._MODEL)
        for k in range(BATHS):
            at = 2 * estimate.COUNT + k
            seen = []
            for q, wires in zip(charges, truths, strict=True):
                f = flows(_only(wires, at))
                tank, joint = (
                    float(v[0] + (estimate._METER_V + 0.01 * v[0]) * rng.normal())
                    for v in (f.tank_v, f.piece_joint_v)
                )
                amps = float(f.supply_a[0] * math.exp(spread * rng.normal()))
                seen += read_at(float(q), 18.0, amps=amps, tank_v=tank, joint_v=joint)
            cloud = CircuitCloud(loop, seen)
            there, true = cloud.wires(0.0, 18.0), _only(truths[0], at)
            even = np.full(cloud.count, 1 / cloud.count)
            yield [rank(getattr(there, n), even, getattr(true, n)[0])
                   for n in ("piece", "piece_joint")]  # fmt: skip


def _only(wires: Wires, at: int) -> Wires:
    """One draw of many."""
    return Wires(**{f.name: getattr(wires, f.name)[at : at + 1] for f in fields(Wires)})
