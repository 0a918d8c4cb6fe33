"""The shelf: sample parts that ship, and the builder's own."""

from __future__ import annotations

from collections.abc import Sequence

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

    def put(self, parts: Sequence[DriverPart]) -> None:
        """Add parts, or renew those with the same id. Raises ShelfFull, and then has added none."""
        self._put("driver", parts)

    def _put(self, kind: str, parts: Sequence[DriverPart | MotorPart | Component | Controller]) -> None:
        now = self.clock()
        with self.database.change() as db:
            held = {row[0] for row in db.execute("SELECT id FROM parts WHERE kind = ?", (kind,))}
            if len(held | {p.id for p in parts}) > MOST_PARTS:
                raise ShelfFull(f"A shelf holds {MOST_PARTS} parts of a kind: take some away first.")
            db.executemany(
                "INSERT INTO parts VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT (kind, id) DO UPDATE SET "
                "name = excluded.name, sample = excluded.sample, body = excluded.body, saved_at = excluded.saved_at",
                [(p.id, kind, p.name, int(p.sample), p.model_dump_json(), now) for p in parts],
            )
