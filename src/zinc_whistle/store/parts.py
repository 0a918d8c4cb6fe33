"""The shelf: sample parts that ship, and the builder's own."""

from __future__ import annotations

from collections.abc import Sequence

from ..core.driver.spec import DriverPart
from .builds import Clock
from .database import Database


class Parts:
    """Driver parts of one database."""

    def __init__(self, database: Database, clock: Clock) -> None:
        self.database, self.clock = database, clock

    def shelf(self) -> list[DriverPart]:
        """Every part, by name."""
        rows = self.database.rows("SELECT body FROM parts WHERE kind = 'driver' ORDER BY name")
        return [DriverPart.model_validate_json(row["body"]) for row in rows]

    def put(self, parts: Sequence[DriverPart]) -> None:
        """Add parts, or renew those with the same id."""
        now = self.clock()
        with self.database.change() as db:
            db.executemany(
                "INSERT INTO parts VALUES (?, 'driver', ?, ?, ?, ?) ON CONFLICT (id) DO UPDATE SET "
                "name = excluded.name, sample = excluded.sample, body = excluded.body, saved_at = excluded.saved_at",
                [(p.id, p.name, int(p.sample), p.model_dump_json(), now) for p in parts],
            )
