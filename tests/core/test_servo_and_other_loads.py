"""Servos, solenoids, pumps and lamps: both sides of every check, and their wires."""

from __future__ import annotations

import pytest

from tests.kit import changed
from zinc_whistle.core.algebra.findings import Finding
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.model.build import Build, LoadDrive, ServoDrive
from zinc_whistle.core.model.driver import DriverPart
from zinc_whistle.core.model.wiring import FixedPin
from zinc_whistle.core.stations import Kind, of_kind
from zinc_whistle.demo.data import lantern_carousel, puppet_stage
from zinc_whistle.sheets.sheet import reply

D = "drives__d2__servo__"


def of(done: Assessment, code: str, drive: str = "d2") -> Finding:
    return next(x for x in done.findings if x.code == code and x.drive == drive)


@pytest.mark.parametrize(
    ("field", "good", "bad", "code", "severity"),
    [
        ("force", "4 N", "12 N", "servo.torque", "warn"),
        ("sweep", "75 °", "120 °", "servo.travel", "stop"),
        ("high_v", "6 V", "5.2 V", "servo.volts_high", "stop"),
        ("low_v", "4.8 V", "5.8 V", "servo.volts_low", "warn"),
        ("pulse_low", "1 ms", "0.3 ms", "servo.pulse_low", "warn"),
        ("pulse_high", "2 ms", "2.8 ms", "servo.pulse_high", "warn"),
    ],
)
def test_each_servo_check_holds_and_fails(field: str, good: str, bad: str, code: str, severity: str) -> None:
    assert of(assess(changed(puppet_stage(), **{D + field: good})), code).severity == "note"
    assert of(assess(changed(puppet_stage(), **{D + field: bad})), code).severity == severity


@pytest.mark.parametrize(("angle", "severity"), [("80 °", "note"), ("95 °", "stop")])
def test_a_pose_lies_within_its_travel(angle: str, severity: str) -> None:
    build = puppet_stage()
    build.drives[1].servo.poses[1].angle.text = angle
    assert of(assess(build), "servo.pose.p2").severity == severity


def test_a_gear_behind_a_servo_trades_travel_for_torque() -> None:
    """4 N at 20 mm are 0.08 N·m; through 1 turn of the lever for 1.5 of the servo at 80 % it gives 66.7 mN·m, and turns
    112.5° for 75°: beyond its 90°."""
    plain = assess(puppet_stage())
    build = changed(puppet_stage(), **{D + "ratio": "1.5", D + "gear_efficiency": "80 %"})
    build.drives[1].servo.through = "gear"
    done = assess(build)
    assert plain.drives["d2"].servo.torque_needed.value == pytest.approx(0.08)
    assert done.drives["d2"].servo.torque_needed.value == pytest.approx(0.08 / 1.2)
    assert of(done, "servo.travel").severity == "stop" and of(plain, "servo.travel").severity == "note"


def test_a_continuous_servo_is_not_asked_for_its_travel() -> None:
    build = puppet_stage()
    build.drives[1].servo.style = "continuous"
    codes = {x.code for x in assess(build).findings if x.drive == "d2"}
    assert "servo.travel" not in codes


def test_a_servo_without_a_rail_says_so() -> None:
    build = puppet_stage()
    build.drives[1].rail = ""
    done = assess(build)
    assert "name its rail" in of(done, "servo.rail").unknown
    assert done.stamp("d2", "supply").state == "open"
    assert "rail" in reply(done, "load", "d2").sheet.hint


def test_a_servo_on_a_source_sees_its_full_volts() -> None:
    build = puppet_stage()
    build.drives[1].rail = "s1"
    done = assess(build)
    assert done.drives["d2"].servo.rail.value == pytest.approx(18.6)
    assert of(done, "servo.volts_high").severity == "stop"


def test_the_timer_makes_the_frame_and_its_steps() -> None:
    servo = assess(puppet_stage()).drives["d2"].servo
    assert servo.plan.frequency.value == pytest.approx(50, rel=0.01)
    tick = 1 / (servo.plan.steps.value * servo.plan.frequency.value)
    assert servo.steps.value == pytest.approx(1e-3 / tick)
    assert servo.angle_step.value * servo.steps.value == pytest.approx(servo_travel())


def servo_travel() -> float:
    drive = puppet_stage().drives[1]
    assert isinstance(drive, ServoDrive)
    return float(assess(puppet_stage()).bound.givens["drives.d2.servo.travel"].value or 0.0)


