"""Texts of the builder's where others read them."""

from __future__ import annotations

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zinc_whistle.core.algebra.cells import guarded, shown, unguarded
from zinc_whistle.core.assess import assess
from zinc_whistle.core.exchange import COMPONENTS
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.components import HeatSink
from zinc_whistle.demo.data import lantern_carousel, sample_components

FORMULAS = ("=1+1", "+cmd|' /C x'!A0", "-2+3+cmd|' /C x'!A0", "@SUM(A1)", "\t=1", "\r=1", "'=1", "''+1")


@pytest.mark.parametrize("text", FORMULAS)
def test_no_cell_is_a_formula(text: str) -> None:
    """OWASP, CSV injection (from memory): a cell that begins with =, +, -, @, tab or return is worked out."""
    assert guarded(text).startswith("'")
    assert unguarded(guarded(text)) == text


@pytest.mark.parametrize("text", ["-40 °C", "+5 V", "-0.5", "5 V", "plain", "", "'quoted'"])
def test_quantities_and_plain_texts_stay_as_they_are(text: str) -> None:
    assert guarded(text) == text and unguarded(text) == text


@given(st.text(max_size=30))
def test_every_text_comes_back(text: str) -> None:
    assert unguarded(guarded(text)) == text


@pytest.mark.parametrize("name", FORMULAS[:4])
def test_an_exported_shelf_has_no_formula_and_is_taken_in_again(name: str) -> None:
    part = next(p for p in sample_components() if isinstance(p, HeatSink)).model_copy(update={"name": name})
    text = COMPONENTS["heat sink"].to_csv([part])
    cells = next(iter(csv.DictReader(io.StringIO(text))))
    assert cells["name"].startswith("'")
    taken = COMPONENTS["heat sink"].from_csv(text, lambda: "x1")
    assert [p.name for p in taken.parts] == [name]


@pytest.mark.parametrize("hidden", ["\u202e", "\u2066", "\u200b", "\x00", "\x1b", "\r", "\ufeff", "\u2028"])
def test_a_name_hides_nothing(hidden: str) -> None:
    raw = lantern_carousel().model_dump(mode="json")
    raw["name"] = raw["drives"][0]["name"] = f"car{hidden}ousel"
    build = Build.model_validate(raw)
    assert build.name == build.drives[0].name == "car\ufffdousel"
    assert Build.model_validate_json(build.model_dump_json()) == build


@pytest.mark.parametrize("kept", [-5.0, 0.0, 1e300])
def test_a_kept_value_beside_a_text_that_cannot_be_read_is_held_to_the_same_rule(kept: float) -> None:
    """A gear of −5 cannot be typed; in a file, beside “abc”, it once counted."""
    raw = lantern_carousel().model_dump(mode="json")
    raw["drives"][0]["load"]["gear_ratio"] |= {"text": "abc", "value": kept}
    done = assess(Build.model_validate(raw))
    motor = done.build.drives[0].of_motor
    assert motor is not None and motor.load.gear_ratio.value is None
    assert "drives.d1.load.gear_ratio" in done.bound.errors
    raw["drives"][0]["load"]["gear_ratio"] |= {"value": 150.0}
    again = assess(Build.model_validate(raw)).build.drives[0].of_motor
    assert again is not None and again.load.gear_ratio.value == 150.0


def test_names_of_any_script_stay_as_they_are() -> None:
    for name in ("Караусель", "مروحة", "風車", "Größe 5", "👩\u200d🔧 bench"):
        assert shown(name) == name
