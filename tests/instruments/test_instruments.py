"""One contract for every instrument: over the stand-in, over one that is well behaved otherwise,
and what holds of one that is not. PyVISA is the foreign client of the stand-in."""

import inspect
import math
import re
import time
import unittest
from pathlib import Path
from typing import ClassVar

import pyvisa

from tests.instruments.peers import Bad, Clock, Raw, bad, standing_in
from yellowbath.core.errors import (
    BadAnswerError,
    InputError,
    InstrumentError,
    InstrumentRefusedError,
    LinkLostError,
    StepRefusedError,
)
from yellowbath.instruments import protocol, scpi, visa
from yellowbath.instruments.address import address_of, require_agreed
from yellowbath.instruments.scpi import WITH_EXTRAS, ScpiSupply, number
from yellowbath.instruments.visa import VisaLine, resource_of

DIALOGUES = Path(__file__).parent / "dialogues"


def asked(port: int, timeout_s: float = 0.4, extras: bool = False) -> ScpiSupply:
    line = VisaLine(f"127.0.0.1:{port}", timeout_s)
    return ScpiSupply(line, WITH_EXTRAS) if extras else ScpiSupply(line)


class Contract:
    """What every instrument does; mixed in with a case that makes ``self.supply``, on at over one
    volt and some amps, with a limit of some amps."""

    supply: ScpiSupply

    def test_it_says_who_it_is(self) -> None:
        self.assertTrue(self.supply.identify().name)

    def test_it_measures(self) -> None:
        read = self.supply.read()
        assert read.volts is not None and read.amps is not None
        self.assertGreater(read.volts, 1)
        self.assertGreater(read.amps, 0.1)
        self.assertIs(read.output_on, True)

    def test_a_limit_goes_down_and_never_up(self) -> None:
        before = self.supply.read().limit_a
        with self.assertRaises(StepRefusedError) as raised:
            self.supply.lower_limit(before + 0.5)
        self.assertIn("only hands raise", str(raised.exception))
        self.assertEqual(self.supply.read().limit_a, before)

    def test_what_was_lowered_is_given_back_and_no_more(self) -> None:
        before = self.supply.read().limit_a
        with self.assertRaises(StepRefusedError):
            self.supply.give_back()
        self.supply.lower_limit(0.8 * before)
        self.supply.lower_limit(0.5 * before)
        self.assertLessEqual(self.supply.give_back(), before)
        with self.assertRaises(StepRefusedError):
            self.supply.give_back()
        self.supply.lower_limit(0.5 * before)
        self.supply.close()  # lost between: it stays down
        with self.assertRaises(StepRefusedError):
            self.supply.give_back()

    def test_it_goes_on_after_the_line_was_let_go(self) -> None:
        self.supply.read()
        self.supply.close()
        self.assertGreater(self.supply.read().amps, 0.1)


class OnTheStandIn(Contract, unittest.TestCase):
    def setUp(self) -> None:
        self.clock = Clock()
        self.server = self.enterContext(standing_in(self.clock))
        self.supply = asked(self.server.port, extras=True)
        self.addCleanup(self.supply.close)

    def test_lowering_and_switching_off_reach_the_bath(self) -> None:
        before = self.supply.read()
        self.supply.lower_limit(2.0)
        self.assertAlmostEqual(self.supply.lower_limit(1.0), 1.0)
        self.assertAlmostEqual(self.supply.give_back(), 2.0, msg="what it lowered last")
        self.assertAlmostEqual(self.supply.lower_limit(1.0), 1.0)
        self.server.device.bath.set_limit(0.5)  # hands, meanwhile
        with self.assertRaises(StepRefusedError):
            self.supply.give_back()
        self.assertAlmostEqual(self.supply.read().limit_a, 0.5)
        self.server.device.bath.set_limit(1.0)
        self.supply.close()  # a line that is lost between leaves it down
        self.assertAlmostEqual(self.supply.read().limit_a, 1.0)
        self.assertAlmostEqual(self.supply.read().amps, 1.0, delta=0.01)
        self.assertGreater(before.amps, 2)
        self.supply.off()
        after = self.supply.read()
        self.assertEqual((after.output_on, round(after.amps, 3)), (False, 0.0))

    def test_its_own_watchdog_is_set_and_bites_when_nobody_asks(self) -> None:
        self.assertEqual(self.supply.watchdog(30.0), 30.0)
        for self.clock.now in (20.0, 40.0, 60.0):
            self.assertTrue(self.supply.read().output_on)
        self.clock.now = 95.0
        self.assertFalse(self.supply.read().output_on)

    def test_one_without_a_watchdog_says_so(self) -> None:
        plain = asked(self.server.port)
        self.assertIsNone(plain.watchdog(30.0))
        plain.close()

    def test_what_it_refuses_is_said_in_its_own_words(self) -> None:
        with self.assertRaises(InstrumentRefusedError) as raised:
            self.supply.lower_limit(-3.0)
        self.assertIn("Data out of range (-222)", str(raised.exception))
        self.assertTrue(self.supply.read().output_on)

    def test_the_bath_goes_on_by_the_clock(self) -> None:
        first = self.supply.read()
        self.clock.now = 3600.0
        self.assertGreater(self.supply.read().bath_c, first.bath_c)


