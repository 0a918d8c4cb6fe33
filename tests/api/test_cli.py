"""The command line: sums and assessments for scripts."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from typer.testing import CliRunner

from zinc_whistle.cli import app
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.sums import SUMS

runner = CliRunner()


def results(*words: str) -> dict[str, Any]:
    done = runner.invoke(app, ["sum", *words, "--json"])
    assert done.exit_code == 0, done.output
    got: dict[str, Any] = json.loads(done.stdout)
    assert set(got) == {"sum", "given", "results"}
    for one in got["results"].values():
        assert {"value", "unit", "formula", "source"} <= set(one)
        assert one["source"]
    return got


def test_the_wire_sum_has_the_promised_shape() -> None:
    got = results("wire", "awg=22", "length_m=2", "current_a=3")
    assert got["sum"] == "wire"
    assert got["given"] == {"awg": 22.0, "length_m": 2.0, "current_a": 3.0}
    assert got["results"]["resistance_ohm_per_km"]["unit"] == "ohm/km"
    assert got["results"]["resistance_ohm_per_km"]["value"] == pytest.approx(52.96, abs=0.01)
    assert set(got["results"]) == {"diameter_mm", "resistance_ohm_per_km", "drop_v"}


@pytest.mark.parametrize("name", sorted(SUMS))
def test_every_sum_does_its_own_example_in_words_and_json(name: str) -> None:
    words = [f"{a.key}={a.example}" for a in SUMS[name].asks]
    assert results(name, *words)["results"]
    plain = runner.invoke(app, ["sum", name, *words])
    assert plain.exit_code == 0
    assert "=" in plain.stdout


@pytest.mark.parametrize(
    ("words", "key", "value"),
    [
        (("units", "value=2.5kg·cm", "to=N·m"), "value", 0.24516625),
        (("units", "value=25 °C", "to=°F"), "value", 77.0),
        (("units", "value=1 oz·in", "to=mN·m"), "value", 7.0615518),
        (("units", "value=300 rpm", "to=rad/s"), "value", 31.4159265),
        (("units", "value=4k7", "to=Ω"), "value", 4700.0),
        (("divider", "supply_v=12", "top_ohm=10k", "bottom_ohm=4k7"), "out_v", 3.83673469),
        (("led-resistor", "supply_v=12", "led_v=2", "current_a=15m"), "preferred_ohm", 680.0),
    ],
)
def test_sums_take_engineering_notation(words: tuple[str, ...], key: str, value: float) -> None:
    assert results(*words)["results"][key]["value"] == pytest.approx(value, rel=1e-6)


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (("wire", "awg=x"), "does not begin with a number"),
        (("wire", "awg=22"), "needs length_m"),
        (("wire", "gauge=22"), "does not ask for"),
        (("wire", "awg"), "not key=value"),
        (("wire", "awg=22", "length_m=-2", "current_a=3"), "above 0"),
        (("trace", "current_a=10", "rise_k=10", "layer=middle"), "not one of"),
        (("wrong",), "There is no sum"),
        (("led-resistor", "supply_v=2", "led_v=3", "current_a=10m"), "more volts"),
        (("motor-constants", "supply_v=12", "no_load_a=1", "no_load_rpm=5000", "stall_a=0.7"), "larger than"),
        (("units", "value=2 kg", "to=V"), "not of one kind"),
    ],
)
def test_a_bad_value_is_refused_with_a_sentence_and_status_2(words: tuple[str, ...], says: str) -> None:
    done = runner.invoke(app, ["sum", *words])
    assert done.exit_code == 2
    assert says in done.stderr


def test_without_a_name_the_sums_are_listed() -> None:
    listed = runner.invoke(app, ["sum"])
    assert all(name in listed.stdout for name in SUMS)


def test_assess_prints_and_exits_by_what_stops(tmp_path: Path, carousel: Build) -> None:
    file = tmp_path / "build.json"
    file.write_text(carousel.model_dump_json(), "utf-8")
    good = runner.invoke(app, ["assess", str(file)])
    assert good.exit_code == 0
    assert "Tight spots" in good.stdout
    carousel.units[0].jam_stop = "none"
    file.write_text(carousel.model_dump_json(), "utf-8")
    bad = runner.invoke(app, ["assess", str(file), "--json"])
    assert bad.exit_code == 1
    meta = json.loads(bad.stdout)
    assert meta["stamps"]["d1"]["driver"]["state"] == "stops"
    assert meta["figures"]["drives.d1.circuit.stall_full"]["unit"] == "A"


@pytest.mark.parametrize("content", ["", "{}}", '{"format_version": 7}', "[" * 10000])
def test_assess_refuses_what_is_no_build_file(tmp_path: Path, content: str) -> None:
    file = tmp_path / "bad.json"
    file.write_text(content, "utf-8")
    done = runner.invoke(app, ["assess", str(file)])
    assert done.exit_code == 2
    assert "is not a build file" in done.stderr
    assert runner.invoke(app, ["assess", str(tmp_path / "none.json")]).exit_code == 2
