"""Two edits of one build brought together: nothing of either is lost, and what both changed is asked about."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.kit import changed, given_at
from zinc_whistle.core.merge import merged
from zinc_whistle.core.model.build import Build, bind_build
from zinc_whistle.core.model.given import Given, Meter
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, sample_parts

FIELDS = {
    "drives__d1__load__gear_ratio": ("90", "131"),
    "drives__d1__motor__no_load_a": ("0.3 A", "0.29 A"),
    "supply__sources__s1__nominal_v": ("12 V", "13 V"),
    "ambient__hot": ("40 °C", "45 °C"),
    "units__u1__bulk_capacitance": ("330 µF", "470 µF"),
    "drives__d1__panel__debounce": ("10 ms", "30 ms"),
}


def _text(build: Build, path: str) -> str:
    return given_at(build, path.replace("__", ".")).text


def _same(one: Build | None, other: Build) -> bool:
    return one is not None and one.model_dump() == other.model_dump()


@pytest.mark.parametrize("make", [lantern_carousel, cider_stirrer, puppet_stage])
def test_no_edit_and_one_edit_stand_as_they_are(make: Callable[[], Build]) -> None:
    base, mine = make(), make()
    mine.name, mine.note = "Another", "changed"
    assert _same(merged(base, base, base).build, base)
    for one, other in ((mine, base), (base, mine), (mine, mine)):
        assert _same(merged(base, one, other).build, mine)


@settings(max_examples=40, deadline=None)
@given(st.permutations(sorted(FIELDS)), st.integers(0, len(FIELDS)), st.integers(0, len(FIELDS)))
def test_each_field_comes_from_whoever_changed_it(order: list[str], cut: int, end: int) -> None:
    """Any split of six fields between the two: both edits are in it, and in either order the same."""
    base = lantern_carousel()
    own, others = order[:cut], order[cut : max(cut, end)]
    mine = changed(base, **{f: FIELDS[f][0] for f in own})
    theirs = changed(base, **{f: FIELDS[f][1] for f in others})
    for x in (mine, theirs):
        bind_build(x)
    one, other = merged(base, mine, theirs), merged(base, theirs, mine)
    assert one.build is not None and _same(other.build, one.build)
    for f in order:
        expected = FIELDS[f][0] if f in own else FIELDS[f][1] if f in others else _text(base, f)
        assert _text(one.build, f) == expected


def test_the_same_field_changed_by_both_is_named_and_decided_by_nobody() -> None:
    base = lantern_carousel()
    field = "drives__d1__load__gear_ratio"
    mine = changed(base, **{field: "90", "ambient__hot": "40 °C"})
    found = merged(base, mine, changed(base, **{field: "131"}))
    assert found.build is None
    assert found.conflicts == ("drives.d1.load.gear_ratio",) and found.named == ("Gear ratio",)


def test_a_quantity_is_one_field_with_its_origin() -> None:
    """One corrects the number, the other marks the old one as measured: together they would call a typed number
    measured."""
    base = lantern_carousel()
    mine, theirs = (base.model_copy(deep=True) for _ in range(2))
    mine.drives[0].load.gear_ratio = Given(text="90", origin="chosen")
    theirs.drives[0].load.gear_ratio.origin = "measured"
    assert merged(base, mine, theirs).build is None


def test_rows_are_told_apart_by_their_ids_and_both_may_add_one() -> None:
    base = lantern_carousel()
    mine, theirs = (base.model_copy(deep=True) for _ in range(2))
    mine.meters.append(Meter(id="mine", name="Mine"))
    theirs.meters.insert(0, Meter(id="theirs", name="Theirs"))
    found = merged(base, mine, theirs).build
    assert found is not None
    assert {m.id for m in found.meters} == {m.id for m in base.meters} | {"mine", "theirs"}


def test_a_row_taken_away_stays_away_unless_the_other_changed_it() -> None:
    base = lantern_carousel()
    drive: Any = base.drives[0]
    row = drive.motor.locked[0].id
    mine, theirs = (base.model_copy(deep=True) for _ in range(2))
    mine.drives[0].motor.locked.pop(0)
    found = merged(base, mine, theirs).build
    assert found is not None and row not in [r.id for r in found.drives[0].motor.locked]
    theirs.drives[0].motor.locked[0].current.text = "0.6 A"
    assert merged(base, mine, theirs).build is None and merged(base, theirs, mine).build is None


def test_fields_of_two_parts_make_no_third_one() -> None:
    """One puts another driver in, the other corrects a figure of the old one."""
    base = lantern_carousel()
    mine, theirs = (base.model_copy(deep=True) for _ in range(2))
    other = next(p for p in sample_parts() if p.id != base.units[0].part.id)
    mine.units[0].part = other
    theirs.units[0].part.note = "read again"
    found = merged(base, mine, theirs)
    assert found.build is None and found.conflicts == ("units.u1.part",)


def test_ticks_of_both_are_made_and_what_either_took_back_is_gone() -> None:
    base = lantern_carousel()
    base.made = ["a", "b", "c"]
    mine, theirs = (base.model_copy(deep=True) for _ in range(2))
    mine.made, theirs.made = ["a", "c", "m"], ["t", "a", "b"]
    found = merged(base, mine, theirs).build
    assert found is not None and found.made == ["a", "m", "t"]


def test_edits_that_make_no_build_together_are_asked_about() -> None:
    """One gives the controller of all drives another id; the other adds a drive on the old one, which is gone then."""
    base = puppet_stage()
    mine, theirs = (base.model_copy(deep=True) for _ in range(2))
    for held in (*mine.controllers, *mine.drives, *mine.sequences, *mine.handsets):
        name = "id" if held in mine.controllers else "controller"
        setattr(held, name, {"c1": "c9"}.get(getattr(held, name), getattr(held, name)))
    mine.radio.board = {"c1": "c9"}.get(mine.radio.board, mine.radio.board)
    Build.model_validate(mine.model_dump())
    theirs.drives[1].name = "Renamed"
    alone = merged(base, mine, theirs).build
    assert alone is not None and alone.drives[1].name == "Renamed" and alone.drives[1].controller == "c9"
    theirs.drives.append(theirs.drives[1].model_copy(deep=True, update={"id": "d9"}))
    found = merged(base, mine, theirs)
    assert found.build is None and found.conflicts == ("",) and found.named == ("what hangs together",)