class OnAnother(Contract, unittest.TestCase):
    """One that writes decimal commas and suffixes, and sends its answers in halves."""

    way = "suffixes"

    def setUp(self) -> None:
        self.supply = asked(self.enterContext(bad(self.way)).port)
        self.addCleanup(self.supply.close)

    def test_its_figures_are_read_as_they_are_meant(self) -> None:
        read = self.supply.read()
        self.assertEqual((read.volts, read.amps, read.limit_a), (12.0, 3.0, 5.0))


class WithCommas(OnAnother):
    way = "comma"


class InHalves(OnAnother):
    way = "half"


class Misbehaved(unittest.TestCase):
    """Whatever it does, no figure comes of it that was not measured, and it is taken up again."""

    WAYS: ClassVar = {
        "silence": LinkLostError, "dropped": LinkLostError, "late": LinkLostError,
        "cut": LinkLostError, "garbage": InstrumentError, "binary": InstrumentError,
        "wrong number": BadAnswerError, "too many": BadAnswerError, "nan": BadAnswerError,
        "maybe": BadAnswerError, "empty": BadAnswerError,
    }  # fmt: skip

    def test_every_way(self) -> None:
        for way, error in self.WAYS.items():
            with self.subTest(way), bad(way) as server:
                supply = asked(server.port, 0.3)
                for _ in range(2):
                    with self.assertRaises(error) as raised:
                        supply.read()
                    self.assertTrue(str(raised.exception).strip())
                server.way = "well"
                if way == "late":
                    time.sleep(0.7)  # what was late is on its way meanwhile
                read = supply.read()
                self.assertEqual((read.volts, read.amps), (12.0, 3.0))
                supply.close()

    def test_a_figure_that_cannot_be_is_told_and_not_thrown_away(self) -> None:
        """Whether it is a danger is judged elsewhere: here it is what was measured."""
        with bad("absurd") as server:
            supply = asked(server.port)
            self.assertEqual(supply.read().amps, 300_000.0)
            supply.close()

    def test_nobody_there(self) -> None:
        server = Bad("well")
        port = server.port
        server.server_close()
        with self.assertRaises(LinkLostError) as raised:
            asked(port).read()
        self.assertIn(f"127.0.0.1:{port}", str(raised.exception))

    def test_off_that_is_not_believed(self) -> None:
        """It says it is on still: that is an alarm, not a success."""
        with bad("well") as server:
            supply = asked(server.port)
            supply.off()
            self.assertIn("OUTP OFF", server.asked)
            server.way = "garbage"
            with self.assertRaises(InstrumentError):
                supply.off()
            supply.close()

    def test_numbers(self) -> None:
        """As devices write them; SCPI's own "not a number" and what no bath has are none."""
        good = {("12.50", "V"): 12.5, ("+1.25E1", "V"): 12.5, (" 12,5 V", "V"): 12.5,
                ("250MA", "A"): 0.25, ("1.5 KV", "V"): 1500.0, (".5", "A"): 0.5,
                ("-.5A", "A"): -0.5,
                ("293.15 K", "CEL"): 20.0, ("68 F", "CEL"): 20.0, ("20 CEL", "CEL"): 20.0,
                ("9.91E37", "V"): None, ("-9.9E37", "A"): -math.inf, ("12.5A", "V"): None,
                ("1.2.3", "V"): None, ("", "A"): None, ("1e999", "A"): math.inf, ("ON", "A"): None,
                ("1 2", "A"): None, ("0x1F", "A"): None, ("301", "A"): 301.0}  # fmt: skip
        for (text, unit), value in good.items():
            with self.subTest(text):
                if value is None:
                    self.assertRaises(BadAnswerError, number, text, unit)
                else:
                    self.assertAlmostEqual(number(text, unit), value)

    def test_addresses(self) -> None:
        here = address_of(" localhost:5025 ")
        self.assertEqual(resource_of(here), "TCPIP::127.0.0.1::5025::SOCKET")
        self.assertTrue(here.here())
        self.assertEqual(resource_of(address_of("COM3@19200")), "ASRLCOM3::INSTR")
        self.assertEqual(address_of("COM3@19200").baud, 19200)
        for text in ("", "bench", "bench:0", "bench:70000", "a b:1", "bench:5025/x", "ASRL1::INSTR",
                     "/etc/passwd:1", "COM@9600", "x" * 999 + ":1;", "/dev/../etc/passwd",
                     "[::1]:5025", "::1:5025", "metadata.google.internal:80"):  # fmt: skip
            self.assertRaises(InputError, address_of, text)

    def test_where_must_not_be_asked_and_what_is_agreed_to(self) -> None:
        for text in ("169.254.169.254:80", "224.0.0.1:1", "0.0.0.0:5025", "100.100.100.200:80"):
            self.assertRaises(InputError, address_of(text).numbers)
        self.assertRaises(InputError, address_of("no-such-host.invalid:5025").numbers)
        self.assertRaises(InputError, address_of("x" * 80 + ".invalid:1").numbers)
        require_agreed(address_of("127.0.0.1:5025"), False)
        require_agreed(address_of("/dev/ttyUSB0"), False)
        with self.assertRaisesRegex(InputError, "another machine"):
            require_agreed(address_of("192.168.1.20:5025"), False)
        require_agreed(address_of("192.168.1.20:5025"), True)


