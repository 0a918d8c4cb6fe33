"""Estimates from weight and case, against the sample motors and against motors of known classes."""

from __future__ import annotations

import math

import pytest

from zinc_whistle.core.algebra.doubt import doubt_of
from zinc_whistle.core.algebra.nodes import Node
from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases import frame
from zinc_whistle.core.cases.motor import constants
from zinc_whistle.core.laws import frame as laws
from zinc_whistle.core.model.build import Build, bind_build
from zinc_whistle.core.model.given import bind
from zinc_whistle.core.model.motor import LockedReading, MotorSpec
from zinc_whistle.demo.data import blank_build, sample_motors

MOTORS = {m.name: m.motor for m in sample_motors()}


def estimating(spec: MotorSpec) -> MotorSpec:
    made = spec.model_copy(deep=True)
    made.inductance_by = made.inertia_by = made.heat_by = "frame"
    bind(made, "shelf.motor")
    return made


def covers(node: Node, value: float | None) -> bool:
    doubt = doubt_of(node).standard
    assert node.value is not None and value is not None and doubt is not None
    return abs(node.value - value) <= 2 * doubt


@pytest.mark.parametrize("name", MOTORS)
def test_the_stated_doubt_covers_the_sample_motors(name: str) -> None:
    """Twice the standard doubt, round what each sample says of itself."""
    own = MOTORS[name].model_copy(deep=True)
    bind(own, "shelf.motor")
    made = estimating(own)
    guessed = constants(made)
    assert covers(guessed.rotor_inertia, own.rotor_inertia.value)
    assert covers(guessed.inductance, own.inductance.value)
    assert covers(frame.copper(made), own.winding_copper.value)
    assert covers(frame.housing(made), own.housing_mass.value)
    assert covers(frame.to_air(made), own.housing_to_air.value)
    assert covers(frame.to_housing(made), own.winding_to_housing.value)


@pytest.mark.parametrize(
    ("weight_kg", "diameter_m", "inertia", "time_s", "to_air"),
    [
        # The sizes that toys, models and battery tools have: figures as data sheets of their class give them (from
        # memory, no source): rotor inertia in kg·m², L / R, case to still air in K/W.
        (0.018, 0.020, 1.4e-7, 0.15e-3, 45.0),
        (0.160, 0.036, 4.5e-6, 0.4e-3, 11.0),
        (0.340, 0.042, 1.2e-5, 0.5e-3, 7.0),
    ],
)
def test_motors_of_known_classes_lie_within_the_doubt(
    weight_kg: float, diameter_m: float, inertia: float, time_s: float, to_air: float
) -> None:
    def within(found: float, known: float, of: str) -> bool:
        return abs(found - known) <= 2 * frame.SCATTER[of] * found

    assert within(laws.rotor_inertia.evaluate([weight_kg, diameter_m, 1.0]), inertia, "inertia")
    assert within(laws.inductance.evaluate([1.0, weight_kg, 1.0]), time_s, "inductance")
    assert within(laws.to_air.evaluate([weight_kg, 1.0]), to_air, "air")


def test_the_case_s_surface_agrees_with_its_heat_transfer() -> None:
    """36 mm by 50 mm and 160 g: 1 / (h A) with h = 12 W/(m²·K), still air and radiation (common practice)."""
    area = math.pi * 0.036 * 0.050 + 2 * math.pi * 0.018**2
    assert laws.to_air.evaluate([0.160, 1.0]) == pytest.approx(1 / (12 * area), rel=0.05)


def test_a_motor_twice_as_long_wide_and_high_scales_as_its_size() -> None:
    """Eight times the weight: inertia grows with the fifth power of the size, L / R with its square, as its surface."""
    ratio = [
        laws.rotor_inertia.evaluate([0.8, 0.08, 1.0]) / laws.rotor_inertia.evaluate([0.1, 0.04, 1.0]),
        laws.inductance.evaluate([1.0, 0.8, 1.0]) / laws.inductance.evaluate([1.0, 0.1, 1.0]),
        laws.to_air.evaluate([0.1, 1.0]) / laws.to_air.evaluate([0.8, 1.0]),
        laws.copper.evaluate([0.8, 1.0]) / laws.copper.evaluate([0.1, 1.0]),
    ]
    assert ratio == pytest.approx([32, 4, 4, 8])


FIVE = {"no_load_v": "12 V", "no_load_a": "0.12 A", "no_load_speed": "6000 rpm"}


def unknown_motor(**more: str) -> Build:
    """A motor from a dead appliance: five readings, a kitchen scale and a ruler."""
    build = blank_build("Found")
    motor = build.drives[0].motor
    reading = {"voltage": {"text": "1.5 V", "origin": "measured"}, "current": {"text": "0.9 A", "origin": "measured"}}
    motor.locked = [LockedReading.model_validate({"id": "l1", **reading})]
    for name, text in (FIVE | more).items():
        spot = getattr(motor, name)
        spot.text, spot.origin = text, "measured"
    bind_build(build)
    return build


def test_a_new_motor_is_known_from_five_readings_a_scale_and_a_ruler() -> None:
    done = assess(unknown_motor(weight="160 g", case_diameter="36 mm")).drives["d1"].of_motor
    assert done is not None
    known = done.motor
    for figure in (known.rotor_inertia, known.inductance, done.heat.winding_capacity, done.heat.allowed):
        assert figure.value is not None and figure.value > 0
    told = next(f for f in done.findings if f.code == "motor.estimated")
    assert told.severity == "warn" and "rotor inertia" in told.title and "switch it off" in told.todo
    assert 2 * doubt_of(known.rotor_inertia).standard / known.rotor_inertia.value == pytest.approx(0.6, rel=0.02)


def test_without_the_weight_nothing_is_made_up_and_it_is_asked_for() -> None:
    done = assess(unknown_motor()).drives["d1"].of_motor
    assert done is not None
    assert done.motor.rotor_inertia.value is None and done.motor.inductance.value is None
    assert done.motor.resistance_25.value is not None


def test_what_is_measured_replaces_the_estimate_and_its_warning() -> None:
    build = unknown_motor(weight="160 g", case_diameter="36 mm")
    motor = build.drives[0].motor
    motor.inertia_by, motor.inductance_by, motor.heat_by = "given", "given", "given"
    motor.rotor_inertia.text, motor.inductance.text, motor.winding_copper.text = "30 g·cm²", "1 mH", "20 g"
    bind_build(build)
    done = assess(build).drives["d1"].of_motor
    assert done is not None and done.motor.rotor_inertia.value == pytest.approx(3e-6)
    assert not [f for f in done.findings if f.code == "motor.estimated"]
