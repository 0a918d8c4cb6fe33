"""The stand-ins' words, asked by PyVISA from outside the app, as IEEE 488.2 and SCPI-99 have them (from memory)."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
import pyvisa

from .conftest import Running, waits_for


@pytest.fixture
def supply(running: Running) -> Iterator[Any]:
    manager = pyvisa.ResourceManager("@py")
    made: Any = manager.open_resource(
        running.address["supply"], read_termination="\n", write_termination="\n", timeout=3000
    )
    yield made
    made.close()


def test_it_tells_who_it_is_in_four_fields(supply: Any) -> None:
    assert len(supply.query("*IDN?").split(",")) == 4
    assert supply.query("*OPC?") == "1"


@pytest.mark.parametrize("words", ["VOLT", "VOLTAGE", "sour:volt", "SOURce:VOLTage:LEVel", ":volt:lev"])
def test_long_and_short_words_are_the_same_command(supply: Any, words: str) -> None:
    supply.write(f"{words} 7.5")
    assert float(supply.query(f"{words}?")) == 7.5
    assert supply.query("SYST:ERR?") == '0,"No error"'


@pytest.mark.parametrize(
    ("line", "number"),
    [
        ("VOLTA 5", -113),
        ("FOO:BAR", -113),
        ("VOLT", -109),
        ("VOLT 1,2", -108),
        ("VOLT high", -104),
        ("VOLT 99", -222),
        ("VOLT nan", -222),
        ("OUTP PERHAPS", -224),
    ],
)
def test_what_is_not_taken_has_the_standards_number_and_changes_nothing(supply: Any, line: str, number: int) -> None:
    before = supply.query("VOLT?;OUTP?")
    supply.write(line)
    assert int(supply.query("SYSTem:ERRor:NEXT?").split(",")[0]) == number
    assert supply.query("VOLT?;OUTP?") == before
    assert supply.query("SYST:ERR?") == '0,"No error"', "told once"


def test_several_on_a_line_are_answered_on_a_line(supply: Any) -> None:
    supply.write("VOLT 5;CURR 0.5;OUTP ON")
    assert [float(x) for x in supply.query("VOLT?;CURR?;OUTP?").split(";")] == [5.0, 0.5, 1.0]
    supply.write("*RST")
    assert supply.query("OUTP?") == "0"


def test_the_queue_of_errors_ends_by_saying_that_it_is_full(supply: Any) -> None:
    for _ in range(30):
        supply.write("FOO")
    told = [supply.query("SYST:ERR?") for _ in range(21)]
    assert told[-2].startswith("-350") and told[-1] == '0,"No error"'
    supply.write("FOO")
    supply.write("*CLS")
    assert supply.query("SYST:ERR?") == '0,"No error"'


def test_what_is_set_is_what_it_gives(running: Running, supply: Any) -> None:
    supply.write("VOLT 12;CURR 2;OUTP ON")
    assert waits_for(lambda: abs(float(supply.query("MEAS:VOLT:DC?")) - 12) < 0.01)
    assert float(supply.query("MEAS:CURR?")) == pytest.approx(running.world.idle_a, abs=0.001)


def test_what_is_beyond_a_range_is_told_as_the_standard_tells_it(running: Running) -> None:
    """9.9E37 stands for an overload (SCPI-99, from memory)."""
    running.world.bus_v = 700.0
    assert float(running.bench.meter.line("MEAS:VOLT?") or "") == pytest.approx(9.9e37)
