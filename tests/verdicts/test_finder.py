"""The fault finder against benches that know nothing of it: hidden circuits, solved by the tests' nodal solver."""

from __future__ import annotations

import json
import math
from collections.abc import Iterator
from contextlib import suppress
from functools import cache

import numpy as np
import pytest

from tests.verdicts.hidden_bench import HiddenBench
from zinc_whistle.core.assess import MotorAssessment, assess
from zinc_whistle.core.design.faults import Finder, finder_of
from zinc_whistle.core.design.faults.finder import information
from zinc_whistle.core.design.faults.healthy import NotKnownYet
from zinc_whistle.core.design.faults.practice import LEVELS, Level, hide, judge
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import blank_build, cider_stirrer, lantern_carousel, puppet_stage, snow_fan

from .kit import SHELF
from .test_builds import FILES

DEMOS = {"carousel": lantern_carousel, "stirrer": cider_stirrer, "puppets": puppet_stage, "fan": snow_fan}
TESTS = 5


def motors(build: Build) -> Iterator[MotorAssessment]:
    for drive in assess(build, SHELF).drives.values():
        if (motor := drive.of_motor) is not None:
            yield motor


@cache
def of_demo(name: str) -> tuple[MotorAssessment, Finder]:
    motor = next(motors(DEMOS[name]()))
    return motor, finder_of(motor.context, motor.steps)


def others() -> Iterator[tuple[MotorAssessment, Finder]]:
    """Builds by which none of the finder's numbers was set."""
    for path in FILES:
        for motor in motors(Build.model_validate(json.loads(path.read_text("utf-8")))):
            with suppress(NotKnownYet):
                yield motor, finder_of(motor.context, motor.steps)


