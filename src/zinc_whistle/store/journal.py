"""Readings and log entries: added and withdrawn, never changed."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, cast

from ..core.model.log_topic import TopicKey, stands_open
from ..core.model.reading import Reading, ReadingVerdict
from .builds import Clock, NotFound, new_id
from .database import Database

EntryKind = Literal["note", "reading", "revision", "capture", "photo"]
WITHDRAWN_IN = {"reading": "readings", "note": "log_entries", "capture": "kept_files", "photo": "kept_files"}


@dataclass(frozen=True, slots=True)
class Entry:
    """One line of the log: the builder's own note (of a topic, with its details), a reading, a revision, or a file that
    is kept (``file``: its name). ``number``: a revision's own, or the one at which it was written."""

    id: str
    kind: EntryKind
    text: str
    at: str
    verdict: str
    withdrawn: bool
    number: int
    file: str
    topic: TopicKey
    details: dict[str, str]
    open: bool
    """Whether it stands until it is settled."""
    settled: bool


class Journal:
    """Readings and notes of one database."""

    def __init__(self, database: Database, clock: Clock) -> None:
        self.database, self.clock = database, clock

    def readings(self, build_id: str) -> list[Reading]:
        """Every reading of a build, in the order taken, withdrawn ones too."""
        found = self.database.rows("SELECT * FROM readings WHERE build_id = ? ORDER BY taken_at, rowid", build_id)
        return [
            Reading(
                id=r["id"],
                drive=r["drive"],
                step=r["step"],
                text=r["text"],
                value=r["value"],
                expected=r["expected"],
                low=r["low"],
                high=r["high"],
                verdict=cast(ReadingVerdict, r["verdict"]),
                basis=json.loads(r["basis"]),
                taken_at=r["taken_at"],
                note=r["note"],
                withdrawn=r["withdrawn_at"] is not None,
            )
            for r in found
        ]

    def add_reading(self, build_id: str, title: str, reading: Reading) -> None:
        """Keep a reading with what it stood on."""
        with self.database.change() as db:
            db.execute(
                "INSERT INTO readings VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, NULL)",
                (
                    reading.id,
                    build_id,
                    reading.drive,
                    reading.step,
                    title,
                    reading.text,
                    reading.value,
                    reading.expected,
                    reading.low,
                    reading.high,
                    reading.verdict,
                    json.dumps(reading.basis),
                    reading.note,
                    reading.taken_at,
                ),
            )

    def add_note(
        self, build_id: str, text: str, topic: TopicKey = "note", details: Mapping[str, str] | None = None
    ) -> str:
        """Keep an entry of the builder's own, under the build's latest revision; its id."""
        made = new_id()
        with self.database.change() as db:
            db.execute(
                "INSERT INTO log_entries (id, build_id, text, written_at, topic, details, revision) "
                "SELECT ?, ?, ?, ?, ?, ?, COALESCE(MAX(number), 0) FROM revisions WHERE build_id = ?",
                (made, build_id, text, self.clock(), topic, json.dumps(dict(details or {})), build_id),
            )
        return made

    def settle(self, build_id: str, id: str) -> None:
        """What stood open is done. Raises NotFound."""
        row = self.database.row("SELECT topic, details FROM log_entries WHERE id = ? AND build_id = ?", id, build_id)
        if row is None or not stands_open(row["topic"], json.loads(row["details"])):
            raise NotFound("There is no such entry that stands open.")
        with self.database.change() as db:
            done = db.execute(
                "UPDATE log_entries SET settled_at = ? WHERE id = ? AND build_id = ? AND settled_at IS NULL "
                "AND withdrawn_at IS NULL",
                (self.clock(), id, build_id),
            )
            if done.rowcount == 0:
                raise NotFound("There is no such entry that stands open.")

    def withdraw(self, build_id: str, kind: str, id: str) -> None:
        """Mark what is no revision as withdrawn; it stays to be seen. Raises NotFound."""
        table = WITHDRAWN_IN.get(kind)
        if table is None:
            raise NotFound("A revision cannot be withdrawn.")
        with self.database.change() as db:
            done = db.execute(
                f"UPDATE {table} SET withdrawn_at = ? WHERE id = ? AND build_id = ? AND withdrawn_at IS NULL",
                (self.clock(), id, build_id),
            )
            if done.rowcount == 0:
                raise NotFound("There is no such entry, or it is withdrawn already.")

    def log(self, build_id: str, newest: int = -1) -> list[Entry]:
        """Notes, readings and revisions of a build in order of time, newest first: so many, or all (−1)."""
        found = self.database.rows(
            "SELECT id, 'note' AS kind, text, written_at AS at, '' AS verdict, withdrawn_at IS NOT NULL, "
            "revision, '', topic, details, settled_at IS NOT NULL FROM log_entries WHERE build_id = :id UNION ALL "
            "SELECT id, 'reading', title || ': ' || text, taken_at, verdict, withdrawn_at IS NOT NULL, 0, '', "
            "'note', '{}', 0 FROM readings WHERE build_id = :id UNION ALL "
            "SELECT id, kind, says, kept_at, '', withdrawn_at IS NOT NULL, revision, name, "
            "'note', '{}', 0 FROM kept_files WHERE build_id = :id UNION ALL "
            "SELECT id, 'revision', reason, created_at, '', 0, number, '', 'note', '{}', 0 "
            "FROM revisions WHERE build_id = :id "
            "ORDER BY at DESC, kind LIMIT ?".replace(":id", "?"),
            *[build_id] * 4,
            newest,
        )
        return [_entry(r) for r in found]


def _entry(row: sqlite3.Row) -> Entry:
    id, kind, text, at, verdict, withdrawn, number, file, topic, details, settled = row
    told = json.loads(details) if details != "{}" else {}
    return Entry(
        id=id,
        kind=kind,
        text=text,
        at=at,
        verdict=verdict,
        withdrawn=bool(withdrawn),
        number=number,
        file=file,
        topic=topic,
        details=told,
        open=kind == "note" and not withdrawn and not settled and stands_open(topic, told),
        settled=bool(settled),
    )
