"""The built page over the wire: packed, kept for good by its name, and what is not."""

import gzip
import json
import tempfile
from pathlib import Path

import brotli
from fastapi.testclient import TestClient

from tests.shops import QUIET, ShopCase
from yellowbath.api.app import make_app

HERE = "http://127.0.0.1"
SCRIPT = b"export const much = 1;\n" * 200


class Files(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        web = Path(folder.name)
        (web / "assets").mkdir()
        (web / "index.html").write_text("<title>Yellow Bath</title>", "utf-8")
        (web / "first.js").write_bytes(SCRIPT)
        for name, data in (
            ("a-1.js", SCRIPT), ("a-1.js.br", brotli.compress(SCRIPT)),
            ("a-1.js.gz", gzip.compress(SCRIPT)), ("f-2.woff2", b"a font"),
        ):  # fmt: skip
            (web / "assets" / name).write_bytes(data)
        self.http = TestClient(make_app(self.shop, web=web), base_url=HERE)

    def asked(self, path: str, coding: str) -> tuple[bytes, str, str]:
        """The bytes as they came, their coding and their kind."""
        with self.http.stream("GET", path, headers={"accept-encoding": coding}) as got:
            self.assertEqual(got.status_code, 200, path)
            raw = b"".join(got.iter_raw())
            kind = got.headers["content-type"].partition(";")[0]
            return raw, got.headers.get("content-encoding", ""), kind

    def test_a_script_comes_in_the_smallest_way_that_is_taken(self) -> None:
        unpacked = {"br": brotli.decompress, "gzip": gzip.decompress, "": bytes}
        for coding, told in (
            ("gzip, deflate, br", "br"), ("gzip;q=1.0", "gzip"),
            ("br;q=0, identity", ""), ("identity", ""), ("", ""),
        ):  # fmt: skip
            with self.subTest(coding):
                raw, *how = self.asked("/assets/a-1.js", coding)
                self.assertEqual(how, [told, "text/javascript"])
                self.assertEqual(unpacked[told](raw), SCRIPT)
        self.assertEqual(self.asked("/assets/f-2.woff2", "br"), (b"a font", "", "font/woff2"))

    def test_what_is_named_by_its_content_is_kept_for_good_and_nothing_else(self) -> None:
        kept = self.http.get("/assets/a-1.js").headers
        self.assertIn("immutable", kept["cache-control"])
        self.assertEqual(kept["vary"].lower(), "accept-encoding")
        self.assertEqual(self.http.get("/book").headers["cache-control"], "no-cache")
        beside = [self.http.get(f"/first.js{v}").headers for v in ("?v=1", "")]
        self.assertEqual(["immutable" in b.get("cache-control", "") for b in beside], [True, False])
        gone = self.http.get("/assets/a-0.js")
        self.assertEqual(gone.status_code, 404)
        self.assertNotIn("immutable", gone.headers.get("cache-control", ""))

    def test_answers_are_packed_on_the_way_and_figures_are_kept_by_no_browser(self) -> None:
        plan = self.http.post("/api/plans", json={"document": QUIET}).json()["id"]
        raw, told, _ = self.asked(f"/api/plans/{plan}", "gzip, br")
        self.assertEqual(told, "gzip")
        whole = gzip.decompress(raw)
        self.assertEqual(json.loads(whole)["id"], plan)
        self.assertLess(len(raw), len(whole) / 3)
        kept = self.http.get(f"/api/plans/{plan}").headers
        self.assertEqual(kept["cache-control"], "no-store")
