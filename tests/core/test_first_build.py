"""The first page: answers land where the stations keep them, estimates are marked, the verdict is the build's own."""

from __future__ import annotations

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.kit import given_at
from tests.verdicts.kit import SHELF
from zinc_whistle.core.algebra.quantities import parse
from zinc_whistle.core.assess import assess
from zinc_whistle.core.design.first_build import BY_ID, QUESTIONS, SHARE, SHELF_MOTOR, asked, first_build, least_gauge
from zinc_whistle.core.model.build import bind_motors
from zinc_whistle.demo.data import blank_build, sample_motors
from zinc_whistle.sheets.first_view import FirstVerdict, first_verdict

TABLE = {
    "moves": "turntable", "table_mass": "4 kg", "table_radius": "0.3", "table_speed": "20", "way": "through zero",
    "motor": "readings", "held_v": "1 V", "held_a": "0.4", "free_v": "12", "free_a": "150m", "free_speed": "6000",
    "supply": "lifepo4", "cells": "4",
}  # fmt: skip
CAR = {
    "moves": "wheels", "car_mass": "5", "car_wheel": "65", "car_speed": "0.8", "gear": "19", "way": "through zero",
    "motor": "data sheet", "rated_v": "12", "rated_speed": "7000", "rated_a": "0.1 A", "stall_a": "2.5",
    "supply": "adaptor", "adaptor_v": "12", "adaptor_a": "3", "weight": "120",
}  # fmt: skip


def told(answers: dict[str, str]) -> FirstVerdict:
    first = first_build(blank_build("x"), answers)
    return first_verdict(first, assess(first.build, SHELF))


def test_answers_are_texts_of_fields_in_the_units_that_were_asked_for() -> None:
    done = assess(first_build(blank_build("x"), TABLE).build, SHELF)
    build = done.build
    assert not done.bound.errors
    d = "drives.d1."
    for path, value in {
        f"{d}load.mechanisms.m1.mass": 4.0,
        f"{d}load.mechanisms.m1.radius": 0.3,
        f"{d}load.mechanisms.m1.speed": 20 * math.pi / 30,
        f"{d}motor.locked.l1.current": 0.4,
        f"{d}motor.no_load_a": 0.15,
        f"{d}motor.no_load_speed": 200 * math.pi,
        "supply.sources.s1.cells": 4.0,
    }.items():
        field = given_at(build, path)
        assert field.value == pytest.approx(value) and field.origin == "measured", path
    assert build.driven[0].signals.reversal == "through zero"


def test_a_bare_number_is_in_the_questions_unit_not_the_fields() -> None:
    """A wheel of 65 is 65 mm, a lift of 100 is 100 mm/s: the fields' own units are no matter."""
    car = assess(first_build(blank_build("x"), CAR).build, SHELF).build
    assert given_at(car, "drives.d1.load.mechanisms.m1.diameter").value == pytest.approx(0.065)
    winch = TABLE | {"moves": "winch", "winch_mass": "2", "winch_radius": "15", "winch_speed": "100"}
    build = assess(first_build(blank_build("x"), winch).build, SHELF).build
    assert given_at(build, "drives.d1.load.mechanisms.m1.radius").value == pytest.approx(0.015)
    assert given_at(build, "drives.d1.load.mechanisms.m1.velocity").value == pytest.approx(0.1)


def test_what_is_left_empty_is_estimated_and_marked() -> None:
    first = first_build(blank_build("x"), TABLE)
    build = assess(first.build, SHELF).build
    for path in ("motor.weight", "motor.case_diameter", "load.gear_ratio", "load.time_to_speed"):
        assert given_at(build, f"drives.d1.{path}").origin == "assumed", path
    assert first.missing == () and len(first.estimates) == 5
    # 0.02 · 4 kg · 9.81 m/s² · 0.3 m; and 0.65 · 6,000 over 20.
    friction = given_at(build, "drives.d1.load.mechanisms.m1.friction_torque")
    assert friction.value == pytest.approx(0.2354, rel=1e-3) and friction.origin == "assumed"
    assert first.suits == pytest.approx(SHARE * 6000 / 20)
    both = assess(first_build(blank_build("x"), TABLE | {"weight": "90 g", "gear": "200"}).build, SHELF).build
    assert given_at(both, "drives.d1.motor.weight").origin == "measured"
    assert given_at(both, "drives.d1.load.gear_ratio").value == 200


def test_the_verdict_is_the_builds_own() -> None:
    first = first_build(blank_build("x"), TABLE)
    done = assess(first.build, SHELF)
    motor = next(iter(done.drives.values())).of_motor
    assert motor is not None
    v = first_verdict(first, done)
    assert [c.name for c in v.candidates] == [c.part.name for c in motor.candidates if c.verdict != "refused"][:3]
    # One reading, its leads of 0.1 Ω taken off: 1 V / 0.4 A − 0.1 Ω = 2.4 Ω at 20 °C; 12.8 V over that and the source.
    assert motor.at_supply.stall_current.value == pytest.approx(5.0, rel=0.05)
    assert any("5.0" in line and line.startswith("Held fast it draws") for line in v.lines)
    assert v.sharpen.startswith("Rotor locked") and "too small" in v.sharpen


