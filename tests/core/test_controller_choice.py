"""Which controller: each profile in its place, ranked by what the build's own checks say of it."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.controller_choice import ControllerCandidate, ranked
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.given import bind
from zinc_whistle.demo.data import cider_stirrer, controllers, lantern_carousel, profile, puppet_stage


def by_id(found: list[ControllerCandidate]) -> dict[str, ControllerCandidate]:
    return {c.profile.id: c for c in found}


def crowded() -> Build:
    """Four carousels of different frequencies on one controller: four timers, twelve pins and four encoders."""
    build = lantern_carousel()
    for n in range(2, 5):
        build.units.append(build.units[0].model_copy(update={"id": f"u{n}"}, deep=True))
        build.drives.append(build.drives[0].model_copy(update={"id": f"d{n}", "unit": f"u{n}"}, deep=True))
    for drive, khz in zip(build.drives, (20, 15, 11, 8), strict=True):
        drive.signals.pwm_frequency.text = f"{khz} kHz"
    return build


@pytest.mark.parametrize("make", [lantern_carousel, cider_stirrer, puppet_stage])
def test_the_demos_find_a_controller_and_the_best_comes_first(make: Callable[[], Build]) -> None:
    build = make()
    found = ranked(build, "c1", controllers())
    assert len(found) == len(controllers())
    assert found[0].meets
    stops = [len(c.stops) for c in found]
    assert stops == sorted(stops)


def test_what_does_not_fit_the_small_one_fits_the_large_one() -> None:
    found = by_id(ranked(crowded(), "c1", controllers()))
    large, small = found["eight-bit-large"], found["eight-bit-16"]
    assert large.meets and not large.no_program
    assert {"signals.timers", "wiring.pins"} & {f.code for f in small.stops}, [f.code for f in small.stops]
    assert all(f.todo for f in small.stops)


def test_it_says_what_the_build_itself_says_once_the_profile_is_in() -> None:
    """Put in by hand, the profile has the very stops that were told, and those that every profile has."""
    build = crowded()
    found = by_id(ranked(build, "c1", controllers()))
    kept = {n: getattr(build.controllers[0], n) for n in ("id", "regulator", "libraries")}
    build.controllers[0] = profile("teaching-board").model_copy(update=kept)
    for drive in build.drives:
        drive.wiring.fixed_pins = []
    now = {f.key for f in assess(build).findings if f.stops}
    assert {f.key for f in found["teaching-board"].stops} <= now
    assert found["teaching-board"].stops


def test_low_logic_is_held_against_the_driver_s_input() -> None:
    """A part that wants 3 V for a one: the teaching board's pins give 2.4 V, those of 5 V logic do."""
    build = lantern_carousel()
    part = build.units[0].part
    assert part is not None
    part.input_high.text = "3 V"
    found = by_id(ranked(build, "c1", controllers()))
    assert any(
        "input" in f.code or "level" in f.code or "logic" in f.title.lower() for f in found["teaching-board"].stops
    )
    assert found["eight-bit-16"].meets


def test_what_would_have_to_be_added_counts_in_the_price() -> None:
    """The carousel's regulator gives 10 V: too much for the teaching board's V in, and its sense signal of 3.8 V too
    much for 3.3 V. A regulator (2 €) and a divider (0.10 €) beside its price; the board that stands needs neither."""
    profiles = controllers()
    for one in profiles:
        bind(one, f"profiles.{one.id}")
    found = by_id(ranked(lantern_carousel(), "c1", profiles))
    there, board = found["eight-bit-16"], found["teaching-board"]
    assert there.added == [] and there.total_eur == there.profile.price.value is not None
    assert [x.what.split(" ")[1] for x in board.added] == ["regulator", "divider"]
    assert board.profile.price.text == "19 €"
    assert board.total_eur == pytest.approx(19 + 2 + 0.1)
    board.profile.price.text = ""
    bind(board.profile, "profiles.teaching-board")
    assert board.total_eur is None


def test_without_a_language_there_is_no_program_and_it_stands_behind_its_equal() -> None:
    plain = profile("eight-bit-16").model_copy(update={"id": "plain", "program": "", "name": "No language"})
    found = ranked(lantern_carousel(), "c1", [plain, profile("eight-bit-16")])
    assert [c.profile.id for c in found] == ["eight-bit-16", "plain"]
    assert "no language" in found[1].no_program[0]


def test_a_controller_that_is_not_there_is_told() -> None:
    with pytest.raises(LookupError, match="no such controller"):
        ranked(lantern_carousel(), "c9", controllers())
