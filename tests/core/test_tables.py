"""The tables that are looked up say what was published, worked out by the plan's own functions."""

import unittest

from tests.published import rows
from yellowbath.core.checks.registry import registered
from yellowbath.core.data import table
from yellowbath.core.tables import TableSheet, convert, sheets
from yellowbath.core.units import System


def sheet(key: str, system: System = "metric") -> TableSheet:
    return next(s for s in sheets(system) if s.id == key)


def numbers(cell: str) -> list[float]:
    return [
        float(w.strip("(),")) for w in cell.split() if w.strip("(),").replace(".", "").isdigit()
    ]


class AgainstPrint(unittest.TestCase):
    def test_leads(self) -> None:
        """ASTM B258 and 1/58 micro-ohm metre: mm2, and milliohms a metre are ohms a kilometre."""
        made = {r[0]: r for r in sheet("wires").rows}
        tried = 0
        for row in rows("wire"):
            if row["text"] in made:
                cells = made[row["text"]]
                self.assertAlmostEqual(float(cells[1]) / float(row["mm2"]), 1, delta=0.005)
                self.assertAlmostEqual(float(cells[2]) / float(row["ohm_per_km"]), 1, delta=0.01)
                tried += 1
        self.assertGreaterEqual(tried, 3)

    def test_spoons(self) -> None:
        names = {key: row["name"] for key, row in table("products").items()}
        column = {"teaspoon": 1, "tablespoon": 2, "cup": 3}
        for row in rows("spoons"):
            made = sheet("spoons", row["set"]).rows  # type: ignore[arg-type]
            name = names[row["product"]]
            found = [r for r in made if r[0] in (name, f"{name}, {row['set']} spoons")]
            cell = found[0][column[row["spoon"]]]
            with self.subTest(**row):
                for got, want in zip(numbers(cell), ("grams", "low", "high"), strict=True):
                    self.assertAlmostEqual(got / float(row[want]), 1, delta=0.06)

    def test_rusted_area_by_two_standards(self) -> None:
        made = {(s, r["grade"]): r["upto"] for s, key in (("ASTM D610", "d610"),
                ("ISO 4628-3", "iso4628")) for r in table("rusted")[key]}  # fmt: skip
        for row in rows("grades"):
            with self.subTest(**row):
                got = made[row["system"], row["grade"]]
                self.assertLessEqual(float(row["rusted_percent"]), got)
                self.assertLessEqual(got, float(row["rusted_percent"]) * 1.26)

    def test_relief_bakes(self) -> None:
        made = sheet("relief").rows
        for row in rows("bake"):
            hours = f"{row['hours']} h"
            self.assertTrue(any(r[2] == hours and str(row["low_c"]) in r[1] for r in made))

    def test_gas_and_air_of_ten_amps(self) -> None:
        """0.449 L of hydrogen an ampere-hour at 20 C (Faraday); 0.05 m3/h an ampere (standard)."""
        ten = next(r for r in sheet("gas").rows if r[0] == "10")
        self.assertEqual([float(c) for c in ten[1:4]], [4.49, 2.24, 0.5])


class Words(unittest.TestCase):
    def test_where_people_differ_names_checks_that_there_are(self) -> None:
        for row in table("disagreements")["rows"]:
            self.assertLessEqual({c.partition(":")[0] for c in row["checks"]}, set(registered()))

    def test_a_bare_number_is_no_size_and_a_comma_is_a_point(self) -> None:
        self.assertEqual(convert("12", "metric"), [])
        (found,) = convert("3,5 kg", "metric")
        self.assertIn("3500 g", found.texts)