class OnlyHands(unittest.TestCase):
    """A machine may lower or switch off; only hands switch on."""

    def test_no_call_of_an_instrument_switches_on(self) -> None:
        calls = {n for n, _ in inspect.getmembers(protocol.Instrument, inspect.isfunction)}
        known = {
            "identify",
            "read",
            "lower_limit",
            "give_back",
            "off",
            "watchdog",
            "watchdog_off",
            "close",
        }
        self.assertEqual({n for n in calls if not n.startswith("_")}, known)

    def test_nothing_that_speaks_to_a_device_says_on(self) -> None:
        for module in (scpi, visa):
            said = re.findall(r'"([^"]*)"', inspect.getsource(module))
            on = [s for s in said if re.search(r"OUTP\w*(:STAT\w*)? *(ON|1)\b", s, re.IGNORECASE)]
            self.assertEqual(on, [], module.__name__)


class Dialogues(unittest.TestCase):
    """The stand-in by raw sockets: what is sent and what comes back, as the standards have it."""

    def test_every_dialogue(self) -> None:
        for path in sorted(DIALOGUES.glob("*.txt")):
            with standing_in() as server:
                raw = Raw(server.port)
                self.addCleanup(raw.close)
                exchanged = 0
                for k, line in enumerate(path.read_text("utf-8").splitlines(), start=1):
                    if line.startswith("> "):
                        raw.send(line[2:] + "\n")
                    elif line.startswith("< "):
                        self.assertEqual(raw.line(), line[2:], f"{path.name}:{k}")
                        exchanged += 1
                    elif line.startswith("<~ "):
                        self.assertRegex(raw.line(), line[3:], f"{path.name}:{k}")
                        exchanged += 1
                self.assertGreater(exchanged, 20)

    def test_messages_in_pieces_several_at_once_and_with_carriage_returns(self) -> None:
        with standing_in() as server:
            raw = Raw(server.port)
            self.addCleanup(raw.close)
            raw.send("SYST:")
            time.sleep(0.05)
            raw.send("VERS?\r\n*OPC?\n*ESE 4\n*ESE?\n")
            self.assertEqual([raw.line() for _ in range(3)], ["1999.0", "1", "4"])
            raw.send("X" * 70_000 + "\n*OPC?\n")
            self.assertEqual(raw.line(), "1")
            raw.send("SYST:ERR?\n")
            self.assertEqual(raw.line(), '-223,"Too much data"')

    def test_two_lines_at_once_have_their_turns(self) -> None:
        with standing_in() as server:
            lines = [Raw(server.port) for _ in range(2)]
            for k in range(50):
                for raw in lines:
                    raw.send("MEAS:VOLT?;:SYST:VERS?\n")
                for raw in lines:
                    self.assertRegex(raw.line(), r"^\+\d\.\d{4}E\+\d\d;1999\.0$", str(k))
            for raw in lines:
                raw.close()

    def test_pyvisa_as_a_foreign_client(self) -> None:
        with standing_in() as server:
            manager = pyvisa.ResourceManager("@py")
            device = manager.open_resource(
                f"TCPIP::127.0.0.1::{server.port}::SOCKET", read_termination="\n",
                write_termination="\n",
            )  # fmt: skip
            values = device.query_ascii_values("MEAS:VOLT?;:MEAS:CURR?", separator=";")
            self.assertEqual(len(values), 2)
            device.write("CURR 2")
            self.assertEqual(device.query_ascii_values("CURR?"), [2.0])
            device.close()
            manager.close()


if __name__ == "__main__":
    unittest.main()
