"""Copies of the data file, files that cannot be used, and several first starts at once."""

from __future__ import annotations

import json
import shutil
import sqlite3
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest
from typer.testing import CliRunner

from zinc_whistle.cli import app
from zinc_whistle.demo.data import lantern_carousel
from zinc_whistle.demo.seed import CAROUSEL, seed
from zinc_whistle.store.builds import Unreadable
from zinc_whistle.store.database import APPLICATION, Database, TooNew, Unusable, bring_back, copy, look
from zinc_whistle.store.store import Store


@pytest.fixture
def data(tmp_path: Path) -> Path:
    path = tmp_path / "builds.sqlite3"
    store = Store(path)
    seed(store)
    store.close()
    return path


def names(path: Path) -> list[str]:
    store = Store(path)
    found = [b.name for b in store.builds.listed()]
    store.close()
    return found


def test_a_copy_is_made_while_it_is_written_to_and_comes_back(data: Path, tmp_path: Path) -> None:
    store, to = Store(data), tmp_path / "saved" / "kept.sqlite3"
    to.parent.mkdir()
    store.builds.add(lantern_carousel().model_copy(update={"name": "Not yet in the file itself"}))
    copy(data, to)
    store.close()
    assert "Not yet in the file itself" in names(to)
    store = Store(data)
    store.builds.delete(CAROUSEL)
    store.close()
    kept = bring_back(to, data)
    assert "Lantern carousel" in names(data)
    assert kept is not None and "Lantern carousel" not in names(kept), "what stood there is kept"


def test_backup_and_restore_from_the_command_line(data: Path, tmp_path: Path) -> None:
    to, run = tmp_path / "kept.sqlite3", CliRunner()
    assert run.invoke(app, ["backup", str(to), "--data", str(data)]).exit_code == 0
    before = names(data)
    data.write_bytes(b"half")
    refused = run.invoke(app, ["backup", str(tmp_path / "other"), "--data", str(data)])
    assert refused.exit_code == 2 and "restore" in refused.output and "Traceback" not in refused.output
    assert run.invoke(app, ["restore", str(to), "--data", str(data)]).exit_code == 0
    assert names(data) == before
    assert run.invoke(app, ["restore", str(tmp_path / "nothing"), "--data", str(data)]).exit_code == 2
    assert run.invoke(app, ["backup", str(data), "--data", str(data)]).exit_code == 2


def foreign(path: Path) -> None:
    db = sqlite3.connect(path)
    db.execute("CREATE TABLE recipes (name)")
    db.commit()
    db.close()


def marked(path: Path) -> None:
    foreign(path)
    db = sqlite3.connect(path)
    db.execute("PRAGMA application_id = 77")
    db.commit()
    db.close()


def newer(path: Path) -> None:
    Store(path).close()
    db = sqlite3.connect(path)
    db.execute("PRAGMA user_version = 900")
    db.close()


def damaged(path: Path) -> None:
    store = Store(path)
    seed(store)
    store.close()
    raw = bytearray(path.read_bytes())
    raw[4096 : 4096 * 3] = b"\xa5" * 8192
    path.write_bytes(raw)


def half(path: Path) -> None:
    store = Store(path)
    seed(store)
    store.close()
    path.write_bytes(path.read_bytes()[:9000])


UNUSABLE: dict[str, tuple[Callable[[Path], object], str]] = {
    "no database": (lambda p: p.write_text("Dear diary"), "no data file"),
    "a folder": (lambda p: p.mkdir(), "cannot be opened"),
    "of another program": (foreign, "another program"),
    "marked by another program": (marked, "another program"),
    "of a later version": (newer, "later version"),
    "damaged": (damaged, "damaged"),
    "half written": (half, "damaged"),
}


@pytest.mark.parametrize("case", UNUSABLE)
def test_what_cannot_be_used_is_told_and_left_as_it_is(case: str, tmp_path: Path) -> None:
    path = tmp_path / "builds.sqlite3"
    make, says = UNUSABLE[case]
    make(path)
    before = path.read_bytes() if path.is_file() else b""
    beside = sorted(tmp_path.iterdir())
    with pytest.raises(Unusable, match=says):
        Store(path)
    assert (path.read_bytes() if path.is_file() else b"") == before and sorted(tmp_path.iterdir()) == beside
    told = CliRunner().invoke(app, ["serve", "--data", str(path), "--port", "0"])
    assert told.exit_code == 2 and "Traceback" not in told.output


