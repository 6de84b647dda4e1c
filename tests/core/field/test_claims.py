"""Claimed errors against finite elements of plans that the claims were not set on.

``python -m tests.core.field.test_claims`` judges all of them, preview and fine, and prints the
table of docs/models/field.md.
"""

import json
import unittest
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from tests.longer import of, some
from yellowbath.core.field.model import FieldNumber
from yellowbath.core.field.plan_bath import solve_plan
from yellowbath.core.plan.reading.filling import bottoms_of
from yellowbath.workflows.plans.plans import answer_document

FILE = Path(__file__).parents[2] / "published" / "plan_fields.json"
FIGURES = ("ohms", "p5", "p95")


@dataclass(frozen=True)
class Judged:
    """One figure of one layout: what it is, claimed and true error, the reference's own."""

    kind: str
    what: str
    value: float
    claim: float
    off: float
    own: float

    @property
    def inside(self) -> bool:
        return self.off <= self.claim + self.own


def judged(case: dict[str, Any], quality: str) -> list[Judged]:
    """A layout solved, each figure against finite elements."""
    quick = answer_document(case["plan"])
    assert quick.answer is not None
    plan, level = quick.read.plan, quick.answer.fill.level.value
    found = solve_plan(plan, bottoms_of(plan, level), level, case["conductivity"], quality)
    wanted = case["found"]

    def one(what: str, got: FieldNumber, reference: list[float]) -> Judged:
        value, differ = reference  # the value was brought on by a third of the difference
        off = abs(got.value - value)
        return Judged(case["kind"], what, got.value, got.error, off, differ / 3)

    out = [
        one("ohms", found.resistance, wanted["ohms"]), one("p5", found.p5, wanted["p5"]),
        one("p95", found.p95, wanted["p95"]),
    ]  # fmt: skip
    for name, reference in wanted["faces"].items():
        piece, face = name.split(".")
        if face in ("one", "other"):  # which of a plate's broad sides is its front is ours to say
            sides = [found.regions[f"{piece}.{s}"] for s in ("front", "back")]
            out.append(
                one("face", min(sides, key=lambda n: abs(n.value - reference[0])), reference)
            )
        elif name in found.regions:
            out.append(one("face", found.regions[name], reference))
    return out


def cases(name: str) -> list[dict[str, Any]]:
    held: dict[str, Any] = json.loads(FILE.read_text("utf-8"))
    found: list[dict[str, Any]] = held[name]
    return found


class Claims(unittest.TestCase):
    def test_a_tenth_of_the_fresh_layouts(self) -> None:
        """One of each kind (a third of them in the usual run); all: docs/models/field.md."""
        seen: dict[str, dict[str, Any]] = {}
        for case in cases("fresh"):
            seen.setdefault(case["kind"], case)
        chosen = some(list(seen.values()), 3)
        found = [j for case in chosen for j in judged(case, "fine")]
        currents = [j for j in found if j.what == "ohms"]
        self.assertGreaterEqual(len(currents), of(7, 3))
        for j in currents:
            with self.subTest(j.kind):
                self.assertTrue(j.inside, j)
                self.assertLess(j.claim / j.value, 0.02)
        self.assertGreaterEqual(np.mean([j.inside for j in found]), 0.85)


def main() -> None:
    """Print inside and medians by figure, and what is outside by kind."""
    for name in ("set", "fresh"):
        for quality in ("fine", "preview"):
            found = [j for case in cases(name) for j in judged(case, quality)]
            for what in (*FIGURES, "face"):
                some = [j for j in found if j.what == what]
                if what == "ohms":
                    scale = [j.value for j in some]
                else:
                    scale = [max(j.value, 0.3) if what != "face" else 1.0 for j in some]
                claim = np.median([j.claim / s for j, s in zip(some, scale, strict=True)])
                off = np.median([j.off / s for j, s in zip(some, scale, strict=True)])
                out = sorted({j.kind for j in some if not j.inside})
                inside = sum(j.inside for j in some)
                row = f"| {name}, {quality} | {what} | {inside} of {len(some)} "
                row += f"| {100 * claim:.2f} % | {100 * off:.2f} % | {', '.join(out)} |"
                print(row, flush=True)


if __name__ == "__main__":
    main()
