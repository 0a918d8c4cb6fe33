"""The store: migrations, revisions, conflicts, and what a sudden death leaves."""

from __future__ import annotations

import itertools
import os
import sqlite3
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest

from tests.kit import changed
from tests.storm import storm
from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import blank_build, sample_parts
from zinc_whistle.demo.seed import CAROUSEL, seed
from zinc_whistle.store.builds import Conflict, NotFound
from zinc_whistle.store.database import Database, TooNew, migrations
from zinc_whistle.store.store import Store


@pytest.fixture
def store() -> Iterator[Store]:
    ticks = itertools.count()
    made = Store(":memory:", lambda: f"2026-01-01T00:{next(ticks):06d}")
    yield made
    made.close()


@pytest.mark.parametrize("start", [0, *(n for n, _ in migrations())])
def test_migrates_from_every_earlier_version(tmp_path: Path, start: int) -> None:
    """A file left at an earlier version, with a build in it, opens and keeps the build."""
    path = tmp_path / "old.sqlite3"
    raw = sqlite3.connect(path)
    for number, script in migrations():
        if number <= start:
            raw.executescript(script)
    raw.execute(f"PRAGMA user_version = {start}")
    if start >= 1:
        body = blank_build("Old one").model_dump_json()
        raw.execute("INSERT INTO builds VALUES ('b1', 'Old one', 3, ?, 'then', 'then', NULL)", (body,))
    raw.commit()
    raw.close()
    store = Store(path)
    assert store.database.version == migrations()[-1][0]
    if start >= 1:
        assert store.builds.get("b1").build.name == "Old one"
        assert store.builds.get("b1").version == 3
    store.builds.add(blank_build("New one"))
    store.close()


def test_a_file_from_the_future_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "new.sqlite3"
    raw = sqlite3.connect(path)
    raw.execute("PRAGMA user_version = 999")
    raw.close()
    with pytest.raises(TooNew, match="later version"):
        Database(path)


def test_a_build_comes_back_as_it_was(store: Store, carousel: Build) -> None:
    stored = store.builds.add(carousel)
    again = store.builds.get(stored.id)
    assert again.build.model_dump() == carousel.model_dump()
    assert again.version == 1


def test_saving_advances_the_version_and_renames(store: Store, carousel: Build) -> None:
    stored = store.builds.add(carousel)
    carousel.name = "Lantern ring"
    assert store.builds.save(stored.id, carousel, 1).version == 2
    assert [x.name for x in store.builds.listed()] == ["Lantern ring"]


def test_a_save_of_an_old_version_is_kept_as_a_sibling(store: Store, carousel: Build) -> None:
    stored = store.builds.add(carousel)
    mine = changed(carousel, drives__d1__load__gear_ratio="99")
    theirs = changed(carousel, drives__d1__load__gear_ratio="120")
    store.builds.save(stored.id, theirs, 1)
    with pytest.raises(Conflict) as refused:
        store.builds.save(stored.id, mine, 1)
    assert refused.value.current == 2
    assert store.builds.get(stored.id).build.drives[0].load.gear_ratio.text == "120"
    sibling = store.builds.get(refused.value.sibling.id)
    assert sibling.build.drives[0].load.gear_ratio.text == "99"
    assert "kept" in sibling.build.name


def test_delete_can_be_taken_back(store: Store, carousel: Build) -> None:
    stored = store.builds.add(carousel)
    store.builds.delete(stored.id)
    assert store.builds.listed() == []
    for act in (store.builds.get, store.builds.delete, store.builds.duplicate):
        with pytest.raises(NotFound):
            act(stored.id)
    with pytest.raises(NotFound):
        store.builds.save(stored.id, carousel, 1)
    assert store.builds.restore_deleted(stored.id).build.model_dump() == carousel.model_dump()
    with pytest.raises(NotFound):
        store.builds.restore_deleted(stored.id)


def test_a_duplicate_stands_alone(store: Store, carousel: Build) -> None:
    stored = store.builds.add(carousel)
    copy = store.builds.duplicate(stored.id)
    assert copy.build.name == "Lantern carousel (copy)"
    store.builds.save(copy.id, blank_build("Other"), 1)
    assert store.builds.get(stored.id).build.model_dump() == carousel.model_dump()


def test_any_revision_can_be_taken_back(store: Store, carousel: Build) -> None:
    stored = store.builds.add(carousel)
    ratios = ["100", "110", "120"]
    for version, ratio in enumerate(ratios, 1):
        store.builds.save(stored.id, changed(carousel, drives__d1__load__gear_ratio=ratio), version)
        assert store.builds.cut(stored.id, f"ratio {ratio}").number == version
    back = store.builds.restore(stored.id, 1)
    assert back.build.drives[0].load.gear_ratio.text == "100"
    assert back.version == 5
    assert [r.number for r in store.builds.revisions(stored.id)] == [4, 3, 2, 1]
    assert store.builds.revision(stored.id, 4).drives[0].load.gear_ratio.text == "120"
    with pytest.raises(NotFound, match="no revision 9"):
        store.builds.restore(stored.id, 9)


