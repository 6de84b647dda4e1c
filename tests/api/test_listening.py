"""Samples over the API: pushed, brought as a file, drawn, told live, given away."""

import json
import math
import unittest
from datetime import datetime, timedelta
from typing import Any

import numpy as np

from tests.api.test_api import ApiCase
from tests.shops import START
from yellowbath.core.run.samples import Sample
from yellowbath.workflows.line.samples import drawn, ms_of, take, thinned


class Listening(ApiCase):
    def setUp(self) -> None:
        super().setUp()
        self.run_id = self.running()
        self.where = f"/api/runs/{self.run_id}"
        self.clock.to(600)
        made = self.http.post(f"{self.where}/link/token")
        self.assertEqual(made.status_code, 200, made.text)
        self.token = {"Authorization": f"Bearer {made.json()['token']}"}

    def push(self, samples: list[dict[str, Any]], **headers: str) -> Any:
        body = {"samples": samples}
        return self.http.post(f"{self.where}/samples", json=body, headers={**self.token, **headers})

    def at(self, seconds: float) -> str:
        return (START + timedelta(minutes=2, seconds=seconds)).isoformat()

    def test_pushed_once_kept_once_and_what_differs_is_told(self) -> None:
        batch = [{"at": self.at(k), "amps": 2 + k / 100, "volts": 11.9} for k in range(5)]
        first = self.push(batch).json()
        self.assertEqual((first["taken"], first["known"], first["clashed"]), (5, 0, 0))
        again = self.push([*batch, {**batch[0], "amps": 3.0}]).json()
        self.assertEqual((again["taken"], again["known"], again["clashed"]), (0, 5, 1))

    def test_only_under_the_runs_own_token(self) -> None:
        other = self.running()
        body = {"samples": [{"at": self.at(0), "amps": 2.0}]}
        for path, headers in (
            (f"{self.where}/samples", {}),
            (f"{self.where}/samples", {"Authorization": "Bearer nonsense"}),
            (f"/api/runs/{other}/samples", self.token),
        ):
            self.assertEqual(self.http.post(path, json=body, headers=headers).status_code, 404)
        old = dict(self.token)
        self.http.post(f"{self.where}/link/token")
        refused = self.http.post(f"{self.where}/samples", json=body, headers=old)
        self.assertEqual(refused.status_code, 404)

    def test_lines_of_csv_and_the_line_that_cannot_be_read(self) -> None:
        headers = {**self.token, "Content-Type": "text/csv"}
        good = f"time,amps,volts,bath\n{self.at(0)},2.1,11.9,19.5\n{ms_of(START) + 130_000},2.2,,\n"
        answer = self.http.post(f"{self.where}/samples", content=good, headers=headers)
        self.assertEqual(answer.json()["taken"], 2, answer.text)
        for line in (
            "2026-03-01T18:03:00,2", "yesterday,2", f"{self.at(5)},two", f"{self.at(5)},nan",
            "9999-12-31T23:59:59-14:00,2",
        ):  # fmt: skip
            answer = self.http.post(
                f"{self.where}/samples", content=f"{self.at(9)},2.0\n{line}\n", headers=headers
            )
            self.assertEqual(answer.status_code, 422)
            self.assertIn("Line 2", answer.json()["detail"])
            self.assertIn("allowed", answer.json())
        self.assertEqual(self.http.get(f"{self.where}/samples").json()["count"], 2)

    def test_a_time_off_the_calendar_is_said_at_every_door(self) -> None:
        edge = "9999-12-31T23:59:59-14:00"
        line = {"client_id": "edge-of-time", "at": edge, "detail": {"kind": "remark", "text": "x"}}
        good = {**line, "at": self.at(0)}
        for answer in (
            self.http.post(f"{self.where}/entries", json=line),
            self.http.post(f"{self.where}/entries", json=good, headers={"Device-Now": edge}),
            self.push([{"at": edge, "amps": 2.0}]),
            self.http.get(f"{self.where}/samples", params={"first": edge}),
        ):
            self.assertEqual(answer.status_code, 422, answer.text)
            self.assertIn("2200", answer.text)

    def test_a_figure_that_no_bath_has_is_told_as_danger(self) -> None:
        for field, value in (("current_a", 250), ("supply_v", 240), ("bath_c", 130)):
            body = {"client_id": f"danger-{field}", "at": self.at(0),
                    "detail": {"kind": "reading", field: value}}  # fmt: skip
            answer = self.http.post(f"{self.where}/entries", json=body)
            self.assertEqual(answer.status_code, 422)
            self.assertIn("pull the plug at the wall now", answer.json()["title"])

    def test_a_loggers_clock_is_told_by_the_shops(self) -> None:
        """A logger an hour ahead, which says what it takes the time to be."""
        ahead = self.clock.at + timedelta(hours=1)
        self.push([{"at": ahead.isoformat(), "amps": 2.0}], **{"Device-Now": ahead.isoformat()})
        found = self.http.get(f"{self.where}/samples").json()
        self.assertEqual(datetime.fromisoformat(found["last"]), self.clock.at)

    def test_what_stands_apart_is_told_and_not_drawn(self) -> None:
        told = self.push([
            {"at": self.at(0), "amps": 2.0}, {"at": self.at(1), "amps": -2.0},
            {"at": self.at(-300), "amps": 2.0}, {"at": self.at(2), "amps": 2.1},
        ]).json()  # fmt: skip
        self.assertEqual({a["why"]: a["count"] for a in told["apart"]}, {"reversed": 1, "early": 1})
        self.assertTrue(all(a["what"] and a["mend"] for a in told["apart"]))
        found = self.http.get(f"{self.where}/samples").json()
        amps = next(s for s in found["series"] if s["key"] == "amps")
        self.assertEqual((amps["values"], found["apart"]), ([2.0, 2.1], 2))
        text = self.http.get(f"{self.where}/samples.csv").text
        self.assertEqual(text.splitlines()[0], "time,amps,volts,bath_c,apart")
        self.assertEqual(sum(line.endswith(",reversed") for line in text.splitlines()), 1)

    def test_every_channel_is_drawn_against_what_is_expected_of_it(self) -> None:
        """Each by the plan, in the shop's units, and not moved by what is read."""
        of = self.http.get(self.where).json()["plan_id"]
        plan = self.http.get(f"/api/plans/{of}").json()["read"]["answer"]["figures"]
        self.push([{"at": self.at(0), "amps": 0.1, "volts": 3.0, "bath_c": 60.0}])
        drawn = self.http.get(f"{self.where}/samples").json()["series"]
        found = {s["key"]: (s["low"], s["high"]) for s in drawn}
        self.assertEqual(set(found), {"amps", "volts", "bath_c"})
        gives, hottest = plan["amps.gives"], plan["bath.hottest"]
        self.assertAlmostEqual(found["amps"][0], gives["low"], places=3)
        self.assertAlmostEqual(found["amps"][1], gives["high"], places=3)
        self.assertAlmostEqual(found["bath_c"][1], hottest["high"], places=3)
        for key, read in (("amps", 0.1), ("volts", 3.0), ("bath_c", 60.0)):
            low, high = found[key]
            self.assertLess(low, high)
            self.assertFalse(low <= read <= high, key)

    def test_a_gap_is_a_gap(self) -> None:
        self.push([{"at": self.at(k), "amps": 2.0} for k in (0, 1, 2, 60, 61)])
        found = self.http.get(f"{self.where}/samples").json()
        amps = next(s for s in found["series"] if s["key"] == "amps")
        self.assertEqual(amps["values"], [2.0, 2.0, 2.0, None, 2.0, 2.0])

    def test_a_meters_file_is_looked_into_and_brought(self) -> None:
        """A German meter's: semicolons, decimal commas, milliamps, no zone."""
        rows = "\n".join(f"01.03.2026 19:0{k}:00;21{k}0,5;11,9;OL" for k in range(2, 6))
        file = f"Gerät 7\nDatum/Time;Strom (mA);Volt (V);Temp (°C)\n{rows}\nkaputt;;;\n".encode()
        headers = {"Content-Type": "application/octet-stream"}
        seen = self.http.post("/api/meter-file", content=file, headers=headers).json()
        self.assertEqual([c["guess"] for c in seen["columns"]], ["time", "amps", "volts", "bath"])
        where = f"{self.where}/samples/file?time=0&amps=1&volts=2&bath=3&zone_min=60"
        made = self.http.post(where, content=file, headers=headers).json()
        self.assertEqual((made["rows"], made["unread"], made["taken"]["taken"]), (4, 1, 4))
        self.assertIn("kaputt", made["first_unread"])
        found = self.http.get(f"{self.where}/samples").json()
        amps = next(s for s in found["series"] if s["key"] == "amps")
        self.assertEqual(amps["values"][0], 2.1205)
        self.assertEqual(datetime.fromisoformat(found["first"]), START + timedelta(minutes=2))
        for data in (b"", b"\x89PNG\r\n\x1a\n\x00\x00\x00\r", b"hello\nworld\n", b"1,2;" * 40_000):
            refused = self.http.post("/api/meter-file", content=data, headers=headers)
            self.assertEqual(refused.status_code, 422, data)

    def test_elapsed_times_count_from_a_start_that_is_said(self) -> None:
        file = b"s,A\n0,2.0\n1,2.1\n90.5,2.2\n"
        headers = {"Content-Type": "application/octet-stream"}
        self.assertTrue(
            self.http.post("/api/meter-file", content=file, headers=headers).json()["elapsed"]
        )
        start = (START + timedelta(minutes=2)).isoformat().replace("+00:00", "Z")
        where = f"{self.where}/samples/file?time=0&amps=1&start={start}"
        self.assertEqual(
            self.http.post(where, content=file, headers=headers).json()["taken"]["taken"], 3
        )
        last = self.http.get(f"{self.where}/samples").json()["last"]
        self.assertEqual(
            datetime.fromisoformat(last), START + timedelta(minutes=2, seconds=90, milliseconds=500)
        )


