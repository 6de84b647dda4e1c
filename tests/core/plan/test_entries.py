"""Reading a document: typed texts, faults beside their fields, what is kept."""

import unittest

from yellowbath.core.document import SCHEMA_VERSION, Plan
from yellowbath.core.errors import InvalidDocumentError
from yellowbath.core.plan.reading.entries import locate, read_plan, texts

LENGTH = "/pieces/0/shape/length_m"


class Reading(unittest.TestCase):
    def test_an_empty_document_is_a_whole_plan(self) -> None:
        read = read_plan({})
        self.assertEqual(read.faults, {})
        self.assertEqual(read.plan.schema_version, SCHEMA_VERSION)
        self.assertEqual(read.plan.pieces[0].regions[0].id, "p1.front")
        self.assertEqual([a.id for a in read.plan.anodes], ["a1", "a2"])

    def test_typed_text_goes_into_its_field_and_stays_as_typed(self) -> None:
        read = read_plan({"typed": {LENGTH: "8 in", "/supply/lead_area_m2": "14 AWG"}})
        self.assertAlmostEqual(read.plan.pieces[0].shape.length_m, 0.2032)
        self.assertAlmostEqual(read.plan.supply.lead_area_m2 * 1e6, 2.081, places=3)
        self.assertEqual(read.shown[LENGTH], "8 in")
        self.assertEqual(read.plan.typed[LENGTH], "8 in")

    def test_half_typed_text_is_kept_and_the_last_good_value_stands(self) -> None:
        read = read_plan({"typed": {LENGTH: "8 i"}})
        self.assertIn("cannot be read as a length", read.faults[LENGTH])
        self.assertEqual(read.plan.pieces[0].shape.length_m, 0.2)
        self.assertEqual(read.plan.typed[LENGTH], "8 i")
        self.assertEqual(read.shown[LENGTH], "8 i")

    def test_out_of_range_says_what_is_allowed_in_the_persons_unit(self) -> None:
        for system, text, allowed in (
            ("metric", "9 m", "5 mm to 4000 mm"),
            ("us", "0.1 in", "0.197 in to 157 in"),
        ):
            with self.subTest(system):
                fault = read_plan({"system": system, "typed": {LENGTH: text}}).faults[LENGTH]
                self.assertIn(allowed, fault)
                self.assertIn("Length", fault)

    def test_whole_numbers_only_where_things_are_counted(self) -> None:
        read = read_plan({"layout": {"arrangement": "ring"}, "typed": {"/layout/count": "5.5"}})
        self.assertIn("whole numbers", read.faults["/layout/count"])

    def test_an_optional_field_may_be_emptied(self) -> None:
        read = read_plan({"tank": {"water_m3": 0.01}, "typed": {"/tank/water_m3": " "}})
        self.assertIsNone(read.plan.tank.water_m3)
        self.assertEqual(read.faults, {})

    def test_texts_of_fields_that_are_gone_are_dropped(self) -> None:
        read = read_plan(
            {
                "pieces": [{"shape": {"kind": "bar"}}],
                "typed": {"/pieces/0/shape/thickness_m": "3 mm", "/pieces/7/shape/length_m": "1"},
            }
        )
        self.assertEqual(read.plan.typed, {})

    def test_impossible_together(self) -> None:
        tube = {"pieces": [{"shape": {"kind": "tube"}}]}
        bore = "/pieces/0/shape/inner_diameter_m"
        read = read_plan({**tube, "typed": {bore: "70 mm"}})
        self.assertIn("smaller than the outside", read.faults[bore])
        shape = read.plan.pieces[0].shape
        assert shape.kind == "tube"
        self.assertEqual(shape.inner_diameter_m, 0.05)

    def test_marks_must_rise(self) -> None:
        marks = [{"height_m": 0.1, "volume_m3": 0.005}, {"height_m": 0.2, "volume_m3": 0.01}]
        read = read_plan({"tank": {"marks": marks}, "typed": {"/tank/marks/1/volume_m3": "4 L"}})
        self.assertIn("/tank/marks/1/height_m", read.faults)

    def test_a_document_that_does_not_fit_is_refused_with_the_place(self) -> None:
        for document, place in (
            ({"mix": {"product": "sugar"}}, "/mix/product"),
            ({"pieces": []}, "/pieces"),
            ({"schema_version": 0}, "/schema_version"),
            ({"surprise": 1}, "/surprise"),
            ({"mix": {"concentration_kg_m3": float("nan")}}, "/mix/concentration_kg_m3"),
            ({"pieces": [{"shape": {"kind": "tube", "inner_diameter_m": 0.9}}]}, "/pieces/0"),
        ):
            with self.subTest(document=document), self.assertRaises(InvalidDocumentError) as caught:
                read_plan(document)
            self.assertTrue(any(p.startswith(place) for p, _ in caught.exception.faults))


