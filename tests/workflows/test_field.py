"""A plan's field: the same as the command's, kept between requests, on every kind of tank."""

import json
import random
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any

from tests.core.test_properties import any_document
from tests.longer import of, some
from tests.shops import QUIET
from tests.solving import SOLVER
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.solved import FieldSummary
from yellowbath.core.figures import evaluate
from yellowbath.workflows.plans.cases import solve_file
from yellowbath.workflows.plans.field import (
    answer_solved,
    field_of,
    live,
    run_summary,
    solvable,
)
from yellowbath.workflows.plans.plans import answer_document

BOX = {"shape": {"kind": "box", "length_m": 0.4, "width_m": 0.3, "height_m": 0.35}}
PLATE = {"shape": {"kind": "plate", "length_m": 0.2, "width_m": 0.15, "thickness_m": 0.006}}


def plate(arrangement: str) -> dict[str, Any]:
    return {**QUIET, "tank": BOX, "pieces": [PLATE], "layout": {"arrangement": arrangement}}


def as_case(arrangement: str) -> dict[str, Any]:
    """The same bath in the case format: 250 mm deep, the plate hung 30 mm under the surface."""
    at = {"one_side": [(200, 20)], "opposite": [(200, 20), (200, 280)]}[arrangement]
    solved = field_of(SOLVER, plate(arrangement), "preview")
    return {
        "geometry": {
            "tank": {"shape": "box", "lx": 400, "ly": 300},
            "liquid_depth": 250,
            "part": {"shape": "box", "center_mm": [200, 150, 145], "size_mm": [200, 6, 150]},
            "anodes": [
                {"name": f"a{k}", "shape": "cylinder", "axis": "z", "centre_of_axis_mm": list(xy),
                 "centre_coords": "x,y", "radius_mm": 6, "from_mm": 20,
                 "to_mm": "through liquid surface"}
                for k, xy in enumerate(at, start=1)
            ],
        },
        "parameters": {
            "V_eff_V": 10.0, "r_a_ohm_m2": 0.01, "r_c_ohm_m2": 0.005,
            "sigma_S_m": solved.answer.conductivity.value,
        },
    }  # fmt: skip


