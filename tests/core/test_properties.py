"""What holds for any plan and any run, drawn at random from fixed seeds."""

import math
import random
import unittest
from datetime import timedelta
from itertools import pairwise
from typing import Any, get_args

from tests.core.run.test_run import BASIS, START
from tests.longer import of
from yellowbath.core import document as d
from yellowbath.core.checks import find
from yellowbath.core.dose import prior_need
from yellowbath.core.errors import InvalidDocumentError, NoAnswerError, StepRefusedError
from yellowbath.core.plan.reading.entries import locate, read_plan, texts
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.run.log import Entry
from yellowbath.core.run.moves import allowed
from yellowbath.core.run.progress import progress
from yellowbath.core.run.run import replay
from yellowbath.core.tell.finish import finish_steps
from yellowbath.core.tell.schedule import Ways, actions

CHOICES: dict[str, tuple[Any, ...]] = {
    "metal": get_args(d.Metal),
    "other_metals": ([], ["copper"], ["zinc"], ["aluminium"], ["lead"], ["chrome"]),
    "grade": get_args(d.Grade),
    "fragility": get_args(d.Fragility),
    "aim": get_args(d.Aim),
    "hang": get_args(d.Hang),
}


SHAPES = tuple(s.model_fields["kind"].default for s in d.Taped.__args__)


def any_document(rng: random.Random) -> dict[str, Any]:
    """A plan of random choices, every number anywhere in its range, whose sizes fit together."""
    while True:
        document = _drawn(rng)
        try:
            read_plan(document)
        except InvalidDocumentError:
            continue
        return document


def _drawn(seeds: random.Random) -> dict[str, Any]:
    seed = seeds.random()

    def of(what: str) -> random.Random:
        """Chance of each thing's own: a field that is added draws no other plans."""
        return random.Random(f"{seed} {what}")

    shape = of("shape").choice(SHAPES)
    own = ["bore"] if shape == "tube" else []
    plan = read_plan(
        {
            "system": of("system").choice(["metric", "us", "imperial"]),
            "pieces": [
                {
                    "shape": {"kind": shape},
                    **{key: of(key).choice(values) for key, values in CHOICES.items()},
                }
            ],
            "tank": {"shape": {"kind": of("tank").choice(["bucket", "box", "drum", *own])}},
            "mix": {"product": of("mix").choice(d.PRODUCTS)},
            "layout": {
                "arrangement": of("layout").choice(["one_side", "opposite", "corners", "ring"])
            },
            "anodes": [{"id": "a1", "material": of("scrap").choice(get_args(d.Scrap))}],
            "supply": {
                "kind": of("supply").choice(
                    ["transformer", "selector", "laboratory", "smart", "fixed", "battery"]
                )
            },
            "place": {"where": of("place").choice(["outdoors", "open_door", "closed_room"])},
        }
    ).plan
    for pointer, _ in list(texts(plan)):
        target, rng = locate(plan, pointer), of(pointer)
        # a weight at random is none that the sizes allow
        kept = pointer.startswith(("/anodes/", "/meter/")) or pointer.endswith("/mass_kg")
        if target is None or kept or rng.random() < 0.4:
            continue
        low, high = target.range()
        spread = math.exp(rng.uniform(math.log(max(low, 1e-6)), math.log(high)))
        target.put(round(spread) if target.quantity == "count" else min(max(spread, low), high))
    return plan.model_dump()


class AnyPlan(unittest.TestCase):
    def test_it_is_answered_with_finite_figures_or_says_why_not(self) -> None:
        rng = random.Random(11)
        answered = 0
        for k in range(of(400, 50)):
            document = any_document(rng)
            plan = read_plan(document).plan
            try:
                worked = answer(plan)
            except NoAnswerError as error:
                self.assertTrue(error.remedy)
                continue
            answered += 1
            with self.subTest(k=k):
                for f in worked.figures():
                    self.assertTrue(math.isfinite(f.value), f.key)
                    if f.low is not None and f.high is not None:
                        self.assertTrue(f.low <= f.value * (1 + 1e-9), f.key)
                        self.assertTrue(f.value <= f.high * (1 + 1e-9), f.key)
                self.assertGreaterEqual(worked.gives.value, 0)
                self.assertTrue(0 <= worked.below.value <= 1)
                self.assertTrue(0 < worked.fill.wetted_share <= 1)
                for finding in find(plan, worked):
                    self.assertNotIn("{", finding.evidence + finding.fix)
        self.assertGreater(answered, of(200, 25))

    def test_reading_a_read_plan_changes_nothing(self) -> None:
        rng = random.Random(5)
        for _ in range(60):
            once = read_plan(any_document(rng)).plan
            self.assertEqual(read_plan(once.model_dump()).plan, once)


