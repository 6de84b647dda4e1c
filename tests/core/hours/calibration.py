"""Baths with hidden truths, and how often the 80 % window of the hours holds them.

The truth is drawn and its hours worked out here, in a few lines of numpy that share nothing with
the estimator but the laws: dose j/(1 + j/js), need log-normal from spot to spot, a person who looks
with a bias and rounds to five per cent. Fixed seeds. ``python -m tests.core.hours.calibration``
prints the table of docs/models/dose.md.
"""

from __future__ import annotations

import math
import sys
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import brentq
from scipy.special import ndtr

from yellowbath.core.dose import Need
from yellowbath.core.hours.cloud import Cloud, share_seen

Array = NDArray[np.float64]
STAGES = ("plan", "one reading", "an early look", "a late look", "three looks")
PLANNED, READ = 0.22, 0.04  # log-spread of the amps before and after a clamp meter


@dataclass(frozen=True)
class World:
    """How truths differ from what the estimator holds: js over its median, patches of rust, looks
    that are slips, grades that are a rung off, the spread of the need by eye, what the eye adds to
    the logit of what is clean, and how far the dose falls behind by the end."""

    js: float = 1.0
    patchy: bool = False
    seed: int = 17
    slips: float = 0.0
    rung_off: float = 0.0
    spread: float = 0.4
    optimism: float = 0.0
    falls: float = 0.0


@dataclass(frozen=True)
class Truth:
    """One bath: densities by part over the estimator's, need by part [Ah/m2], js, the eye."""

    density: Array
    need: Array
    scatter: float
    js: float
    bias: float
    falls: float = 0.0

    def hours(self) -> float:
        """When 95 % of the surface has met its need [h]."""
        return float(brentq(lambda t: self.clean(t) - 0.95, 1e-4, 1e5, xtol=1e-4))

    def clean(self, hours: float) -> float:
        """Share of the surface that is clean then [-]."""
        pin = (1 + 50 / self.js) / (1 + 50 / 40.0)
        counted = hours * (1 - self.falls * hours / (hours + _LATE_H))
        dose = counted * pin * self.density / (1 + self.density / self.js)
        return float(ndtr(np.log(dose / self.need) / self.scatter + 1.6448536).mean())


def drawn(rng: np.random.Generator, world: World, profile: Array, mean: float) -> Truth:
    """A truth by the judged spreads, unless the world says otherwise."""
    z = rng.standard_normal(6)
    amps = math.exp(PLANNED * z[0] + 0.08 * z[1])
    ratios = profile ** rng.uniform(0.85, 1.15)  # the solved spread is not quite the true one
    need = np.full(len(profile), 115.0 * math.exp(world.spread * z[2]))
    if world.rung_off:
        off = rng.random()
        need *= _RUNGS[int(off < world.rung_off / 2)] / 115.0 if off < world.rung_off else 1.0
    if world.patchy:
        need = need * np.exp(0.35 * rng.standard_normal(len(profile)))
    js = 40.0 * world.js * (math.exp(0.5 * z[4]) if world.js == 1.0 else 1.0)
    scatter = 0.45 * math.exp(0.4 * z[3])
    bias = 0.4 * z[5] + world.optimism
    return Truth(mean * amps * ratios, need, scatter, js, bias, world.falls)


_RUNGS = (25.0, 230.0)  # one under and one over the grade that is drawn
_LATE_H = 10.0  # by when half of what falls away in the end has


def spoken(rng: np.random.Generator, truth: Truth, hours: float, slips: float = 0.0) -> float:
    """What is said of the share clean: with a bias, an error, and rounded to five per cent; now and
    then anything."""
    if slips and rng.random() < slips:
        return round(20 * rng.random()) / 20
    clean = min(max(truth.clean(hours), 0.002), 0.998)
    seen = math.log(clean / (1 - clean)) + truth.bias + 0.45 * rng.standard_normal()
    return round(20 / (1 + math.exp(-seen))) / 20


def run(count: int, world: World) -> tuple[Array, Array]:
    """Whether the 80 % window held the true hours, and its width p90/p10, by bath and stage."""
    rng = np.random.default_rng(world.seed)
    held, wide = np.zeros((count, len(STAGES))), np.zeros((count, len(STAGES)))
    for k in range(count):
        mean, spread = (
            100 * math.exp(rng.uniform(math.log(0.2), math.log(1.3))),
            rng.uniform(0.2, 0.6),
        )
        profile = np.exp(spread * np.sort(rng.standard_normal(20)))
        profile /= profile.mean()
        truth = drawn(rng, world, profile, mean)
        true = truth.hours()
        z = math.log(truth.density.mean() / mean)  # a meter shows amps; the area stays unsure
        weights = np.full(20, 0.05)

        def stage(n: int, cloud: Cloud, hours: Array, k: int = k, true: float = true) -> None:
            low, high = cloud.quantiles(hours, (0.1, 0.9))
            held[k, n], wide[k, n] = low <= true <= high, high / low

        prior = Cloud.of(Need(115.0, 0.4))
        rates = prior.rates(mean, profile, PLANNED)
        stage(0, prior, prior.until(0 * rates, rates, weights))
        read = mean * math.exp(z + READ * rng.standard_normal())
        rates = prior.rates(read, profile, READ)
        hours = prior.until(0 * rates, rates, weights)
        stage(1, prior, hours)
        middle = prior.quantiles(hours, (0.5,))[0]
        for n, times in ((2, (0.35,)), (3, (0.9,)), (4, (0.4, 0.7, 0.95))):
            said = [(at * middle, spoken(rng, truth, at * middle, world.slips)) for at in times]
            cloud = believed(read, profile, READ, said)
            rates = cloud.rates(read, profile, READ)
            stage(n, cloud, cloud.until(0 * rates, rates, weights))
    return held, wide


def believed(
    mean: float, profile: Array, amps: float, looks: Sequence[tuple[float, float]]
) -> Cloud:
    """The estimator after looks: hours under power and the share said to be clean."""
    weights = np.full(len(profile), 1 / len(profile))

    def told(at: float, share: float, cloud: Cloud) -> Array:
        rates = cloud.rates(mean, profile, amps)
        return share_seen(cloud, cloud.share_clean(rates * at, weights), share)

    return Cloud.believed(Need(115.0, 0.4), lambda c: [told(at, share, c) for at, share in looks])


WORLDS = {
    "as judged": World(),
    "js 0.2 A/dm2": World(js=0.5, seed=18),
    "js 0.8 A/dm2": World(js=2.0, seed=19),
    "patchy rust": World(patchy=True, seed=20),
    "one look in twenty is a slip": World(slips=0.05, seed=21),
    "one grade in five a rung off": World(rung_off=0.2, seed=22),
    "all at once": World(patchy=True, spread=0.53, optimism=0.4, seed=23),
    "all at once, and the dose falls behind": World(
        patchy=True, spread=0.53, optimism=0.4, falls=0.1, seed=23
    ),
}


def main(count: int = 1200) -> None:
    """Print the table in Markdown."""
    for name, world in WORLDS.items():
        held, wide = run(count, world)
        cover, width = 100 * held.mean(axis=0), np.median(wide, axis=0)
        cells = " | ".join(f"{c:.0f} %, ×{w:.1f}" for c, w in zip(cover, width, strict=True))
        print(f"| {name} | {cells} |", flush=True)


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
