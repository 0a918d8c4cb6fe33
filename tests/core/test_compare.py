"""Two states of a build beside one another: all that was given otherwise is told, and nothing else."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from tests.kit import changed
from zinc_whistle.core.assess import assess
from zinc_whistle.core.compare import compare
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, snow_fan

DEMOS = pytest.mark.parametrize("make", [lantern_carousel, cider_stirrer, puppet_stage, snow_fan])


@DEMOS
def test_nothing_differs_from_itself(make: Callable[[], Build]) -> None:
    found = compare(assess(make()), assess(make()))
    assert not found.given and not found.figures and not found.limits


def test_one_text_is_told_with_its_label_and_what_follows() -> None:
    """A friction of twice as much: one line given, currents that rise, limits that come nearer; ticks are no change."""
    before = lantern_carousel()
    after = changed(before, drives__d1__load__mechanisms__m1__friction_torque="0.2 N·m")
    after.made = []
    found = compare(assess(before), assess(after))
    (line,) = found.given
    assert line.path == "drives.d1.load.mechanisms.m1.friction_torque"
    assert line.label and line.after == "0.2 N·m" and line.before != line.after
    titles = {f.title: f for f in found.figures}
    assert found.figures and all(f.ratio is None or abs(f.ratio - 1) > 0.004 for f in titles.values())
    ratios = [abs(f.ratio - 1) for f in found.figures if f.ratio and f.ratio > 1]
    assert ratios == sorted(ratios, reverse=True)


def test_a_choice_is_told_in_its_words() -> None:
    before, after = lantern_carousel(), lantern_carousel()
    after.drives[0].signals.decay = "fast"
    (line,) = compare(assess(before), assess(after)).given
    assert "decay" in line.path and line.after not in ("fast", "") and line.label != "decay"


def test_a_limit_that_falls_is_told_as_nearer_and_one_that_rises_as_farther() -> None:
    before = lantern_carousel()
    thin = changed(before, drives__d1__wiring__motor_run__gauge="32")
    down = {x.title: x for x in compare(assess(before), assess(thin)).limits}
    up = {x.title: x for x in compare(assess(thin), assess(before)).limits}
    title = "Wire, driver to motor"
    assert down[title].worse and not up[title].worse
    assert down[title].before == up[title].after


def test_a_drive_that_is_gone_is_told_line_by_line() -> None:
    before, after = puppet_stage(), puppet_stage()
    after.drives = after.drives[:2]
    after.sequences, after.interlocks = [], []
    found = compare(assess(before), assess(after))
    assert any(g.path.startswith("drives.d3.") and g.before and not g.after for g in found.given)


@DEMOS
def test_every_text_that_is_changed_is_found(make: Callable[[], Build]) -> None:
    """Each plain text of the build by itself, in turn."""
    before = make()
    done = assess(before)
    for place, drive in enumerate(before.drives):
        other = before.model_copy(deep=True)
        other.drives[place].name = "Another name"
        (line,) = compare(done, assess(other)).given
        assert (line.before, line.after) == (drive.name, "Another name")