def any_detail(rng: random.Random, kind: str) -> dict[str, Any]:
    extra: dict[str, dict[str, Any]] = {
        "checklist": {"ticked": []},
        "reading": {"current_a": rng.choice([None, 0.0, 1.0, 2.5, 40.0])},
        "look": {"bubbles": rng.choice(["whole", "clip_only", "none"])},
        "change": {
            "what": rng.choice(["turned", "scraped", "topped_up", "soda_added"]),
            "before_a": rng.choice([None, 2.0]),
            "after_a": rng.choice([None, 3.0]),
        },
        "inspection": {
            "verdict": rng.choice(["share", "not_yet", "equal"]),
            "shares": {"p1.front": rng.random()},
        },
        "finish_step": {"step": "scrub", "mark": rng.choice(["begun", "done", "skipped"])},
        "remark": {"text": "cold"},
        "asked": {"ask": "fuse", "outcome": rng.choice(["whole", "blown"])},
        "alarm": {"which": "over_amps", "by": "amps", "reason": "Much."},
        "in_bath": {"so": rng.choice(["now", "idea"]), "head": 2, "stops": ["lid"]},
        "one_lead": {"lead": rng.choice(["a1", "a2"]), "current_a": rng.choice([0.0, 0.4, 1.4])},
        "mended": {"cause": "contact_piece", "helped": rng.random() < 0.5},
    }
    return {"kind": kind, **extra.get(kind, {})}


def any_log(rng: random.Random) -> list[Entry]:
    """Steps that the machine allows, at rising times; abandoned and closed ones among them."""
    log: list[Entry] = []
    minutes = 0.0
    for k in range(rng.randint(1, 40)):
        state = replay(log, BASIS).state
        kinds = [x for x in allowed(state) if x != "abandon" or rng.random() < 0.05]
        minutes += rng.choice([0, 0.2, 5, 60, 400])
        log.append(
            Entry.model_validate(
                {
                    "client_id": f"entry-{k:04}",
                    "at": START + timedelta(minutes=minutes),
                    "detail": any_detail(rng, rng.choice(kinds)),
                }
            )
        )
    return log


class AnyRun(unittest.TestCase):
    def test_stretches_are_in_order_and_never_overlap(self) -> None:
        rng = random.Random(23)
        for _ in range(150):
            log = any_log(rng)
            run = replay(log, BASIS)
            end = log[-1].at + timedelta(hours=3)
            for s in run.stretches:
                self.assertGreater(s.end or end, s.start)
                self.assertTrue(0 <= s.low_a <= s.current_a <= s.high_a)
            for a, b in pairwise(run.stretches):
                assert a.end
                self.assertLessEqual(a.end, b.start)
            clock = (end - log[0].at).total_seconds()
            self.assertLessEqual(run.powered_s(end), clock + 1e-6)
            flows = run.state == "running" and not run.silent
            self.assertEqual(flows, bool(run.stretches) and run.stretches[-1].end is None)

    def test_the_order_of_arrival_does_not_matter(self) -> None:
        """Entries of distinct times, sent in any order, fold to the same run."""
        rng = random.Random(31)
        for _ in range(60):
            log = any_log(rng)
            spaced = [
                e.model_copy(update={"at": e.at + timedelta(seconds=k)}) for k, e in enumerate(log)
            ]
            shuffled = spaced.copy()
            rng.shuffle(shuffled)
            a, b = replay(spaced, BASIS), replay(shuffled, BASIS)
            self.assertEqual((a.state, a.stretches), (b.state, b.stretches))

    def test_progress_and_the_next_action_follow_from_any_run(self) -> None:
        rng = random.Random(47)
        need = prior_need("moderate", "black")
        steps = finish_steps(d.Plan())
        for _ in range(60):
            log = any_log(rng)
            run = replay(log, BASIS)
            now = log[-1].at + timedelta(hours=rng.choice([0, 1, 20]))
            p = progress(run, need, now)
            self.assertTrue(0 <= p.share_done <= 1 and 0 <= p.share_clean <= 1)
            self.assertLessEqual(p.effective_ah_m2, p.raw_ah_m2 * 1.0001 + 1e-9)
            self.assertEqual(list(p.need_ah_m2), sorted(p.need_ah_m2))
            if p.left_s is not None:
                self.assertEqual(list(p.left_s), sorted(p.left_s))
            todo = actions(run, p, Ways(one_sided=rng.random() < 0.5), steps, now)
            over = run.state in ("closed", "abandoned")
            self.assertEqual(bool(todo), not over, run.state)

    def test_a_step_out_of_place_is_refused_whatever_came_before(self) -> None:
        rng = random.Random(59)
        refused = 0
        for _ in range(120):
            log = any_log(rng)
            state = replay(log, BASIS).state
            kind = rng.choice(["switch_on", "inspection", "clean", "close", "lift", "checklist"])
            entry = Entry.model_validate(
                {
                    "client_id": "entry-last",
                    "at": log[-1].at + timedelta(minutes=1),
                    "detail": any_detail(rng, kind),
                }
            )
            if kind in allowed(state):
                replay([*log, entry], BASIS)
                continue
            with self.assertRaises(StepRefusedError):
                replay([*log, entry], BASIS)
            refused += 1
        self.assertGreater(refused, 30)
