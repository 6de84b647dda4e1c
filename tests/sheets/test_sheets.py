"""Papers and files: the band measured in the PDF, drawings and meshes read by other libraries."""

import io
import json
import math
import subprocess
import sys
import tempfile
import unittest
from itertools import product
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import ezdxf
import numpy as np
import trimesh
from pypdf import PageObject, PdfReader
from pypdf.generic import ContentStream

from tests.longer import some
from tests.shops import QUIET
from tests.solving import SOLVER
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.sheets.band import CLEAR, band
from yellowbath.workflows.plans.field import field_of
from yellowbath.workflows.plans.sheets import KINDS, SheetAsked, make, reachable

STRAIGHT: dict[str, Any] = {
    **QUIET,
    "tank": {"shape": {"kind": "box", "length_m": 0.4, "width_m": 0.3, "height_m": 0.35}},
    "layout": {"arrangement": "by_hand"},
    "anodes": [{"id": "a1", "x_m": -0.1, "y_m": -0.13}, {"id": "a2", "x_m": 0.05, "y_m": -0.13}],
}
POINT = 25.4 / 72  # mm


def strokes(page: PageObject, pdf: PdfReader) -> list[list[tuple[float, float]]]:
    """Every line drawn on a page, as points in mm on paper: what a ruler would find."""
    found: list[list[tuple[float, float]]] = []
    matrix, stack = np.eye(3), []
    contents = page.get_contents()
    for given, operator in ContentStream(contents, pdf).operations:
        numbers = [float(x) for x in given if isinstance(x, int | float)]
        match operator:
            case b"q":
                stack.append(matrix)
            case b"Q":
                matrix = stack.pop()
            case b"cm":
                a, b, c, d, e, f = numbers
                matrix = np.array([[a, b, 0], [c, d, 0], [e, f, 1]]) @ matrix
            case b"m" | b"l":
                x, y, _ = np.array([*numbers, 1.0]) @ matrix
                if operator == b"m":
                    found.append([])
                found[-1].append((x * POINT, y * POINT))
    return found


def printed(kind: str, document: dict[str, Any], asked: SheetAsked = SheetAsked()) -> PdfReader:  # noqa: B008
    return PdfReader(io.BytesIO(make(SOLVER, kind, document, asked).data))


