"""Builds and their revisions: each stored whole as validated JSON beside the columns that lists need."""

from __future__ import annotations

import json
import sqlite3
import uuid
from collections.abc import Callable
from dataclasses import dataclass

from pydantic import ValidationError

from ..core.model.build import Build
from .database import Database

Clock = Callable[[], str]


class NotFound(LookupError):
    """There is no such build, revision, reading or entry."""


class Conflict(RuntimeError):
    """The save named an old version; the refused draft is kept as the build ``sibling``, where it was asked to be."""

    def __init__(self, current: int, sibling: Stored | None) -> None:
        super().__init__(f"version {current} has been saved meanwhile")
        self.current, self.sibling = current, sibling


@dataclass(frozen=True, slots=True)
class Stored:
    """A build as it stands in the store."""

    id: str
    version: int
    build: Build
    created_at: str
    saved_at: str


@dataclass(frozen=True, slots=True)
class Listed:
    """A build in the list."""

    id: str
    name: str
    version: int
    saved_at: str
    revisions: int


@dataclass(frozen=True, slots=True)
class Revision:
    """A saved state that can be taken back."""

    id: str
    number: int
    reason: str
    created_at: str


def new_id() -> str:
    """An id that is never used twice."""
    return uuid.uuid4().hex[:12]


LONGEST_NAME = 80


def suffixed(name: str, suffix: str) -> str:
    """A name with something after it, within what a name may have."""
    return f"{name[: LONGEST_NAME - len(suffix)].rstrip()}{suffix}"


class Unreadable(ValueError):
    """What is stored is no build that this version can read; it can be exported as it is."""


def _read(body: str) -> Build:
    """A stored build; a name that an older version let grow too long is cut. Raises Unreadable."""
    try:
        return Build.model_validate_json(body)
    except ValidationError as error:
        held = json.loads(body)
        if isinstance(held, dict) and len(str(held.get("name", ""))) > LONGEST_NAME:
            return _read(json.dumps(held | {"name": str(held["name"])[:LONGEST_NAME].rstrip()}))
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"])
        raise Unreadable(
            f"This build cannot be read by this version ({where}: {first['msg']}). Nothing of it is lost: export it as "
            "it is, or take an earlier revision back."
        ) from error


