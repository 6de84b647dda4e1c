"""What a line measured becomes entries where it says something new, and the dose goes by it."""

import unittest

from tests.core.run.test_run import BASIS, START, running
from yellowbath.core.run.charge import charge_ah
from yellowbath.core.run.run import replay
from yellowbath.core.run.spoken import LineHeard, to_say


def row(seconds: int, amps: float | None) -> LineHeard:
    return LineHeard(1000 * seconds, amps)


class Said(unittest.TestCase):
    def test_the_first_every_change_and_now_and_then(self) -> None:
        amps = [2.0] * 100 + [1.0] * 30 + [0.0] * 5
        heard = [row(10 * k, a) for k, a in enumerate(amps)]
        said = to_say(heard, None)
        self.assertEqual([(h.start_ms // 1000, h.amps) for h in said],
                         [(0, 2.0), (600, 2.0), (990, 2.0), (1000, 1.0), (1020, 1.0), (1290, 1.0),
                          (1300, 0.0), (1320, 0.0)])  # fmt: skip

    def test_a_meter_that_flickers_does_not_fill_the_log(self) -> None:
        heard = [row(10 * k, 2.0 + 0.15 * (k % 2)) for k in range(360)]
        self.assertLess(len(to_say(heard, None)), 125)

    def test_said_again_it_says_nothing(self) -> None:
        heard = [row(10 * k, 2.0 + 0.001 * k) for k in range(200)]
        said = to_say(heard, None)
        self.assertEqual(to_say(heard, said[-1]), [])
        half = to_say(heard[:90], None)
        self.assertEqual([*half, *to_say(heard[60:], half[-1])], said)

    def test_a_step_is_said_again_also_as_it_comes(self) -> None:
        """Asked every ten seconds, with a minute of what was before, as a line does."""
        heard = [row(10 * k, 2.0 if k < 40 else 1.7) for k in range(60)]
        out: list[LineHeard] = []
        for k in range(1, 61):
            near = heard[max(k - 10, 0) : k]
            out += to_say(near, out[-1] if out else None)
        again = [h.start_ms // 1000 for h in out if h.amps == 1.7]
        self.assertEqual(again[:2], [400, 420])

    def test_no_mean_goes_over_a_step(self) -> None:
        """Two amps till the fifth second, then nought: of that stretch nothing is said but where a
        bath swings all the time."""
        heard = [row(10 * k, 2.0) for k in range(5)]
        mixed = LineHeard(50_000, 1.0, swing=2.0)
        self.assertEqual([h.amps for h in to_say([*heard, mixed], None)], [2.0])
        said = to_say([*heard, mixed, row(60, 0.0)], None)
        self.assertEqual([h.amps for h in said], [2.0, 2.0, 0.0])
        swings = [LineHeard(10_000 * k, 1.5, swing=1.0) for k in range(70)]
        self.assertEqual({h.amps for h in to_say(swings, None)}, {1.5})

    def test_what_was_not_measured_is_no_nought(self) -> None:
        self.assertEqual(to_say([row(0, None), row(10, None)], row(-10, 2.0)), [])


class Counted(unittest.TestCase):
    def test_the_charge_is_that_of_the_meter_and_not_of_the_plan(self) -> None:
        """Three amps were planned; two flowed for two hours, then half an amp for one."""
        book = running()
        heard = [row(60 + 10 * k, 2.0 if k < 720 else 0.5) for k in range(1080)]
        for h in to_say(heard, None):
            book.write(h.end_ms / 60_000, **h.reading().model_dump())
        run = replay(book.log, BASIS)
        now = START.replace(hour=21, minute=1)
        had = charge_ah(run.stretches, now)
        self.assertAlmostEqual(had, 2 * 2 + 0.5, delta=0.03)

    def test_nothing_flows_is_said_at_once_and_counts_from_the_last_ten_seconds(self) -> None:
        book = running()
        heard = [row(60 + 10 * k, 2.0 if k < 30 else 0.0) for k in range(60)]
        for h in to_say(heard, None):
            book.write(h.end_ms / 60_000, **h.reading().model_dump())
        run = replay(book.log, BASIS)
        self.assertTrue(run.silent)
        unsure = [s for s in run.stretches if s.source == "unsure"]
        self.assertAlmostEqual(sum(s.hours(s.end) * 3600 for s in unsure if s.end), 10, delta=0.1)

    def test_a_line_does_not_look_at_the_bath(self) -> None:
        book = running()
        book.write(50, **row(0, 2.0).reading().model_dump())
        self.assertNotIn("reading", replay(book.log, BASIS).last_of)


if __name__ == "__main__":
    unittest.main()
