"""How a supply is spoken to is found by trying, with questions only; each tongue is then read,
switched off, and believed."""

import dataclasses
import unittest
from contextlib import AbstractContextManager
from unittest import mock

from tests.instruments.odd import SLOW, TONGUES, Tongue, on_a_serial_line, on_a_socket, running
from tests.longer import LONG, some
from yellowbath.core.errors import BadAnswerError, InstrumentError, LinkLostError
from yellowbath.instruments.finding import Found, find
from yellowbath.instruments.scpi import Dialect
from yellowbath.instruments.standin.device import Device
from yellowbath.instruments.visa import VisaLine
from yellowbath.workflows.line.link_document import LinkDocument, open_instrument

QUICK = 0.6


def found_at(address: str, quick_s: float = QUICK, slow_s: float = 2.0) -> Found:
    return find(lambda ending, patience: VisaLine(address, patience, ending), quick_s, slow_s)


class Trying(unittest.TestCase):
    def tried(self, tongue: Tongue, line: AbstractContextManager[str], device: Device) -> Dialect:
        """Found, read, and switched off by its own words."""
        with line as address:
            said: list[str] = []
            heard = device.handle
            with mock.patch.object(device, "handle", lambda m: (said.append(m), heard(m))[1]):
                found = found_at(
                    address, QUICK + 1.3 * tongue.thinks_s, 1.0 + 1.3 * tongue.thinks_s
                )
            self.assertTrue(all(m.endswith("?") for m in said), "questions only, never a setting")
            self.assertTrue(device.bath.supply.on)
            patient = found.dialect.model_copy(update={"answer_s": 12.0})  # beside other work
            supply = open_instrument(LinkDocument(address=address, dialect=patient))
            reads = []
            for _ in range(6):
                try:
                    reads.append(supply.read())
                except BadAnswerError:  # a third of them: it costs one sample each
                    self.assertTrue(tongue.nonsense_every)
                if tongue.thinks_s:
                    break
            self.assertGreaterEqual(len(reads), 1 if tongue.thinks_s else 4)
            assert reads[0].volts is not None and reads[0].amps is not None
            self.assertGreater(reads[0].amps, 0.5)
            self.assertIn(reads[0].output_on, (True, None))
            for _ in range(3):  # as a line tells it again
                try:
                    supply.off()
                    break
                except InstrumentError:
                    self.assertTrue(tongue.nonsense_every)
            self.assertFalse(device.bath.supply.on)
            supply.close()
        return found.dialect

    def test_every_tongue_over_a_socket(self) -> None:
        names = [*some(list(TONGUES), 2), *(SLOW if LONG else ())]
        for name, tongue in {n: {**TONGUES, **SLOW}[n] for n in names}.items():
            with self.subTest(name):
                device = running()
                fresh = dataclasses.replace(tongue)
                d = self.tried(fresh, on_a_socket(fresh, device), device)
                self.assertEqual(d.together, tongue.several in ("joined", "commas"))
                self.assertEqual(bool(d.output), "OUTP?" not in tongue.deaf)
                self.assertEqual(bool(d.limit), "CURR?" not in tongue.deaf)

    def test_some_over_a_serial_line(self) -> None:
        names = TONGUES if LONG else ("with commas", "return", "one a line, no OUTP?, return")
        for name in names:
            with self.subTest(name):
                device, fresh = running(), dataclasses.replace(TONGUES[name])
                self.tried(fresh, on_a_serial_line(fresh, device), device)

    def test_one_that_thinks_is_given_its_time(self) -> None:
        device, tongue = running(), Tongue(thinks_s=0.5)
        with on_a_socket(tongue, device) as address:
            found = found_at(address, 0.2, 1.5)
            self.assertGreaterEqual(found.dialect.answer_s, 1.5)

    def test_what_is_none_is_refused_in_words(self) -> None:
        for deaf, error, words in (
            (("MEAS", "*IDN", "OUTP", "CURR"), LinkLostError, "does not answer"),
            (("MEAS",), BadAnswerError, "neither volts nor amps"),
        ):
            with (
                on_a_socket(Tongue(deaf=deaf), running()) as address,
                self.assertRaisesRegex(error, words),
            ):
                found_at(address, 0.1, 0.2)
        self.assertRaises(LinkLostError, found_at, "127.0.0.1:1")

    def test_no_word_typed_by_hand_can_switch_on(self) -> None:
        for bad in ({"volts": "OUTP ON"}, {"off": "OUTP ON"}, {"off": "OUTP 1"},
                    {"limit": "CURR 5"}, {"set_limit": "OUTP ON"},
                    {"volts": "OUTP ON;MEAS:VOLT?"}, {"amps": "OUTP ON ?"},
                    {"off": "OUTP ON;OUTP OFF"}):  # fmt: skip
            with self.assertRaises(ValueError, msg=str(bad)):
                Dialect.model_validate(bad)
        Dialect.model_validate({"off": "OUTP:STAT 0", "volts": "MEAS:VOLT:DC? (@1)"})


if __name__ == "__main__":
    unittest.main()
