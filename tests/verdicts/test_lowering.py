"""A load that pulls the motor along: its energy by height, and what it does to a supply that takes nothing back."""

from __future__ import annotations

from pathlib import Path

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.given import Given
from zinc_whistle.core.model.load import Rack, Turntable, Winch
from zinc_whistle.demo.data import puppet_stage
from zinc_whistle.sheets.sheet import reply

from .kit import SHELF, altered, said

GRAVITY = 9.80665


def hoist(ratio: str, **more: str) -> Build:
    """8 kg on a drum of 15 mm, up for 10 s, down for 10 s at 60 mm/s; gear 60 %."""
    (path,) = (Path(__file__).parent / "builds").glob("07-*.json")
    return altered(
        lambda: Build.model_validate_json(path.read_text("utf-8")), **{"drives__d1__load__gear_ratio": ratio} | more
    )


def test_what_comes_back_is_the_height_less_gear_friction_and_winding() -> None:
    """m g h = 8 · 9.81 · 0.6 = 47.07 J; the gear leaves 28.24; 1.3 A of friction at 40 rad/s take 20.39 and I²R of
    0.50 A in the winding the rest: energy, not the volts and amperes that the product multiplies."""
    done = assess(hoist("10"), SHELF).drives["d1"].of_motor
    assert done is not None
    part = done.load.parts[1]
    current, constant = part.current.value, done.motor.motor_constant.value
    assert current is not None and constant is not None and current < 0
    lifted = 8 * GRAVITY * 0.060 * 10
    friction = constant * 1.3 * 40 * 10
    copper = current**2 * (done.motor.resistance_25.value or 0) * 10
    assert done.load.energy_back.value == pytest.approx(0.6 * lifted - friction - copper, rel=1e-6)
    assert done.load.energy_back.value == pytest.approx(6.49, abs=0.01)


@pytest.mark.parametrize(("ratio", "lifts"), [("10", True), ("50", False)])
def test_lowering_lifts_the_bus_of_a_supply_that_takes_nothing_back(ratio: str, lifts: bool) -> None:
    """By a gear of 50 the motor's own friction holds 0.36 A of pull and it must push: nothing comes back then but the
    rotor's swing. By 10 the 6.5 J lift 1 mF from 13.8 V to √(13.8² + 2 · 6.57/1e-3) = 115 V."""
    build = hoist(
        ratio,
        supply__sources__s1__sinks="no",
        drives__d1__signals__soft_start="no",
        drives__d1__panel__speed_by="fixed",
        units__u1__part__v_absolute="40 V",
    )
    bus = said(build, "driver.volts_absolute")
    assert bus is not None
    assert (bus.verdict == "exceeded") is lifts
    assert bus.stress is not None and bus.stress.value == pytest.approx(115 if lifts else 13.8, rel=0.02)


def test_a_part_runs_backwards_in_the_mechanisms_own_unit() -> None:
    """−60 mm/s on a drum of 15 mm are −4 rad/s, 200 at the motor behind 50 to 1; both columns say the same."""
    by_velocity = assess(hoist("50"), SHELF).drives["d1"].of_motor
    turned = hoist("50")
    drive = turned.drives[0].of_motor
    assert drive is not None
    for segment, text in zip(drive.load.segments, ("38.197 rpm", "-38.197 rpm", "0 rpm"), strict=True):
        segment.velocity.text, segment.speed.text = "", text
    by_speed = assess(turned, SHELF).drives["d1"].of_motor
    assert by_velocity is not None and by_speed is not None
    for a, b in zip(by_velocity.load.parts, by_speed.load.parts, strict=True):
        assert b.speed.value == pytest.approx(a.speed.value, rel=1e-4)
        assert b.current.value == pytest.approx(a.current.value, rel=1e-4)
    assert by_velocity.load.parts[1].speed.value == pytest.approx(200, rel=1e-3)


def test_down_a_slope_is_lowering_too() -> None:
    """A rack straight down with no friction of its own pulls as the rope does; level it must be pushed."""
    currents = {}
    for slope in ("90 °", "0 °"):
        build = hoist("10")
        drive = build.drives[0].of_motor
        assert drive is not None
        texts = {"mass": "8 kg", "radius": "15 mm", "slope": slope, "friction": "0.1", "velocity": "60 mm/s"}
        rack = {"id": "m1", "kind": "rack"} | {k: {"text": t, "origin": "measured"} for k, t in texts.items()}
        drive.load.mechanisms = [Rack.model_validate(rack)]
        done = assess(build, SHELF).drives["d1"].of_motor
        assert done is not None
        currents[slope] = done.load.parts[1].current.value
    of_rope = assess(hoist("10"), SHELF).drives["d1"].of_motor
    assert of_rope is not None
    assert currents["90 °"] == pytest.approx(of_rope.load.parts[1].current.value, rel=1e-6)
    assert currents["0 °"] > 0


def test_a_gear_bears_a_pull_as_it_bears_a_push() -> None:
    """12 kg against 2.4 kg on an 18 mm drum pull by about 1.6 N·m: within 6 N·m, and past 1 N·m, whichever way."""
    for limit, severity in (("6 N·m", "note"), ("1 N·m", "stop")):
        build = puppet_stage()
        drive = build.drives[0].of_motor
        assert drive is not None
        winch = drive.load.mechanisms[0]
        assert isinstance(winch, Winch)
        winch.counterweight = Given(text="12 kg", origin="measured")
        drive.load.gear_torque_limit.text = limit
        found = said(build, "load.gear")
        assert found is not None and found.severity == severity and found.stress is not None
        assert float(found.stress.value or 0) > 1.5


def test_a_velocity_of_what_turns_is_asked_about() -> None:
    """A turntable has no velocity: the part's speed is not known, and not the working one in silence."""
    build = hoist("50")
    drive = build.drives[0].of_motor
    assert drive is not None
    drive.load.mechanisms = [Turntable.model_validate({"id": "m1", "kind": "turntable"})]
    done = assess(build, SHELF).drives["d1"].of_motor
    assert done is not None and done.load.parts[1].speed.value is None
    section = next(s for s in reply(assess(build, SHELF), "load", "d1").sheet.sections if s.path.endswith("segments"))
    assert section.rows
    assert any(f.path.endswith("velocity") for f in section.rows[0].fields), "it stands where it can be taken away"
