"""Who gets in: by which name, from which page, with what body, with which passcode."""

import re
import stat
import subprocess
import sys
import unittest
from pathlib import Path
from typing import Any
from unittest.mock import patch

from fastapi.testclient import TestClient

from tests.server import described
from tests.shops import QUIET, ShopCase
from yellowbath.api.app import make_app
from yellowbath.api.gate import FILE_MOST, HEADERS, JSON_MOST, Gate
from yellowbath.api.session import COOKIE, Sessions, keep, kept

HERE = "http://127.0.0.1"


class GateCase(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.http = self.client()

    def client(self, base: str = HERE, **more: Any) -> TestClient:
        return TestClient(make_app(self.shop, **more), base_url=base)

    def post(self, path: str = "/api/plans", **more: Any) -> Any:
        return self.http.post(path, **{"json": {"document": QUIET}, **more})


class Names(GateCase):
    def test_only_addresses_localhost_and_given_names_are_answered(self) -> None:
        http = self.client(names=["shed.local"])
        for host, status in (
            ("127.0.0.1:8650", 200), ("localhost:8650", 200), ("[::1]:8650", 200),
            ("192.168.1.20:8650", 200), ("shed.local:8650", 200), ("SHED.local.", 200),
            ("rebound.example", 421), ("127.0.0.1.nip.example", 421), ("", 421),
            ("[", 421), ("[::1", 421), ("a b", 421),
            ("localhost.example", 421), ("shed.local@evil.example", 421),
        ):  # fmt: skip
            with self.subTest(host):
                got = http.get("/api/plans", headers={"host": host})
                self.assertEqual(got.status_code, status)
                self.assertEqual(http.get("/", headers={"host": host}).status_code == 421,
                                 status == 421)  # fmt: skip


class Pages(GateCase):
    def test_a_foreign_page_changes_nothing(self) -> None:
        for headers, status in (
            ({}, 201), ({"origin": HERE}, 201), ({"sec-fetch-site": "same-origin"}, 201),
            ({"origin": "http://evil.example"}, 403), ({"origin": "null"}, 403),
            ({"origin": "http://["}, 403), ({"origin": ""}, 403),
            ({"origin": "http://127.0.0.1:9999"}, 403), ({"sec-fetch-site": "cross-site"}, 403),
            ({"origin": HERE, "sec-fetch-site": "same-site"}, 403),
        ):  # fmt: skip
            with self.subTest(headers=headers):
                self.assertEqual(self.post(headers=headers).status_code, status)

    def test_every_route_that_takes_a_body_takes_its_own_kind_only(self) -> None:
        """Walked from the API's own description; a form's kinds need no leave to be sent."""
        api = described()
        walked = 0
        for path, methods in api["paths"].items():
            for verb in set(methods) & {"post", "put", "delete", "patch"}:
                url = path.replace("{", "").replace("}", "")
                for kind in ("text/plain", "application/x-www-form-urlencoded",
                             "multipart/form-data; boundary=x", "application/xml"):  # fmt: skip
                    got = self.http.request(
                        verb, url, content=b"{}", headers={"content-type": kind}
                    )
                    self.assertEqual(got.status_code, 415, f"{verb} {path} {kind}")
                    walked += 1
                got = self.http.request(verb, url, content=b"{}")
                self.assertEqual(got.status_code, 415, f"{verb} {path} without a kind")
        self.assertGreater(walked, 60)

    def test_the_kinds_taken_are_those_of_the_api_s_own_description(self) -> None:
        api = make_app(None)
        described = {
            (re.sub(r"\{\w+\}", "x", path), verb.upper()): frozenset(
                operation["requestBody"]["content"]
            )
            for path, methods in api.openapi()["paths"].items()
            for verb, operation in methods.items() if "requestBody" in operation
        }  # fmt: skip
        gate = Gate(api, api)
        self.assertEqual({key: gate._declared(key[1], key[0]) for key in described}, described)
        self.assertEqual(len(gate._bodies), len(described))

    def test_too_large_is_said_by_its_head_and_by_what_comes(self) -> None:
        head = self.post(content=b"x", headers={"content-type": "application/json",
                                                "content-length": str(JSON_MOST + 1)})  # fmt: skip
        self.assertEqual(head.status_code, 413)

        def endless() -> Any:
            for _ in range(8):
                yield b" " * 1_000_000

        got = self.post(content=endless(), json=None, headers={"content-type": "application/json"})
        self.assertEqual(got.status_code, 413)
        self.assertIn("4 MB", got.json()["detail"])
        self.assertGreater(FILE_MOST, JSON_MOST)

    def test_every_answer_carries_the_headers(self) -> None:
        answers = [
            self.http.get("/"), self.http.get("/api/plans"), self.http.get("/api/nothing"),
            self.post(), self.post(headers={"origin": "null"}), self.post(json={"document": 3}),
            self.http.get("/assets/none.js"),
        ]  # fmt: skip
        for got in answers:
            for name, value in HEADERS.items():
                self.assertEqual(got.headers.get(name), value, f"{got.url} {got.status_code}")
            if got.url.path.startswith("/api/"):
                self.assertEqual(got.headers.get_list("cache-control"), ["no-store"])
        policy = HEADERS["Content-Security-Policy"]
        self.assertNotIn("script-src 'self' 'unsafe", policy)
        self.assertIn("frame-ancestors 'none'", policy)

    def test_what_was_not_foreseen_tells_nothing_of_the_inside(self) -> None:
        http = TestClient(make_app(self.shop), base_url=HERE, raise_server_exceptions=False)
        with patch(
            "yellowbath.workflows.plans.plans.list_plans", side_effect=KeyError("the inside")
        ):
            got = http.get("/api/plans")
        self.assertEqual((got.status_code, got.json()["type"]), (500, "urn:yellowbath:unforeseen"))
        self.assertNotIn("inside", got.text)
        self.assertEqual(got.headers["x-content-type-options"], "nosniff")


class Passcodes(GateCase):
    def setUp(self) -> None:
        super().setUp()
        self.folder = self.file.parent
        self.seconds = 1000.0
        made = keep(self.folder, "rusty gate")
        self.sessions = Sessions(made, lambda: self.seconds)
        self.http = self.client(sessions=self.sessions)

    def enter(self, passcode: str) -> Any:
        return self.http.post("/api/session", json={"passcode": passcode})

    def test_nothing_of_the_shop_is_told_without_it(self) -> None:
        api = described()
        for path, methods in api["paths"].items():
            for verb in methods:
                if path.startswith(("/api/session", "/api/words")):
                    continue
                got = self.http.request(verb, path)
                self.assertEqual(got.status_code, 401, f"{verb} {path}")
                self.assertEqual(got.json()["type"], "urn:yellowbath:passcode")
        self.assertIn(self.http.get("/").status_code, (200, 503))

    def test_the_right_one_lets_in_until_another_is_set(self) -> None:
        self.assertEqual(self.enter("wrong one").status_code, 401)
        got = self.enter("rusty gate")
        self.assertEqual(got.json(), {"asked": True, "given": True})
        cookie = got.headers["set-cookie"].lower()
        for word in ("httponly", "samesite=strict"):
            self.assertIn(word, cookie)
        self.assertEqual(self.http.get("/api/plans").status_code, 200)
        again = self.client(sessions=Sessions(keep(self.folder, "another one"), lambda: 0.0))
        again.cookies.set(COOKIE, self.http.cookies[COOKIE])
        self.assertEqual(again.get("/api/plans").status_code, 401)

    def test_a_forged_cookie_does_not(self) -> None:
        self.enter("rusty gate")
        good = self.http.cookies[COOKIE]
        for bad in ("", "x", "[;=", good[:-2], good + "x", good.replace(good[0], "A", 1) + "="):
            http = self.client(sessions=self.sessions)
            http.cookies.set(COOKIE, bad)
            self.assertEqual(http.get("/api/plans").status_code, 401, bad)

    def test_tries_are_counted_and_then_wait(self) -> None:
        for _ in range(5):
            self.assertEqual(self.enter("guess").status_code, 401)
        got = self.enter("rusty gate")
        self.assertEqual(got.status_code, 429)
        self.assertGreater(int(got.headers["retry-after"]), 0)
        self.seconds += 61
        self.assertEqual(self.enter("rusty gate").status_code, 200)

    def test_it_is_kept_as_a_hash_for_its_owner_only(self) -> None:
        path = self.folder / "passcode.json"
        self.assertNotIn("rusty", path.read_text())
        self.assertIn("$argon2id$", path.read_text())
        self.assertEqual(stat.S_IMODE(path.stat().st_mode), 0o600)
        self.assertIsNotNone(kept(self.folder))
        with self.assertRaises(ValueError):
            keep(self.folder, "short")


class Served(unittest.TestCase):
    def test_beyond_this_computer_it_does_not_start_without_a_passcode(self) -> None:
        import tempfile

        with tempfile.TemporaryDirectory() as folder:
            got = subprocess.run(
                [sys.executable, "-m", "yellowbath.cli", "serve", "--host", "0.0.0.0",
                 "--data", str(Path(folder) / "shop")],
                capture_output=True, text=True, stdin=subprocess.DEVNULL, timeout=60, check=False,
            )  # fmt: skip
        self.assertEqual(got.returncode, 2)
        self.assertIn("needs a passcode", got.stderr)
        self.assertIn("yellowbath passcode", got.stderr)
