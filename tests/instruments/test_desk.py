"""The desk against what goes wrong on a desk: no answer, nonsense, half an answer, a lead that is pulled."""

from __future__ import annotations

import json
import signal
import socket
import subprocess
import sys
import threading
from pathlib import Path

import pytest

from zinc_whistle.instruments.capability import SHIPPED, CapabilityError, matching, read_table, tables
from zinc_whistle.instruments.desk import Desk, DeskError
from zinc_whistle.instruments.link import InstrumentLink, LinkError

from .conftest import Running, waits_for


def heard(running: Running) -> list[str]:
    """What the stand-in supply is told, from now on."""
    said: list[str] = []
    inner = running.bench.supply.line

    def listening(text: str) -> str | None:
        said.append(text)
        return inner(text)

    running.bench.supply.line = listening  # type: ignore[method-assign]
    return said


def test_the_limit_is_set_before_the_volts_and_these_before_the_output(running: Running, desk: Desk) -> None:
    item = desk.open(running.address["supply"])
    said = heard(running)
    desk.supply(item.id, 12.0, 0.8, True)
    order = [s.split(" ")[0] for s in said if not s.endswith("?")]
    assert order == ["SOUR:CURR", "SOUR:VOLT", "OUTP"]
    assert running.world.supply.on and running.world.supply.limit_a == 0.8
    said.clear()
    desk.supply(item.id, 15.0, 0.8, False)
    assert said[0] == "OUTP OFF" and not running.world.supply.on, "off before anything rises"


def test_opening_and_setting_turns_nothing_on(running: Running, desk: Desk) -> None:
    item = desk.open(running.address["supply"])
    desk.supply(item.id, 12.0, 0.8, False)
    desk.read(item.id, "volts")
    assert not running.world.supply.on and not item.on and item.guard is None


@pytest.mark.parametrize(("volts", "limit"), [(33.0, 1.0), (5.0, 11.0), (5.0, 0.0)])
def test_beyond_its_table_nothing_is_sent(running: Running, desk: Desk, volts: float, limit: float) -> None:
    item = desk.open(running.address["supply"])
    before = (running.world.supply.volts, running.world.supply.limit_a)
    with pytest.raises(DeskError, match="gives up to 32 V and 10 A"):
        desk.supply(item.id, volts, limit, True)
    assert (running.world.supply.volts, running.world.supply.limit_a) == before and not running.world.supply.on


def test_an_instrument_that_complains_is_turned_off_and_quoted(running: Running, desk: Desk) -> None:
    item = desk.open(running.address["supply"])
    desk.supply(item.id, 5.0, 0.5, True)
    assert item.can is not None
    item.can = item.can.model_copy(update={"volts": "NONSENSE {value}"})
    with pytest.raises(DeskError, match=r"-113,.*Its output is off"):
        desk.supply(item.id, 6.0, 0.5, True)
    assert not running.world.supply.on and not item.on


def test_no_answer_closes_the_line_and_says_so(running: Running, desk: Desk) -> None:
    item = desk.open(running.address["meter"])
    running.bench.deaf.add("meter")
    with pytest.raises(LinkError, match="did not answer “MEAS:VOLT:DC\\?” in time"):
        desk.read(item.id, "dc")
    running.bench.deaf.clear()
    with pytest.raises(LinkError, match="in time"):
        desk.read(item.id, "dc")
    again = desk.open(running.address["meter"])
    assert [x.id for x in desk.all()] == [again.id], "opened anew it takes the old one's place"
    assert desk.read(again.id, "dc")[1] == "V"


def test_nonsense_is_quoted_and_the_line_stays(running: Running, desk: Desk) -> None:
    item = desk.open(running.address["meter"])
    running.bench.garbled.add("meter")
    with pytest.raises(LinkError, match=r"answered “\?#\?#.*”, which is no number"):
        desk.read(item.id, "dc")
    running.bench.garbled.clear()
    assert desk.read(item.id, "dc")[0] == pytest.approx(0, abs=0.1)


