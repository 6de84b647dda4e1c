"""The solver against finite elements, finite volumes and closed forms; and what it refuses."""

import copy
import json
import math
import unittest
from pathlib import Path
from typing import Any

from tests.core.field import finite_volume
from tests.longer import LONG, some
from yellowbath.core.errors import CaseError, NoAnswerError
from yellowbath.core.field.case.case import kinetic, read_case
from yellowbath.core.field.case.case_solve import solve_case
from yellowbath.core.field.estimate import shape_factor
from yellowbath.core.field.model import RodLayout

PUBLISHED = Path(__file__).parents[2] / "published"
REFERENCE = json.loads((PUBLISHED / "field_cases.json").read_text("utf-8"))
RANDOM = json.loads((PUBLISHED / "random_cases.json").read_text("utf-8"))
NARROW = {"+x", "-x", "+z", "-z", "end+x", "end-x"}


def solved(case: dict[str, Any], preview: bool = False) -> dict[str, Any]:
    return solve_case(read_case(case), preview)


class FiniteElements(unittest.TestCase):
    """Three independent finite-element cases; source in tests/published/field_cases.json."""

    def compare(
        self, preview: bool, current: float, large: float, narrow: float, tails: float
    ) -> None:
        names = list(REFERENCE["cases"])
        for name in some(names, len(names)) if preview else names:
            case = REFERENCE["cases"][name]
            got, want = solved(case, preview), case["results"]
            with self.subTest(name, preview=preview):
                self.assertAlmostEqual(
                    got["total_current_A"] / want["total_current_A"], 1, delta=current
                )
                for p in ("p5_over_mean", "p95_over_mean"):
                    self.assertAlmostEqual(got[p], want[p], delta=max(tails * want[p], 0.003))
                for patch, reference in want["patches"].items():
                    ratio = reference["ratio_to_mean"]
                    share = narrow if patch in NARROW or patch.startswith("bore") else large
                    found = got["patches"][patch]["ratio_to_mean"]
                    self.assertAlmostEqual(found, ratio, delta=max(share * ratio, 0.003), msg=patch)
                    claimed = got["error_estimate"]["patches"][patch]["ratio_to_mean"]
                    self.assertLessEqual(abs(found - ratio), claimed, patch)
                claimed = got["error_estimate"]["total_current_A"]
                off = abs(got["total_current_A"] - want["total_current_A"])
                self.assertLessEqual(off, claimed)

    def test_settled(self) -> None:
        self.compare(False, 0.003, 0.02, 0.05, 0.03)

    def test_preview(self) -> None:
        self.compare(True, 0.01, 0.04, 0.10, 0.06)

    def test_areas_are_the_true_ones(self) -> None:
        for case in REFERENCE["cases"].values():
            got, want = solved(case, True), case["results"]
            self.assertAlmostEqual(got["part_wetted_area_m2"], want["part_wetted_area_m2"], 6)
            for anode, area in want["anode_area_m2"].items():
                self.assertAlmostEqual(got["anode_area_m2"][anode], area, places=6)


class RandomCases(unittest.TestCase):
    """Twenty random baths by a finite-element route of its own; source in random_cases.json."""

    def test_the_true_error_lies_within_the_claim(self) -> None:
        self.assertIn("source", RANDOM)
        names = ("total_current_A", "p5_over_mean", "p95_over_mean")
        within = dict.fromkeys(names, 0)
        whole = {**REFERENCE["cases"], **RANDOM["cases"]}
        cases = {name: whole[name] for name in some(list(whole), 8)}
        for name, case in cases.items():
            got = solved(case)
            for key in names:
                want = case["results"][key]
                value = want["value"] if isinstance(want, dict) else want
                off = abs(got[key] - value)
                within[key] += off <= got["error_estimate"][key]
                if key == "total_current_A":
                    with self.subTest(name):
                        self.assertLessEqual(off / value, 0.003)
                else:
                    with self.subTest(name, key=key):
                        self.assertLessEqual(off, max(0.03 * value, 0.003))
            self.assertLess(abs(got["current_balance"]), 1e-9)
        for key, count in within.items():
            self.assertGreaterEqual(count / len(cases), 0.9, key)


