"""Whether a first plan is near the best that the search finds: a hundred crossed first cases."""

from __future__ import annotations

import math
import random
import sys
from collections.abc import Iterator
from dataclasses import dataclass

from tests.core.plan.test_begin import Solids
from tests.solving import SOLVER
from yellowbath.core.errors import YellowBathError
from yellowbath.core.plan.placement.dips import how_many
from yellowbath.core.plan.start import vessels
from yellowbath.core.plan.start.begin import First
from yellowbath.core.words import options
from yellowbath.workflows.plans.field import PlanField
from yellowbath.workflows.plans.plans import begun
from yellowbath.workflows.plans.search import Placed, find_placement

NEAR = 1.5


@dataclass(frozen=True)
class Case:
    """A first case, the hours of its first plan with all dips, of the best found, and how many
    dips each wants; ``why`` is what bars a plan or a search, empty where nothing does."""

    said: dict[str, str]
    first_h: float = 0.0
    best_h: float = 0.0
    dips: tuple[int, int] = (0, 0)
    why: str = ""

    @property
    def ratio(self) -> float:
        """Hours of the first plan over those of the best found."""
        return self.first_h / self.best_h


def crossed(many: int, seed: int) -> Iterator[dict[str, str]]:
    """First cases: shape, vessel, supply and aim crossed, all sizes up to 30 % more or less."""
    rng = random.Random(seed)
    kinds = [k for k in options("shape.kind") if k not in ("mesh", "weighed", "pile")]
    holders, feeds = list(vessels.vessels()), list(options("supply.kind"))
    aims = list(options("piece.aim"))
    every = [(k, v, f, a) for k in kinds for v in holders for f in feeds for a in aims]
    for kind, vessel, feed, aim in rng.sample(every, many):
        usual = Solids.usual(kind)
        by = rng.uniform(0.7, 1.3)
        sizes = " x ".join(f"{1000 * v * by:.0f}" for v in usual)
        yield {"kind": kind, "sizes": sizes, "vessel": vessel, "feeds": feed, "aim": aim}


def tried(said: dict[str, str]) -> Case:
    """A case begun as from its page, and its scrap placed as the search would."""
    _, answered = begun(First.model_validate(said))
    if answered is None or answered.answer is None:
        return Case(said, why="no plan")
    document = answered.read.plan.model_dump(mode="json")
    try:
        *_, found = find_placement(SOLVER, document)
    except YellowBathError as error:
        return Case(said, why=str(error))
    assert isinstance(found, Placed)
    (first, dips), (best, other) = _hours(found.before), _hours(found.after)
    if math.isinf(first) and math.isinf(best):
        return Case(said, why="nothing flows, wherever the scrap stands")
    return Case(said, first, best, (dips, other))


def _hours(solved: PlanField) -> tuple[float, int]:
    dips = max(how_many(solved.plan, solved.answer), 1)
    return solved.answer.whole_h * dips, dips


def main(many: int = 100, seed: int = 26) -> None:
    """Print how many are near the best, and each that is not."""
    cases = [tried(said) for said in crossed(many, seed)]
    plans = [c for c in cases if not c.why]
    near = [c for c in plans if c.ratio <= NEAR]
    print(f"first plans within {NEAR} of the best found: {len(near)} of {len(plans)}, seed {seed}")
    for case in cases:
        said = ", ".join(case.said.values())
        if case.why:
            print(f"  no search: {said}: {case.why}")
        elif case.ratio > NEAR:
            print(f"  {case.ratio:.2f}: {said}: {case.first_h:.1f} h, best {case.best_h:.1f} h, "
                  f"dips {case.dips}")  # fmt: skip


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
