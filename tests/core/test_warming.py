"""A rise of temperature at the bench: where it ends, and the thermal model that follows from it."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from tests.kit import given_at
from tests.verdicts.kit import SHELF
from zinc_whistle.core.algebra.quantities import parse
from zinc_whistle.core.assess import MotorAssessment, assess
from zinc_whistle.core.design.warming import Learnt, Of, learnt
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel

AIR = 21.0


def motor_of(build: Build) -> MotorAssessment:
    motor = assess(build, SHELF).drives["d1"].of_motor
    assert motor is not None
    return motor


def told(motor: MotorAssessment, of: Of, text: str) -> Learnt:
    return learnt(motor.context, motor.chosen, of, text, AIR)


def rise(power: float, resistance: float, capacity: float, minutes: int, noise: float = 0.0) -> str:
    """One thermal node stepped by scipy, read each minute."""
    made = solve_ivp(
        lambda _, y: [(power - (y[0] - AIR) / resistance) / capacity],
        (0, 60 * minutes),
        [AIR],
        t_eval=60.0 * np.arange(minutes + 1),
        rtol=1e-9,
    )
    seen = made.y[0] + noise * np.random.default_rng(2).standard_normal(minutes + 1)
    return ", ".join(f"{k}:{c:.2f}" for k, c in enumerate(seen))


def test_a_housing_gives_back_the_node_that_made_its_rise() -> None:
    """9 K/W and 80 J/K (τ of 12 min), read for ten minutes: the iron is C/460 J/(kg·K) = 174 g."""
    motor = motor_of(lantern_carousel())
    books = motor.load.books
    power = sum(x.value or 0.0 for x in (books.copper, books.brushes, books.friction))
    found = told(motor, "housing", rise(power, 9.0, 80.0, 10))
    assert found.final_c == pytest.approx(AIR + 9.0 * power, abs=0.1)
    assert found.tau_s == pytest.approx(720, rel=0.01)
    texts = {c.path.rpartition(".")[2]: c.text for c in found.changes}
    assert texts["heat_by"] == "given"
    assert parse(texts["housing_to_air"], "thermal resistance").value == pytest.approx(9.0, rel=0.01)
    assert parse(texts["housing_mass"], "mass", "g").value == pytest.approx(80 / 460, rel=0.02)


def test_what_is_taken_over_makes_the_step_expect_what_was_read() -> None:
    """Applied to the build, the housing's step ends where the fit did, but for its air; nothing refuses the texts."""
    build = cider_stirrer()
    motor = motor_of(build)
    books = motor.load.books
    power = sum(x.value or 0.0 for x in (books.copper, books.brushes, books.friction))
    found = told(motor, "housing", rise(power, 3.0, 300.0, 12, noise=0.05))
    for change in found.changes:
        if change.path.endswith("heat_by"):
            build.drives[0].motor.heat_by = "given"
        else:
            given_at(build, change.path).text = change.text
    after = assess(build, SHELF)
    assert not after.bound.errors
    step = next(s for s in after.drives["d1"].steps if s.id == "housing")
    hot = build.ambient.hot.value
    assert hot is not None
    assert step.expected.value == pytest.approx(found.final_c - AIR + hot, abs=0.3)


def test_a_case_gives_the_drivers_resistance() -> None:
    motor = motor_of(lantern_carousel())
    assert motor.chosen is not None
    power, share = motor.chosen.heat.total.value or 0.0, motor.chosen.part.package_share.value or 0.0
    found = told(motor, "case", rise(power, 60.0, 5.0, 8))
    (change,) = found.changes
    assert change.path == "units.u1.part.thermal_resistance"
    assert parse(change.text, "thermal resistance").value == pytest.approx(60.0 / (1 - share), rel=0.02)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("0:20, 1:21", "4 readings"),
        ("0:20, 1:x, 2:3, 4:4", "no reading"),
        ("0:20, 1:21, 2:22, 3:23, 4:24", "straight line"),
    ],
)
def test_what_tells_no_end_is_refused_in_words(text: str, says: str) -> None:
    with pytest.raises(ValueError, match=says):
        told(motor_of(lantern_carousel()), "housing", text)


def test_no_resistance_follows_from_a_draught() -> None:
    found = told(motor_of(lantern_carousel()), "housing", "0:21, 1:21.5, 2:21.8, 3:22, 4:22.1, 5:22.15")
    assert found.changes == [] and "too little" in found.says[-1]
