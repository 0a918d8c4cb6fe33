"""The SQLite file: opening, migrating, and one transaction a change."""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import files
from pathlib import Path


class TooNew(RuntimeError):
    """The file was written by a later version of the program."""


def migrations() -> list[tuple[int, str]]:
    """Number and script of every migration, in order."""
    scripts = [e for e in (files(__package__) / "migrations").iterdir() if e.name.endswith(".sql")]
    return sorted((int(e.name.split("_")[0]), e.read_text("utf-8")) for e in scripts)


def statements(script: str) -> Iterator[str]:
    """The statements of a script, told apart as sqlite3 itself does: a semicolon in a text or a trigger ends
    nothing."""
    pending = ""
    for line in script.splitlines(keepends=True):
        pending += line
        if sqlite3.complete_statement(pending):
            yield pending
            pending = ""
    if pending.strip():
        yield pending


class Database:
    """One connection, shared by threads behind a lock. ``path`` may be ``:memory:``."""

    def __init__(self, path: Path | str) -> None:
        self._lock = threading.RLock()
        self._connection = sqlite3.connect(path, check_same_thread=False, isolation_level=None)
        self._connection.row_factory = sqlite3.Row
        self._connection.execute("PRAGMA journal_mode = WAL")
        self._connection.execute("PRAGMA synchronous = FULL")
        self._connection.execute("PRAGMA foreign_keys = ON")
        self._connection.execute("PRAGMA busy_timeout = 5000")
        self.migrate()

    @property
    def version(self) -> int:
        return int(self._connection.execute("PRAGMA user_version").fetchone()[0])

    def migrate(self, to: int | None = None) -> None:
        """Apply what is missing, each migration in a transaction of its own. Raises TooNew."""
        steps = migrations()
        if self.version > steps[-1][0]:
            raise TooNew("This data file was written by a later version of Zinc Whistle: start that one.")
        for number, script in steps:
            if self.version < number <= (to or steps[-1][0]):
                with self.change() as db:
                    for statement in statements(script):
                        db.execute(statement)
                    db.execute(f"PRAGMA user_version = {number}")

    @contextmanager
    def change(self) -> Iterator[sqlite3.Connection]:
        """A transaction that takes the write lock at once; rolled back on any error."""
        with self._lock:
            self._connection.execute("BEGIN IMMEDIATE")
            try:
                yield self._connection
            except BaseException:
                self._connection.execute("ROLLBACK")
                raise
            self._connection.execute("COMMIT")

    def rows(self, sql: str, *values: object) -> list[sqlite3.Row]:
        """All rows of a query."""
        with self._lock:
            return self._connection.execute(sql, values).fetchall()

    def row(self, sql: str, *values: object) -> sqlite3.Row | None:
        """The first row of a query, or None."""
        found = self.rows(sql, *values)
        return found[0] if found else None

    def close(self) -> None:
        """Close the file."""
        with self._lock:
            self._connection.close()
