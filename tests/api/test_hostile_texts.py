"""Hostile texts, in everything that a person types and the shop keeps: told again as they were
typed, or refused in words; never a fault of ours."""

from typing import Any

from tests.api.test_api import ApiCase
from tests.shops import QUIET

TEXTS = (
    "'; DROP TABLE plans; --", "<script>alert(1)</script>", "%s %n {0} {name} ${x}", "..\\..\\etc",
    "../../etc/passwd", "\u202eright to left\u202c", "Zo\u0308e\u0301", "e\u0301" * 40,
    "\U0001f469\u200d\U0001f527" * 12, "\x00nul", "\x1b[31mred", "\r\nSet-Cookie: a=b",
    "\ufeffmark", "\u2028line", "null", "NaN", "-0", "1e309", "\uff19\uff19 mm",
    "\u0966.\u096b", "=1+1", "@sum", " ", "\t", "x" * 199, "\U0001d50a" * 60,
)  # fmt: skip
LONG = ("x" * 100_000, "ß" * 50_000)


class Texts(ApiCase):
    def sent(self, path: str, body: Any, method: str = "POST") -> Any:
        got = self.http.request(method, f"/api{path}", json=body)
        self.assertLess(got.status_code, 500, got.text[:500])
        if got.status_code >= 400:
            problem = got.json()
            self.assertTrue(problem["detail"])
            self.assertLess(len(got.content), 30_000)
            return None
        return got.json()

    def test_what_is_typed_is_told_again_or_refused(self) -> None:
        run = self.start(QUIET)
        entries = f"/runs/{run['id']}/entries"
        kept = 0
        for k, text in enumerate((*TEXTS, *LONG)):
            with self.subTest(text=text[:40]):
                pieces = [{"name": text}]
                plan = self.sent("/plans", {"document": {**QUIET, "pieces": pieces, "notes": text}})
                thing = self.sent("/kit", {"thing": {"name": text[:60], "detail": {"kind": "mix"}}})
                line = self.sent(entries, self.entry(0, "remark", f"remark-{k:04}", text=text))
                if plan:
                    read = self.get(f"/plans/{plan['id']}")["read"]["document"]
                    self.assertEqual((read["pieces"][0]["name"], read["notes"]), (text, text))
                    listed = self.http.get("/api/plans", params={"find": text[:200]})
                    self.assertEqual(listed.status_code, 200)
                    if text.strip():
                        self.assertIn(plan["id"], {p["id"] for p in listed.json()["items"]})
                    file = self.http.get(f"/api/plans/{plan['id']}/stored")
                    self.assertEqual(file.json()["notes"], text)
                    kept += 1
                if thing:
                    self.assertEqual(thing["read"]["thing"]["name"], text[:60])
                if line:
                    self.assertEqual(line["log"][0]["detail"]["text"], text)
                self.assertEqual(plan is None, text in LONG)
        self.assertEqual(kept, len(TEXTS))

    def test_typed_into_a_field_of_numbers_each_is_a_fault_beside_it(self) -> None:
        at = "/pieces/0/shape/length_m"
        for text in (*TEXTS, "9" * 150, "1" + "0" * 30, "1e-7 mm", "∞", "-5 cm", "0x10", "1,2,3"):
            with self.subTest(text=text[:40]):
                read = self.sent("/plans/answer", {"document": {**QUIET, "typed": {at: text}}})
                assert read is not None
                self.assertEqual(read["shown"][at], text)
                if at not in read["faults"]:
                    self.assertGreater(read["document"]["pieces"][0]["shape"]["length_m"], 0)

    def test_pointers_that_name_nothing_are_no_fault(self) -> None:
        for at in (
            "", "/", "//", "#", "/pieces", "/pieces/99/shape/length_m", "/pieces/-1/mass_kg",
            "/pieces/0/shape/length_m/", "/__class__", "/typed/x", "/~1~0", "/pieces/0/x" * 9,
        ):  # fmt: skip
            with self.subTest(at):
                read = self.sent("/plans/answer", {"document": {**QUIET, "typed": {at: "5 mm"}}})
                self.assertTrue(read and read["answer"])
