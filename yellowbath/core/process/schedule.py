"""What hands do next, and when: the list behind every running bath's clock."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from yellowbath.core.data import param
from yellowbath.core.process.finish import Step, next_step
from yellowbath.core.process.progress import Progress, nothing_gained
from yellowbath.core.process.run import Run


@dataclass(frozen=True)
class Action:
    """One thing for hands to do. ``at`` is None for "when it suits you"."""

    kind: str
    at: datetime | None
    title: str
    why: str


_MIN_GAP = timedelta(hours=1)
_SCRAPE_EVERY = timedelta(hours=10)


def actions(
    run: Run, progress: Progress, one_sided: bool, steps: list[Step], now: datetime
) -> list[Action]:
    """What hands are wanted for, soonest first; the first one is the next hand action.

    A due action stays first until the log shows it done. Pure: ``now`` is passed in.
    """
    match run.state:
        case "planned":
            return [
                Action("checklist", None, "Go through the switch-on list", "With the power off.")
            ]
        case "ready":
            return [Action("switch_on", None, "Switch on", "Then look within ten seconds.")]
        case "running":
            return _running(run, progress, one_sided, now)
        case "paused":
            return [
                Action("switch_on", None, "Switch on again, or lift the piece",
                       "Nothing happens with the power off.")
            ]  # fmt: skip
        case "lifted":
            return _lifted(run)
        case "clean" | "finishing":
            return _finishing(run, steps)
    return []


def _lifted(run: Run) -> list[Action]:
    looked = run.last_of.get("inspection")
    if looked is None or run.since is None or looked < run.since:
        return [
            Action("inspect", run.since, "Rinse, brush a patch and look",
                   "Keep it wet; flash rust comes within minutes.")
        ]  # fmt: skip
    if nothing_gained(run):
        return [
            Action("decide", run.since, "Call it clean, or change something",
                   "Two looks at the same patch are equal: more time gains nothing.")
        ]  # fmt: skip
    return [
        Action("decide", run.since, "Back in the bath, or call it clean",
               "Back in wet, black film and loose crust brushed off, no oil between rounds.")
    ]  # fmt: skip


def _finishing(run: Run, steps: list[Step]) -> list[Action]:
    if run.state == "clean":
        return [
            Action("finish_start", run.since, "Rinse and scrub at once",
                   "The black film hardens as it dries, and bare iron rusts within minutes.")
        ]  # fmt: skip
    step = next_step(steps, run)
    if step is None:
        return [Action("close", None, "Write it into the book", "While you still remember.")]
    begun = run.finish.get(f"{step.id}.begun")
    at = begun[0] + timedelta(seconds=step.duration_s) if begun and step.duration_s else run.since
    return [Action(f"step.{step.id}", at, step.title, step.why)]


def _running(run: Run, progress: Progress, one_sided: bool, now: datetime) -> list[Action]:
    start = run.powered_since or now
    seen = max((run.last_of[k] for k in ("look", "reading") if k in run.last_of), default=None)
    found = [*_looks(start, seen), _lift_action(run, progress, now)]
    if one_sided and run.turns == 0 and progress.left_s is not None:
        found.append(
            Action("turn", now + timedelta(seconds=progress.left_s[1] / 2), "Turn the piece",
                   "The side away from the scrap gets less; switch off first.")
        )  # fmt: skip
    scraped = run.last_of.get("change.scraped", run.last_of.get("change.swapped_anodes", start))
    found.append(
        Action("scrape", max(scraped, start) + _SCRAPE_EVERY, "Scrape or swap all the scrap",
               "Crust eats the amps; one clean rod among caked ones takes most of the current.")
    )  # fmt: skip
    return sorted(found, key=lambda a: a.at or now)


def _looks(start: datetime, seen: datetime | None) -> list[Action]:
    first = start + timedelta(seconds=param("fill_time_s").value)
    second = start + timedelta(seconds=param("second_look_s").value)
    if seen is None or seen < start:
        return [
            Action("first_look", first, "Look: does gas come from the whole piece?",
                   "None along the body after a minute: switch off and mend the contact."),
            Action("second_look", second, "Look again and read the amps",
                   "Silent stops in the first half hour are the commonest lost time."),
        ]  # fmt: skip
    early = param("second_look_s").low
    if seen < start + timedelta(seconds=early * 0.6):
        return [
            Action("second_look", second, "Look again and read the amps",
                   "Silent stops in the first half hour are the commonest lost time.")
        ]  # fmt: skip
    again = seen + timedelta(seconds=param("look_every_s").value)
    return [
        Action(
            "look", again, "Look and read the amps", "Bubbles, froth, warmth, level of the liquid."
        )
    ]


def _lift_action(run: Run, progress: Progress, now: datetime) -> Action:
    """When to lift and brush: at the early edge of the window, then at half of what is left."""
    last = max(run.last_of.get("inspection", run.powered_since or now), run.powered_since or now)
    if progress.left_s is None:
        wait = timedelta(seconds=param("look_every_s").value)
    else:
        early, middle, _ = progress.left_s
        wait = timedelta(seconds=early if early > 0 else middle / 2)
    at = max(now + wait, last + _MIN_GAP) if wait > timedelta() else max(now, last + _MIN_GAP)
    return Action(
        "lift", at, "Switch off, lift, brush a patch and look",
        "One run in ten is clean by then." if not progress.seen else "Compare with the last look.",
    )  # fmt: skip