def test_a_servo_shares_its_ground_and_has_a_pin_of_its_own() -> None:
    build = puppet_stage()
    done = assess(build)
    pins = [done.drives[d].wiring.pins[0].pin for d in ("d2", "d3")]
    assert all(pins)
    assert pins[0].id != pins[1].id
    assert of(done, "wiring.ground").severity == "note"
    build.drives[1].wiring.left_out = ["ground"]
    assert of(assess(build), "wiring.ground").severity == "stop"


def test_a_pin_fixed_for_a_servo_is_kept_and_checked() -> None:
    build = puppet_stage()
    build.drives[1].wiring.fixed_pins = [FixedPin(id="f1", signal="PULSE", pin="p7")]
    use = assess(build).drives["d2"].wiring.pins[0]
    assert use.pin is not None
    assert (use.pin.id, use.fixed) == ("p7", True)
    build.drives[1].wiring.fixed_pins[0].pin = "gone"
    assert of(assess(build), "wiring.pins").severity == "stop"


@pytest.mark.parametrize("kind", ["load", "motor", "servo"])
def test_a_drive_passes_the_stations_of_its_kind(kind: Kind) -> None:
    build = puppet_stage()
    build.drives.append(LoadDrive(id="d9", name="Latch", unit="u1", controller="c1"))
    done = assess(build)
    for drive in done.drives.values():
        if drive.drive.kind == kind:
            assert drive.stations == of_kind(kind)
            assert [s.station for s in reply(done, "load", drive.drive.id).stamps] == list(of_kind(kind))
    asked = reply(done, "loop", "d2")
    assert asked.sheet.station == "load"


def lamp(kind: str = "lamp", **texts: str) -> Build:
    """The carousel with one more thing to switch, on a driver unit of its own."""
    build = lantern_carousel()
    drive = LoadDrive(id="d2", name="Lamp", unit="u2", controller="c1")
    drive.load.kind = kind  # type: ignore[assignment]
    for name, text in ({"rated_v": "12 V", "rated_a": "1 A"} | texts).items():
        getattr(drive.load, name).text = text
    build.units.append(build.units[0].model_copy(deep=True, update={"id": "u2"}))
    build.drives.append(drive)
    return Build.model_validate(build.model_dump())


def test_the_cold_lamp_decides_the_peak(shelf: list[DriverPart]) -> None:
    found = of(assess(lamp(), shelf), "driver.peak")
    assert found.severity == "stop"
    warm = of(assess(lamp("solenoid"), shelf), "driver.peak")
    assert warm.severity == "note"


def test_a_load_is_held_against_its_rating_and_its_needs(shelf: list[DriverPart]) -> None:
    assert of(assess(lamp("pump", rated_v="9 V"), shelf), "load.rating").severity == "warn"
    assert of(assess(lamp("pump", rated_v="14 V"), shelf), "load.rating").severity == "note"
    assert of(assess(lamp("pump"), shelf), "driver.volts_got").severity == "note"
    assert of(assess(lamp("pump", needs_v="11.5 V"), shelf), "driver.volts_got").severity == "stop"


def test_a_solenoid_held_too_weakly_is_looked_at(shelf: list[DriverPart]) -> None:
    assert of(assess(lamp("solenoid", hold_duty="40 %"), shelf), "load.hold").severity == "note"
    assert of(assess(lamp("solenoid", hold_duty="10 %"), shelf), "load.hold").severity == "warn"


def test_a_coil_has_ripple_and_energy_where_its_inductance_is_known(shelf: list[DriverPart]) -> None:
    done = assess(lamp("solenoid", inductance="80 mH", hold_duty="40 %"), shelf).drives["d2"]
    on = 14.6 / 12
    assert done.context.load.coil_energy.value == pytest.approx(0.08 * on**2 / 2)
    assert done.signals.ripple.value == pytest.approx(14.6 * 0.4 * 0.6 / (20e3 * 0.08), rel=0.01)
    assert assess(lamp("solenoid"), shelf).drives["d2"].signals.ripple is None


def test_a_load_has_its_own_test_sheet(shelf: list[DriverPart]) -> None:
    steps = {s.id: s for s in assess(lamp("pump"), shelf).drives["d2"].steps}
    assert {"rail", "frequency", "on_a"} <= set(steps)
    low, high = steps["on_a"].low, steps["on_a"].high
    assert low is not None
    assert high is not None
    assert low < 14.6 / 12 < high