class Drawing(ApiCase):
    def test_thinning_keeps_the_extremes_and_every_gap(self) -> None:
        """Spikes of one sample each, anywhere in two days; against the whole."""
        rng = np.random.default_rng(7)
        at = np.arange(0, 172_800_000, 1000, dtype=np.int64)
        at = np.delete(at, slice(50_000, 50_100))
        values = 3 + 0.01 * rng.standard_normal(len(at))
        spikes = rng.choice(len(at), 12, replace=False)
        values[spikes] += np.where(rng.random(12) < 0.5, 9.0, -9.0)
        found = thinned(at, values, 800, 5500)
        told = [v for v in found.values if v is not None]
        self.assertLessEqual(len(told), 810)
        self.assertEqual((min(told), max(told)),
                         (float(f"{values.min():.5g}"), float(f"{values.max():.5g}")))  # fmt: skip
        self.assertEqual(found.values.count(None), 1)
        hole = list(found.values).index(None)
        self.assertTrue(49_999_000 <= found.at_ms[hole] <= 50_101_000)
        self.assertEqual(list(found.at_ms), sorted(found.at_ms))

    def test_every_roll_up_says_what_the_samples_say(self) -> None:
        """Independent recomputation: least and most of a day by numpy, by minutes and by tens."""
        run_id = self.running()
        self.clock.to(60 * 30)
        rng, start = np.random.default_rng(3), ms_of(START) + 120_000
        amps = 2 + 0.1 * rng.standard_normal(7200)
        rows = [Sample(start + 1000 * k, float(a)) for k, a in enumerate(amps)]
        for k in range(0, len(rows), 900):
            take(self.shop, run_id, rows[k : k + 900])
        for points, width in ((100, 60), (600, 10), (4000, 0)):
            found = drawn(self.shop, run_id, None, None, points)
            self.assertEqual(found.width_s, width)
            told = [v for v in found.series["amps"].values if v is not None]
            self.assertAlmostEqual(min(told), amps.min(), places=4)
            self.assertAlmostEqual(max(told), amps.max(), places=4)
            self.assertFalse(any(map(math.isnan, told)))
            self.assertEqual(found.count, 7200)

    def test_live_goes_on_after_the_last_that_came(self) -> None:
        run_id = self.running()
        self.clock.to(10)
        start = ms_of(START) + 120_000
        take(self.shop, run_id, [Sample(start + 1000 * k, 2.0 + k) for k in range(4)])
        headers = {"Last-Event-ID": str(start + 1000)}
        with self.http.stream("GET", f"/api/runs/{run_id}/live", headers=headers) as answer:
            self.assertEqual(answer.headers["content-type"].partition(";")[0], "text/event-stream")
            for line in answer.iter_lines():
                if line.startswith("id: "):
                    self.assertEqual(line, f"id: {start + 3000}", "and after that once more")
                if line.startswith("data: ["):
                    told = json.loads(line.removeprefix("data: "))
                    break
        self.assertEqual([s["amps"] for s in told], [4.0, 5.0])
        self.assertEqual(self.http.get("/api/runs/nope/live").status_code, 404)


if __name__ == "__main__":
    unittest.main()
