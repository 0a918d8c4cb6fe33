"""A capture held against the wave that a step expects, and an oscilloscope's setting judged."""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import pytest

from zinc_whistle.core.algebra.quantities import parse
from zinc_whistle.core.assess import assess
from zinc_whistle.core.captures.table import CaptureError
from zinc_whistle.core.captures.wave import Wave
from zinc_whistle.core.captures.wave_capture import Mapped, WaveCapture, look_at_wave
from zinc_whistle.core.stations.bench.scope import ScopeSetting, Screen, judge_setting, screen_for
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, snow_fan

PULSES = Wave(low_v=0.0, high_v=5.0, frequency_hz=20e3, duty=0.5)


def written(folder: Path, header: str, *columns: np.ndarray) -> Path:
    file = folder / "capture.csv"
    rows = "\n".join(",".join(f"{x:.9g}" for x in row) for row in zip(*columns, strict=True))
    file.write_text(header + "\n" + rows + "\n")
    return file


def told(found: WaveCapture) -> dict[str, str]:
    return {r.name: r.text.replace("\u202f", " ") for r in found.rows}


def test_a_good_capture_passes_its_step(tmp_path: Path) -> None:
    """20 kHz of half duty at 10 MHz: what is taken as the reading passes the demo's own steps."""
    t = np.arange(4000) / 10e6
    file = written(tmp_path, "Time (s),CH1 (V)", t, 5.0 * ((t * 20e3 + 0.7) % 1 < 0.5))
    found = look_at_wave(file, -1, -2, PULSES)
    assert found.says == ["Nothing about this capture is suspicious."]
    steps = {s.id: s for s in assess(lantern_carousel()).drives["d1"].steps}
    for id, kind in (("frequency", "frequency"), ("duty", "fraction")):
        (row,) = (r for r in found.rows if r.kind == kind and r.name in ("Frequency", "Duty"))
        reading = parse(row.text.partition(" ±")[0], kind, steps[id].unit)
        assert steps[id].kind == kind and steps[id].holds(reading.value) is True
        assert steps[id].wave is not None
    expected, seen = np.array(found.expected), np.array(found.first)
    assert np.mean(np.abs(expected - seen) > 1) < 0.03, "laid over it, it covers it"


def test_two_gates_that_overlap_are_told(tmp_path: Path) -> None:
    t = np.arange(8000) / 50e6
    phase = (t * 20e3) % 1
    file = written(tmp_path, "t (s),upper (V),lower (V)", t, 12.0 * (phase < 0.52), 12.0 * (phase >= 0.5))
    found = look_at_wave(file, 0, 1, None)
    assert any("both are high at once, for up to" in s for s in found.says)
    assert told(found)["First off to second on, the least"].startswith("−")
    apart = written(
        tmp_path, "t (s),upper (V),lower (V)", t, 12.0 * (phase < 0.48), 12.0 * ((phase >= 0.5) & (phase < 0.98))
    )
    found = look_at_wave(apart, 0, 1, None)
    assert not any("at once" in s for s in found.says)
    assert parse(told(found)["First off to second on, the least"], "time").value == pytest.approx(1e-6, abs=30e-9)


def test_milliamperes_and_unnamed_columns(tmp_path: Path) -> None:
    t = np.arange(400) / 1e5
    file = written(tmp_path, "t (ms),sense (mA),x", t * 1e3, 250.0 * (t * 500 % 1 < 0.25), np.full(400, 3.3))
    found = look_at_wave(file, 0, -2, None)
    assert told(found)["High"] == "250 mA" and told(found)["Duty"] == "25 %"
    other = look_at_wave(file, 1, -2, None)
    assert "No unit is told for x" in other.says[0] and told(other)["Mean"] == "3.30 V"


def test_a_logic_capture_tells_times_alone(tmp_path: Path) -> None:
    lines = ["$timescale 1 us $end", "$var wire 1 ! PWM $end", "$enddefinitions $end"]
    for n in range(10):
        lines += [f"#{n * 50}", "1!", f"#{n * 50 + 20}", "0!"]
    file = tmp_path / "logic.vcd"
    file.write_text("\n".join(lines))
    found = look_at_wave(file, -1, -2, Wave(0.0, 5.0, 20e3, 0.4))
    assert told(found)["Frequency"].startswith("20") and told(found)["Duty"] == "40 %"
    assert found.says == ["A logic capture tells times and no levels."]


@pytest.mark.parametrize(
    ("text", "a", "says"),
    [
        ("t (s)\n1\n2\n", -1, "No table"),
        ("t (s),V\n0,1\n1,2\n2,1\n3,2\n4,1\n5,2\n6,1\n7,2\n8,1\n", 4, "no number 5"),
        ("t (s),V\n0,1\n1,2\n2,3\n", -1, "3 samples"),
    ],
)
def test_what_cannot_be_measured_is_refused_in_words(tmp_path: Path, text: str, a: int, says: str) -> None:
    file = tmp_path / "bad.csv"
    file.write_text(text)
    with pytest.raises(CaptureError, match=says):
        look_at_wave(file, a, -2, PULSES)


