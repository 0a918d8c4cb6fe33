"""The CSV reader: every way people's instruments write a table, and anything else refused in words."""

from __future__ import annotations

import tracemalloc

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zinc_whistle.core.captures import roles
from zinc_whistle.core.captures.table import CaptureError, decimated, read
from zinc_whistle.demo.capture import STIRRER, shipped, stirrer


@pytest.mark.parametrize(
    ("text", "delimiter", "decimal", "names", "units"),
    [
        ("t,i\n0,1\n1,2\n", ",", ".", ("t", "i"), ("", "")),
        ("Time (ms);Current [A]\n0,5;1,25\n1,0;1,5\n", ";", ",", ("Time", "Current"), ("ms", "A")),
        ("time\tvolts\n0.5\t12.1\n1\t12.2\n", "\t", ".", ("time", "volts"), ("", "")),
        ("time volts\n0.5 12.1\n1 12.2\n", " ", ".", ("time", "volts"), ("", "")),
        ("# scope 7\nrecorded today\ntime,ch\ns,V\n0,1\n1,2\n", ",", ".", ("time", "ch"), ("s", "V")),
        ("0.1,2\n0.2,3\n", ",", ".", ("column 1", "column 2"), ("", "")),
        ('"t","i"\n"0.1","2"\n"0.2","3"\n', ",", ".", ("t", "i"), ("", "")),
        ("t,i,\n0.1,2,\n0.2,3,\n", ",", ".", ("t", "i"), ("", "")),
        ("t|i\n1e-3|2.5E+2\n2e-3|.5\n", "|", ".", ("t", "i"), ("", "")),
        ("speed_rpm,current_A\n0.1,2\n0.2,3\n", ",", ".", ("speed", "current"), ("rpm", "A")),
    ],
)
def test_layouts_are_found(
    text: str, delimiter: str, decimal: str, names: tuple[str, ...], units: tuple[str, ...]
) -> None:
    table = read(text.encode())
    assert (table.layout.delimiter, table.layout.decimal) == (delimiter, decimal)
    assert (table.layout.names, table.layout.units) == (names, units)
    assert table.rows == 2


def test_byte_marks_and_utf_16_are_read() -> None:
    text = "t;i\n0,5;1\n1,5;2\n"
    for data in (text.encode("utf-8-sig"), text.encode("utf-16")):
        assert read(data).columns[0] == pytest.approx([0.5, 1.5])


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "empty"),
        (b"   \n", "empty"),
        (b"hello\nworld\n", "No table"),
        (b"\x00\x01\x02\x03", "no text"),
        (b"t,i\n1,2\n2,x\n3,4\n", "Line 3, i: “x”"),
        (b"t,i\n1,2\n2,\n3,4\n4,5\n", "Line 3"),
        (b"t,i\n1,2\n2,3,4\n3,4\n", "Line 3"),
        (b"t,i\n1,nan\n2,3\n3,inf\n4,5\n", "Line"),
        (b"t,i\n1,2\n", "two rows"),
    ],
)
def test_bad_files_are_refused_with_their_line(data: bytes, says: str) -> None:
    with pytest.raises(CaptureError, match=says):
        read(data)


def test_a_last_line_that_was_cut_off_is_left_out() -> None:
    assert read(b"t,i\n1,2\n2,3\n3,4\n4,").rows == 3


@settings(max_examples=400)
@given(st.binary(max_size=300))
def test_any_bytes_give_a_result_or_a_refusal(data: bytes) -> None:
    outcome: object
    try:
        outcome = read(data).rows
    except CaptureError as refusal:
        outcome = str(refusal)
    assert outcome


TOKENS = st.sampled_from(
    ["1", "2.5", "3,5", "-4e3", "x", "", '"', "inf", "1e999", "\0", ";", ",", "\t", " ", "\n", "\r\n"]
)


@settings(max_examples=400)
@given(st.lists(TOKENS, max_size=80))
def test_near_tables_give_a_result_or_a_refusal(tokens: list[str]) -> None:
    outcome: object
    try:
        table = read("".join(tokens).encode())
        assert all(np.all(np.isfinite(c)) for c in table.columns)
        outcome = table.rows
    except CaptureError as refusal:
        outcome = str(refusal)
    assert outcome


@settings(max_examples=60)
@given(
    st.lists(st.tuples(*[st.floats(-1e6, 1e6, allow_subnormal=False)] * 3), min_size=2, max_size=40),
    st.sampled_from([(",", "."), (";", ","), ("\t", "."), (";", ".")]),
)
def test_what_is_written_is_read_back(rows: list[tuple[float, ...]], marks: tuple[str, str]) -> None:
    delimiter, decimal = marks
    lines = [delimiter.join(f"{x:.9f}".replace(".", decimal) for x in row) for row in rows]
    table = read(("a" + delimiter + "b" + delimiter + "c\n" + "\n".join(lines) + "\n").encode())
    assert np.column_stack(table.columns) == pytest.approx(np.array(rows), abs=1e-9)


