"""Typed text to SI and back."""

import math
import unittest

from tests.published import rows
from yellowbath.core.ear import parse
from yellowbath.core.errors import NotUnderstoodError
from yellowbath.core.units import QUANTITIES, awg_area, show


class Parsing(unittest.TestCase):
    def test_what_a_tape_says(self) -> None:
        for text, system, metres in (
            ("3/8 in", "metric", 0.009525),
            ("4 3/4 in", "metric", 0.12065),
            ("2-1/2 in", "metric", 0.0635),
            ("1 ft 2 in", "metric", 0.3556),
            ("5' 3\"", "metric", 1.6002),
            ("5'3\"", "us", 1.6002),
            ("12", "metric", 0.012),
            ("12", "us", 0.3048),
            ("12,5 cm", "metric", 0.125),
            ("½ in", "metric", 0.0127),
            ("2½ in", "us", 0.0635),
            (".5 in", "us", 0.0127),
        ):
            with self.subTest(text=text, system=system):
                self.assertAlmostEqual(parse(text, "length", system), metres, places=9)

    def test_gallons_follow_the_system(self) -> None:
        self.assertAlmostEqual(parse("2 1/2 gal", "volume", "us") * 1e3, 9.46353, places=4)
        self.assertAlmostEqual(parse("2 1/2 gal", "volume", "imperial") * 1e3, 11.36523, places=4)
        self.assertAlmostEqual(parse("2 1/2 US gal", "volume", "imperial") * 1e3, 9.46353, places=4)
        self.assertAlmostEqual(parse("4 qt", "volume", "us") * 1e3, 3.785412, places=5)

    def test_other_quantities(self) -> None:
        for text, quantity, value in (
            ("68 F", "temperature", 20.0),
            ("-5 C", "temperature", -5.0),
            ("60 %", "ratio", 0.6),
            ("60", "ratio", 0.6),
            ("90 min", "time", 5400.0),
            ("1 h 30 min", "time", 5400.0),
            ("6", "time", 21600.0),
            ("1 lb 3 oz", "mass", 0.5386406),
            ("800 mA", "current", 0.8),
            ("40 m3", "room", 40.0),
            ("1400 cu ft", "room", 39.64358),
            ("2.5mm²", "wire", 2.5e-6),
        ):
            with self.subTest(text=text):
                self.assertAlmostEqual(parse(text, quantity), value, places=4)

    def test_what_cannot_be_read_is_refused_with_an_example(self) -> None:
        for text, quantity in (
            ("", "length"),
            ("12 furlongs", "length"),
            ("3 4", "length"),
            ("1/0 mm", "length"),
            ("1e5 mm", "length"),
            ("--3 mm", "length"),
            ("5 V", "current"),
            ("12 mm; drop table", "length"),
        ):
            with self.subTest(text=text), self.assertRaises(NotUnderstoodError) as caught:
                parse(text, quantity)
            self.assertIn("Write it like", caught.exception.remedy)

    def test_long_nonsense_is_cut_short_in_the_message(self) -> None:
        with self.assertRaises(NotUnderstoodError) as caught:
            parse("x" * 5000, "length")
        self.assertLess(len(str(caught.exception)), 200)

    def test_every_example_can_be_read(self) -> None:
        for name, kind in QUANTITIES.items():
            for example in kind.example.split(", "):
                with self.subTest(quantity=name, example=example):
                    self.assertTrue(math.isfinite(parse(example, name)))

    def test_wire_gauges(self) -> None:
        for row in rows("wire"):
            with self.subTest(row["text"]):
                area = parse(row["text"], "wire")
                self.assertAlmostEqual(area * 1e6, float(row["mm2"]), places=2)
                self.assertAlmostEqual(1e3 / (58e6 * area), float(row["ohm_per_km"]), places=2)
        self.assertGreater(awg_area(10), awg_area(12))


class Showing(unittest.TestCase):
    def test_units_of_the_person(self) -> None:
        for value, quantity, system, text in (
            (0.009525, "length", "us", "3/8 in"),
            (0.1651, "length", "us", "6 1/2 in"),
            (0.1, "length", "us", "3 15/16 in"),
            (0.105, "length", "us", "4.13 in"),
            (0.1, "length", "metric", "100 mm"),
            (0.0154, "volume", "metric", "15.4 L"),
            (20.0, "temperature", "us", "68 °F"),
            (88.1, "density", "metric", "0.881 A/dm²"),
            (0.6, "ratio", "metric", "60 %"),
            (0.0, "current", "metric", "0 A"),
            (1800.0, "time", "metric", "30 min"),
            (36000.0, "time", "metric", "10 h"),
            (2.5, "mass", "metric", "2.5 kg"),
        ):
            with self.subTest(text=text):
                self.assertEqual(str(show(value, quantity, system)), text)

    def test_a_window_keeps_to_one_unit(self) -> None:
        self.assertEqual(str(show(1800, "time", digits=2, like=36000)), "0.5 h")

    def test_what_is_shown_reads_back(self) -> None:
        for system in ("metric", "us", "imperial"):
            for quantity in ("length", "volume", "mass", "temperature", "wire", "distance", "room"):
                with self.subTest(system=system, quantity=quantity):
                    value = 0.375 if quantity != "wire" else 2.081e-6
                    text = str(show(value, quantity, system, 6))
                    back = parse(text.replace("³", "3").replace("²", "2"), quantity, system)
                    self.assertAlmostEqual(back / value, 1.0, places=3)