def test_an_overload_is_no_reading(running: Running, desk: Desk) -> None:
    item = desk.open(running.address["meter"])
    running.world.measured = lambda what: 1000.0  # type: ignore[method-assign]
    with pytest.raises(LinkError, match="overload"):
        desk.read(item.id, "dc")


def test_half_an_answer_is_none() -> None:
    """A server that sends five characters and no line's end, then is gone."""
    with socket.create_server(("127.0.0.1", 0)) as listening:
        address = f"TCPIP::127.0.0.1::{listening.getsockname()[1]}::SOCKET"

        def half() -> None:
            conn, _ = listening.accept()
            conn.recv(100)
            conn.sendall(b"+1.23")
            conn.close()

        thread = threading.Thread(target=half)
        thread.start()
        link = InstrumentLink(address, timeout_ms=1000)
        with pytest.raises(LinkError) as caught:
            link.number("MEAS:VOLT:DC?")
        thread.join(5)
    assert caught.value.lost and address in str(caught.value)


def test_a_supply_whose_lead_is_pulled_while_it_is_on_may_still_be_on(running: Running, desk: Desk) -> None:
    item = desk.open(running.address["supply"])
    desk.supply(item.id, 5.0, 1.0, True)
    running.unplug("supply")
    with pytest.raises(LinkError, match="may still be on"):
        desk.read(item.id, "volts")
    assert "may still be on" in item.lost
    assert desk.all_off() == [item.lost]
    assert running.world.supply.on, "and so it is: nobody could tell it"
    again = desk.open(running.address["supply"])
    desk.supply(again.id, 5.0, 1.0, False)
    assert not running.world.supply.on


def test_one_that_does_not_say_that_it_is_off_is_not_believed(running: Running, desk: Desk) -> None:
    item = desk.open(running.address["supply"])
    desk.supply(item.id, 5.0, 1.0, True)
    running.bench.garbled.add("supply")
    assert desk.all_off() == ["Stand-in bench supply does not say that its output is off: turn it off by hand."]
    assert item.on
    running.bench.garbled.clear()
    assert desk.all_off() == [] and not running.world.supply.on


def test_all_off_turns_supplies_off_and_stops_boards(running: Running, desk: Desk) -> None:
    supply = desk.open(running.address["supply"])
    board = desk.open(running.address["motor board"], board=True)
    desk.supply(supply.id, 12.8, 2.0, True)
    assert desk.say(board.id, "clear") == "ok clear" and desk.say(board.id, "duty 1 300") == "ok duty"
    assert desk.all_off() == []
    assert not running.world.supply.on
    assert waits_for(lambda: desk.say(board.id, "status 1").split(" ")[3] == "stopped")


def test_a_board_answers_between_its_reports(running: Running, desk: Desk) -> None:
    board = desk.open(running.address["motor board"], board=True)
    assert desk.say(board.id, "report 10") == "ok report"
    assert waits_for(lambda: len(running.world.lines) > 3)
    assert desk.say(board.id, "counts 1").startswith("ok counts 1 ")
    with pytest.raises(DeskError, match="printable ASCII"):
        desk.say(board.id, "duty ~")


def test_a_record_is_as_many_volts_as_were_asked_for(running: Running, desk: Desk) -> None:
    scope = desk.open(running.address["oscilloscope"])
    assert len(desk.record(scope.id, 20.0, 1e-6, 5000)) == 5000
    with pytest.raises(DeskError, match="10 to 100,000 samples"):
        desk.record(scope.id, 20.0, 1e-6, 200_000)
    with pytest.raises(DeskError, match="-222"):
        desk.record(scope.id, 5000.0, 1e-6, 100)


@pytest.mark.parametrize(
    ("address", "said"),
    [
        ("", "is no address"),
        ("http://example.org/", "is no address"),
        ("TCPIP::127.0.0.1::99999::SOCKET", "is no address"),
        ("TCPIP::127.0.0.1::INSTR", "is no address"),
        ("TCPIP::127.0.0.1::1::SOCKET", "Nothing answers"),
        ("ASRL/dev/nowhere::INSTR", "Nothing answers"),
    ],
)
def test_what_cannot_be_opened_is_told(desk: Desk, address: str, said: str) -> None:
    with pytest.raises(LinkError, match=said):
        desk.open(address)
    assert desk.all() == []


