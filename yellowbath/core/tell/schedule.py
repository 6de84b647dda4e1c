"""What hands do next, and when: the list behind every running bath's clock."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Literal

from yellowbath.core.data import param
from yellowbath.core.hours.outlook import SOONER
from yellowbath.core.hours.said import nothing_left
from yellowbath.core.run.ahead import Three
from yellowbath.core.run.apart import AfterBath
from yellowbath.core.run.charge import crust_ah
from yellowbath.core.run.looked import nothing_gained
from yellowbath.core.run.progress import PieceProgress, Progress
from yellowbath.core.run.run import Run
from yellowbath.core.tell.advice import step_said
from yellowbath.core.tell.finish import Step, bake_due, next_step
from yellowbath.core.words import listed, small, word


@dataclass(frozen=True)
class Action:
    """One thing for hands to do. ``at`` is None for "when it suits you".

    ``by`` is the time after which it is too late. A ``danger`` comes before everything else.
    ``piece``: of one of several, by its id; ``at_once``: before whatever else is in hands.
    """

    kind: str
    at: datetime | None
    title: str
    why: str
    by: datetime | None = None
    danger: bool = False
    piece: str = ""
    at_once: bool = False


@dataclass(frozen=True)
class Shout:
    """What a line shouts: the supply does not obey, or nothing guards the bath any more."""

    kind: Literal["disobeys", "lost"]
    reason: str

    @property
    def action(self) -> tuple[str, str, str]:
        """Kind, title and reason of the one act that it wants."""
        return (
            "pull_plug" if self.kind == "disobeys" else "go",
            word(f"shout.{self.kind}.title"),
            word(f"shout.{self.kind}.why", reason=self.reason),
        )


@dataclass(frozen=True)
class PieceWays:
    """One of several pieces as hands meet it: how it stands where it is apart, its finishing steps
    then, how far it is (None before any power), whether its last two looks were equal."""

    id: str
    name: str
    delicate: bool
    stands: AfterBath | None
    steps: Sequence[Step]
    how_far: PieceProgress | None
    equal: bool

    @property
    def left_s(self) -> Three | None:
        """Powered seconds that it still wants, as far as that is known."""
        return self.how_far.left_s if self.how_far else None


@dataclass(frozen=True)
class Ways:
    """What of its plan a run's next actions depend on.

    ``known``: the stops that became known since it was planned, each with its mend; ``battery_ah``:
    what the battery that it hangs on holds [Ah], None without one or where that is not known;
    ``charges_a``: what is charged into it meanwhile [A]; ``buffered``: it goes on though the
    charger is unplugged; ``doubt``: what does not fit, in words, where something does not;
    ``shout``: what its line shouts; ``asked``: what the plan does otherwise and would be a stop, in
    words, while it was not said whether the bath does so too; ``unread``: points of the list became
    known after it was ticked; ``already``: it ran before its plan was made, and nobody read it;
    ``pieces``: where there are several, each.
    """

    one_sided: bool = False
    by_halves: bool = False
    delicate: bool = False
    known: tuple[str, ...] = ()
    battery_ah: float | None = None
    charges_a: float = 0.0
    buffered: bool = False
    doubt: str = ""
    shout: Shout | None = None
    asked: str = ""
    unread: bool = False
    already: bool = False
    pieces: tuple[PieceWays, ...] = ()


_MIN_GAP = timedelta(hours=1)  # between looks; judged


def actions(
    run: Run, progress: Progress, ways: Ways, steps: Sequence[Step], now: datetime
) -> list[Action]:
    """What hands are wanted for, soonest first; the first one is the next hand action.

    What is read and seen outranks the plan: a danger is first whatever else is due, then a bath
    that does not run. A due action stays first until the log shows it done. Pure: ``now`` is passed
    in.
    """
    first = _urgent(run, ways, now)
    if not first and ways.doubt and run.state in ("running", "paused"):
        first = [Action("ask", now, ways.doubt, word("matter.ask_why"))]
    apart = [a for p in ways.pieces if (a := _apart(p)) is not None]
    planned = [*_planned(run, progress, ways, steps, now), *apart]
    if run.state == "running":
        planned.sort(key=lambda a: (not a.at_once, not _in_hand(a, now), a.at or now))
    return [*first, *planned]


def _in_hand(action: Action, now: datetime) -> bool:
    """Of a piece that is out by itself, and due: bare iron rusts within minutes, the bath waits."""
    return bool(action.piece) and action.at is not None and action.at <= now


def _apart(piece: PieceWays) -> Action | None:
    """What the piece that is out by itself wants of hands; None of one that is in, or booked."""
    stands = piece.stands
    if stands is None or stands.state == "closed":
        return None
    if stands.state == "lifted":
        [one] = _lifted(stands, piece.equal, piece.delicate)
    else:
        [one] = _finishing(stands, piece.delicate, piece.steps)
    return replace(one, title=f"{piece.name}: {small(one.title)}", piece=piece.id)


def _urgent(run: Run, ways: Ways, now: datetime) -> list[Action]:
    if ways.shout is not None and (ways.shout.kind == "disobeys" or run.state == "running"):
        kind, title, why = ways.shout.action
        more = f" {word('action.buffered')}" if ways.buffered else ""
        return [Action(kind, now, title, why + more, danger=True)]
    if run.state not in ("ready", "running", "paused"):
        return _in_bath(ways, None) if run.state in ("planned", "lifted") else []
    dangers = [s for s in run.signs if s.kind == "danger"]
    silent = next((s for s in run.signs if s.kind == "not_running"), None)
    known = " ".join(ways.known)
    if run.tripped and run.state == "paused":
        return [Action("mend", now, word("action.tripped"),
                       f"{run.tripped} {word('action.tripped_why')}", danger=True)]  # fmt: skip
    if run.state in ("ready", "paused"):
        found = next(iter(dangers), silent)
        if found is None:
            return _in_bath(ways, None)
        why = f"{found.title}. {found.why}"
        return [Action("mend", None, "Find it and mend it before switching on again", why)]
    if dangers:
        more = "".join(f" Also: {s.title.lower()}." for s in dangers[1:])
        more += f" {word('action.buffered')}" if ways.buffered else ""
        first = dangers[0]
        return [Action("switch_off_now", now, "Switch off now", f"{first.title}. {first.why}{more}",
                       danger=True)]  # fmt: skip
    if known:
        why = word("already.known" if ways.already else "action.known", known=known)
        return [Action("switch_off_now", now, "Switch off now", why, danger=True)]
    if ways.asked:
        return _in_bath(ways, now)
    if silent is not None:
        return [Action("mend", now, silent.title, silent.why)]
    unsure = next((s for s in run.signs if s.kind == "unsure"), None)
    return [Action("gas", now, unsure.title, unsure.why)] if unsure is not None else []


def _in_bath(ways: Ways, at: datetime | None) -> list[Action]:
    return [Action("in_bath", at, word("action.in_bath"), ways.asked)] if ways.asked else []


def _planned(
    run: Run, progress: Progress, ways: Ways, steps: Sequence[Step], now: datetime
) -> list[Action]:
    if ways.unread and ways.already and run.state == "running":
        return [
            Action("checklist", now, word("already.read"), word("already.read_why"), at_once=True),
            *_running(run, progress, ways, now),
        ]
    if ways.unread and run.state in ("ready", "paused"):
        return [Action("checklist", None, word("action.unread"), word("in_bath.unread"))]
    match run.state:
        case "planned":
            return [
                Action("checklist", None, "Go through the switch-on list", "With the power off.")
            ]
        case "ready":
            return [Action("switch_on", None, "Switch on", "Then look within ten seconds.")]
        case "running":
            return _running(run, progress, ways, now)
        case "paused":
            return [
                Action("switch_on", None, "Switch on again, or lift the piece",
                       "Nothing happens with the power off.")
            ]  # fmt: skip
        case "lifted":
            return _lifted(run.whole, nothing_gained(run), ways.delicate)
        case "clean" | "finishing":
            return _finishing(run.whole, ways.delicate, steps)
    return []


def _lifted(stands: AfterBath, equal: bool, frail: bool) -> list[Action]:
    since, looked = stands.since, stands.looked_at
    if looked is None or since is None or looked < since:
        return [
            Action("inspect", since,
                   "Rinse and look; touch it with a soft brush only" if frail
                   else "Rinse, brush a patch and look",
                   "Keep it wet; flash rust comes within minutes.")
        ]  # fmt: skip
    if equal:
        return [
            Action("decide", since, "Call it clean, or change something",
                   "Two looks at the same patch are equal: more time gains nothing.")
        ]  # fmt: skip
    return [
        Action("decide", since, "Back in the bath, or call it clean",
               "Back in wet, as it is: what is loose comes off by itself." if frail else
               "Back in wet, black film and loose crust brushed off, no oil between rounds.")
    ]  # fmt: skip


def _finishing(stands: AfterBath, frail: bool, steps: Sequence[Step]) -> list[Action]:
    bake = bake_due(steps, stands)
    if stands.state == "clean":
        title = "Rinse and clean softly at once" if frail else "Rinse and scrub at once"
        why = "The black film hardens as it dries, and bare iron rusts within minutes."
        if bake is not None:
            why += " Hard steel: its bake has to begin in time."
        return [Action("finish_start", stands.since, title, why, bake)]
    step = next_step(steps, stands)
    if step is None:
        return [Action("close", None, "Write it into the book", "While you still remember.")]
    begun = stands.finish.get(f"{step.id}.begun")
    ends = begun[0] + timedelta(seconds=step.duration_s) if begun and step.duration_s else None
    at = ends or stands.since
    return [Action(f"step.{step.id}", at, step.title, step.why, bake)]


def _running(run: Run, progress: Progress, ways: Ways, now: datetime) -> list[Action]:
    start = run.powered_since or now
    seen = max((run.last_of[k] for k in ("look", "reading") if k in run.last_of), default=None)
    if run.silent:
        return _looks(start, seen)
    found = [*_again(run, now), *_looks(start, seen), _lift_action(run, progress, ways, now)]
    found += [*_sooner(run, progress, ways, now), *_crust(run, now)]
    if ways.by_halves and progress.here_s is not None and run.flips % 2 == 0:
        found.append(
            Action("flip", now + timedelta(seconds=progress.here_s[1]),
                   word("choice.run.change.flipped"),
                   "Power off first. The half that stood out starts at nothing; leave a hand's "
                   "breadth of overlap.")
        )  # fmt: skip
    if ways.one_sided and run.turns == 0 and progress.left_s is not None:
        found.append(
            Action("turn", now + timedelta(seconds=progress.left_s[1] / 2), "Turn the piece",
                   "The side away from the scrap gets less; switch off first.")
        )  # fmt: skip
    scrape = _scrape_at(run, now)
    if scrape is not None:
        found.append(
            Action("scrape", scrape, "Scrape or swap all the scrap",
                   "Crust eats the amps; one clean rod among caked ones takes most of the current.")
        )  # fmt: skip
    half = _half_way(run, progress, ways, now)
    if half is not None:
        found.append(Action("battery", half, word("action.battery"), word("action.battery_why")))
    return sorted(found, key=lambda a: a.at or now)


_HALF = 0.5  # of a battery: deeper wears it out; common practice, no source


def _half_way(run: Run, progress: Progress, ways: Ways, now: datetime) -> datetime | None:
    """When the battery is half way down at the amps that flow, what charges it taken off."""
    last = run.stretches[-1] if run.stretches else None
    if ways.battery_ah is None or last is None or last.end is not None:
        return None
    net = last.current_a - ways.charges_a
    if net <= 0:
        return None
    used = max(progress.charge_ah - ways.charges_a * progress.powered_s / 3600, 0.0)
    return now + timedelta(hours=max(_HALF * ways.battery_ah - used, 0.0) / net)


_CRUSTED = timedelta(hours=1)  # under power, in which fresh crust shows; common practice, no source


def _crust(run: Run, now: datetime) -> list[Action]:
    """Once in every run, after its first hour: fresh crust is where plus is. Where none was to be
    seen yet, once more when it has run as long again."""
    if run.poles:
        return []
    looked = run.last_of.get("asked.crust")
    powered = timedelta(seconds=run.powered_s(now))
    at = now + _CRUSTED - powered
    if looked is not None and run.begun is not None:
        at = looked + max(looked - run.begun, _CRUSTED)
    if looked is None and at < now:
        at = max(at, run.powered_since or at)
    return [Action("crust", at, word("action.crust"), word("action.crust_why"))]


def _again(run: Run, now: datetime) -> list[Action]:
    """One reading that is not as the bath's own have it: it may be the meter's, so read again."""
    if run.heard is None or run.heard.trend.asked is None:
        return []
    said = step_said(run.heard.trend.asked)
    return [
        Action(
            "again", now, word("action.again"), word("action.again_why", said=said), at_once=True
        )
    ]


def _sooner(run: Run, progress: Progress, ways: Ways, now: datetime) -> list[Action]:
    """Pieces that come clean well before the others: each is lifted in its own time, together those
    that are due at once."""
    inside = [p for p in ways.pieces if p.stands is None]
    left, found = progress.left_s, list[tuple[datetime, PieceWays]]()
    if len(inside) < 2 or (left is not None and nothing_left(left)):
        return []
    start = run.powered_since or now
    for p in inside:
        if p.left_s is None or (left is not None and p.left_s[1] >= SOONER * left[1]):
            continue
        looks = (run.last_of.get(k, start) for k in ("inspection", f"inspection.{p.id}"))
        early = max(now + timedelta(seconds=_edge_s(p.left_s)), max(start, *looks) + _MIN_GAP)
        found.append((now if p.how_far and p.how_far.seen else early, p))
    made = []
    for seen in (True, False):
        those = sorted(
            ((at, p) for at, p in found if (p.how_far is not None and p.how_far.seen) == seen),
            key=lambda one: one[0],
        )
        together = [p for at, p in those if at <= those[0][0] + _MIN_GAP]
        if together:
            names = listed([p.name for p in together])
            title = word("alone.take_out" if seen else "alone.sooner", name=names)
            alone = together[0].id if len(together) == 1 else ""
            action = Action("lift_piece", those[0][0], title, word("alone.go_on"), piece=alone)
            made.append(action)
    return made


def _scrape_at(run: Run, now: datetime) -> datetime | None:
    """When the scrap's crust is due, at the amps that flow: by the plan's surface of scrap."""
    last = run.stretches[-1] if run.stretches else None
    if last is None or last.current_a <= 0 or not math.isfinite(last.basis.crust_ah):
        return None
    left = last.basis.crust_ah - crust_ah(run, now)
    return now + timedelta(hours=left / last.current_a)


def _looks(start: datetime, seen: datetime | None) -> list[Action]:
    first = start + timedelta(seconds=param("fill_time_s").value)
    second = start + timedelta(seconds=param("second_look_s").value)
    if seen is None or seen < start:
        return [
            Action("first_look", first, "Look: does gas come from the whole piece?",
                   "None along the body after a minute: switch off and mend the contact.",
                   at_once=True),
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


_OFTEN = timedelta(seconds=param("frail_look_s").value)


def _edge_s(left_s: tuple[float, float, float]) -> float:
    early, middle, _ = left_s
    return early if early > 0 else middle / 2


def first_lift_s(left_s: tuple[float, float, float], frail: bool) -> float:
    """How long after switching on the first lift is due [s], by the window of what is left [s]."""
    wait = min(_edge_s(left_s), _OFTEN.total_seconds()) if frail else _edge_s(left_s)
    return max(wait, _MIN_GAP.total_seconds())


def _lift_action(run: Run, progress: Progress, ways: Ways, now: datetime) -> Action:
    """When to lift and brush: at the early edge of the window, then at half of what is left."""
    last = max(run.last_of.get("inspection", run.powered_since or now), run.powered_since or now)
    if progress.left_s is None:
        wait = timedelta(seconds=param("look_every_s").value)
    else:
        wait = timedelta(seconds=_edge_s(progress.left_s))
    if ways.delicate:  # what falls off a relic does not come back: looked at early and often
        wait = min(wait, max(last + _OFTEN * (2 if progress.seen else 1) - now, timedelta()))
    at = max(now + wait, last + _MIN_GAP) if wait > timedelta() else max(now, last + _MIN_GAP)
    brushed = "rinse and look" if ways.delicate else "brush a patch and look"
    return Action(
        "lift", at, f"Switch off, lift, {brushed}",
        "Frail: look before anything can come off." if ways.delicate and not progress.seen
        else "One run in ten is clean by then." if not progress.seen
        else "Compare with the last look.",
    )  # fmt: skip
