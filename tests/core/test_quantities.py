"""Reading and printing quantities."""

from __future__ import annotations

import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from zinc_whistle.core.algebra.quantities import QuantityError, notation, parse, phrase, show, show_doubt
from zinc_whistle.core.algebra.units import KINDS, UNITS


@pytest.mark.parametrize(
    ("text", "kind", "unit", "value"),
    [
        ("4k7", "resistance", "", 4700.0),
        ("4.7k", "resistance", "", 4700.0),
        ("0R05", "resistance", "", 0.05),
        ("4k7Ω", "resistance", "", 4700.0),
        ("22u", "capacitance", "", 22e-6),
        ("22 µF", "capacitance", "", 22e-6),
        ("22 μF", "capacitance", "", 22e-6),
        ("100n", "capacitance", "", 100e-9),
        ("2n2", "capacitance", "", 2.2e-9),
        ("3V3", "voltage", "", 3.3),
        ("500m", "voltage", "", 0.5),
        ("20 kHz", "frequency", "", 20e3),
        ("16M", "frequency", "", 16e6),
        ("300 rpm", "speed", "", 300 * 2 * math.pi / 60),
        ("4 850", "speed", "rpm", 4850 * 2 * math.pi / 60),
        ("2m", "length", "mm", 2.0),
        ("2", "length", "mm", 0.002),
        ("30 ms", "time", "s", 0.03),
        ("10 min", "time", "s", 600.0),
        ("1,5", "voltage", "", 1.5),
        ("0,125", "voltage", "", 0.125),
        ("\u22125", "temperature", "", -5.0),
        ("77 °F", "temperature", "", 25.0),
        ("60 %", "fraction", "", 0.6),
        ("60", "fraction", "%", 0.6),
        ("1e3", "current", "", 1000.0),
        ("0.05 %/rpm", "loop gain", "", 0.0005 * 60 / (2 * math.pi)),
        ("6 Ah", "capacity", "", 21600.0),
    ],
)
def test_reads_what_people_write(text: str, kind: str, unit: str, value: float) -> None:
    assert parse(text, kind, unit).value == pytest.approx(value, rel=1e-12)


@pytest.mark.parametrize(
    ("text", "kind", "says"),
    [
        ("12 kg", "voltage", "not a voltage"),
        ("", "voltage", "Nothing is given"),
        ("volts", "voltage", "does not begin with a number"),
        ("nan", "current", "does not begin with a number"),
        ("inf", "current", "does not begin with a number"),
        ("1e999", "current", "too large"),
        ("1,234", "voltage", "two ways"),
        ("10 K", "temperature", "10 °C, or -263.15 °C"),
        ("5 mhz", "frequency", "5 MHz or 5 mHz"),
        ("12,800 V", "voltage", "two ways"),
        ("1.2.3", "voltage", "two decimal marks"),
        ("5 V ±", "voltage", "ends at its ±"),
        ("5 V ± -1", "voltage", "below zero"),
        ("5 rpm", "voltage", "V, µV"),
        ("9" * 100, "voltage", "too long"),
        ("1e5 e5", "voltage", "not a voltage"),
    ],
)
def test_refuses_in_words(text: str, kind: str, says: str) -> None:
    with pytest.raises(QuantityError, match=says):
        parse(text, kind)


@pytest.mark.parametrize(
    ("text", "doubt"),
    [("0.31 ± 0.02 A", 0.01), ("0.31 A ± 20 mA", 0.01), ("0.31 A +/- 0.02", 0.01), ("2 A ± 1 %", 0.01), ("2 A", None)],
)
def test_a_typed_doubt_is_two_standard_uncertainties(text: str, doubt: float | None) -> None:
    read = parse(text, "current")
    assert read.doubt == (None if doubt is None else pytest.approx(doubt))


UNIT_PAIRS = [(k.name, u) for k in KINDS.values() for u in dict.fromkeys((*k.units, *k.display)) if u not in ("", "1")]


@given(st.sampled_from(UNIT_PAIRS), st.floats(-1e9, 1e9).filter(lambda x: x == 0 or abs(x) > 1e-9))
def test_notation_round_trips(pair: tuple[str, str], number: float) -> None:
    kind, symbol = pair
    unit = UNITS[symbol]
    value = number * unit.factor + unit.offset
    again = parse(notation(value, kind, symbol), kind, symbol).value
    assert again == pytest.approx(value, rel=1e-10, abs=1e-10 * abs(unit.offset) + 1e-300)


@given(st.sampled_from(UNIT_PAIRS), st.floats(1e-6, 1e6))
def test_what_is_printed_reads_back_to_the_digits_shown(pair: tuple[str, str], number: float) -> None:
    kind, symbol = pair
    value = number * UNITS[symbol].factor + UNITS[symbol].offset
    shown = phrase(value, kind, symbol)
    assume(shown[0].isdigit())
    again = parse(shown, kind, symbol).value
    tolerance = 0.006 * abs(value - UNITS[symbol].offset) + 1e-3 * UNITS[symbol].factor
    if kind in ("temperature", "temperature difference"):
        tolerance += 0.5 * UNITS[symbol].factor
    assert again == pytest.approx(value, abs=tolerance)