def setting(volts: float, time: float, probe: str = "10", told: str = "10", coupling: str = "DC") -> ScopeSetting:
    made = {"screen": Screen(volts=volts, time=time), "probe": probe, "divides_by": told, "coupling": coupling}
    return ScopeSetting(**made)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("own", "bad"),
    [
        (setting(1, 20e-6), []),
        (setting(0.5, 20e-6), ["10 divisions high: it leaves the screen of 8. Take 1 V."]),
        (setting(10, 20e-6), ["0.5 of a division high"]),
        (setting(1, 1e-6), ["0.2 of a period"]),
        (setting(1, 200e-6), ["40 periods on the screen run together"]),
        # 1000 samples over 100 ms are 10 kHz: 20 kHz folds to nothing.
        (setting(1, 10e-3), ["2000 periods on the screen: with 1000 samples"]),
        (setting(1, 20e-6, probe="1", told="10"), ["ten times", "50 divisions"]),
        (setting(1, 20e-6, probe="10", told="1"), ["a tenth of", "0.5 of a division"]),
        (setting(1, 20e-6, coupling="AC"), ["mean of 2.50 V away: low would stand at −2.50 V"]),
    ],
)
def test_a_setting_is_judged(own: ScopeSetting, bad: list[str]) -> None:
    """5 V at 20 kHz: five divisions at 1 V, four periods at 20 µs."""
    told = [r.text for r in judge_setting(PULSES, own) if not r.good]
    assert len(told) == len(bad)
    for text, says in zip(sorted(told), sorted(bad, key=lambda s: next(t for t in told if s in t)), strict=True):
        assert says in text


@pytest.mark.parametrize("make", [cider_stirrer, lantern_carousel, puppet_stage, snow_fan])
def test_the_advised_setting_of_every_step_is_good(make) -> None:  # type: ignore[no-untyped-def]
    seen = 0
    for drive in assess(make()).drives.values():
        for step in drive.steps:
            if step.wave is not None:
                seen += 1
                screen = screen_for(step.wave.high_v, step.wave.frequency_hz)
                remarks = judge_setting(step.wave, setting(screen.volts, screen.time))
                assert all(r.good for r in remarks), step.id
                assert step.kind not in ("frequency", "fraction") or step.expected.value is not None
    assert seen


def test_columns_and_units_may_be_told_where_the_file_is_silent(tmp_path: Path) -> None:
    """Sample number, time in µs without its unit, current in mA without its unit."""
    t = np.arange(2000) * 0.2
    file = written(tmp_path, "n,clock,probe", np.arange(2000.0), t, 400.0 * ((t / 50) % 1 < 0.5))
    found = look_at_wave(file, -1, -2, None)
    assert found.columns == ["n", "clock", "probe"] and found.clock == 0 and found.units == [""]
    mapped = Mapped(clock=1, clock_unit="µs", units=("mA", ""))
    found = look_at_wave(file, 1, -2, None, mapped)
    assert (found.clock, found.clock_unit, found.units) == (1, "µs", ["mA"])
    assert parse(told(found)["Frequency"].partition(" ±")[0], "frequency").value == pytest.approx(20e3, rel=0.01)
    assert told(found)["High"].startswith("400 mA")
    with pytest.raises(CaptureError, match="is no unit of a level"):
        look_at_wave(file, 1, -2, None, Mapped(clock=1, units=("rpm", "")))
    with pytest.raises(CaptureError, match="no column 9"):
        look_at_wave(file, 1, -2, None, Mapped(clock=8))
    with pytest.raises(CaptureError, match="Time runs backwards"):
        look_at_wave(file, 0, -2, None, Mapped(clock=2))


def test_a_chosen_column_counts_as_its_head_tells(tmp_path: Path) -> None:
    t = np.arange(2000) * 0.2
    file = written(tmp_path, "Time (s),clock (µs),CH1 (A)", t, t, 2.0 * ((t / 50) % 1 < 0.5))
    found = look_at_wave(file, 1, -2, None, Mapped(clock=1))
    assert found.clock_unit == "µs"
    assert parse(told(found)["Frequency"].partition(" ±")[0], "frequency").value == pytest.approx(20e3, rel=0.01)


def test_a_trigger_is_asked_for_in_the_channels_own_unit(tmp_path: Path) -> None:
    t = np.arange(-1000, 1000) * 0.1e-6
    file = written(tmp_path, "t (s),one (A)", t, 3.0 * (((t - 12e-6) * 20e3) % 1 < 0.5))
    (says,) = (s for s in look_at_wave(file, 0, -2, None).says if "No edge lies" in s)
    assert re.search(r"at 1\.50+\sA\.$", says), says


def test_nanoseconds_are_read_as_such(tmp_path: Path) -> None:
    t = np.arange(2000) * 100.0
    found = look_at_wave(written(tmp_path, "Time (ns),CH1 (V)", t, 5.0 * ((t / 50e3) % 1 < 0.5)), -1, -2, None)
    assert parse(told(found)["Frequency"].partition(" ±")[0], "frequency").value == pytest.approx(20e3, rel=0.01)


@pytest.mark.parametrize(("off_us", "other", "stands"), [(0.0, 0.0, True), (12.0, 12.0, False), (12.0, 0.0, True)])
def test_a_trigger_on_something_else_is_told(tmp_path: Path, off_us: float, other: float, stands: bool) -> None:
    """Time 0 stands within: an edge of one of the channels lies there, or nothing that is shown was the trigger."""
    t = np.arange(-1000, 1000) * 0.1e-6
    first, second = (5.0 * (((t - x * 1e-6) * 20e3) % 1 < 0.5) for x in (off_us, other))
    found = look_at_wave(written(tmp_path, "t (s),one (V),two (V)", t, first, second), 0, 1, None)
    assert any("No edge lies at time 0" in s for s in found.says) is not stands
