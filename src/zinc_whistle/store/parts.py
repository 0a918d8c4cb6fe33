"""The shelf: sample parts that ship, and the builder's own."""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping, Sequence
from typing import Any

from pydantic import TypeAdapter

from ..core.model.component import Component
from ..core.model.components import CLASSES, AnyComponent
from ..core.model.driver import DriverPart
from ..core.model.motor import MotorPart
from ..core.model.signals import Controller
from .builds import Clock, NotFound
from .database import Database

ANY: TypeAdapter[Component] = TypeAdapter(AnyComponent)


MOST_PARTS = 5000
"""Of one kind: each is worked through at every search, and all of them are held in memory."""
MOST_SUPERSEDED = 20
"""Earlier bodies of one part: a copy older than that is not offered what was corrected."""
MODELS: Mapping[str, TypeAdapter[Any]] = {
    "driver": TypeAdapter(DriverPart),
    "motor": TypeAdapter(MotorPart),
    "controller": TypeAdapter(Controller),
    **dict.fromkeys(CLASSES, ANY),
}


class ShelfFull(ValueError):
    """There is no room for so many parts."""


class Parts:
    """Driver parts of one database."""

    def __init__(self, database: Database, clock: Clock) -> None:
        self.database, self.clock = database, clock

    def shelf(self) -> list[DriverPart]:
        """Every part, by name."""
        rows = self.database.rows("SELECT body FROM parts WHERE kind = 'driver' ORDER BY name")
        return [DriverPart.model_validate_json(row["body"]) for row in rows]

    def motors(self) -> list[MotorPart]:
        """Every motor, samples first, by name."""
        rows = self.database.rows("SELECT body FROM parts WHERE kind = 'motor' ORDER BY sample DESC, name")
        return [MotorPart.model_validate_json(row["body"]) for row in rows]

    def components(self, kind: str = "") -> list[Component]:
        """Components of one class or of all, by class and name."""
        kinds = [kind] if kind else list(CLASSES)
        marks = ", ".join("?" * len(kinds))
        rows = self.database.rows(f"SELECT body FROM parts WHERE kind IN ({marks}) ORDER BY kind, name", *kinds)
        return [ANY.validate_json(row["body"]) for row in rows]

    def put_components(self, parts: Sequence[Component]) -> None:
        """Add components, or renew those with the same id."""
        for kind, (_, model) in CLASSES.items():
            self._put(kind, [p for p in parts if isinstance(p, model)])

    def controllers(self) -> list[Controller]:
        """The builder's own controller profiles, by name."""
        rows = self.database.rows("SELECT body FROM parts WHERE kind = 'controller' ORDER BY name")
        return [Controller.model_validate_json(row["body"]) for row in rows]

    def put_controllers(self, profiles: Sequence[Controller]) -> None:
        """Add profiles, or renew those with the same id."""
        self._put("controller", profiles)

    def put_motors(self, parts: Sequence[MotorPart]) -> None:
        """Add motors, or renew those with the same id."""
        self._put("motor", parts)

    def take(self, kind: str, id: str) -> None:
        """Take away one of the builder's own. Raises NotFound."""
        with self.database.change() as db:
            done = db.execute("DELETE FROM parts WHERE kind = ? AND id = ? AND sample = 0", (kind, id))
            if done.rowcount == 0:
                raise NotFound(f"There is no such {kind} of your own on the shelf.")
            db.execute("DELETE FROM superseded_parts WHERE kind = ? AND id = ?", (kind, id))

    def renew(self, kind: str, part: DriverPart | MotorPart | Component | Controller) -> None:
        """Correct one of the builder's own; what it was before is kept for the builds that copied it. Raises
        NotFound."""
        if self.database.row("SELECT 1 FROM parts WHERE kind = ? AND id = ? AND sample = 0", kind, part.id) is None:
            raise NotFound(f"There is no such {kind} of your own on the shelf.")
        self._put(kind, [part])

    def superseded(self) -> dict[str, dict[str, list[Any]]]:
        """Earlier bodies by kind and id, the latest first."""
        found: dict[str, dict[str, list[Any]]] = {}
        for row in self.database.rows("SELECT kind, id, body FROM superseded_parts ORDER BY rowid DESC"):
            body = MODELS[row["kind"]].validate_json(row["body"])
            found.setdefault(row["kind"], {}).setdefault(row["id"], []).append(body)
        return found

    def put(self, parts: Sequence[DriverPart]) -> None:
        """Add parts, or renew those with the same id. Raises ShelfFull, and then has added none."""
        self._put("driver", parts)

    def _put(self, kind: str, parts: Sequence[DriverPart | MotorPart | Component | Controller]) -> None:
        now = self.clock()
        with self.database.change() as db:
            held = {row[0]: row[1] for row in db.execute("SELECT id, body FROM parts WHERE kind = ?", (kind,))}
            if len(held.keys() | {p.id for p in parts}) > MOST_PARTS:
                raise ShelfFull(f"A shelf holds {MOST_PARTS} parts of a kind: take some away first.")
            bodies = {p.id: p.model_dump_json() for p in parts}
            self._supersede(db, kind, {id: held[id] for id, body in bodies.items() if held.get(id, body) != body})
            db.executemany(
                "INSERT INTO parts VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT (kind, id) DO UPDATE SET "
                "name = excluded.name, sample = excluded.sample, body = excluded.body, saved_at = excluded.saved_at",
                [(p.id, kind, p.name, int(p.sample), bodies[p.id], now) for p in parts],
            )

    def _supersede(self, db: sqlite3.Connection, kind: str, bodies: Mapping[str, str]) -> None:
        now = self.clock()
        for id, body in bodies.items():
            db.execute("INSERT INTO superseded_parts VALUES (?, ?, ?, ?)", (kind, id, body, now))
            db.execute(
                "DELETE FROM superseded_parts WHERE kind = ? AND id = ? AND rowid NOT IN (SELECT rowid FROM "
                "superseded_parts WHERE kind = ? AND id = ? ORDER BY rowid DESC LIMIT ?)",
                (kind, id, kind, id, MOST_SUPERSEDED),
            )
