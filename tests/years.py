"""A shop after many years, grown from the demo shop's own rows."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from datetime import timedelta
from pathlib import Path
from typing import Any

from sqlalchemy import Connection, Row, Table, insert, select

from yellowbath.store.engine import open_engine, writing
from yellowbath.store.tables import (
    book_entries,
    kit,
    kit_log,
    plan_revisions,
    plan_summaries,
    plans,
    run_log,
    runs,
)
from yellowbath.workflows.demo import seed
from yellowbath.workflows.plans.kit import kit as kit_of
from yellowbath.workflows.runs.rack import renew_rack
from yellowbath.workflows.shop.shop import Shop, Wanted

LONG = "r-long"
OPEN = 40


def grow(file: Path, many_plans: int, many_runs: int, many_rows: int) -> None:
    """Fill a new file; two thirds of the plans ran, forty runs are open, one of them with a tenth
    of all log rows, and every third run left its mix in the kit."""
    engine = open_engine(file)
    seed(engine)
    with writing(engine) as c:
        done = [_Template(c, r) for r in c.execute(select(runs).where(runs.c.state == "closed"))]
        open_ = [_Template(c, r) for r in c.execute(select(runs).where(runs.c.state == "running"))]
        ran = max(1, 2 * many_plans // 3)
        for k in range(many_plans):
            done[k % len(done)].plan(c, k)
        each = int(0.9 * many_rows / many_runs)
        for k in range(many_runs):
            of = open_[k % len(open_)] if k < OPEN else done[k % len(done)]
            of.run(c, f"r{k:07}", k % ran, each if k >= OPEN else 20)
        open_[0].run(c, LONG, 0, many_rows // 10)
        _things(c, done[0], many_runs)
    shop, after = Shop(engine), ""
    renew_rack(shop)  # what the logs come to was kept as they were entered
    while (page := kit_of(shop, wanted=Wanted(after=after, most=100))).after:
        after = page.after
    engine.dispose()


class _Template:
    """A run of the demo shop with all that hangs on it, to be written again under other names."""

    def __init__(self, c: Connection, run: Row[Any]) -> None:
        self.row = dict(run._mapping)
        t = plan_revisions
        where = (t.c.plan_id == run.plan_id) & (t.c.number == run.revision)
        self.revision = dict(c.execute(select(t).where(where)).one()._mapping)
        self.head = dict(c.execute(select(plans).where(plans.c.id == run.plan_id)).one()._mapping)
        log = select(run_log).where(run_log.c.run_id == run.id).order_by(run_log.c.id)
        self.log = [dict(r._mapping) for r in c.execute(log)]
        page = c.execute(select(book_entries).where(book_entries.c.run_id == run.id)).one_or_none()
        self.page = dict(page._mapping) if page else None
        told = select(plan_summaries).where(plan_summaries.c.plan_id == run.plan_id)
        self.told = dict(c.execute(told).one()._mapping)

    def plan(self, c: Connection, k: int) -> None:
        title = f"{self.revision['document']['name']} {k}"
        document = {**self.revision["document"], "name": title}
        document["pieces"] = [{**document["pieces"][0], "name": title}]
        at = self.head["created_at"] - timedelta(hours=k)
        named = {"title": title, "sought": title.casefold(), "saved_at": at}
        _put(c, plans, {**self.head, "id": f"p{k:07}", "created_at": at, "head": 1, **named})
        _put(c, plan_revisions, {**self.revision, "plan_id": f"p{k:07}", "number": 1,
                                 "document": document, "created_at": at})  # fmt: skip
        _put(c, plan_summaries, {**self.told, "plan_id": f"p{k:07}", "number": 1,
                                 "summary": {**self.told["summary"], "title": title}})  # fmt: skip

    def run(self, c: Connection, run_id: str, plan: int, rows: int) -> None:
        back = timedelta(hours=plan)
        over = self.page["closed_at"] - back if self.page else None
        title = f"{self.row['title']} {plan}"
        _put(c, runs, {**self.row, "id": run_id, "plan_id": f"p{plan:07}", "revision": 1,
                       "title": title, "sought": title.casefold(), "over_at": over})  # fmt: skip
        log = [{**r, "id": None, "run_id": run_id, "at": r["at"] - back} for r in self.log]
        _put_all(c, run_log, [{k: v for k, v in r.items() if k != "id"}
                              for r in self._longer(log, rows)])  # fmt: skip
        if self.page:
            entry = {**self.page["entry"], "piece": f"{self.page['entry']['piece']} {plan}",
                     "plan_id": f"p{plan:07}"}  # fmt: skip
            _put(c, book_entries, {**self.page, "page": run_id, "run_id": run_id, "closed_at": over,
                                   "entry": entry})  # fmt: skip

    def _longer(self, log: list[dict[str, Any]], rows: int) -> Iterator[dict[str, Any]]:
        """The log with readings after its last reading, a second apart at the most."""
        k = max(i for i, r in enumerate(log) if r["kind"] in ("reading", "look"))
        reading = next(r for r in log if r["kind"] == "reading")
        until = log[k + 1]["at"] if k + 1 < len(log) else log[k]["at"] + timedelta(minutes=30)
        gap = (until - log[k]["at"]) / (rows + 1)
        yield from log[: k + 1]
        for n in range(rows):
            yield {**reading, "client_id": f"{n:09}-{log[k]['run_id']}",
                   "at": log[k]["at"] + n * gap}  # fmt: skip
        yield from log[k + 1 :]


def _things(c: Connection, of: _Template, many_runs: int) -> None:
    """What the runs wrote to the kit: to each thing a use, and every third a kept mix."""
    logs = [dict(r._mapping) for r in c.execute(select(kit_log))]
    things = [dict(r._mapping) for r in c.execute(select(kit))]
    used = next(e for e in logs if e["event"]["what"] == "used" and e["event"]["charge_ah"])
    hang = [t for t in things if t["document"]["detail"]["kind"] != "chemical"]
    mix = next((t for t in things if t["document"]["detail"]["kind"] == "mix"), None)
    for k in range(many_runs):
        for thing in hang[:: 1 + k % 3]:
            _put(c, kit_log, {"thing_id": thing["id"], "key": f"grown {k}",
                              "event": {**used["event"], "charge_ah": 0.02}})  # fmt: skip
        if mix and k % 3 == 0:
            title = f"Kept after {k}"
            row = {**mix, "id": f"m{k:07}", "title": title, "sought": title.casefold(),
                   "document": {**mix["document"], "name": title}}  # fmt: skip
            _put(c, kit, row)


def _put(c: Connection, table: Table, row: Mapping[str, Any]) -> None:
    _put_all(c, table, [row])


def _put_all(c: Connection, table: Table, rows: Sequence[Mapping[str, Any]]) -> None:
    c.execute(insert(table), [{k: v for k, v in r.items() if k in table.c} for r in rows])
