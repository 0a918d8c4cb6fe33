"""Files that are kept with a build: captures as they came, pictures made small."""

from __future__ import annotations

import zlib
from dataclasses import dataclass
from typing import Literal

from .builds import Clock, NotFound, new_id
from .database import Database

FileKind = Literal["capture", "photo"]
MOST_FILES = 300


class NoRoom(ValueError):
    """No more is kept; the message is a sentence."""


@dataclass(frozen=True, slots=True)
class KeptFile:
    """A file as it is given back."""

    name: str
    type: str
    body: bytes


class KeptFiles:
    """The files of one database. Captures lie there compressed."""

    def __init__(self, database: Database, clock: Clock) -> None:
        self.database, self.clock = database, clock

    def add(self, build_id: str, kind: FileKind, file: KeptFile, says: str) -> str:
        """Keep a file with what it says, under the build's latest revision; its id. Raises NoRoom."""
        (count,) = self.database.rows("SELECT COUNT(*) FROM kept_files WHERE build_id = ?", build_id)[0]
        if count >= MOST_FILES:
            raise NoRoom(f"A build keeps at most {MOST_FILES} files.")
        made = new_id()
        body = zlib.compress(file.body, 6) if kind == "capture" else file.body
        with self.database.change() as db:
            db.execute(
                "INSERT INTO kept_files SELECT ?, ?, COALESCE(MAX(number), 0), ?, ?, ?, ?, ?, ?, NULL "
                "FROM revisions WHERE build_id = ?",
                (made, build_id, kind, file.name, file.type, says, body, self.clock(), build_id),
            )
        return made

    def get(self, build_id: str, file_id: str) -> KeptFile:
        """A file as it came. Raises NotFound."""
        row = self.database.row(
            "SELECT kind, name, type, body FROM kept_files WHERE id = ? AND build_id = ?", file_id, build_id
        )
        if row is None:
            raise NotFound("There is no such file.")
        body = zlib.decompress(row["body"]) if row["kind"] == "capture" else bytes(row["body"])
        return KeptFile(row["name"], row["type"], body)

    def pictures(self, build_id: str) -> list[tuple[str, KeptFile]]:
        """The pictures of a build that stand, with their ids."""
        rows = self.database.rows(
            "SELECT id FROM kept_files WHERE build_id = ? AND kind = 'photo' AND withdrawn_at IS NULL", build_id
        )
        return [(row["id"], self.get(build_id, row["id"])) for row in rows]
