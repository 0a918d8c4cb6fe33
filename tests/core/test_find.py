"""Find: every field of every station can be gone to, and every word is explained where the page explains it."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.verdicts.kit import SHELF
from zinc_whistle.core.assess import assess
from zinc_whistle.core.stations import BY_ID
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, snow_fan
from zinc_whistle.sheets.found import places
from zinc_whistle.sheets.sheet import reply
from zinc_whistle.sheets.words import words

GLOSSARY = Path(__file__).parents[2] / "docs" / "glossary.md"


@pytest.mark.parametrize("make", [lantern_carousel, cider_stirrer, puppet_stage, snow_fan])
def test_every_field_that_a_station_shows_is_found_and_leads_there(make) -> None:  # type: ignore[no-untyped-def]
    done = assess(make(), SHELF)
    found = places(done)
    keys = {(p.drive, p.key) for p in found}
    for drive in done.drives.values():
        for station in drive.stations:
            sheet = reply(done, station, drive.drive.id).sheet
            shown = {f.path for s in sheet.sections for f in s.fields}
            shown |= {f.path for s in sheet.sections for r in s.rows or () for f in r.fields}
            shown |= {f.id for f in sheet.figures if f.id}
            assert {(drive.drive.id, x) for x in shown} <= keys
    assert all(p.station == "build" or p.station in done.drives[p.drive].stations for p in found)


def test_a_place_tells_its_drive_where_there_are_several() -> None:
    alone, several = (places(assess(make(), SHELF)) for make in (lantern_carousel, puppet_stage))
    assert not any("," in p.place for p in alone)
    assert {p.drive for p in several if p.drive} == {d.id for d in puppet_stage().drives}
    assert all("," in p.place for p in several if p.station != "build")


def test_words_are_those_of_the_glossary_and_stand_at_a_station() -> None:
    page = GLOSSARY.read_text("utf-8")
    assert len(words()) >= 50 and len({w.term for w in words()}) == len(words())
    for word in words():
        assert f"| {word.term} | {', '.join(word.also)} | {word.says} |" in page
        assert word.station == "" or word.station in BY_ID
        assert word.says.endswith(".")
