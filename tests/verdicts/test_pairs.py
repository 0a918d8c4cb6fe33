"""Every limit trips where it must and does not a little beside it; a limit without such a pair fails here."""

from __future__ import annotations

import json
from collections.abc import Callable
from functools import cache
from pathlib import Path

import pytest

from tests.core.test_stage import WRONG, carousel_with
from zinc_whistle.core.algebra.findings import Finding
from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.given import Given
from zinc_whistle.core.model.stage import CIRCUITS
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage

from .kit import SHELF, owner_of
from .pairs import PAIRS, Pair

DEMOS: dict[str, Callable[[], Build]] = {
    "carousel": lantern_carousel,
    "stirrer": cider_stirrer,
    "puppets": puppet_stage,
}
NEVER = {
    "load.inrush": "told, or not known yet",
    "servo.rail": "named, or not known yet",
    "supply.logic": "named, or not known yet",
    "stage.diode": "chosen, or not known yet",
    "loop.gain": "given, or not known yet",
    "servo.range": "measured or told by its sheet, or not known yet",
}
"""Claims that cannot be broken: they ask for something that is not given yet."""
ELSEWHERE = {
    "signals.timers": "tests/core/test_timers.py: which pulses find a timer together, and which do not",
    "panel.": "tests/core/test_panel.py: each rule of the panel's machine by machines that keep and break it",
    "radio.": "tests/core/test_radio.py: each check of the link and of a handset, and its neighbour",
    "servo.turn": "tests/program/test_servos.py: pulses in turn of a servo that turns far, and of one that does not",
    "servo.pose": "tests/core/test_servo_and_other_loads.py: a pose within its travel, and one beyond",
    "wiring.*.shared": "tests/core/test_review.py: two drives that one lead bears, and does not",
    "wiring.*.bus": "tests/core/test_review.py: a bus that is too long for any pull-up, and one that is not",
    "bench.": "readings against what was expected of them: tests/core/test_wiring_and_bench.py",
}


def base(name: str) -> Build:
    if name in DEMOS:
        return DEMOS[name]()
    (file,) = (Path(__file__).parent / "builds").glob(f"{name}-*.json")
    return Build.model_validate(json.loads(file.read_text("utf-8")))


def general(code: str) -> str:
    """A code without the name of a source, a regulator or a controller."""
    words = code.split(".")
    return f"{words[0]}.*.{words[2]}" if words[0] in ("supply", "wiring", "encoder") and len(words) == 3 else code


def changed(changes: dict[str, str], name: str) -> list[Finding]:
    build = base(name)
    for path, text in changes.items():
        owner, last = owner_of(build, path)
        held = getattr(owner, last)
        if isinstance(held, list):
            setattr(owner, last, [text] if text else [])
        else:
            setattr(owner, last, Given(text=text, origin="measured") if isinstance(held, Given) else text)
    done = assess(build, SHELF)
    assert not done.bound.errors
    return list(done.findings)


def found(pair: Pair, changes: dict[str, str], name: str) -> list[Finding]:
    return [f for f in changed(changes, name) if general(f.code) == pair.code]


WITH_IT = {
    "wiring.ground": {"wiring.return"},  # where a ground is missing the signals have no way back
    "wiring.return": {"wiring.ground"},
    "wiring.pins": {"signals.timers"},  # without pins no timer has an output
}
"""What cannot but break with a rule of the wiring."""


@pytest.mark.parametrize("pair", [p for p in PAIRS if p.code.startswith("wiring.")], ids=lambda p: str(p.code))
def test_a_rule_of_the_wiring_breaks_by_itself(pair: Pair) -> None:
    """The build that trips it exceeds nothing else that its neighbour holds: no rule hides behind another."""

    def exceeded(changes: dict[str, str], name: str) -> set[str]:
        return {general(f.code) for f in changed(changes, name) if f.verdict == "exceeded"}

    broken = exceeded(pair.trips, pair.build) - exceeded(pair.holds, pair.neighbour or pair.build)
    assert broken - {pair.code} <= WITH_IT.get(pair.code, set())


@pytest.mark.parametrize("pair", PAIRS, ids=[p.code for p in PAIRS])
def test_it_trips_and_its_neighbour_does_not(pair: Pair) -> None:
    assert "exceeded" in {f.verdict for f in found(pair, pair.trips, pair.build)}, pair.because
    held = found(pair, pair.holds, pair.neighbour or pair.build)
    assert bool(held) is not pair.vanishes, "whether the neighbour is asked"
    assert {f.verdict for f in held} <= {"holds", "tight"}, pair.because


@cache
def every_code() -> frozenset[str]:
    """The codes of whatever is asked of the demos, of the complete builds, and of a stage of each circuit."""
    builds = [make() for make in DEMOS.values()]
    builds += [base(f.stem.split("-")[0]) for f in (Path(__file__).parent / "builds").glob("*.json")]
    builds += [carousel_with(c, guard="m-n60-8", fuse="f-blade-15", shunt="5 mΩ", track_width="5 mm") for c in CIRCUITS]
    return frozenset(general(f.code) for b in builds for f in assess(b, SHELF).findings)


def test_every_limit_has_its_pair() -> None:
    have = {p.code for p in PAIRS} | {code for code, *_ in WRONG}
    lacking = {c for c in every_code() if c not in have | NEVER.keys() and not c.startswith(tuple(ELSEWHERE))}
    assert not lacking, sorted(lacking)