class FiniteVolumes(unittest.TestCase):
    """Grid-aligned boxes, two cell sizes, extrapolated; no code in common."""

    SIZE = (0.30, 0.20, 0.16)
    PART = ((0.10, 0.08, 0.04), (0.22, 0.12, 0.12))
    PLATES = (((0.02, 0.04, 0.02), (0.04, 0.16, 0.14)), ((0.26, 0.06, 0.04), (0.28, 0.14, 0.10)))

    def compare(
        self, got: dict[str, Any], coarse: dict[str, float], fine: dict[str, float]
    ) -> None:
        at = {face: 2 * fine[face] - coarse[face] for face in fine}
        total = sum(at.values())
        self.assertAlmostEqual(got["total_current_A"] / total, 1.0, delta=0.02)
        for face in ("-x", "+x", "+y"):
            share = got["patches"][face]["share_of_total_current"]
            self.assertAlmostEqual(share, at[face] / total, delta=0.02, msg=face)

    def test_two_plates_and_a_block(self) -> None:
        grids = [
            finite_volume.solve(self.SIZE, self.PART, self.PLATES, 10.0, (0.01, 0.005), 1.3, h)
            for h in (0.01, 0.005)
        ]
        self.compare(solved(box_case(self.SIZE, self.PART, self.PLATES)), *grids)

    @unittest.skipUnless(LONG, "two grids of another solver: in the longer form")
    def test_the_same_with_overpotentials(self) -> None:
        case = kinetic(read_case(box_case(self.SIZE, self.PART, self.PLATES)))
        k = case.kinetics
        assert k
        tafel = ((k.scrap_slope, k.scrap_exchange), (k.piece_slope, k.piece_exchange))
        films = (case.film_anode, case.film_part)
        grids = [
            finite_volume.solve(self.SIZE, self.PART, self.PLATES, case.volts, films, 1.3, h, tafel)
            for h in (0.01, 0.005)
        ]
        self.compare(solve_case(case), *grids)


class Kinetics(unittest.TestCase):
    def at(self, name: str, volts: float) -> float:
        """Kinetic current over linear current."""
        case = copy.deepcopy(REFERENCE["cases"][name])
        case["parameters"] |= {"V_supply_V": volts, "V_eff_V": volts - 2}
        read = read_case(case)
        pair = [solve_case(c, True)["total_current_A"] for c in (kinetic(read), read)]
        return float(pair[0] / pair[1])

    def test_both_models_agree_at_twelve_volts(self) -> None:
        for name in ("C1", "C2"):
            self.assertAlmostEqual(self.at(name, 12.0), 1.0, delta=0.10)

    def test_below_the_reversible_volts_nothing_flows(self) -> None:
        case = copy.deepcopy(REFERENCE["cases"]["C1"])
        case["parameters"]["V_supply_V"] = 1.0
        self.assertEqual(solve_case(kinetic(read_case(case)), True)["total_current_A"], 0.0)

    def test_a_trickle_above_them_converges(self) -> None:
        case = copy.deepcopy(REFERENCE["cases"]["C5"])
        case["parameters"]["V_supply_V"] = 1.5
        got = solve_case(kinetic(read_case(case)), True)["total_current_A"]
        self.assertTrue(0 < got < 0.01)

    def test_it_needs_the_supply(self) -> None:
        case = copy.deepcopy(REFERENCE["cases"]["C1"])
        del case["parameters"]["V_supply_V"]
        with self.assertRaises(CaseError):
            kinetic(read_case(case))


def box_case(size: Any, part: Any, anodes: Any) -> dict[str, Any]:
    def box(low: Any, high: Any) -> dict[str, Any]:
        return {
            "shape": "box",
            "center_mm": [500 * (a + b) for a, b in zip(low, high, strict=True)],
            "size_mm": [1000 * (b - a) for a, b in zip(low, high, strict=True)],
        }

    return {
        "geometry": {
            "tank": {"shape": "box", "lx": size[0] * 1e3, "ly": size[1] * 1e3},
            "liquid_depth": size[2] * 1e3,
            "part": box(*part),
            "anodes": [{"name": f"A{k}", **box(*a)} for k, a in enumerate(anodes)],
        },
        "parameters": {
            "V_supply_V": 12.0, "V_eff_V": 10.0, "r_a_ohm_m2": 0.01, "r_c_ohm_m2": 0.005,
            "sigma_S_m": 1.3,
        },
    }  # fmt: skip


def bucket(rods: int, **part: Any) -> dict[str, Any]:
    ring = [
        (118 * math.cos(2 * math.pi * k / rods), 118 * math.sin(2 * math.pi * k / rods))
        for k in range(rods)
    ]
    standing = {"shape": "cylinder", "axis": "z", "centre_coords": "x,y", "from_mm": 0,
                "to_mm": "through liquid surface"}  # fmt: skip
    return {
        "geometry": {
            "tank": {"shape": "round straight bucket", "inner_radius": 140},
            "liquid_depth": 270,
            "part": {**standing, "centre_of_axis_mm": [0, 0], "radius_mm": 15, **part},
            "anodes": [
                {**standing, "name": f"A{k}", "centre_of_axis_mm": list(at), "radius_mm": 6}
                for k, at in enumerate(ring)
            ],
        },
        "parameters": {
            "V_eff_V": 10.0, "r_a_ohm_m2": 1e-6, "r_c_ohm_m2": 1e-6, "sigma_S_m": 0.7,
        },
    }  # fmt: skip