class Builds:
    """The builds of one database; ``clock`` gives the time as ISO 8601 text."""

    def __init__(self, database: Database, clock: Clock) -> None:
        self.database, self.clock = database, clock

    def listed(self) -> list[Listed]:
        """Every build that is not deleted, the last saved first."""
        found = self.database.rows(
            "SELECT b.id, b.name, b.version, b.saved_at, COUNT(r.id) AS revisions FROM builds b "
            "LEFT JOIN revisions r ON r.build_id = b.id WHERE b.deleted_at IS NULL "
            "GROUP BY b.id ORDER BY b.saved_at DESC, b.name"
        )
        return [Listed(*row) for row in found]

    def add(self, build: Build, id: str = "") -> Stored:
        """Keep a new build."""
        with self.database.change() as db:
            return self._insert(db, build, id)

    def _insert(self, db: sqlite3.Connection, build: Build, id: str = "") -> Stored:
        now, made = self.clock(), id or new_id()
        db.execute(
            "INSERT INTO builds (id, name, version, body, created_at, saved_at) VALUES (?, ?, 1, ?, ?, ?)",
            (made, build.name, build.model_dump_json(), now, now),
        )
        return Stored(made, 1, build, now, now)

    def get(self, id: str) -> Stored:
        """One build. Raises NotFound."""
        row = self.database.row("SELECT * FROM builds WHERE id = ? AND deleted_at IS NULL", id)
        if row is None:
            raise NotFound("There is no such build: it may have been deleted.")
        return _stored(row)

    def raw(self, id: str) -> str:
        """What is stored of a build, as it is. Raises NotFound."""
        row = self.database.row("SELECT body FROM builds WHERE id = ? AND deleted_at IS NULL", id)
        if row is None:
            raise NotFound("There is no such build: it may have been deleted.")
        return str(row["body"])

    def any(self) -> bool:
        """Whether there is or was any build."""
        return self.database.row("SELECT 1 FROM builds LIMIT 1") is not None

    def save(self, id: str, build: Build, version: int, sibling: bool = True) -> Stored:
        """Save a draft of ``version``. Raises NotFound, or Conflict: with ``sibling`` the draft is kept as one."""
        with self.database.change() as db:
            row = db.execute("SELECT * FROM builds WHERE id = ? AND deleted_at IS NULL", (id,)).fetchone()
            if row is None:
                raise NotFound("There is no such build: it may have been deleted.")
            if row["version"] == version:
                return self._update(db, row, build)
            if row["body"] == build.model_dump_json():
                # The same save once more: its answer was lost on the way, or both tabs hold the same.
                return _stored(row)
            kept = None
            if sibling:
                named = suffixed(build.name, " (kept from the other tab)")
                kept = self._insert(db, build.model_copy(update={"name": named}))
        raise Conflict(row["version"], kept)

    def _update(self, db: sqlite3.Connection, row: sqlite3.Row, build: Build) -> Stored:
        now, body = self.clock(), build.model_dump_json()
        db.execute(
            "UPDATE builds SET name = ?, version = version + 1, body = ?, saved_at = ? WHERE id = ?",
            (build.name, body, now, row["id"]),
        )
        return Stored(row["id"], row["version"] + 1, build, row["created_at"], now)

    def delete(self, id: str) -> None:
        """Mark as deleted; ``restore_deleted`` takes it back. Raises NotFound."""
        self._mark(id, self.clock(), "deleted_at IS NULL")

    def restore_deleted(self, id: str) -> Stored:
        """Take back a deleted build. Raises NotFound."""
        self._mark(id, None, "deleted_at IS NOT NULL")
        return self.get(id)

    def _mark(self, id: str, when: str | None, only: str) -> None:
        with self.database.change() as db:
            done = db.execute(f"UPDATE builds SET deleted_at = ? WHERE id = ? AND {only}", (when, id))
            if done.rowcount == 0:
                raise NotFound("There is no such build: it may have been deleted.")

    def duplicate(self, id: str) -> Stored:
        """A copy under a name of its own, without readings and log. Raises NotFound."""
        build = self.get(id).build
        return self.add(build.model_copy(update={"name": suffixed(build.name, " (copy)")}))

    def cut(self, id: str, reason: str) -> Revision:
        """Keep the build as it is saved now as a revision. Raises NotFound."""
        with self.database.change() as db:
            return self._cut(db, id, reason)

    def _cut(self, db: sqlite3.Connection, id: str, reason: str) -> Revision:
        row = db.execute("SELECT body FROM builds WHERE id = ? AND deleted_at IS NULL", (id,)).fetchone()
        if row is None:
            raise NotFound("There is no such build: it may have been deleted.")
        last = db.execute("SELECT * FROM revisions WHERE build_id = ? ORDER BY number DESC LIMIT 1", (id,)).fetchone()
        number = last["number"] + 1 if last is not None else 1
        made = Revision(new_id(), number, reason, self.clock())
        db.execute(
            "INSERT INTO revisions (id, build_id, number, reason, body, created_at) VALUES (?, ?, ?, ?, ?, ?)",
            (made.id, id, number, reason, row["body"], made.created_at),
        )
        return made

    def cut_if_changed(self, id: str, reason: str) -> Revision | None:
        """A revision, unless the last one holds the very same build."""
        with self.database.change() as db:
            same = db.execute(
                "SELECT 1 FROM revisions r JOIN builds b ON b.id = r.build_id WHERE b.id = ? AND r.body = b.body "
                "AND r.number = (SELECT MAX(number) FROM revisions WHERE build_id = b.id)",
                (id,),
            ).fetchone()
            return None if same else self._cut(db, id, reason)

    def revisions(self, id: str) -> list[Revision]:
        """Every revision, newest first. Raises NotFound."""
        self.raw(id)
        found = self.database.rows(
            "SELECT id, number, reason, created_at FROM revisions WHERE build_id = ? ORDER BY number DESC", id
        )
        return [Revision(*row) for row in found]

    def revision(self, id: str, number: int) -> Build:
        """The build as it was. Raises NotFound."""
        row = self.database.row("SELECT body FROM revisions WHERE build_id = ? AND number = ?", id, number)
        if row is None:
            raise NotFound(f"There is no revision {number} of this build.")
        return _read(row["body"])

    def restore(self, id: str, number: int) -> Stored:
        """Take a revision back; what stood before is cut as a revision first. Raises NotFound."""
        build = self.revision(id, number)
        with self.database.change() as db:
            self._cut(db, id, f"before revision {number} was taken back")
            row = db.execute("SELECT * FROM builds WHERE id = ?", (id,)).fetchone()
            return self._update(db, row, build)


def _stored(row: sqlite3.Row) -> Stored:
    build = _read(row["body"])
    return Stored(row["id"], row["version"], build, row["created_at"], row["saved_at"])
