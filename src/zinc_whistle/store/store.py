"""The store as one thing: a database and its table families."""

from __future__ import annotations

import os
import sys
from collections.abc import Sequence
from datetime import UTC, datetime
from pathlib import Path

from ..core.model.build import bind_components, bind_motors, bind_parts
from ..core.model.component import Component
from ..core.model.driver import DriverPart
from ..core.model.motor import MotorPart
from .builds import Builds, Clock
from .database import Database
from .journal import Journal
from .parts import Parts


def data_folder() -> Path:
    """Where this user's data lives."""
    base = os.environ.get("XDG_DATA_HOME") or (
        os.environ.get("LOCALAPPDATA") if sys.platform == "win32" else str(Path.home() / ".local" / "share")
    )
    return Path(base or ".") / "zinc-whistle"


def now() -> str:
    """The time as ISO 8601 text in UTC, to the microsecond, so that it sorts."""
    return datetime.now(UTC).isoformat(timespec="microseconds")


class Store:
    """Everything that is kept, in one file."""

    def __init__(self, path: Path | str, clock: Clock = now) -> None:
        if isinstance(path, Path):
            path.parent.mkdir(parents=True, exist_ok=True)
        self.clock = clock
        self.database = Database(path)
        self.builds = Builds(self.database, clock)
        self.journal = Journal(self.database, clock)
        self.parts = Parts(self.database, clock)
        self._shelf: list[DriverPart] | None = None
        self._motors: list[MotorPart] | None = None
        self._components: list[Component] | None = None

    def shelf(self) -> list[DriverPart]:
        """The driver parts, read once and kept bound: they change only through ``put_parts``."""
        if self._shelf is None:
            self._shelf = self.parts.shelf()
            bind_parts(self._shelf)
        return self._shelf

    def put_parts(self, parts: Sequence[DriverPart]) -> None:
        """Add or renew parts on the shelf."""
        self.parts.put(parts)
        self._shelf = None

    def take_part(self, id: str) -> None:
        """Take one of the builder's own driver parts away. Raises NotFound."""
        self.parts.take("driver", id)
        self._shelf = None

    def motors(self) -> list[MotorPart]:
        """The shelf of motors, kept bound like the driver parts."""
        if self._motors is None:
            self._motors = self.parts.motors()
            bind_motors(self._motors)
        return self._motors

    def put_motors(self, parts: Sequence[MotorPart]) -> None:
        """Add or renew motors on the shelf."""
        self.parts.put_motors(parts)
        self._motors = None

    def take_motor(self, id: str) -> None:
        """Take one of the builder's own motors away. Raises NotFound."""
        self.parts.take("motor", id)
        self._motors = None

    def components(self) -> list[Component]:
        """The shelf of components, kept bound like the driver parts."""
        if self._components is None:
            self._components = self.parts.components()
            bind_components(self._components)
        return self._components

    def put_components(self, parts: Sequence[Component]) -> None:
        """Add or renew components on the shelf."""
        self.parts.put_components(parts)
        self._components = None

    def take_component(self, kind: str, id: str) -> None:
        """Take one of the builder's own components away. Raises NotFound."""
        self.parts.take(kind, id)
        self._components = None

    def close(self) -> None:
        """Close the file."""
        self.database.close()