class Tally:
    """What came of many hidden faults: ranks of the true one, and what was told of how probable each was."""

    def __init__(self) -> None:
        self.ranks: list[int] = []
        self.told: list[tuple[float, bool, float]] = []
        """How probable, whether right, and how often such a fault is met: each is hidden once, however rare."""

    def look(self, motor: MotorAssessment, finder: Finder, cause: str, seed: int) -> None:
        """One hidden fault: what is seen, or else the first step that fails; then five tests of the finder's choice."""
        bench = HiddenBench(motor.context, motor.steps, cause, seed)
        seen = bench.seen()
        read = {} if any(seen.values()) else bench.opening()
        rank = 0
        for turn in range(TESTS + 1):
            found = finder.ask(read, seen)
            here = [cause in [c.id for c in s.causes] for s in found.suspects]
            rank = here.index(True)
            often = next(c.weight for c in finder.causes if c.id == cause)
            self.told += [(s.probability, right, often) for s, right in zip(found.suspects, here, strict=True)]
            sure = turn > 0 and found.suspects[0].probability > 0.95
            if turn == TESTS or sure or not found.tests:
                break
            step = found.tests[0].step
            read[step.id] = bench.read(step)
        self.ranks.append(rank)

    def check(self, cases: int) -> None:
        ranks = np.array(self.ranks)
        assert len(ranks) >= cases
        assert np.mean(ranks == 0) >= 0.9, np.mean(ranks == 0)
        assert np.mean(ranks < 3) >= 0.98, np.mean(ranks < 3)
        told = np.array(sorted(x for x in self.told if x[0] > 0.05))
        for own in np.array_split(told, len(told) // 200):
            said, right = (np.average(own[:, k], weights=own[:, 2]) for k in (0, 1))
            # Within a tenth, and what chance does to so few: two standard errors.
            assert right == pytest.approx(said, abs=0.1 + 2 * math.sqrt(said * (1 - said) / len(own))), len(own)


@pytest.mark.slow
def test_hidden_faults_of_the_demos_come_first_within_five_tests() -> None:
    tally = Tally()
    for name in DEMOS:
        motor, finder = of_demo(name)
        for place, cause in enumerate(finder.causes):
            for turn in range(3 if cause.id != "none" else 0):
                tally.look(motor, finder, cause.id, 70_000 + 1000 * turn + place)
    tally.check(320)


@pytest.mark.slow
def test_hidden_faults_of_builds_that_it_does_not_know_come_first_within_five_tests() -> None:
    tally = Tally()
    for motor, finder in others():
        for place, cause in enumerate(finder.causes):
            if cause.id != "none":
                tally.look(motor, finder, cause.id, 90_000 + place)
    tally.check(500)


@pytest.mark.parametrize("name", DEMOS)
def test_a_drive_in_order_reads_inside_its_bounds_and_shows_nothing(name: str) -> None:
    """The finder's own drive in order, step by step: its middle draw passes the step that it is a draw of."""
    motor, finder = of_demo(name)
    healthy = [c.id for c in finder.causes].index("none")
    for step in finder.steps:
        assert step.holds(float(np.median(finder.reads[step.id][healthy]))) is True, step.id
    assert not any(finder.shown[s.id][healthy].any() for s in finder.symptoms)
    beyond = {"lamps", "knob_low", "knob_high", "jam_stop", "trip_level", "stops_at", "lowering", "housing", "alike"}
    assert {s.id for s in motor.steps} - set(finder.reads) <= beyond


def test_information_is_what_is_left_unknown_before_less_after() -> None:
    """By the long way: the entropy of the cause, less its mean over the readings. A coin that tells all tells a bit."""
    joint = np.array([[0.2, 0.05, 0.0], [0.1, 0.25, 0.05], [0.0, 0.05, 0.3]])
    rows, columns = len(joint), len(joint[0])

    def entropy(p: list[float]) -> float:
        return -sum(x * math.log2(x) for x in p if x > 0)

    before = entropy([sum(joint[c]) for c in range(rows)])
    after = 0.0
    for b in range(columns):
        chance = sum(joint[c][b] for c in range(rows))
        after += chance * entropy([joint[c][b] / chance for c in range(rows)])
    assert information(joint) == pytest.approx(before - after, rel=1e-12)
    assert information(np.array([[0.5, 0.0], [0.0, 0.5]])) == pytest.approx(1.0)
    assert information(np.array([[0.25, 0.25], [0.25, 0.25]])) == pytest.approx(0.0, abs=1e-12)


def test_what_no_test_tells_apart_is_one_and_what_one_test_tells_is_two() -> None:
    """A missing ground and a wire on the wrong pin read the same everywhere; a lead that is off does not."""
    _, finder = of_demo("carousel")
    place = {c.id: k for k, c in enumerate(finder.causes)}
    assert finder.group[place["ground"]] == finder.group[place["line"]]
    assert finder.group[place["open_lead"]] != finder.group[place["ground"]]
    together = finder.ask({}, {"still": True}).suspects
    assert [[c.id for c in s.causes] for s in together].count(["ground", "line"]) == 1
    assert sum(s.probability for s in together) == pytest.approx(1.0)


def test_a_short_found_cold_is_sure_and_makes_power_dear() -> None:
    _, finder = of_demo("carousel")
    found = finder.ask({"short": 0.4}, {})
    assert found.suspects[0].causes[0].id == "short" and found.burning > 0.95
    # Nothing is known: an idle current costs its minutes at the risk of that stage. With a short it costs twenty more.
    before = {t.step.id: t.price for t in finder.ask({}, {}).tests}
    after = {t.step.id: t.price for t in found.tests}
    assert after["idle"] > 4 * before["idle"] and after["winding"] == before["winding"]
    assert finder.ask({"short": 4000.0}, {}).burning < 0.02


def test_readings_that_no_cause_makes_together_are_said_to_fit_nothing() -> None:
    """A winding that is open and a motor that draws and turns as it should: the meter, or two faults."""
    motor, finder = of_demo("carousel")
    expected = {s.id: s.expected.value or 0.0 for s in motor.steps}
    sound = {k: expected[k] for k in ("no_load_a", "no_load_speed", "winding")}
    assert not finder.ask(sound, {}).unfit
    assert finder.ask({**sound, "winding": 1e6, "idle": 40.0}, {}).unfit
    rare = finder.ask({**sound, "winding": 1e6}, {}).suspects
    assert all(s.probability > 0 for s in rare), "no cause is ever out of the question"


def test_a_build_of_which_too_little_is_known_is_told_what_is_missing() -> None:
    motor = next(motors(blank_build("x")))
    with pytest.raises(ValueError, match=r"is not known yet\.$"):
        finder_of(motor.context, motor.steps)


@pytest.mark.parametrize("level", LEVELS)
def test_a_number_is_always_the_same_fault_and_it_shows(level: Level) -> None:
    _, finder = of_demo("stirrer")
    causes = set()
    for number in range(1, 30):
        hidden = hide(finder, level, number)
        again = hide(finder, level, number)
        assert (hidden.cause, hidden.readings, hidden.symptoms) == (again.cause, again.readings, again.symptoms)
        wrong = [k for k, v in hidden.readings.items() if finder.healthy.steps[k].holds(v) is False]
        assert wrong or any(hidden.symptoms.values()), hidden.cause.id
        causes.add(hidden.cause.id)
    assert len(causes) > 5


def test_a_guess_is_worth_less_by_each_test_too_many_and_nothing_when_it_is_wrong() -> None:
    _, finder = of_demo("stirrer")
    hidden = hide(finder, "first", 5)
    way = judge(finder, hidden, [], hidden.cause.id).way
    best = judge(finder, hidden, way, hidden.cause.id)
    assert best.right and best.points == 100
    more = [*way, *(s.id for s in finder.steps if s.stage == "cold" and s.id not in way)]
    assert judge(finder, hidden, more, hidden.cause.id).points == 100 - 8 * (len(more) - len(way))
    other = next(c.id for c in finder.causes if c.id not in {c.id for c in best.alike})
    assert judge(finder, hidden, way, other).points == 0
