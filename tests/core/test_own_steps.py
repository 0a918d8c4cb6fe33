"""Steps that a builder adds to the test sheet: where they stand, what they judge by, and what makes them stale."""

from __future__ import annotations

from typing import Any

import pytest

from tests.kit import changed
from zinc_whistle.core.algebra.quantities import phrase
from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.reading import Reading
from zinc_whistle.core.stations.bench.readings import judge
from zinc_whistle.core.stations.bench.step import Step
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage
from zinc_whistle.sheets.sheet import reply


def told(kind: str = "voltage", should: str = "3.3 V", beside: str = "0.1 V", **more: Any) -> dict[str, Any]:
    given = {"should": {"text": should, "origin": "chosen"}, "beside": {"text": beside, "origin": "chosen"}}
    return {"id": "o1", "kind": kind, "name": "Reference of the converter", **given, **more}


def built(*steps: dict[str, Any], build: Build | None = None) -> Build:
    made = (build or lantern_carousel()).model_dump()
    made["drives"][0]["bench"]["steps"] = list(steps)
    return Build.model_validate(made)


def own(build: Build) -> Step:
    return next(s for s in assess(build).drives["d1"].steps if s.id == "own-o1")


@pytest.mark.parametrize(
    ("kind", "should", "beside", "good", "bad"),
    [
        ("voltage", "3.3 V", "0.1 V", "3391 mV", "3.41 V"),
        ("current", "20 mA", "5 mA", "24.9 mA", "14 mA"),
        ("resistance", "4k7", "5 %", None, None),
        ("resistance", "4k7", "200", "4.89k", "4.91k"),
        ("frequency", "20 kHz", "400 Hz", "19.61 kHz", "19.5 kHz"),
        ("time", "2 s", "300 ms", "1.71 s", "2.31 s"),
        ("temperature", "55 °C", "8 K", "62.9 °C", "63.1 °C"),
        ("count", "400", "2", "402", "403"),
    ],
)
def test_a_reading_is_judged_by_what_the_builder_told(
    kind: str, should: str, beside: str, good: str | None, bad: str | None
) -> None:
    step = own(built(told(kind, should, beside)))
    if good is None or bad is None:
        assert step.low is None and step.high is None and "not told" in step.reason, "a share is no ohms"
        return
    assert (judge(step, good).verdict, judge(step, bad).verdict) == ("pass", "fail")


@pytest.mark.parametrize(("should", "beside"), [("", ""), ("3.3 V", ""), ("", "0.1 V")])
def test_without_both_bounds_a_reading_is_kept_and_not_judged(should: str, beside: str) -> None:
    step = own(built(told(should=should, beside=beside)))
    assert judge(step, "9 V").verdict == "open"
    assert step.bounds() == ""


def test_it_stands_last_in_its_stage_and_keeps_the_designed_ones() -> None:
    plain = [s.id for s in assess(lantern_carousel()).drives["d1"].steps]
    steps = assess(built(told(stage="pulses"))).drives["d1"].steps
    assert [s.id for s in steps if s.id != "own-o1"] == plain
    place = next(i for i, s in enumerate(steps) if s.id == "own-o1")
    assert steps[place - 1].stage == "pulses" and steps[place + 1].stage == "motor"


@pytest.mark.parametrize("make", [cider_stirrer, puppet_stage])
def test_every_kind_of_drive_takes_them(make: Any) -> None:
    for number, drive in enumerate(make().drives):
        made = make().model_dump()
        made["drives"][number]["bench"]["steps"] = [told()]
        steps = assess(Build.model_validate(made)).drives[drive.id].steps
        assert "own-o1" in [s.id for s in steps]


def test_what_it_should_read_moved_makes_its_reading_stale_and_no_other() -> None:
    build = built(told())
    steps = assess(build).drives["d1"].steps
    readings = []
    for step in steps:
        if step.expected.value is not None:
            text = phrase(step.expected.value, step.kind)
            found = judge(step, text)
            readings.append(
                Reading(
                    id=f"r-{step.id}",
                    drive="d1",
                    step=step.id,
                    text=text,
                    value=found.quantity.value,
                    expected=step.expected.value,
                    low=step.low,
                    high=step.high,
                    verdict=found.verdict,
                    basis=found.basis,
                    taken_at="2026-11-20T10:00:00Z",
                )
            )
    moved = changed(build, drives__d1__bench__steps__o1__should="5 V")
    assert set(assess(moved, readings=readings).drives["d1"].stale_readings) == {"r-own-o1"}
    assert not assess(build, readings=readings).drives["d1"].stale_readings


def test_another_kind_of_reading_keeps_what_was_told_in_words() -> None:
    sheet = reply(assess(built(told(where="Pin AREF", setting="DC volts"))), "bench", "d1").sheet
    section = next(s for s in sheet.sections if s.path.endswith("steps.o1"))
    variant = next(f for f in section.fields if f.control == "variant")
    for kind, blank in variant.blanks.items():
        assert (blank["kind"], blank["id"]) == (kind, "o1")
        assert set(variant.keep) <= set(blank) and {"name", "where", "setting", "stage"} <= set(variant.keep)
    where = next(f for f in section.fields if f.path.endswith(".where"))
    assert where.most == 200
    assert sheet.sections[-1].title == "Add a step of your own"
