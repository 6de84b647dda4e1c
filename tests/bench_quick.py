"""Whether the amps that are told at once hold those that are solved, by class of layout."""

from __future__ import annotations

import sys
from collections import defaultdict

import numpy as np

from tests.random_plans import KINDS, random_plan
from tests.solving import SOLVER
from yellowbath.core.field.watch import class_of
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer, tells_amps
from yellowbath.workflows.plans.field import answer_solved


def table(many: int, seed: int) -> dict[str, list[tuple[bool, float, float]]]:
    """By class of layout: whether the quick window holds the solved amps, quick over solved, width.

    ``many`` plans of every kind in turn, drawn by a seed; solved on the preview's meshes. Classes
    of which no quick amps are told are marked and not judged.
    """
    rng = np.random.default_rng(seed)
    out: dict[str, list[tuple[bool, float, float]]] = defaultdict(list)
    for k in range(many):
        document = random_plan(rng, KINDS[k % len(KINDS)])
        plan = read_plan(document).plan
        quick, solved = answer(plan), answer_solved(SOLVER, document, "preview").answer
        low, high = quick.gives.span
        if solved is None or low <= 0 or solved.models == quick.models:
            continue
        amps = solved.gives.value
        key = class_of(plan, quick.fill.gap.value)
        key += "" if tells_amps(plan, quick) else ", not told"
        out[key].append((low <= amps <= high, quick.gives.value / amps, high / low))
    return out


def main(many: int = 200, seed: int = 26) -> None:
    """Print the table."""
    print(f"quick amps against solved ones, {many} random plans, seed {seed}")
    held = told = 0
    for key, rows in sorted(table(many, seed).items()):
        made = np.array(rows)
        inside, middle = int(made[:, 0].sum()), float(np.median(made[:, 1]))
        width = float(np.median(made[:, 2]))
        said = f"{inside} of {len(rows)} held, quick over solved {middle:.2f}, width x{width:.1f}"
        print(f"  {key}: {said}")
        if "not told" not in key:
            held, told = held + inside, told + len(rows)
    print(f"  of those told: {held} of {told}, {100 * held / max(told, 1):.0f} %")


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