def test_memory_stays_within_a_small_multiple_of_the_file() -> None:
    data = b"t,i,v\n" + b"".join(b"%d.25,%d.5,12.125\n" % (i, i) for i in range(60_000))
    read(data)
    tracemalloc.start()
    read(data)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert peak < 12 * len(data)


def test_thinning_hides_no_peak() -> None:
    y = np.zeros(100_000)
    y[54_321], y[77_777] = 9.0, -7.0
    x, thin = decimated(np.arange(100_000.0), y)
    assert len(x) < 900
    assert thin.max() == 9.0
    assert thin.min() == -7.0
    assert np.all(np.diff(x) > 0)


def test_roles_are_guessed_from_units_and_names() -> None:
    table = read(b"zeit (ms);strom;U (mV);drehzahl\n0,0;1;2;3\n0,1;1;2;3\n")
    assert roles.guess(table) == {"time": (0, "ms"), "current": (1, "A"), "voltage": (2, "mV"), "speed": (3, "rpm")}
    assert roles.column(table, {"voltage": (2, "mV")}, "voltage") == pytest.approx([0.002, 0.002])
    with pytest.raises(CaptureError, match="no column 9"):
        roles.column(table, {"time": (8, "s")}, "time")
    with pytest.raises(CaptureError, match="no unit of time"):
        roles.column(table, {"time": (0, "V")}, "time")


def test_the_shipped_capture_is_what_its_maker_makes() -> None:
    assert shipped(STIRRER).decode() == stirrer()


@pytest.mark.parametrize(
    ("text", "time", "values"),
    [
        ("Sample Interval,2e-6\nCH1\n0.1\n0.2\n0.4\n", [0, 2e-6, 4e-6], [0.1, 0.2, 0.4]),
        ("Sampling Period (us);0,5\nCH1;\n1,5;\n2,5;\n3,5;\n", [0, 0.5e-6, 1e-6], [1.5, 2.5, 3.5]),
        ("# sample rate: 250 kHz\n# channel A\n1\n2\n3\n", [0, 4e-6, 8e-6], [1, 2, 3]),
        ("Sampling Rate,1MSa/s\nA,B\n1,5\n2,5\n3,5\n", [0, 1e-6, 2e-6], [1, 2, 3]),
        ("samplerate 10 kSps\nvolts\n-1\n-2\n-3\n", [0, 1e-4, 2e-4], [-1, -2, -3]),
        ("X,CH1,Start,Increment\nStep,Volt,0,4E-09\n10,1,\n11,2,\n12,3,\n", [0, 4e-9, 8e-9], [10, 11, 12]),
        ("Increment,4.0E-09\nTime,Volt\n0,1\n1,2\n2,3\n", [0, 1, 2], [1, 2, 3]),
        ("time,V\n10:00:00.5,1\n10:00:01.0,2\n10:00:02.5,3\n", [0, 0.5, 2], [1, 2, 3]),
        ("time;V\n23:59:59,5;1,5\n00:00:00,5;2,5\n00:00:01,0;3\n", [0, 1, 1.5], [1.5, 2.5, 3]),
        ("when,V\n2026-11-20 10:00:00,1\n2026-11-20 10:01:00,2\n2026-11-20 10:02:00,3\n", [0, 60, 120], [1, 2, 3]),
        ("when\tV\n2026-11-20T23:59:59.250\t1\n2026-11-21T00:00:00.250\t2\n", [0, 1], [1, 2]),
    ],
)
def test_time_that_is_no_column_of_seconds(text: str, time: list[float], values: list[float]) -> None:
    table = read(text.encode())
    guess = roles.guess(table)
    assert guess["time"][0] == 0
    assert table.columns[0] == pytest.approx(time)
    assert table.columns[1] == pytest.approx(values)
    assert table.note == ""


def test_date_and_time_in_columns_of_their_own() -> None:
    table = read(b"Date,Time,V\n2026-11-20,10:00:00,1.5\n2026-11-20,10:00:01,1.6\n2026-11-20,10:00:02,1.7\n")
    assert table.layout.clocks == (0, 1) and table.layout.units[:2] == ("s", "s")
    assert table.columns[1] == pytest.approx([0, 1, 2]) and table.columns[2] == pytest.approx([1.5, 1.6, 1.7])


@pytest.mark.parametrize(
    "text",
    ["t,i\n0,1\n1,2\n2,3\n\nSegment 2\nt,i\n0,5\n1,6\n", "t,i\n0,1\n1,2\n2,3\nrecorded on the bench\n"],
)
def test_of_segments_the_first_is_read_and_said_so(text: str) -> None:
    table = read(text.encode())
    assert table.columns[0] == pytest.approx([0, 1, 2])
    assert "3 rows before line" in table.note


def test_settings_before_the_numbers_are_passed_over() -> None:
    text = "Model,bench\nChannel,1\nVertical scale,2.0,V\nLength,3\n\nTime (us),CH1 (mV)\n0.5,100\n1.0,200\n1.5,300\n"
    table = read(text.encode())
    assert table.layout.names == ("Time", "CH1") and table.layout.units == ("us", "mV")
    assert table.rows == 3