class ClosedForms(unittest.TestCase):
    def test_rods_round_a_bar_in_a_bucket(self) -> None:
        """Line sources in an insulated disc: sigma D U / S, the Neumann function of the disc."""
        for rods in (2, 6):
            got = solved(bucket(rods), True)
            at = [
                (0.118 * math.cos(2 * math.pi * k / rods), 0.118 * math.sin(2 * math.pi * k / rods))
                for k in range(rods)
            ]
            factor = shape_factor(
                RodLayout(
                    True, (0.28, 0.28), 0.27, (0.03, 0.03, 0.27), 1.0, at, 0.006, 0.27, False, True
                )
            )
            exact = 10 * 0.7 * 0.27 / factor
            self.assertAlmostEqual(got["total_current_A"] / exact, 1.0, delta=0.01)
            for share in got["anode_share"].values():
                self.assertAlmostEqual(share, 1 / rods, delta=0.001)

    def test_current_scales_with_volts_and_the_whole_with_conductivity(self) -> None:
        case = REFERENCE["cases"]["C1"]
        base = solved(case, True)["total_current_A"]
        twice = copy.deepcopy(case)
        twice["parameters"]["V_eff_V"] = 20.0
        self.assertAlmostEqual(solved(twice, True)["total_current_A"] / base, 2.0, places=9)
        salty = copy.deepcopy(case)
        for key, factor in (("sigma_S_m", 2.0), ("r_a_ohm_m2", 0.5), ("r_c_ohm_m2", 0.5)):
            salty["parameters"][key] *= factor
        self.assertAlmostEqual(solved(salty, True)["total_current_A"] / base, 2.0, places=9)

    def test_below_the_threshold_nothing_flows(self) -> None:
        case = copy.deepcopy(REFERENCE["cases"]["C1"])
        case["parameters"]["V_eff_V"] = -0.5
        self.assertEqual(solved(case, True)["total_current_A"], 0.0)


class Practice(unittest.TestCase):
    """Common practice, no source: direction and bounds."""

    def test_half_out_and_a_second_rod(self) -> None:
        one, two = (solved(REFERENCE["cases"][c], True)["total_current_A"] for c in ("C1", "C2"))
        self.assertTrue(1.6 <= two / one <= 1.95)
        lifted = copy.deepcopy(REFERENCE["cases"]["C2"])
        lifted["geometry"]["part"]["center_mm"][2] = 250
        half = solved(lifted, True)
        self.assertTrue(0.5 <= half["total_current_A"] / two <= 0.85)
        self.assertNotIn("+z", half["patches"])


class Refused(unittest.TestCase):
    def test_what_cannot_be_solved_says_why(self) -> None:
        base = REFERENCE["cases"]["C1"]
        changes: tuple[tuple[str, str, Any], ...] = (
            ("geometry.part.center_mm", "through a wall", [390, 150, 125]),
            ("geometry.anodes.0.centre_of_axis_mm", "a short", [200, 150]),
            ("parameters.sigma_S_m", "sigma_S_m", 0),
            ("geometry.part.shape", "known: box", "horse"),
            ("geometry.tank.shape", "tank shape", "bath tub"),
            ("geometry.part.size_mm", "three numbers", [200, 6]),
        )
        for path, words, value in changes:
            with self.subTest(path, words=words), self.assertRaises(CaseError) as caught:
                case = copy.deepcopy(base)
                *way, last = path.split(".")
                holder: Any = case
                for part in way:
                    holder = holder[int(part)] if part.isdigit() else holder[part]
                holder[last] = value
                read_case(case)
            self.assertIn(words, str(caught.exception))
        with self.assertRaises(CaseError):
            read_case({"geometry": {}})

    def test_a_dry_part_and_no_anode(self) -> None:
        dry = copy.deepcopy(REFERENCE["cases"]["C1"])
        dry["geometry"]["part"]["center_mm"][2] = 600
        with self.assertRaises(NoAnswerError):
            read_case(dry)
        alone = copy.deepcopy(REFERENCE["cases"]["C1"])
        alone["geometry"]["anodes"] = []
        with self.assertRaises(NoAnswerError):
            solved(alone, True)