def test_no_driver_is_named_before_both_currents_are_known() -> None:
    assert told({}).candidates == []
    assert told({k: v for k, v in TABLE.items() if k != "held_a"}).candidates == []
    assert told({k: v for k, v in TABLE.items() if k != "table_mass"}).candidates == []
    assert told(TABLE).candidates


def test_a_gear_that_is_too_high_is_told_with_the_one_that_suits() -> None:
    """0.8 m/s on 65 mm are 235 rpm; times 50 they are 11,750, beyond the motor's 7,000; 0.65 · 7,000 / 235 are 19."""
    fast = told(CAR | {"gear": "50"})
    assert any("A gear of about 19:1 would suit." in line for line in fast.lines)
    assert fast.candidates == [] and any(line.startswith("No driver of the shelf") for line in fast.lines)
    assert told(CAR | {"supply": "li-ion", "cells": "3"}).candidates


def test_an_adaptor_that_a_braking_car_feeds_is_told_in_the_checks_own_words() -> None:
    """It takes nothing back: whatever the driver, the bus rises until something gives."""
    said = told(CAR)
    assert said.candidates == [] and "“Something takes the energy back”" in said.lines[-1]


def test_a_drive_both_ways_names_no_single_switch() -> None:
    both, one = told(TABLE), told(TABLE | {"way": "one way"})
    assert not any("Single" in c.name for c in both.candidates) and one.candidates


def test_what_cannot_be_read_is_told_at_its_question_and_the_rest_stands() -> None:
    v = told(TABLE | {"held_v": "banana", "cells": "-2", "supply": "perpetual"})
    assert set(v.errors) == {"held_v", "supply"} and "banana" in v.errors["held_v"]
    assert "above nothing" in told(TABLE | {"cells": "-2"}).errors["cells"]
    assert any(line.startswith("Pulses of") for line in v.lines)


def test_questions_are_asked_only_where_they_apply() -> None:
    ids = {q.id for q in asked(CAR)}
    assert {"car_mass", "stall_a", "adaptor_v"} <= ids and not {"table_mass", "held_v", "cells"} & ids
    assert {q.id for q in asked({})} == {"moves", "gear", "way", "motor", "weight", "case", "supply"}


def test_the_thinnest_wire_at_six_amperes_a_square_millimetre() -> None:
    """AWG 28 has 0.081 mm² (0.485 A), AWG 20 0.518 mm² (3.1 A), AWG 8 8.37 mm² (50 A): ASTM B258, from memory."""
    assert [least_gauge(a) for a in (0.48, 0.49, 3.1, 3.2, 50.0, 51.0)] == [28, 26, 20, 18, 8, None]


TEXTS = st.sampled_from(["", "5", "0", "-1", "0.3 m", "12 V", "1e300", "banana", "½", "4,5", "9" * 30, "NaN"])


@given(st.data())
@settings(max_examples=60)
def test_whatever_is_answered_there_is_a_build_and_a_verdict(data: st.DataObject) -> None:
    answers = {
        q.id: data.draw(st.sampled_from(["", *q.options]) if q.options else TEXTS)
        for q in QUESTIONS
        if data.draw(st.booleans())
    }
    v = told(answers)
    assert set(v.errors) <= set(BY_ID)
    assert all(line.endswith(".") for line in v.lines) and not any("nan" in line.lower().split() for line in v.lines)


def test_a_motor_of_the_shelf_is_taken_whole_and_tells_a_gear() -> None:
    """Nothing of it is asked again; the gear that suits rests on its own free speed: 0.65 × free / 20 rpm."""
    shelf = {m.id: m for m in sample_motors()}
    bind_motors(list(shelf.values()))
    id, part = next((k, m) for k, m in shelf.items() if m.motor.sheet.no_load_speed.value)
    answers = {k: v for k, v in TABLE.items() if not k.startswith(("held", "free", "gear"))}
    answers |= {"motor": "shelf", SHELF_MOTOR: id}
    assert not {"weight", "case", "held_v", "rated_v"} & {q.id for q in asked(answers)}
    first = first_build(blank_build("x"), answers, shelf)
    assert not first.errors and first.build.drives[0].of_motor is not None
    assert first.build.drives[0].of_motor.motor.sheet.no_load_speed.text == part.motor.sheet.no_load_speed.text
    free, wanted = part.motor.sheet.no_load_speed.value, parse(TABLE["table_speed"], "speed", "rpm").value
    assert free and first.suits == pytest.approx(0.65 * free / wanted)
    done = assess(first.build, SHELF)
    assert done.drives["d1"].of_motor is not None and done.drives["d1"].of_motor.candidates
    assert "Which motor of the shelf" in first_build(blank_build("x"), answers | {SHELF_MOTOR: ""}, shelf).missing
    assert first_build(blank_build("x"), answers | {SHELF_MOTOR: "none"}, shelf).errors
