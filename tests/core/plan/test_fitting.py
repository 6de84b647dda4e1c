"""Which tank: what is called the smallest does hold the piece, and less of it does not."""

import unittest
from typing import Any

from tests.shops import QUIET
from yellowbath.core.document import BoxTank, Layout, Piece, Tank
from yellowbath.core.geometry.hanging import best_owned, goes_into, smallest
from yellowbath.workflows.plans.plans import answer_document


def piece(**more: Any) -> Piece:
    return Piece.model_validate({"shape": {"kind": "box", "length_m": 0.3}, **more})


class Smallest(unittest.TestCase):
    def test_it_holds_the_piece_and_a_slimmer_one_does_not(self) -> None:
        for shape in ({"kind": "box", "length_m": 0.3}, {"kind": "bar", "length_m": 0.5},
                      {"kind": "plate"}, {"kind": "wheel"}):  # fmt: skip
            one = Piece.model_validate({"shape": shape})
            box, hang = smallest([one])
            with self.subTest(shape):
                self.assertTrue(goes_into(one, Tank(shape=box), Layout()).fits)
                sides = ["length_m", "width_m"]
                if box.height_m >= 0.2:  # a shallow tank is filled to half its height anyway
                    sides.append("height_m")
                for side in sides:
                    # it leaves a hand's breadth to the rim, of which half can be given up
                    off = 0.08 if side == "height_m" else 0.03
                    less = box.model_copy(update={side: getattr(box, side) - off})
                    made = goes_into(one, Tank(shape=less), Layout())
                    # a turn may still save it, but not in less liquid and as it hung
                    self.assertFalse(made.fits and made.hang == hang and made.turn_deg == 0)

    def test_the_plan_on_it_has_nothing_against_where_things_are(self) -> None:
        box, hang = smallest([piece()])
        document = {
            **QUIET,
            "pieces": [{**piece().model_dump(), "hang": hang}],
            "tank": {"shape": box.model_dump()},
        }
        found = {f.id for f in answer_document(document).findings}
        self.assertFalse(found & {"no_fit", "short", "scrap_outside", "half_dip", "clearance"})


class Owned(unittest.TestCase):
    def test_what_fits_comes_first_and_the_least_liquid_of_it(self) -> None:
        tanks = [
            ("tub", Tank(shape=BoxTank(length_m=0.8, width_m=0.4, height_m=0.4))),
            ("pail", Tank()),
            ("crate", Tank(shape=BoxTank(length_m=0.45, width_m=0.32, height_m=0.35))),
        ]
        made = best_owned([piece()], tanks, Layout())
        self.assertEqual([name for name, _ in made], ["crate", "tub", "pail"])
        self.assertEqual([f.fits for _, f in made], [True, True, False])
        self.assertTrue(made[2][1].lacks)

    def test_another_pose_is_found(self) -> None:
        rod = Piece.model_validate({"shape": {"kind": "bar", "length_m": 0.5}})
        bin_ = Tank.model_validate(
            {"shape": {"kind": "bucket", "floor_diameter_m": 0.4, "rim_diameter_m": 0.45,
                       "height_m": 0.8}}
        )  # fmt: skip
        made = goes_into(rod, bin_, Layout())
        self.assertEqual((made.fits, made.hang), (True, "long_down"))
