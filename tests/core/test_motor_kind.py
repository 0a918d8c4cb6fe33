"""Is it a brushed DC motor at all? What each kind of motor shows, and that the others are told apart and refused."""

from __future__ import annotations

import itertools
from typing import Any

import pytest

from zinc_whistle.core.algebra.findings import Finding
from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases.motor_kind import BRUSHED, KINDS, SEEN, kind_of
from zinc_whistle.core.model.motor import MotorLooks
from zinc_whistle.demo.data import lantern_carousel

SHOWN: dict[str, dict[str, str]] = {
    # What one of each kind, taken apart on a bench, shows (common practice, no source).
    BRUSHED: {"leads": "two", "brushes": "seen", "magnets": "pulls", "by_hand": "bumps", "label": "direct"},
    "universal": {"leads": "two", "brushes": "seen", "magnets": "nothing", "by_hand": "free", "label": "alternating"},
    "alternating current": {
        "leads": "three",
        "brushes": "none",
        "magnets": "nothing",
        "by_hand": "free",
        "label": "alternating",
    },
    "brushless": {"leads": "three", "brushes": "none", "magnets": "pulls", "by_hand": "bumps", "label": "direct"},
    "stepper": {"leads": "four or more", "brushes": "none", "magnets": "pulls", "by_hand": "clicks", "label": ""},
}


def told(**seen: str) -> dict[str, Finding]:
    build = lantern_carousel()
    build.drives[0].motor.looks = MotorLooks(**seen)
    done = assess(build).drives["d1"]
    return {f.code: f for f in done.findings if f.code in ("motor.kind", "motor.rectifier")}


@pytest.mark.parametrize("kind", KINDS)
def test_what_a_kind_shows_leaves_it_alone(kind: str) -> None:
    found = kind_of(MotorLooks(**SHOWN[kind]))
    assert found is not None and found.left == (kind,)


@pytest.mark.parametrize("kind", [k for k in KINDS if k != BRUSHED])
def test_the_others_are_refused_with_the_reason(kind: str) -> None:
    check = told(**SHOWN[kind])["motor.kind"]
    assert check.severity == "stop"
    assert KINDS[kind] in check.todo
    assert any(word in check.todo for word in ("magnets", "alternates", "three phases", "a step"))


def test_its_neighbour_with_brushes_holds_and_an_old_build_is_not_asked() -> None:
    assert told(**SHOWN[BRUSHED])["motor.kind"].severity == "note"
    assert told() == {}


def test_what_is_left_open_says_what_it_may_be_and_where_to_look_next() -> None:
    check = told(leads="two", brushes="seen")["motor.kind"]
    assert check.verdict == "unknown"
    words = str(check)
    assert "universal" in words and "screwdriver" in words


def test_what_goes_together_in_no_motor_is_asked_about() -> None:
    check = told(brushes="seen", by_hand="clicks")["motor.kind"]
    assert check.severity == "stop" and "look again" in check.todo
    assert "Brushes" in check.todo and "Turned by hand" in check.todo


def test_a_rectifier_means_the_mains() -> None:
    found = told(rectifier="on it")
    assert found["motor.rectifier"].severity == "warn" and "mains" in found["motor.rectifier"].todo
    assert "motor.rectifier" not in told(rectifier="none", leads="two")


def every() -> Any:
    options = [[("", name), *((v, name) for v in answers)] for name, answers in SEEN.items()]
    for chosen in itertools.product(*options):
        yield {name: value for value, name in chosen}


def test_over_all_that_can_be_seen_nothing_is_ruled_out_but_by_a_look_and_the_next_look_helps_most() -> None:
    """Brute force over all 432 ways to have looked."""
    count = 0
    for seen in every():
        count += 1
        found = kind_of(MotorLooks(**seen))
        given = {n: v for n, v in seen.items() if v}
        if found is None:
            assert not given
            continue
        assert found.left == tuple(k for k in KINDS if not any(k not in SEEN[n][v] for n, v in given.items()))
        assert bool(found.against) == any(BRUSHED not in SEEN[n][v] for n, v in given.items())
        ways = {
            n: max(sum(k in left for k in found.left) for left in answers.values())
            for n, answers in SEEN.items()
            if n not in given
        }
        if found.next_look:
            assert ways[found.next_look] == min(ways.values()) < len(found.left)
        else:
            assert not ways or min(ways.values()) >= len(found.left)
    assert count == 4 * 3 * 3 * 4 * 3