def test_the_same_twice_and_the_wrong_kind_are_told(running: Running, desk: Desk) -> None:
    item = desk.open(running.address["meter"])
    with pytest.raises(DeskError, match="open already"):
        desk.open(running.address["meter"])
    with pytest.raises(DeskError, match="is no supply"):
        desk.supply(item.id, 1.0, 1.0, True)
    with pytest.raises(LinkError, match="did not answer “hello” in time"):
        desk.open(running.address["oscilloscope"], board=True)
    with pytest.raises(DeskError, match="not open any more"):
        desk.get("i99")


def test_closing_a_supply_turns_it_off(running: Running, desk: Desk) -> None:
    item = desk.open(running.address["supply"])
    desk.supply(item.id, 5.0, 1.0, True)
    guard = item.guard
    assert desk.close(item.id) == "" and waits_for(lambda: not running.world.supply.on)
    assert guard is not None and guard.wait(10) == 0, "there is nothing left to guard"


CHILD = """
import sys, time
from zinc_whistle.instruments.desk import Desk
desk = Desk()
item = desk.open(sys.argv[1])
desk.supply(item.id, 5.0, 1.0, True)
print("on", flush=True)
time.sleep(60)
"""


@pytest.mark.skipif(sys.platform == "win32", reason="a process that is killed at once")
def test_if_the_app_is_killed_its_guard_turns_the_output_off(running: Running) -> None:
    child = subprocess.Popen(
        [sys.executable, "-c", CHILD, running.address["supply"]], stdout=subprocess.PIPE, text=True
    )
    assert child.stdout is not None and child.stdout.readline() == "on\n"
    assert running.world.supply.on
    child.send_signal(signal.SIGKILL)
    child.wait(10)
    assert waits_for(lambda: not running.world.supply.on)


def test_where_the_line_is_lost_the_guard_tries_by_one_of_its_own_as_the_app_ends(running: Running) -> None:
    desk = Desk()
    item = desk.open(running.address["supply"])
    desk.supply(item.id, 5.0, 1.0, True)
    running.unplug("supply")
    with pytest.raises(LinkError):
        desk.read(item.id, "volts")
    desk.end()
    assert waits_for(lambda: not running.world.supply.on)


def test_tables_that_ship_are_whole_and_fit_the_stand_ins() -> None:
    found, faults = tables()
    assert len(found) == len(list(SHIPPED.glob("*.json"))) == 3 and faults == []
    for told, kind in (
        ("Maker,Bench Supply 3,0,1", "supply"),
        ("X,multimeter,0", "meter"),
        ("Y,Digitizer,1", "oscilloscope"),
    ):
        can = matching(told, found)
        assert can is not None and can.kind == kind
    assert matching("Y,toaster,1", found) is None


def test_a_table_of_ones_own_comes_first_and_a_broken_one_is_told(tmp_path: Path) -> None:
    mine = json.loads((SHIPPED / "10-supply.json").read_text())
    (tmp_path / "mine.json").write_text(json.dumps(mine | {"name": "My supply", "most_v": 5}))
    (tmp_path / "broken.json").write_text('{"name": "No kind"}')
    (tmp_path / "text.json").write_text("not a table")
    (tmp_path / "pattern.json").write_text(json.dumps(mine | {"matches": "("}))
    (tmp_path / "braces.json").write_text(json.dumps(mine | {"volts": "VOLT {0}"}))
    degrees = {"heat": {"title": "Heat", "ask": "MEAS:TEMP?", "unit": "°C"}}
    (tmp_path / "unit.json").write_text(json.dumps(mine | {"reads": degrees}))
    found, faults = tables(tmp_path)
    first = matching("A,supply", found)
    assert first is not None and first.name == "My supply"
    assert len(faults) == 5 and any("broken.json: kind" in f for f in faults)
    assert any("only {value} may stand in braces" in f for f in faults)
    assert any("unit.json: reads.heat.unit" in f for f in faults)
    with pytest.raises(CapabilityError, match="cannot be read"):
        read_table(tmp_path / "text.json")
