"""The SQLite file: opening, migrating, and one transaction a change."""

from __future__ import annotations

import os
import shutil
import sqlite3
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from importlib.resources import files
from pathlib import Path

APPLICATION = 0x5A575344
"""Written into the head of every file of ours, so that no other program's file is taken for one."""
KEPT_BEFORE = 3
"""How many of the copies that are made before a migration stay."""


class Unusable(RuntimeError):
    """The file cannot be used; the sentence tells why and what can be done. Nothing was written into it."""


class TooNew(Unusable):
    """The file was written by a later version of the program."""


def look(path: Path) -> int:
    """Look at a data file without writing into it, and tell its version (0: new or empty). Raises Unusable."""
    if not path.exists() or (path.is_file() and path.stat().st_size == 0):
        return 0
    back = "If there is a backup, ./zw restore FILE brings it back."
    # A file that nobody has open has no log beside it; looked at as one that does not change, it gets none either.
    alone = not path.with_name(f"{path.name}-wal").exists()
    address = f"{path.resolve().as_uri()}?mode=ro{'&immutable=1' if alone else ''}"
    try:
        with closing(sqlite3.connect(address, uri=True, timeout=5)) as db:
            mark, version = (int(db.execute(f"PRAGMA {n}").fetchone()[0]) for n in ("application_id", "user_version"))
            tables = {row[0] for row in db.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            if mark not in (0, APPLICATION) or (mark == 0 and tables and "builds" not in tables):
                raise Unusable(f"{path.name} belongs to another program: name another file with --data.")
            if version > migrations()[-1][0]:
                raise TooNew("This data file was written by a later version of Zinc Whistle: start that one.")
            found = str(db.execute("PRAGMA quick_check(1)").fetchone()[0])
            if found == "ok":
                return version
            if alone and path.with_name(f"{path.name}-wal").exists():
                return look(path)  # another start opened it meanwhile
            raise Unusable(f"{path.name} is damaged ({found}). It was left as it is. {back}")
    except sqlite3.OperationalError as error:
        if "locked" in str(error) or "busy" in str(error):
            raise Unusable(f"{path.name} is held by another program: close that first, then start again.") from error
        raise Unusable(f"{path.name} cannot be opened ({error}): is it a file that you may read and write?") from error
    except sqlite3.DatabaseError as error:
        raise Unusable(f"{path.name} is no data file of Zinc Whistle, or damaged ({error}). {back}") from error


def copy(source: Path, to: Path) -> None:
    """A whole copy of a data file, also while it is written to: made beside its place, checked, then put there.

    Raises Unusable.
    """
    look(source)
    if source.resolve() == to.resolve():
        raise Unusable("A copy must have another name than what is copied.")
    if not source.is_file():
        raise Unusable(f"There is no data file {source}.")
    beside = to.with_name(f"{to.name}.part")
    beside.unlink(missing_ok=True)
    try:
        with closing(sqlite3.connect(source, timeout=5)) as ours, closing(sqlite3.connect(beside)) as made:
            ours.backup(made)
            made.execute("PRAGMA journal_mode = DELETE")
        look(beside)
        os.replace(beside, to)
    except (sqlite3.Error, OSError) as error:
        beside.unlink(missing_ok=True)
        raise Unusable(f"{to} could not be written ({error}). The data file is as it was.") from error


def bring_back(backup: Path, to: Path) -> Path | None:
    """Put a backup in a data file's place; gives the copy that is kept of what stood there. Raises Unusable."""
    if look(backup) == 0:
        raise Unusable(f"{backup} is no backup of Zinc Whistle: nothing in it.")
    kept = None
    if to.exists():
        kept = to.with_name(f"{to.name}.before-restore")
        try:
            copy(to, kept)
        except Unusable:  # what is damaged is kept as it is
            shutil.copyfile(to, kept)
    try:
        for more in ("-wal", "-shm"):
            to.with_name(to.name + more).unlink(missing_ok=True)
        copy(backup, to)
    except OSError as error:
        raise Unusable(f"{to} could not be written ({error}): stop the service first.") from error
    return kept


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


def _patiently(do: Callable[[], object]) -> None:
    """Try again while another first start holds the file: changing how it is kept does not wait by itself."""
    for _ in range(100):
        try:
            do()
            return
        except sqlite3.OperationalError as error:
            if "locked" not in str(error):
                raise
            time.sleep(0.05)
    do()


class Database:
    """One connection that writes and one that reads, each shared by threads behind its own lock: a question does not
    wait for the disk to acknowledge a save. ``path`` may be ``:memory:``, which has one for both."""

    def __init__(self, path: Path | str) -> None:
        """Raises Unusable with a sentence, and then has written nothing."""
        self._path = path if isinstance(path, Path) else None
        if self._path is not None:
            look(self._path)
        self._lock = threading.RLock()
        self._changing: int | None = None
        """The thread whose change is under way: what it reads meanwhile, it reads with what it has written."""
        try:
            self._connection = sqlite3.connect(path, check_same_thread=False, isolation_level=None, timeout=5)
            self._connection.row_factory = sqlite3.Row
            # First of all: several first starts at once wait for one another.
            self._connection.execute("PRAGMA busy_timeout = 5000")
            _patiently(lambda: self._connection.execute("PRAGMA journal_mode = WAL"))
            self._connection.execute("PRAGMA synchronous = FULL")
            self._connection.execute("PRAGMA foreign_keys = ON")
            self.migrate()
            self._reader, self._reading = self._connection, self._lock
            if self._path is not None:
                self._reader = sqlite3.connect(path, check_same_thread=False, isolation_level=None, timeout=5)
                self._reader.row_factory = sqlite3.Row
                self._reader.execute("PRAGMA query_only = ON")
                self._reading = threading.RLock()
        except sqlite3.Error as error:
            raise Unusable(f"{path} cannot be used ({error}): is there room, and may you write there?") from error

    @property
    def version(self) -> int:
        return int(self._connection.execute("PRAGMA user_version").fetchone()[0])

    def migrate(self, to: int | None = None) -> None:
        """Apply what is missing, each migration in a transaction of its own; a copy of the file is kept before."""
        steps = migrations()
        if 0 < self.version < (to or steps[-1][0]):
            self._keep()
        for number, script in steps:
            if self.version < number <= (to or steps[-1][0]):
                with self.change() as db:
                    if self.version >= number:  # another start was quicker
                        continue
                    for statement in statements(script):
                        db.execute(statement)
                    db.execute(f"PRAGMA user_version = {number}")
                    db.execute(f"PRAGMA application_id = {APPLICATION}")
        if self._connection.execute("PRAGMA application_id").fetchone()[0] == 0:
            with self.change() as db:
                db.execute(f"PRAGMA application_id = {APPLICATION}")

    def _keep(self) -> None:
        """A copy of the file as it is before a migration; the oldest ones go."""
        if self._path is None:
            return
        copy(self._path, self._path.with_name(f"{self._path.name}.v{self.version}.bak"))
        kept = sorted(self._path.parent.glob(f"{self._path.name}.v*.bak"), key=lambda p: p.stat().st_mtime)
        for old in kept[:-KEPT_BEFORE]:
            old.unlink(missing_ok=True)

    @contextmanager
    def change(self) -> Iterator[sqlite3.Connection]:
        """A transaction that takes the write lock at once; rolled back on any error."""
        with self._lock:
            self._connection.execute("BEGIN IMMEDIATE")
            self._changing = threading.get_ident()
            try:
                yield self._connection
                self._connection.execute("COMMIT")
            except BaseException:
                # Where the disk is full SQLite has rolled back by itself, and a second time would hide what happened.
                if self._connection.in_transaction:
                    self._connection.execute("ROLLBACK")
                raise
            finally:
                self._changing = None

    def rows(self, sql: str, *values: object) -> list[sqlite3.Row]:
        """All rows of a query: of what is stored, and within a change of what it has written too."""
        if self._changing == threading.get_ident():
            return self._connection.execute(sql, values).fetchall()
        with self._reading:
            return self._reader.execute(sql, values).fetchall()

    def row(self, sql: str, *values: object) -> sqlite3.Row | None:
        """The first row of a query, or None."""
        found = self.rows(sql, *values)
        return found[0] if found else None

    def close(self) -> None:
        """Close the file."""
        with self._lock, self._reading:
            if self._reader is not self._connection:
                self._reader.close()
            self._connection.close()