class Faults(unittest.TestCase):
    def test_a_fault_stands_where_the_field_does(self) -> None:
        """A kind is no place in the document, though the schema names it on the way."""
        for document, pointer, words in (
            ({"supply": {"kind": "fixed", "rated_a": 0}}, "/supply/rated_a", "0.2"),
            ({"supply": {"rated_a": 0}}, "/supply/rated_a", "0.2"),
            ({"supply": {"kind": "dynamo"}}, "/supply", "allowed: transformer, "),
            ({"supply": []}, "/supply", "kind"),
            ({"pieces": [{"shape": {"kind": "tube", "bore_m": 1}}]}, "/pieces/0/shape/bore_m",
             "not known"),
            ({"tank": {"shape": {"kind": "box", "length_m": -1}}}, "/tank/shape/length_m", "0.03"),
        ):  # fmt: skip
            with self.subTest(document), self.assertRaises(InvalidDocumentError) as caught:
                read_plan(document)
            ((where, what),) = caught.exception.faults
            self.assertEqual(where, pointer)
            self.assertIn(words, what)


class Fields(unittest.TestCase):
    def test_every_shown_text_reads_back_to_its_value(self) -> None:
        """Showing and typing are inverse: retyping every field changes nothing by more than 1 %."""
        for system in ("metric", "us", "imperial"):
            plan = read_plan({"system": system}).plan
            typed = {pointer: text for pointer, text in texts(plan) if text}
            again = read_plan({"system": system, "typed": typed})
            self.assertEqual(again.faults, {})
            for pointer in typed:
                before, after = locate(plan, pointer), locate(again.plan, pointer)
                assert before is not None and after is not None
                a, b = before.get() or 0.0, after.get() or 0.0
                self.assertAlmostEqual(a, b, delta=max(abs(a) * 0.01, 1e-9), msg=pointer)

    def test_every_number_has_a_quantity_a_word_and_a_range(self) -> None:
        plan = read_plan({"tank": {"marks": [{}]}}).plan
        count = 0
        for pointer, _ in texts(plan):
            target = locate(plan, pointer)
            assert target is not None
            low, high = target.range()
            self.assertLess(low, high, pointer)
            self.assertNotEqual(target.called, target.name, f"{pointer} has no word")
            count += 1
        self.assertGreater(count, 25)

    def test_no_float_field_escapes_the_registry(self) -> None:
        """Every numeric leaf of the document is a field with a quantity."""
        plan = read_plan({"tank": {"marks": [{}]}}).plan
        found = set(leaves(plan.model_dump()))
        listed = {pointer for pointer, _ in texts(plan)}
        self.assertEqual(found - listed, {"/schema_version"})

    def test_a_pointer_to_nowhere(self) -> None:
        plan = Plan()
        for pointer in ("/nowhere", "/pieces/9/name", "/pieces/x/shape/length_m", "/name", "/"):
            self.assertIsNone(locate(plan, pointer))


def leaves(node: object, at: str = "") -> list[str]:
    if isinstance(node, dict):
        return [p for k, v in node.items() for p in leaves(v, f"{at}/{k}")]
    if isinstance(node, list):
        return [p for k, v in enumerate(node) for p in leaves(v, f"{at}/{k}")]
    return [at] if isinstance(node, int | float) and not isinstance(node, bool) else []
