"""Which samples are believed, what stands apart, and what is never averaged."""

import math
import random
import unittest
from dataclasses import replace

from tests.core.run.test_run import BASIS
from yellowbath.core.run.interlocks import Guard, GuardStanding, Interlocks, Trip
from yellowbath.core.run.samples import Sample, Watch, able, rolled, why_said

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
            (row(1, math.inf), "beyond"),
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
        self.assertEqual(whys, ["", "", "leapt", ""])

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


BATH = replace(BASIS, rated_a=6.0, fuse_a=10.0, open_v=15.0, limit_c=50.0, bath_ohm=3.0)


def comes_to(
    rows: list[Sample], chosen: Interlocks | None = None, done: float = 0.0
) -> Trip | None:
    """What a stream comes to with its last sample."""
    watch, guard, found = Watch(), Guard(), None
    for s in rows:
        why = watch.judge(s, able(BATH, 0, 10_000_000))
        found = guard.judge(s, why, GuardStanding(BATH, done), chosen or Interlocks())
    return found


class Locked(unittest.TestCase):
    def test_one_sample_alone_trips_nothing(self) -> None:
        self.assertIsNone(comes_to([row(0), row(1, 25.0), row(2)]))
        self.assertIsNone(comes_to([row(0, None, None, None), row(5, None, None, None)]))

    def test_every_figure_that_no_mean_may_hold_is_a_danger(self) -> None:
        """What was typed of the supply, its limit or the bath does not make it less of one."""
        for figures, key in (
            ((19.0, None, 20.0), "over_rating"), ((25.0, 1.0, 20.0), "touch"),
            ((-4.6, 9.0, 20.0), "backwards"), ((-25.0, 9.0, 20.0), "over_rating"),
            ((math.inf, 9.0, 20.0), "beyond"), ((2.0, 60.0, 20.0), "wet_volts"),
            ((2.0, 25.0, 20.0), "over_volts"), ((2.0, -9.0, 20.0), "touch"),
            ((None, None, 75.0), "bath_hot"),
        ):  # fmt: skip
            with self.subTest(figures):
                found = comes_to([row(k, *figures) for k in range(4)])
                assert found is not None and found.danger is not None
                self.assertEqual((found.danger.key, found.acts), (key, True))
                self.assertTrue(found.reason)
                quiet = Interlocks(touch=False, danger=False)
                told = comes_to([row(k, *figures) for k in range(4)], quiet)
                assert told is not None, "told, whatever was chosen"
                self.assertFalse(told.acts)

    def test_a_probe_lifted_out_is_given_longer_and_a_hung_meter_is_told(self) -> None:
        rows = [row(0), *(row(k, warm=140.0 + 0.01 * k) for k in range(1, 30))]
        self.assertIsNone(comes_to(rows[:15]))
        self.assertIsNotNone(comes_to(rows))
        found = comes_to([row(k, 2.0017) for k in range(310)])
        assert found is not None and found.danger is not None
        self.assertEqual((found.danger.key, found.acts), ("frozen", False))

    def test_a_supply_that_holds_its_current_shows_few_volts_and_is_sound(self) -> None:
        """1.5 A at 7.6 V of 30 V set is what this bath takes; 2.5 A at 0.9 V is a touch."""
        self.assertIsNone(comes_to([row(k, 1.5, 7.6) for k in range(200)]))
        found = comes_to([row(k, 2.5, 0.9) for k in range(4)])
        assert found is not None
        self.assertEqual(found.which, "touch")

    def test_what_was_chosen_is_named_in_the_persons_units(self) -> None:
        found = comes_to([row(k, 4.0) for k in range(4)], Interlocks(over_amps_a=3.0))
        assert found is not None
        self.assertEqual((found.which, found.acts), ("over_amps", True))
        warm = comes_to([row(k, warm=45.0) for k in range(4)], Interlocks(over_warm_c=40.0))
        assert warm is not None
        self.assertEqual(warm.which, "over_warm")
        dose = comes_to([row(0)], Interlocks(dose=True), 1.0)
        assert dose is not None
        self.assertEqual(dose.which, "dose")


if __name__ == "__main__":
    unittest.main()
