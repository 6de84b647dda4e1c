"""The demo's line: one of its baths hangs on a stand-in supply, which runs while the demo does.

The stand-in is a simulated bath behind a real SCPI server on loopback; some minutes after the demo
was started something goes wrong with it.
"""

from __future__ import annotations

import time

import numpy as np

from yellowbath.core.run.interlocks import Interlocks
from yellowbath.core.run.samples import Sample
from yellowbath.core.simulation.bath import Scheduled, SimulatedBath
from yellowbath.core.simulation.faults import fault
from yellowbath.core.simulation.truth import meant
from yellowbath.core.units import MS
from yellowbath.instruments.standin.device import Device
from yellowbath.instruments.standin.server import Server
from yellowbath.store import runs as run_store
from yellowbath.store import samples as store
from yellowbath.store.engine import reading, writing
from yellowbath.workflows.line.link_document import LinkDocument
from yellowbath.workflows.line.links import put_link
from yellowbath.workflows.line.samples import MOST, ms_of, take
from yellowbath.workflows.line.stand_in import design_from
from yellowbath.workflows.runs.runs import RunView, view_run
from yellowbath.workflows.shop.shop import Shop

_FAULT, _AFTER_S = "contact_piece", 240.0
_EVERY_S, _FINE_S = 5, 900  # samples from before the start: one a second of the last so many
_HERE = "127.0.0.1"
_LATEST_S = 12 * 3600.0  # a demo taken up after days does not go through them all


def hang(shop: Shop) -> Server | None:
    """Start the stand-in of the demo's running bath and hang it on its line; None where none runs.

    What it would have sent since it was switched on is kept first, so that its strip has a past.
    """
    _let_go(shop)
    view = _running(shop)
    if view is None or view.run.begun is None:
        return None
    design = design_from(view.answered)
    ran_s = min((shop.now() - view.run.begun).total_seconds(), _LATEST_S)
    found = fault(_FAULT, design, np.random.default_rng(7))
    bath = SimulatedBath(
        design, meant(design), [Scheduled(ran_s + _AFTER_S, found)], design.heat.start_c
    )
    bath.switch_on()
    _past(shop, view.row.id, bath, ran_s)
    server = Server(Device(bath, time.monotonic, seed=7), _HERE, 0)
    server.start()
    put_link(
        shop,
        view.row.id,
        LinkDocument(
            address=f"{_HERE}:{server.port}",
            probe=True,
            watchdog_s=60,
            interlocks=Interlocks(touch=True, over_warm_c=45.0),
        ),
    )
    return server


def _let_go(shop: Shop) -> None:
    """Lines to the stand-in of an earlier start, which is gone."""
    with writing(shop.engine) as c:
        for row in store.active_links(c):
            if str(row.document.get("address", "")).startswith(_HERE):
                store.let_go(c, row.run_id)


def _running(shop: Shop) -> RunView | None:
    """The run that was switched on last and still is."""
    with reading(shop.engine) as c:
        rows = run_store.open_run_rows(c, 20)
    row = next((r for r in rows if r.state == "running"), None)
    return view_run(shop, row.id) if row else None


def _past(shop: Shop, run_id: str, bath: SimulatedBath, ran_s: float) -> None:
    """Run the bath up to now; keep what its supply would have told, where nothing is kept yet."""
    rng, now_ms = np.random.default_rng(7), ms_of(shop.now())
    with reading(shop.engine) as c:
        known = bool(store.newest_samples(c, run_id, 1))
    rows: list[Sample] = []
    while ran_s - bath.time_s > 1:
        fine = ran_s - bath.time_s <= _FINE_S
        bath.advance(1 if fine else _EVERY_S)
        at = now_ms - round((ran_s - bath.time_s) * MS)
        noise = 1 + 5e-4 * rng.standard_normal(3)
        rows.append(Sample(
            at, round(bath.flow.supply_a * noise[0], 4), round(bath.flow.supply_v * noise[1], 3),
            round(bath.temperature_c + 20 * (noise[2] - 1), 1),
        ))  # fmt: skip
    for k in range(0, 0 if known else len(rows), MOST):
        take(shop, run_id, rows[k : k + MOST])
