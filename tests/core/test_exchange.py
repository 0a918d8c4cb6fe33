"""Driver parts as CSV and JSON, both ways; bad rows by their line."""

from __future__ import annotations

import itertools
import re
from collections.abc import Callable
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zinc_whistle.core.exchange import DRIVERS
from zinc_whistle.core.model.driver import DriverPart
from zinc_whistle.demo.data import sample_parts

GOOD = (
    "name,v_max,continuous_a,peak_a,peak_time,thermal_resistance,pwm_limit,on_resistance\n"
    "Mine,28 V,3 A,5 A,0.1 s,40 K/W,30 kHz,0.2\n"
)


def ids() -> Callable[[], str]:
    counter = itertools.count()
    return lambda: f"own{next(counter)}"


@pytest.mark.parametrize("kind", ["csv", "json"])
def test_the_whole_shelf_survives_a_round_trip(kind: str) -> None:
    parts = sample_parts()
    if kind == "csv":
        taken = DRIVERS.from_csv(DRIVERS.to_csv(parts), ids())
    else:
        taken = DRIVERS.from_json(DRIVERS.to_json(parts), ids())
    assert not taken.bad
    assert [DRIVERS.as_texts(p) for p in taken.parts] == [DRIVERS.as_texts(p) for p in parts]
    assert {p.id for p in taken.parts} == {f"own{i}" for i in range(len(parts))}


@pytest.mark.parametrize(
    ("row", "says"),
    [
        ("Mine,28 V,3 kg,5 A,0.1 s,40 K/W,30 kHz,0.2", "not a current"),
        ("Mine,28 V,,5 A,0.1 s,40 K/W,30 kHz,0.2", "is needed"),
        (",28 V,3 A,5 A,0.1 s,40 K/W,30 kHz,0.2", "Give the part a name"),
        ("Mine,28 V,9 A,5 A,0.1 s,40 K/W,30 kHz,0.2", "below the continuous"),
        ("Mine,28 V,3 A,5 A,0.1 s,40 K/W,30 kHz,0.2,extra", "more cells"),
        ("Mine,28 V,3 A,5 A,0.1 s,40 K/W,30 kHz,", "no heat"),
        ("Mine,-28 V,3 A,5 A,0.1 s,40 K/W,30 kHz,0.2", "must be above"),
    ],
)
def test_a_bad_row_is_reported_by_its_line_and_the_good_ones_are_told(row: str, says: str) -> None:
    taken = DRIVERS.from_csv(GOOD + row + "\n" + GOOD.splitlines()[1] + "\n", ids())
    assert len(taken.parts) == 2
    assert [b.line for b in taken.bad] == [3]
    assert says in taken.bad[0].sentence


@pytest.mark.parametrize(
    ("text", "says"),
    [("", "must name the columns"), ("a,b\n1,2\n", "must name the columns")],
)
def test_a_header_that_cannot_be_used_is_refused(text: str, says: str) -> None:
    with pytest.raises(ValueError, match=says):
        DRIVERS.from_csv(text, ids())


def test_unknown_columns_kinds_and_shapes_are_named() -> None:
    assert (
        "no column “colour”"
        in DRIVERS.from_csv(GOOD.replace("name,", "colour,name,", 1).replace("Mine", "x,Mine"), ids()).bad[0].sentence
    )
    assert "kind" in DRIVERS.from_json('[{"name": "x", "kind": "rocket"}]', ids()).bad[0].sentence
    assert "no object" in DRIVERS.from_json("[3]", ids()).bad[0].sentence
    with pytest.raises(ValueError, match="list of parts"):
        DRIVERS.from_json("{}", ids())
    with pytest.raises(ValueError, match="not JSON"):
        DRIVERS.from_json("nope", ids())


@settings(max_examples=150)
@given(st.text(max_size=200))
def test_any_text_is_read_or_refused(text: str) -> None:
    for reader in (DRIVERS.from_csv, DRIVERS.from_json):
        outcome: object
        try:
            outcome = reader(text, ids()).bad is not None
        except ValueError as refusal:
            outcome = str(refusal)
        assert outcome


def test_every_column_is_documented() -> None:
    page = (Path(__file__).resolve().parents[2] / "docs" / "parts.md").read_text("utf-8")
    documented = set(re.findall(r"`([a-z_]+)`", page))
    assert set(DRIVERS.columns) <= documented
    assert all(DriverPart.meta(n).ask is not None for n in DRIVERS.needed)