class TankBand(unittest.TestCase):
    def test_lines_on_paper_are_as_long_as_the_tank(self) -> None:
        """The print measured: scale bar, round the box, rods apart, holes over the fill line."""
        for paper in ("a4", "letter"):
            pdf = printed("band.pdf", STRAIGHT, SheetAsked(paper=paper))
            drawn = strokes(pdf.pages[0], pdf)
            bars = [s for s in drawn if len(s) >= 2 and abs(s[0][1] - s[1][1]) < 0.01]
            longest = sorted(abs(s[1][0] - s[0][0]) for s in bars if len(s) == 2)
            self.assertTrue(any(abs(w - 100) < 0.5 for w in longest), longest)
            # the rim runs on through all sheets: each shows the whole band, moved by the sheet
            rim = max((s for s in drawn if len(s) > 30), key=lambda s: s[0][1])
            self.assertAlmostEqual(rim[-1][0] - rim[0][0], 1400, delta=0.5)
            low = min((s for s in drawn if len(s) > 30), key=lambda s: s[0][1])
            made = band(read_plan(STRAIGHT).plan, answer(read_plan(STRAIGHT).plan))
            self.assertAlmostEqual(rim[0][1] - low[0][1], made.rim - made.low, delta=0.5)
            tall = made.rim - made.low
            rods = sorted({
                round(s[0][0], 3) for s in drawn
                if len(s) == 2 and abs(s[0][0] - s[1][0]) < 0.01
                and abs(abs(s[0][1] - s[1][1]) - tall) < 0.5
            })  # fmt: skip
            apart = {round(b - a, 1) for a in rods for b in rods if b > a}
            self.assertIn(150.0, apart)

    def test_a_bucket_unrolls_to_the_arc_of_its_cone(self) -> None:
        """Closed form: both edges as long as their circles, as far apart as the wall slopes."""
        plan = read_plan(QUIET).plan
        made = band(plan, answer(plan))
        shape = plan.tank.shape
        for z in (made.low, made.fill, made.rim):
            points = np.array([made.flat(made.length * k / 2000, z) for k in range(2001)])
            length = np.linalg.norm(np.diff(points, axis=0), axis=1).sum()
            d = 1000 * (0.26 + 0.03 * z / 1000 / shape.height_m)
            self.assertAlmostEqual(length, math.pi * d, delta=0.5)
        up = math.dist(made.flat(100.0, made.low), made.flat(100.0, made.rim))
        slope = 15 / (1000 * shape.height_m)
        self.assertAlmostEqual(up, (made.rim - made.low) * math.hypot(1, slope), delta=0.01)
        self.assertGreaterEqual(min(min(m.holes) for m in made.marks), made.fill + CLEAR)

    def test_outside_it_is_longer_by_the_wall_and_only_scrap_by_it_is_marked(self) -> None:
        plan = read_plan(QUIET).plan
        worked = answer(plan)
        inside, outside = band(plan, worked), band(plan, worked, wall=3.0)
        self.assertAlmostEqual(outside.length - inside.length, 2 * math.pi * 3.0, places=6)
        self.assertEqual([m.number for m in inside.marks], [1, 2])
        hand = {**QUIET["layout"], "arrangement": "by_hand"}
        rods = [{"id": "a1", "y_m": -0.12}, {"id": "a2", "y_m": 0.05}]
        far = read_plan({**QUIET, "layout": hand, "anodes": rods}).plan
        self.assertEqual([m.number for m in band(far, answer(far)).marks], [1])
        pdf = printed("band.pdf", dict(QUIET), SheetAsked(outside=True))
        said = " ".join(" ".join(page.extract_text().split()) for page in pdf.pages)
        for words in ("outside its wall", "Lay sheet 2 over this one"):
            self.assertIn(words, said)

    def test_rods_are_where_they_stand_round_the_tank(self) -> None:
        """By hand: back, left, front, right of a bucket are quarters of the way round."""
        at = {"back": (0, 0.1), "left": (-0.1, 0), "front": (0, -0.1), "right": (0.1, 0)}
        anodes = [{"id": k, "x_m": x, "y_m": y} for k, (x, y) in at.items()]
        plan = read_plan({**QUIET, "layout": {"arrangement": "by_hand"}, "anodes": anodes}).plan
        made = band(plan, answer(plan))
        shares = [m.along / made.length for m in made.marks]
        for share, quarter in zip(shares, (0.0, 0.25, 0.5, 0.75), strict=True):
            self.assertAlmostEqual(share % 1, quarter, places=9)

    def test_no_room_for_holes_and_no_wall_are_said(self) -> None:
        for document, words in (
            ({**QUIET, "tank": {"level_m": 0.365}}, "no room for a hole"),
            ({**QUIET, "tank": {"shape": {"kind": "drum"}}}, "lying drum"),
        ):
            with self.assertRaisesRegex(NoAnswerError, words):
                make(SOLVER, "band.pdf", document, SheetAsked())


