"""A bath on a line: what is measured is kept, an interlock switches off and says why, a lost line
is told and taken up again."""

import time
import unittest
from collections.abc import Callable
from datetime import UTC, datetime
from itertools import pairwise
from unittest import mock

import numpy as np

from tests.core.checks.limits import moved
from tests.instruments.peers import bad, standing_in
from tests.longer import PATIENCE_S
from tests.shops import ShopCase, entry
from yellowbath.core.errors import (
    InputError,
    InstrumentError,
    StepRefusedError,
    StoreFullError,
)
from yellowbath.core.run.interlocks import Interlocks
from yellowbath.core.run.log import Asked, SwitchOff
from yellowbath.core.run.samples import Sample
from yellowbath.core.simulation.faults import fault
from yellowbath.instruments.standin.device import Device
from yellowbath.store import samples as store
from yellowbath.store.engine import reading
from yellowbath.workflows.line import links, listener
from yellowbath.workflows.line.link_document import LinkDocument
from yellowbath.workflows.line.links import Links
from yellowbath.workflows.line.samples import ms_of, take
from yellowbath.workflows.runs.rack import rack
from yellowbath.workflows.runs.runs import enter, view_run
from yellowbath.workflows.shop.shop import ShopSettings, save_settings


class OnALine(ShopCase):
    """The shop's clock is the real one here: a line lives by it."""

    def setUp(self) -> None:
        super().setUp()
        self.run_id = self.running()
        object.__setattr__(self.shop, "now", lambda: datetime.now(UTC))
        self.links = Links(self.shop)
        self.addCleanup(self.links.close)

    def listen(self, port: int, **more: object) -> None:
        document = LinkDocument.model_validate(
            {"address": f"127.0.0.1:{port}", "probe": True, **more}
        )
        links.put_link(self.shop, self.run_id, document)
        self.links.take_up(self.run_id, document)

    def until(self, test: Callable[..., bool], seconds: float = PATIENCE_S) -> None:
        end = time.monotonic() + seconds
        while not test():
            self.assertLess(time.monotonic(), end, self.links.state(self.run_id))
            time.sleep(0.05)

    def count(self) -> int:
        with reading(self.shop.engine) as c:
            return len(store.newest_samples(c, self.run_id, 100))

    def test_what_is_measured_is_kept_and_a_line_let_go_changes_nothing(self) -> None:
        with standing_in() as server:
            self.listen(server.port, watchdog_s=20)
            self.until(lambda: self.count() >= 2)
            state = self.links.state(self.run_id)
            self.assertEqual((state.state, state.watchdog_s), ("linked", 20.0))
            self.assertTrue(server.device.watchdog_on)
            self.assertTrue(self.links.let_go(self.run_id), "its watchdog is taken off")
            self.assertFalse(server.device.watchdog_on)
            self.assertTrue(server.device.bath.supply.on)
            self.assertIsNone(links.link_of(self.shop, self.run_id))
            kept = self.count()
            self.links.start()  # a line let go is not taken up after a start
            time.sleep(1.2)
            self.assertEqual(self.count(), kept)

    def test_each_interlock_switches_off_and_writes_why(self) -> None:
        for chosen, which in (
            (Interlocks(over_amps_a=1.0), "over_amps"),
            (Interlocks(over_warm_c=16.0), "over_warm"),
            (Interlocks(touch=True), "touch"),
        ):
            with self.subTest(which), standing_in() as server:
                bath = server.device.bath
                if which == "touch":
                    bath.with_fault(fault("touch", bath.design, np.random.default_rng(3)), 0.0)
                self.listen(server.port, interlocks=chosen.model_dump())
                self.until(lambda supply=bath.supply: not supply.on)
                self.until(lambda: view_run(self.shop, self.run_id).run.state == "paused")
                lines = view_run(self.shop, self.run_id).lines
                detail = next(e.detail for e in lines if isinstance(e.detail, SwitchOff))
                self.assertEqual(detail.by, which)
                self.assertTrue(detail.reason)
                self.links.drop(self.run_id)
                self.on_again()

    def on_again(self) -> None:
        enter(self.shop, self.run_id, entry(datetime.now(UTC), "switch_on"))

    def test_a_bath_is_asked_by_a_step_and_back_to_what_was_set(self) -> None:
        """Sound, then with a touch; no sample of the bath is taken meanwhile."""
        with self.assertRaises(StepRefusedError):
            self.links.ask_step(self.run_id)
        with standing_in() as server:
            bath = server.device.bath
            self.listen(server.port, interlocks=Interlocks(touch=False, danger=False).model_dump())
            self.until(lambda: self.count() >= 2)
            for touches, outcome in ((False, "right"), (True, "none")):
                if touches:
                    bath.with_fault(fault("touch", bath.design, np.random.default_rng(3)), 0.0)
                    bath.settle()
                before = bath.limit_a
                self.links.ask_step(self.run_id)
                self.until(lambda: self.stepped() == "done")
                self.assertAlmostEqual(bath.limit_a, before)
                self.assertTrue(bath.supply.on)
                lines = view_run(self.shop, self.run_id).lines
                said = next(e.detail for e in lines if isinstance(e.detail, Asked))
                self.assertEqual((said.ask, said.outcome), ("two_levels", outcome))

    def stepped(self) -> str:
        step = self.links.state(self.run_id).step
        return step.state if step else ""

    def test_a_line_that_is_lost_while_it_is_down_leaves_it_down(self) -> None:
        with standing_in() as server:
            bath = server.device.bath
            self.listen(server.port)
            self.until(lambda: self.count() >= 2)
            before = bath.limit_a
            self.links.ask_step(self.run_id)
            self.until(lambda: bath.limit_a < before)
            server.stop()
            self.until(lambda: self.stepped() == "lost")
            self.assertLess(bath.limit_a, 0.8 * before)
            step = self.links.state(self.run_id).step
            assert step is not None
            self.assertIn("by hand", step.why)

    def test_none_that_was_not_chosen_switches_off(self) -> None:
        with standing_in() as server:
            bath = server.device.bath
            bath.with_fault(fault("touch", bath.design, np.random.default_rng(3)), 0.0)
            self.listen(server.port, interlocks=Interlocks(touch=False, danger=False).model_dump())
            self.until(lambda: self.count() >= 4)
            self.assertTrue(bath.supply.on)

    def test_a_lost_line_is_told_and_taken_up_again(self) -> None:
        with bad("well") as server:
            self.listen(server.port, probe=False)
            self.until(lambda: self.count() >= 2)
            server.way = "garbage"
            self.until(lambda: self.links.state(self.run_id).state == "lost")
            self.assertTrue(self.links.state(self.run_id).why)
            self.assertEqual(view_run(self.shop, self.run_id).run.state, "running")
            kept = self.count()
            server.way = "well"
            self.until(lambda: self.links.state(self.run_id).state == "linked")
            self.until(lambda: self.count() >= kept + 2)

    def test_a_store_that_fails_holds_up_no_interlock_and_the_reason_is_written_later(self) -> None:
        """The disk is full when it touches: off at once, and told once it can be written."""
        with standing_in() as server:
            bath = server.device.bath
            self.listen(server.port)
            self.until(lambda: self.count() >= 2)
            full = StoreFullError("The disk is full.")
            with (
                mock.patch.object(listener, "take", side_effect=full),
                mock.patch.object(listener, "enter", side_effect=full),
                mock.patch.object(listener, "speak", side_effect=full),
            ):
                bath.with_fault(fault("touch", bath.design, np.random.default_rng(3)), 0.0)
                self.until(lambda: not bath.supply.on)
            self.until(lambda: view_run(self.shop, self.run_id).run.state == "paused")

    def test_what_cannot_be_believed_is_a_danger_all_the_same(self) -> None:
        """Each is far past what a mean may hold. A probe that shows 140 degrees again and again may
        hang in the air or in a bath that boils: off, after a little longer."""
        for name, shown in (
            ("_amps", "-4.6000E+00"), ("_amps", "9.9E37"), ("_warmth", "+1.4000E+02"),
        ):  # fmt: skip
            with (
                self.subTest(shown), standing_in() as server,
                moved("interlocks", "held_leap_s", -0.8),
            ):  # fmt: skip
                with mock.patch.object(Device, name, lambda _, s=shown: s):
                    self.listen(server.port)
                    self.until(lambda s=server: not s.device.bath.supply.on)
                self.until(lambda: view_run(self.shop, self.run_id).run.state == "paused")
                view = view_run(self.shop, self.run_id)
                offs = [e.detail for e in view.lines if isinstance(e.detail, SwitchOff)]
                self.assertIn(offs[0].by, ("danger", "touch"))
                self.assertTrue(offs[0].reason)
                self.assertTrue(view.actions[0].danger, "told first though it is off")
                self.links.drop(self.run_id)
                self.on_again()

    def test_a_supply_that_does_not_obey_is_told_again_and_shouted(self) -> None:
        with standing_in() as server:
            told: list[float] = []
            bath = server.device.bath
            with mock.patch.object(bath, "switch_off", lambda: told.append(time.monotonic())):
                self.listen(server.port, interlocks=Interlocks(over_amps_a=0.5).model_dump())
                self.until(lambda: len(told) >= 5)
                gaps = [later - sooner for sooner, later in pairwise(told)]
                self.assertLess(2 * gaps[0], max(gaps), "a second time at once, then slower")
                first = view_run(self.shop, self.run_id).actions[0]
                self.assertEqual((first.kind, first.danger), ("pull_plug", True))
                top = next(iter(rack(self.shop)))
                assert top.view is not None
                self.assertEqual(top.view.actions[0].kind, "pull_plug")
                kinds = [e.detail.kind for e in view_run(self.shop, self.run_id).lines]
                self.assertIn("alarm", kinds, "the reason is in the log before it is off")
            self.until(lambda: not server.device.bath.supply.on)
            self.until(lambda: view_run(self.shop, self.run_id).run.state == "paused")
            self.assertNotEqual(view_run(self.shop, self.run_id).actions[0].kind, "pull_plug")

    def test_a_line_lost_that_was_relied_on_is_shouted_until_it_is_back(self) -> None:
        with bad("well") as server, mock.patch.object(listener, "_LOST_S", 0.5):
            self.listen(server.port, probe=False)
            self.until(lambda: self.count() >= 2)
            server.way = "garbage"
            self.until(lambda: view_run(self.shop, self.run_id).actions[0].kind == "go")
            server.way = "well"
            self.until(lambda: view_run(self.shop, self.run_id).actions[0].kind != "go")

    def test_a_trip_cut_off_in_the_middle_is_written_to_its_end(self) -> None:
        """As after kill -9 between the switch and the log: the danger was written first."""
        with standing_in() as server:
            now = datetime.now(UTC)
            enter(self.shop, self.run_id, entry(
                now, "alarm", which="over_amps", by="amps", reason="More than 1 A.", acts=True
            ))  # fmt: skip
            server.device.bath.switch_off()
            self.listen(server.port)
            self.until(lambda: view_run(self.shop, self.run_id).run.state == "paused")
            lines = view_run(self.shop, self.run_id).lines  # the line's own readings may be newer
            detail = next(e.detail for e in lines if isinstance(e.detail, SwitchOff))
            self.assertEqual((detail.by, detail.reason), ("over_amps", "More than 1 A."))

    def test_a_silent_supply_costs_the_other_bath_nothing_and_an_address_is_one_baths(self) -> None:
        real = self.shop.now
        object.__setattr__(self.shop, "now", self.clock)
        other = self.running()
        object.__setattr__(self.shop, "now", real)
        with standing_in() as server, bad("silence") as silent:
            self.listen(server.port)
            taken = LinkDocument(address=f"127.0.0.1:{server.port}")
            with self.assertRaisesRegex(InputError, "hangs on another bath"):
                links.put_link(self.shop, other, taken)
            document = LinkDocument(address=f"127.0.0.1:{silent.port}")
            links.put_link(self.shop, other, document)
            self.links.take_up(other, document)
            self.until(lambda: self.links.state(other).state == "lost")
            with self.assertRaises(InstrumentError):
                links.identify(document)
            before = self.count()
            self.links.drop(other)
            self.until(lambda: self.count() >= before + 5)
            self.assertEqual(self.links.state(self.run_id).state, "linked")

    def test_pushed_samples_are_judged_like_those_asked_for(self) -> None:
        now = datetime.now(UTC)
        pushed = [Sample(ms_of(now) - 1000 * (9 - k), 25.0, 1.0) for k in range(9)]
        self.assertTrue(take(self.shop, self.run_id, pushed).trips)
        self.assertTrue(view_run(self.shop, self.run_id).actions[0].danger)
        take(self.shop, self.run_id, [Sample(s.at_ms + 9000, 24.9, 1.0) for s in pushed])
        kinds = [e.detail.kind for e in view_run(self.shop, self.run_id).lines]
        self.assertEqual(kinds.count("alarm"), 1, "once, for as long as it stands")

    def test_warmth_alone_is_heard_too(self) -> None:
        now = ms_of(datetime.now(UTC))
        take(self.shop, self.run_id, [Sample(now - 1000 * (9 - k), bath_c=75.0) for k in range(9)])
        first = view_run(self.shop, self.run_id).actions[0]
        self.assertTrue(first.danger)
        self.assertIn("75", first.why)

    def test_a_run_that_is_over_is_listened_to_no_longer(self) -> None:
        with standing_in() as server, mock.patch.object(listener, "_STAND_S", 0.2):
            self.listen(server.port)
            self.until(lambda: self.count() >= 2)
            enter(self.shop, self.run_id, entry(datetime.now(UTC), "abandon"))
            self.until(lambda: links.link_of(self.shop, self.run_id) is None)
            self.assertTrue(server.device.bath.supply.on)

    def test_a_warmth_is_read_in_the_shops_unit_and_kept_as_it_was_typed(self) -> None:
        save_settings(self.shop, ShopSettings(system="us"))
        for typed, celsius in (("104", 40.0), ("104 F", 40.0), ("40 C", 40.0)):
            chosen = Interlocks(over_warm=typed)
            found = links.put_link(self.shop, self.run_id, LinkDocument(interlocks=chosen))
            self.assertAlmostEqual(found.document.interlocks.over_warm_c or 0, celsius)
            self.assertEqual(found.document.interlocks.over_warm, typed)
        for typed in ("45 F", "300", "hot"):
            chosen = Interlocks(over_warm=typed)
            with self.assertRaises(InputError):
                links.put_link(self.shop, self.run_id, LinkDocument(interlocks=chosen))

    def test_an_address_is_tried_before_it_is_hung_on(self) -> None:
        with standing_in() as server:
            found = links.identify(LinkDocument(address=f"127.0.0.1:{server.port}"))
            self.assertEqual(found.identity.maker, "Yellow Bath")
        for address, error in (("127.0.0.1:1", InstrumentError), ("nowhere", InputError)):
            self.assertRaises(error, links.identify, LinkDocument(address=address))


if __name__ == "__main__":
    unittest.main()