@given(st.text(max_size=40), st.sampled_from(sorted(KINDS)))
def test_any_text_is_read_or_refused(text: str, kind: str) -> None:
    refusal = "no sentence"
    try:
        value = parse(text, kind).value
    except QuantityError as error:
        value, refusal = 0.0, str(error)
    assert math.isfinite(value)
    assert refusal.strip()


@pytest.mark.parametrize(
    ("value", "kind", "doubt", "shown", "spread"),
    [
        (6.2512, "current", 0.085, ("6.25", "A"), "±0.17"),
        (0.1412, "torque", 0.003, ("141.2", "mN·m"), "±6.0"),
        (507.9, "speed", None, ("4\u202f850", "rpm"), None),
        (0.0, "voltage", None, ("0", "V"), None),
        (0.00012, "current", None, ("120", "µA"), None),
        (-0.5, "current", None, ("−500", "mA"), None),
        (-0.5, "voltage", None, ("below 0", "mV"), None),
        (3e9, "speed", None, ("over a million", "rpm"), None),
        (0.1, "price", None, ("0.10", "€"), None),
        (21.1, "price", None, ("21.10", "€"), None),
        (2.0, "price", None, ("2", "€"), None),
        (0.0042, "price", None, ("0.00420", "€"), None),
    ],
)
def test_prints_to_the_digits_that_count(
    value: float, kind: str, doubt: float | None, shown: tuple[str, str], spread: str | None
) -> None:
    assert show(value, kind, doubt=doubt) == shown
    if doubt is not None and spread is not None:
        assert show_doubt(doubt, shown[1]) == spread


@pytest.mark.parametrize("kind", sorted(KINDS))
@pytest.mark.parametrize("text", ["4k7", "7k", "7M", "3 m", "0.5", "2 µ"])
def test_whatever_is_read_can_be_shown_again(kind: str, text: str) -> None:
    """A prefix may stand where none is printed: the unit that comes back must still be one that there is."""
    for unit in KINDS[kind].units:
        try:
            read = parse(text, kind, unit)
        except QuantityError:
            continue
        assert read.unit in UNITS
        again = parse(notation(read.value, kind, read.unit), kind, read.unit)
        assert again.value == pytest.approx(read.value, rel=1e-9, abs=1e-12)


def test_a_share_without_its_sign_is_asked_about() -> None:
    """0.7 of an efficiency is likely 70 %, and may be 0.7 %; with the sign, or above one, there is no doubt."""
    with pytest.raises(QuantityError, match=r"70 % or 0\.7 %"):
        parse("0.7", "fraction", "%")
    assert parse("0.7 %", "fraction", "%").value == pytest.approx(0.007)
    assert parse("70", "fraction", "%").value == pytest.approx(0.7)
    doubted = parse("70 % ± 0.5", "fraction", "%")
    assert doubted.doubt == pytest.approx(0.0025), "a doubt below one is no share of its own"


def test_no_temperature_has_a_prefix() -> None:
    with pytest.raises(QuantityError, match="not a temperature"):
        parse("1k5", "temperature", "°C")


@pytest.mark.parametrize(
    ("text", "kind", "unit", "value"),
    [
        ("1/4 in", "length", "m", 0.00635),
        ("1 1/4 in", "length", "m", 0.03175),
        ("30/2 mm", "length", "m", 0.015),
        ("-1/2 °", "angle", "°", -math.pi / 360),
        ("3/8", "length", "mm", 0.000375),
        ("30:1", "ratio", "1", 30.0),
        ("298 : 10", "ratio", "1", 29.8),
        ("1:1", "ratio", "1", 1.0),
        ("12 V DC", "voltage", "V", 12.0),
        ("20 g", "mass", "kg", 0.02),
        ("4 200 rpm", "speed", "rpm", 4200 * math.tau / 60),
    ],
)
def test_what_people_write_is_read(text: str, kind: str, unit: str, value: float) -> None:
    assert parse(text, kind, unit).value == pytest.approx(value, rel=1e-12)


def test_a_fraction_may_have_a_doubt() -> None:
    assert parse("1/4 in ± 0.5 mm", "length", "m").doubt == pytest.approx(0.00025)


@pytest.mark.parametrize(
    ("text", "kind", "unit", "words"),
    [
        ("1:30", "ratio", "1", "write 30 or 0.03333"),
        ("4,200 rpm", "speed", "rpm", "two ways"),
        ("1/2", "fraction", "%", "two ways"),
        ("1/0 in", "length", "m", "divides by nothing"),
        ("0:3", "ratio", "1", "neither side"),
        ("1/4/2 in", "length", "m", "is not a length"),
        ("30:1", "voltage", "V", "is not a voltage"),
        ("20 g", "force", "N", "is not a force"),
        ("12 V AC", "voltage", "V", "is not a voltage"),
    ],
)
def test_what_can_be_read_in_two_ways_or_not_at_all_is_asked_about(text: str, kind: str, unit: str, words: str) -> None:
    with pytest.raises(QuantityError, match=words):
        parse(text, kind, unit)
