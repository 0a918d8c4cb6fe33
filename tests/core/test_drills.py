"""Hand sums: each is right by another way of working it out, and answers are judged by how far they are off."""

from __future__ import annotations

import re

import pytest

from tests.verdicts.kit import SHELF
from zinc_whistle.core.algebra.bands import value_of
from zinc_whistle.core.algebra.preferred import series
from zinc_whistle.core.algebra.quantities import QuantityError
from zinc_whistle.core.assess import MotorAssessment, assess
from zinc_whistle.core.design.drills import MAKERS, Drill, drill, mark
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel

TOPICS = {
    "Read the bands",
    "Pick the resistor",
    "Judge the headline current",
    "Choose volts a division",
    "What a meter shows",
    "Heat in a switch",
}


def motor_of(make=lantern_carousel) -> MotorAssessment:  # type: ignore[no-untyped-def]
    motor = assess(make(), SHELF).drives["d1"].of_motor
    assert motor is not None
    return motor


def drawn(make=lantern_carousel, count: int = 150) -> list[Drill]:  # type: ignore[no-untyped-def]
    motor = motor_of(make)
    return [drill(motor.context, motor.steps, n) for n in range(1, count)]


def test_every_topic_comes_up_and_a_number_is_always_the_same_sum() -> None:
    found = drawn()
    assert {d.topic for d in found} == TOPICS and len(MAKERS) == len(TOPICS)
    assert found == drawn()
    assert len({d.question for d in found}) > 0.7 * len(found), "hardly one twice"


def test_every_sum_is_right_by_the_numbers_in_its_question() -> None:
    """The question read again, and worked out with nothing else."""
    for asked in [*drawn(), *drawn(cider_stirrer)]:
        numbers = [float(x.replace("\u202f", "")) for x in re.findall(r"\d+(?:\.\d+)?", asked.question)]
        middle = (asked.low + asked.high) / 2
        if asked.topic == "Read the bands":
            colours = asked.question.partition("are ")[2].partition(". What")[0].split(", ")
            assert asked.low <= value_of(colours)[0] <= asked.high
        elif asked.topic == "Pick the resistor":
            drop, milli, level = numbers[:3]
            least = (level - drop) / milli * 1000
            fitting = min(v * 10**p for v in series("E24") for p in range(6) if v * 10**p >= least * (1 - 1e-9))
            assert asked.low <= fitting <= asked.high
            assert asked.low >= least * 0.999
        elif asked.topic == "Heat in a switch":
            assert middle == pytest.approx(numbers[1] ** 2 * numbers[0] / 1000)
        elif asked.topic == "What a meter shows":
            assert middle == pytest.approx(numbers[0] * numbers[1] / 100, rel=0.01)
        elif asked.topic == "Judge the headline current":
            ohms = numbers[0] / (1000 if "mΩ" in asked.question else 1)
            assert middle == pytest.approx(numbers[1] / ohms, rel=0.01)
        else:
            level = numbers[1]
            assert 2.4 <= level / middle <= 6 + 1e-9


def test_answers_are_judged_by_how_far_they_are_off() -> None:
    asked = next(d for d in drawn() if d.topic == "Read the bands")
    ohms = (asked.low + asked.high) / 2
    assert mark(asked, f"{ohms:.0f}").verdict == "right"
    assert mark(asked, f"{1.5 * ohms:.0f}").verdict == "near"
    lost = mark(asked, f"{1000 * ohms:.0f}")
    assert lost.verdict == "wrong" and "prefix" in lost.says and lost.working
    with pytest.raises(QuantityError):
        mark(asked, "many")