class Files(unittest.TestCase):
    def test_the_card_is_one_page_whatever_is_on_it(self) -> None:
        """Eighteen rods, every caution, a code, a turn plan: still one page, and it says it all."""
        many = [
            {"id": f"a{k}", "x_m": 0.1 * math.cos(k / 3), "y_m": 0.1 * math.sin(k / 3)}
            for k in range(18)
        ]
        worst = {
            "pieces": [{"name": "Windlass pawl", "fragility": "relic", "grease": "some",
                        "paint": "patches", "metal": "spring", "hanger": "chain"}],
            "mix": {"product": "soda_anhydrous", "concentration_kg_m3": 20},
            "layout": {"arrangement": "by_hand", "joint_clear": False}, "anodes": many,
            "supply": {"rcd": False}, "place": {"where": "closed_room", "visitors": True},
        }  # fmt: skip
        asked = SheetAsked(
            plan_id="abc", base_url="http://192.0.2.7:8650", turns=(("As planned", 9e3),)
        )
        for paper, document in some(list(product(("a4", "letter"), (dict(QUIET), worst))), 3):
            pdf = printed(
                "card.pdf", document, SheetAsked(paper, "abc", asked.base_url, asked.turns)
            )
            self.assertEqual(len(pdf.pages), 1)
            text = pdf.pages[0].extract_text()
            for words in ("Mix and place", "Wiring and time", "Before switching on",
                          "Readings", "192.0.2.7:8650/plans/abc/run", "2.5 h"):  # fmt: skip
                self.assertIn(words.replace(" ", ""), "".join(text.split()))

    def test_a_card_says_why_a_phone_finds_nothing(self) -> None:
        pdf = printed("card.pdf", dict(QUIET), SheetAsked(plan_id="abc"))
        self.assertIn("cannot reach this computer", pdf.pages[0].extract_text().replace("\n", " "))
        self.assertEqual(reachable("127.0.0.1", 8650), "")
        self.assertEqual(reachable("192.168.7.2", 8650), "http://192.168.7.2:8650")

    def test_the_layout_is_full_size_in_millimetres(self) -> None:
        """Reference library: ezdxf reads it back without fault, and finds rim, rods and heights."""
        drawing = ezdxf.read(
            io.StringIO(make(SOLVER, "layout.dxf", STRAIGHT, SheetAsked()).data.decode())
        )
        self.assertEqual(len(drawing.audit().errors), 0)
        space = drawing.modelspace()
        rods = [c for c in space.query("CIRCLE") if c.dxf.layer == "scrap"]
        self.assertEqual(sorted(round(c.dxf.center.x) for c in rods), [-100, 50])
        self.assertAlmostEqual(rods[0].dxf.radius, 6)
        tanks = [e for e in space.query("LWPOLYLINE") if e.dxf.layer == "tank" and e.closed]
        spans = [np.ptp(np.array(e.get_points("xy")), axis=0) for e in tanks]
        self.assertTrue(any(np.allclose(s, [400, 300]) for s in spans))
        texts = {t.dxf.text for t in space.query("TEXT")}
        self.assertLessEqual({"100 mm", "250 mm"}, texts)
        svg = ElementTree.fromstring(make(SOLVER, "layout.svg", STRAIGHT, SheetAsked()).data)
        self.assertTrue(svg.get("width", "").endswith("mm"))

    def test_the_mapped_piece_is_read_by_another_library_with_its_density(self) -> None:
        field = field_of(SOLVER, STRAIGHT, "preview")
        mean = field.answer.density.value / 100
        for kind in ("glb", "ply"):
            data = make(SOLVER, f"map.{kind}", STRAIGHT, SheetAsked()).data
            mesh: Any = trimesh.load(io.BytesIO(data), file_type=kind, force="mesh", process=False)
            self.assertAlmostEqual(mesh.area, float(field.field.surface.areas.sum()), places=6)
            colours = np.asarray(mesh.visual.vertex_colors)[:, :3]
            self.assertGreater(len(np.unique(colours, axis=0)), 20)
        values = mesh.metadata["_ply_raw"]["vertex"]["data"]["density_a_dm2"][::4]
        areas = field.field.surface.areas
        self.assertAlmostEqual(float(values @ areas / areas.sum()) / mean, 1, places=4)

    def test_a_plan_file_comes_back_as_it_went(self) -> None:
        """Through the command line: written, answered, refused with words and a code."""
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "plan.json"
            file.write_bytes(make(SOLVER, "plan.json", STRAIGHT, SheetAsked()).data)
            written = json.loads(file.read_text())
            self.assertEqual(read_plan(written).plan, read_plan(STRAIGHT).plan)
            ran = self.command("plan", str(file))
            self.assertEqual(ran.returncode, 0, ran.stderr)
            self.assertIn("Liquid stands", ran.stdout)
            out = Path(folder) / "card.pdf"
            ran = self.command("plan", str(file), "--sheet", "card.pdf", "--out", str(out))
            self.assertEqual(len(PdfReader(out).pages), 1)
            file.write_text(json.dumps({**written, "schema_version": 99}))
            ran = self.command("plan", str(file))
            self.assertEqual(ran.returncode, 2)
            self.assertIn("later version", ran.stderr)

    def command(self, *words: str) -> subprocess.CompletedProcess[str]:
        args = [sys.executable, "-m", "yellowbath.cli", *words]
        return subprocess.run(args, capture_output=True, text=True, check=False)

    def test_every_kind_is_made(self) -> None:
        for kind in KINDS:
            self.assertGreater(len(make(SOLVER, kind, dict(QUIET), SheetAsked()).data), 500, kind)