def test_a_file_that_is_held_is_told(data: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    holder = sqlite3.connect(data)
    holder.execute("PRAGMA locking_mode = EXCLUSIVE")
    holder.execute("BEGIN EXCLUSIVE")
    holder.execute("CREATE TABLE held (x)")
    connect = sqlite3.connect
    monkeypatch.setattr(sqlite3, "connect", lambda *a, **k: connect(*a, **{**k, "timeout": 0.1}))
    with pytest.raises(Unusable, match="held by another program"):
        look(data)
    holder.close()


def test_a_migration_keeps_a_copy_before(tmp_path: Path) -> None:
    path = tmp_path / "builds.sqlite3"
    old = Database(path)
    old.close()
    db = sqlite3.connect(path)
    for table in ("parts", "kept_files", "superseded_parts"):
        db.execute(f"DROP TABLE IF EXISTS {table}")
    for column in ("topic", "details", "revision", "settled_at"):
        db.execute(f"ALTER TABLE log_entries DROP COLUMN {column}")
    db.execute("PRAGMA user_version = 2")
    db.execute("PRAGMA application_id = 0")
    db.commit()
    db.close()
    Database(path).close()
    kept = tmp_path / "builds.sqlite3.v2.bak"
    assert look(kept) == 2 and look(path) > 2
    db = sqlite3.connect(path)
    assert db.execute("PRAGMA application_id").fetchone()[0] == APPLICATION
    db.close()


START = """
import sys
from pathlib import Path
from zinc_whistle.demo.seed import seed
from zinc_whistle.store.store import Store
store = Store(Path(sys.argv[1]))
seed(store)
store.close()
"""


def test_three_first_starts_at_once(tmp_path: Path) -> None:
    path = tmp_path / "builds.sqlite3"
    begun = [subprocess.Popen([sys.executable, "-c", START, str(path)], stderr=subprocess.PIPE) for _ in range(3)]
    for process in begun:
        _, words = process.communicate(timeout=120)
        assert process.returncode == 0, words.decode()
    assert len(names(path)) == 4


def test_the_demo_that_was_deleted_stays_so(data: Path) -> None:
    store = Store(data)
    for build in store.builds.listed():
        store.builds.delete(build.id)
    seed(store)
    assert store.builds.listed() == []
    store.close()


@pytest.mark.parametrize("cut", ["gone", "half", "spoilt"])
def test_a_log_that_was_lost_opens_at_the_last_whole_save(data: Path, tmp_path: Path, cut: str) -> None:
    """Power lost while SQLite's write-ahead log was being written: what was checked in before it opens."""
    lost, store = tmp_path / "lost.sqlite3", Store(data)
    store.builds.add(lantern_carousel().model_copy(update={"name": "Last"}))
    shutil.copyfile(data, lost)
    log = data.with_name(data.name + "-wal").read_bytes()
    store.close()
    if cut != "gone":
        lost.with_name(lost.name + "-wal").write_bytes(
            log[: len(log) // 2] if cut == "half" else log[:-50] + b"\x00" * 50
        )
    assert len(set(names(lost)) - {"Last"}) == 4


def test_a_kept_draft_of_a_long_name_opens(data: Path) -> None:
    store = Store(data)
    for length in (55, 60, 79, 80):
        build = lantern_carousel().model_copy(update={"name": "n" * length})
        stored = store.builds.add(build)
        store.builds.save(stored.id, build, 1)
        other = build.model_copy(update={"note": "other"})
        with pytest.raises(Exception) as refused:
            store.builds.save(stored.id, other, 1)
        sibling = refused.value.sibling
        assert len(store.builds.get(sibling.id).build.name) <= 80
        assert len(store.builds.duplicate(sibling.id).build.name) <= 80
    store.close()


def test_an_older_name_that_grew_too_long_is_cut_and_what_cannot_be_read_goes_out_raw(data: Path) -> None:
    store = Store(data)
    body = json.loads(store.builds.raw(CAROUSEL))
    with store.database.change() as db:
        db.execute("UPDATE builds SET body = ? WHERE id = ?", (json.dumps(body | {"name": "n" * 82}), CAROUSEL))
    assert store.builds.get(CAROUSEL).build.name == "n" * 80
    with store.database.change() as db:
        db.execute("UPDATE builds SET body = ? WHERE id = ?", (json.dumps(body | {"from_tomorrow": 1}), CAROUSEL))
    with pytest.raises(Unreadable, match="from_tomorrow"):
        store.builds.get(CAROUSEL)
    assert json.loads(store.builds.raw(CAROUSEL))["from_tomorrow"] == 1
    assert store.builds.revisions(CAROUSEL)
    store.close()


def test_a_save_whose_answer_was_lost_is_the_same_save(data: Path) -> None:
    store = Store(data)
    stored = store.builds.get(CAROUSEL)
    draft = stored.build.model_copy(update={"note": "typed"})
    first = store.builds.save(CAROUSEL, draft, stored.version)
    again = store.builds.save(CAROUSEL, draft, stored.version)
    assert again.version == first.version and len(store.builds.listed()) == 4
    store.close()


def test_a_later_file_is_told_apart(data: Path) -> None:
    newer(data)
    with pytest.raises(TooNew):
        look(data)