class PlanAndCommand(unittest.TestCase):
    def test_moving_a_rod_from_one_side_to_both(self) -> None:
        """The far face's share on the page is the command's."""
        far = {}
        for arrangement in ("one_side", "opposite"):
            page = field_of(SOLVER, plate(arrangement), "fine").field
            with tempfile.TemporaryDirectory() as folder:
                file = Path(folder) / "case.json"
                file.write_text(json.dumps(as_case(arrangement)))
                command = solve_file(file)["case"]
            face = command["patches"]["+y"]["ratio_to_mean"]
            self.assertAlmostEqual(page.regions["p1.back"].value, face, delta=0.005)
            self.assertAlmostEqual(
                page.resistance.value, command["resistance_total_ohm"], delta=0.01
            )
            far[arrangement] = face
        self.assertGreater(far["opposite"], 1.5 * far["one_side"])

    def test_the_command_prints_the_form_of_the_reference(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "case.json"
            file.write_text(json.dumps(as_case("opposite")))
            args = [sys.executable, "-m", "yellowbath.cli", "field", str(file), "--preview"]
            table = subprocess.run(args, capture_output=True, check=True, text=True).stdout
            made = subprocess.run([*args, "--json"], capture_output=True, check=True, text=True)
            broken = Path(folder) / "broken.json"
            broken.write_text("{")
            refused = subprocess.run(
                [*args[:-2], str(broken)], capture_output=True, check=False, text=True
            )
        results = json.loads(made.stdout)
        for key in ("total_current_A", "patches", "error_estimate", "timings", "model"):
            self.assertIn(key, results)
        self.assertIn("A/dm2", table)
        self.assertEqual(refused.returncode, 2)
        self.assertIn("is not JSON", refused.stderr)


class WhatARunKeeps(unittest.TestCase):
    def test_two_poses_on_the_same_facets(self) -> None:
        """One rod: what is dark as planned is lit once the piece is turned round, and back."""
        kept = run_summary(SOLVER, answer_document(plate("one_side")))
        as_planned, turned = kept.poses
        self.assertEqual(len(kept.areas), len(as_planned))
        total = sum(kept.areas)
        for pose in kept.poses:
            mean = sum(a * r for a, r in zip(kept.areas, pose, strict=True)) / total
            self.assertAlmostEqual(mean, 1, places=3)
        dark = [k for k, r in enumerate(as_planned) if r < 0.6]
        self.assertGreater(sum(turned[k] for k in dark), 1.5 * sum(as_planned[k] for k in dark))
        # a summary reads back as it was written, and so answers a plan alike
        again = FieldSummary.model_validate(kept.model_dump(mode="json"))
        self.assertEqual(again.coverage, kept.coverage)


class GradedFaces(unittest.TestCase):
    def test_a_rustier_face_takes_longer_live_settled_and_in_the_run(self) -> None:
        """The far face of a plate before one rod: rustier there is worse than rustier in front."""
        hours, whole = {}, {}
        for face in ("", "front", "back"):
            document = plate("one_side")
            if face:
                region = {"id": f"p1.{face}", "name": face, "grade": "heavy"}
                document["pieces"] = [{**document["pieces"][0], "regions": [region]}]
            solved = field_of(SOLVER, document, "preview").answer
            moved = live(SOLVER, document, ready=True).answered.answer
            assert solved.window and moved and moved.window
            hours[face], whole[face] = solved.window.value, solved.whole_h
            self.assertAlmostEqual(moved.window.value / solved.window.value, 1, delta=0.08)
        self.assertLess(whole[""], whole["front"])
        self.assertLess(whole["front"], whole["back"])
        self.assertGreater(hours["front"], 1.5 * hours[""])
        # the headline is the side that sees the scrap: the other one has a line of its own
        self.assertAlmostEqual(hours["back"] / hours[""], 1, delta=0.1)
        kept = run_summary(SOLVER, answer_document(document))
        self.assertEqual(len(kept.needs), len(kept.areas))
        self.assertEqual(len(set(kept.needs)), 2)


MANY = of(6, 2)  # random baths that are solved


class EveryTank(unittest.TestCase):
    def test_areas_and_currents_agree_with_the_quick_figures(self) -> None:
        """Boxes and buckets, tapered or not: same surface, and amps within the error claimed."""
        tapered = {"shape": {"kind": "box", "top_length_m": 0.46, "top_width_m": 0.36}}
        tanks = ({"shape": {"kind": "bucket"}}, {"shape": {"kind": "box"}}, tapered)
        for tank, shape in some([(t, s) for s in ("plate", "bar") for t in tanks], 3):
            with self.subTest(tank=tank, shape=shape):
                document = {**QUIET, "tank": tank, "pieces": [{"shape": {"kind": shape}}]}
                made = field_of(SOLVER, document, "preview")
                area = float(made.field.surface.areas.sum())
                self.assertAlmostEqual(area / made.answer.wetted_area.value, 1, delta=0.02)
                quick = answer_document(document).answer
                assert quick
                ratio = made.answer.resistance.value / quick.resistance.value
                self.assertAlmostEqual(ratio, 1.0, delta=0.25)

    def test_the_second_request_is_kept(self) -> None:
        first, second = (field_of(SOLVER, plate("opposite"), "preview") for _ in range(2))
        self.assertIs(first.field, second.field)

    def test_a_solved_answer_is_traced_like_a_quick_one(self) -> None:
        """Every figure's formula gives its value; the solver is named as the source."""
        worked = field_of(SOLVER, plate("one_side"), "preview").answer
        for f in worked.figures():
            again = evaluate(f.expression, {i.symbol: i.value for i in f.inputs})
            self.assertAlmostEqual(again, f.value, delta=1e-9 * max(1.0, abs(again)), msg=f.key)
        self.assertIn("Boundary elements", worked.resistance.source)
        self.assertIn("Boundary elements", worked.p5.source)
        self.assertEqual(len(worked.profile), 20)

    def test_a_tube_is_timed_by_what_can_be_reached(self) -> None:
        """Its bore gets next to nothing and is left out of the hours, not of the shares."""
        tube = {**QUIET, "pieces": [{"shape": {"kind": "tube"}}]}
        worked = field_of(SOLVER, tube, "preview").answer
        self.assertGreater(worked.below.value, 0.2)
        self.assertGreater(min(worked.profile), 0.02)
        assert worked.window and worked.window.high
        self.assertLess(worked.window.high, 100 * 3600)

    def test_any_plan_that_can_be_solved_is_and_the_others_say_why(self) -> None:
        rng = random.Random(3)
        solved = 0
        for k in range(150):
            document = any_document(rng)
            quick = answer_document(document)
            if not solvable(quick):
                with self.assertRaises(NoAnswerError):
                    field_of(SOLVER, document, "preview")
                continue
            if solved == MANY:
                break
            with self.subTest(k=k):
                made = field_of(SOLVER, document, "preview")
                self.assertGreater(made.field.resistance.value, 0)
                self.assertGreaterEqual(made.answer.gives.value, 0)
                self.assertTrue(0 <= made.answer.below.value <= 1)
                solved += 1
        self.assertEqual(solved, MANY)

    def test_a_stop_that_leaves_no_field_answers_quickly_and_starts_without_one(self) -> None:
        thick = {"shape": {"kind": "box", "length_m": 0.2, "width_m": 0.2, "height_m": 0.2}}
        short = {**QUIET, "pieces": [thick], "layout": {"wall_gap_m": 0.06}}
        found = {f.id for f in answer_solved(SOLVER, short, "preview").findings}
        self.assertIn("short", found)

    def test_no_path(self) -> None:
        with self.assertRaises(NoAnswerError):
            field_of(SOLVER, {"anodes": [{"id": "a1", "floor_gap_m": 0.9}]}, "preview")