def test_a_revision_is_not_cut_twice_of_the_same(store: Store, carousel: Build) -> None:
    stored = store.builds.add(carousel)
    assert store.builds.cut_if_changed(stored.id, "a") is not None
    assert store.builds.cut_if_changed(stored.id, "b") is None
    store.builds.save(stored.id, changed(carousel, drives__d1__load__gear_ratio="99"), 1)
    assert store.builds.cut_if_changed(stored.id, "c") is not None


def test_notes_and_readings_are_withdrawn_in_sight(store: Store) -> None:
    seed(store)
    note = store.journal.add_note(CAROUSEL, "Something else")
    store.journal.withdraw(CAROUSEL, "note", note)
    entry = next(e for e in store.journal.log(CAROUSEL) if e.id == note)
    assert entry.withdrawn
    with pytest.raises(NotFound):
        store.journal.withdraw(CAROUSEL, "note", note)
    with pytest.raises(NotFound):
        store.journal.withdraw(CAROUSEL, "revision", note)
    reading = store.journal.readings(CAROUSEL)[0]
    store.journal.withdraw(CAROUSEL, "reading", reading.id)
    assert store.journal.readings(CAROUSEL)[0].withdrawn


def test_the_log_is_in_order_of_time(store: Store) -> None:
    seed(store)
    times = [e.at for e in store.journal.log(CAROUSEL)]
    assert times == sorted(times, reverse=True)
    assert {e.kind for e in store.journal.log(CAROUSEL)} == {"note", "reading", "revision"}


def test_the_demo_shows_what_it_is_for(store: Store) -> None:
    """Nearly finished: nothing stops, something is tight, the first gearbox's count and the tuning are stale."""
    seed(store)
    seed(store)
    assert [b.name for b in store.builds.listed()] == [
        *("Lantern carousel", "Mulled-cider stirrer"),
        *("Puppet stage", "Snow-machine fan"),
    ]
    build = store.builds.get(CAROUSEL).build
    done = assess(build, store.shelf(), store.journal.readings(CAROUSEL))
    states = {s: done.stamp("d1", s).state for s in ("driver", "loop", "bench", "motor")}
    assert states == {"driver": "tight", "loop": "stale", "bench": "stale", "motor": "holds"}
    assert not [x for x in done.findings if x.severity == "stop"]
    assert list(done.drives["d1"].stale_givens) == ["drives.d1.loop.gain"]


def test_the_shelf_is_renewed_when_parts_change(store: Store) -> None:
    store.put_parts(sample_parts()[:3])
    assert len(store.shelf()) == 3
    store.put_parts(sample_parts())
    assert len(store.shelf()) == len(sample_parts())


@pytest.mark.skipif(os.name == "nt", reason="kill -9 is POSIX")
@pytest.mark.parametrize(("what", "kills"), [("store", 5), ("server", 2)])
def test_kill_9_in_a_storm_of_saves_loses_no_acknowledged_save(tmp_path: Path, what: str, kills: int) -> None:
    """The first of the storms that tests/storm.py raises."""
    told = storm(what, tmp_path / "storm.sqlite3", kills)
    assert told.kills == kills and told.saves > kills


def test_the_newest_of_a_log_are_the_first_of_all_of_it(store: Store) -> None:
    seed(store)
    for k in range(7):
        store.journal.add_note(CAROUSEL, f"note {k}")
    whole = store.journal.log(CAROUSEL)
    assert store.journal.log(CAROUSEL, 3) == whole[:3] and len(whole) > 7
    assert store.journal.log(CAROUSEL, 100_000) == whole


def test_a_question_does_not_wait_for_a_change_and_sees_only_what_is_stored(tmp_path: Path) -> None:
    """A change that another thread has not ended holds nobody up, and what it wrote is not there yet."""
    database = Store(tmp_path / "own.sqlite3").database
    with ThreadPoolExecutor(1) as pool, database.change() as db:
        db.execute(
            "INSERT INTO parts (kind, id, name, sample, body, saved_at) VALUES ('driver', 'x', 'X', 0, '{}', '')"
        )
        assert database.row("SELECT COUNT(*) FROM parts")[0] == 1  # type: ignore[index]
        asked = pool.submit(database.row, "SELECT COUNT(*) FROM parts")
        assert asked.result(timeout=10)[0] == 0  # type: ignore[index]
    assert database.row("SELECT COUNT(*) FROM parts")[0] == 1  # type: ignore[index]
    database.close()
