"""Readings and log entries: added and withdrawn, never changed."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Literal, cast

from ..core.model.reading import Reading, ReadingVerdict
from .builds import Clock, NotFound, new_id
from .database import Database


@dataclass(frozen=True, slots=True)
class Entry:
    """One line of the log: the builder's own note, a reading or a revision."""

    id: str
    kind: Literal["note", "reading", "revision"]
    text: str
    at: str
    verdict: str
    withdrawn: bool
    number: int


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

    def add_note(self, build_id: str, text: str) -> str:
        """Keep a note of the builder's own; its id."""
        made = new_id()
        with self.database.change() as db:
            db.execute("INSERT INTO log_entries VALUES (?, ?, ?, ?, NULL)", (made, build_id, text, self.clock()))
        return made

    def withdraw(self, build_id: str, kind: str, id: str) -> None:
        """Mark a reading or a note as withdrawn; it stays to be seen. Raises NotFound."""
        table = {"reading": "readings", "note": "log_entries"}.get(kind)
        if table is None:
            raise NotFound("Only notes and readings can be withdrawn.")
        with self.database.change() as db:
            done = db.execute(
                f"UPDATE {table} SET withdrawn_at = ? WHERE id = ? AND build_id = ? AND withdrawn_at IS NULL",
                (self.clock(), id, build_id),
            )
            if done.rowcount == 0:
                raise NotFound("There is no such entry, or it is withdrawn already.")

    def log(self, build_id: str) -> list[Entry]:
        """Notes, readings and revisions of a build in order of time, newest first."""
        found = self.database.rows(
            "SELECT id, 'note' AS kind, text, written_at AS at, '' AS verdict, withdrawn_at IS NOT NULL, 0 "
            "FROM log_entries WHERE build_id = :id UNION ALL "
            "SELECT id, 'reading', title || ': ' || text, taken_at, verdict, withdrawn_at IS NOT NULL, 0 "
            "FROM readings WHERE build_id = :id UNION ALL "
            "SELECT id, 'revision', reason, created_at, '', 0, number FROM revisions WHERE build_id = :id "
            "ORDER BY at DESC, kind".replace(":id", "?"),
            build_id,
            build_id,
            build_id,
        )
        return [
            Entry(id=r[0], kind=r[1], text=r[2], at=r[3], verdict=r[4], withdrawn=bool(r[5]), number=r[6])
            for r in found
        ]
