"""Which samples are believed, what stands apart, and what is never averaged."""

import math
import random
import unittest
from dataclasses import replace

from tests.core.process.test_run import BASIS
from yellowbath.core.process.interlocks import Interlocks, Standing, tripped
from yellowbath.core.process.samples import Sample, Watch, able, rolled, why_said

CAN = able(replace(BASIS, rated_a=6.0, open_v=15.0), 0, 10_000_000)


def row(seconds: float, amps: float | None = 2.0, volts: float | None = 10.0,
        warm: float | None = 20.0) -> Sample:  # fmt: skip
    return Sample(round(1000 * seconds), amps, volts, warm)


class Judged(unittest.TestCase):
    def test_each_bad_input_has_its_name_and_its_words(self) -> None:
        for s, why in (
            (row(1), ""),
            (row(1, -2.0), "reversed"),
            (row(1, -0.01), ""),  # a clamp's nought
            (row(1, 75.0), "impossible"),
            (row(1, 2.0, 40.0), "impossible"),
            (row(1, 2.0, -11.0), "impossible"),
            (row(1, 2.0, 10.0, 150.0), "impossible"),
            (row(1, math.nan), "impossible"),
            (row(-5), "early"),
            (row(20_000), "late"),
        ):
            with self.subTest(s):
                self.assertEqual(Watch().judge(s, CAN), why)
                if why:
                    self.assertTrue(all(why_said(why)))

    def test_a_touch_is_a_sudden_change_and_is_believed_at_once(self) -> None:
        watch = Watch()
        self.assertEqual([watch.judge(row(k), CAN) for k in range(3)], ["", "", ""])
        self.assertEqual(watch.judge(row(3, 14.0, 0.8), CAN), "")

    def test_75_typed_for_celsius_by_a_logger_in_fahrenheit_is_no_warming(self) -> None:
        watch = Watch()
        whys = [watch.judge(row(k, warm=w), CAN) for k, w in enumerate((20.0, 20.1, 68.2, 20.2))]
        self.assertEqual(whys, ["", "", "impossible", ""])

    def test_a_link_that_lies_is_found_and_one_that_stands_at_nought_is_not(self) -> None:
        noise = random.Random(1)
        alive, frozen, off = Watch(), Watch(), Watch()
        for k in range(1200):
            self.assertEqual(alive.judge(row(k, 2 + 0.001 * noise.random(), 10.02), CAN), "")
            self.assertEqual(off.judge(row(k, 0.0, 12.001), CAN), "")
            self.assertEqual(frozen.judge(row(k, 2.0017), CAN), "frozen" if k > 300 else "")
        self.assertEqual(frozen.judge(row(1201, 2.0018), CAN), "")


class Rolled(unittest.TestCase):
    def test_what_stands_apart_is_counted_and_in_no_mean(self) -> None:
        judged = [(row(0, 2.0), ""), (row(1, 4.0), ""), (row(2, -9.0), "reversed"),
                  (row(3, None), ""), (row(10, 6.0), "")]  # fmt: skip
        made = rolled(judged, 10)
        self.assertEqual(sorted(made), [0, 10_000])
        first = made[0]
        self.assertEqual((first.count, first.apart, first.mean("amps")), (4, 1, 3.0))
        self.assertEqual(first.of["amps"][2:], (2.0, 4.0))
        self.assertIsNone(rolled([(row(0, None), "")], 10)[0].mean("amps"))


class Locked(unittest.TestCase):
    def test_one_sample_alone_trips_nothing_and_the_gravest_is_named(self) -> None:
        chosen = Interlocks(over_amps_a=3.0, over_warm_c=40.0, dose=True)
        stand = Standing(2.0, 5.0, 12.0, 1.0)
        spike = [row(0), row(1, 5.0), row(2)]
        self.assertEqual(tripped(chosen, spike, replace(stand, share_done=0.5)), None)
        grave = [row(k, 4.9, 1.0, 45.0) for k in range(4)]
        found = tripped(chosen, grave, stand)
        assert found is not None
        self.assertEqual(found.which, "touch")
        self.assertIn("4.9 A", found.reason)
        off = Interlocks(touch=False, over_warm_c=40.0)
        found = tripped(off, grave, stand, "us")
        assert found is not None
        self.assertEqual((found.which, "104 °F" in found.reason), ("over_warm", True))
        dose = tripped(Interlocks(dose=True), [row(0)], stand)
        assert dose is not None
        self.assertEqual(dose.which, "dose")
        self.assertIsNone(tripped(Interlocks(touch=False), grave, stand))

    def test_what_was_not_measured_trips_nothing(self) -> None:
        blind = [row(k, None, None, None) for k in range(5)]
        chosen = Interlocks(over_amps_a=0.1, over_warm_c=15.0)
        self.assertIsNone(tripped(chosen, blind, Standing(2.0)))


if __name__ == "__main__":
    unittest.main()
