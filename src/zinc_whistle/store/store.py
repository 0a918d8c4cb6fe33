"""The store as one thing: a database and its table families."""

from __future__ import annotations

import os
import sys
import threading
from collections.abc import Callable, Sequence
from datetime import UTC, datetime
from pathlib import Path
from typing import Generic, TypeVar

from ..core.model.build import bind_components, bind_motors, bind_parts
from ..core.model.component import Component
from ..core.model.driver import DriverPart
from ..core.model.motor import MotorPart
from .builds import Builds, Clock
from .database import Database
from .journal import Journal
from .kept import KeptFiles
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


Part = TypeVar("Part")


class Held(Generic[Part]):
    """A list of parts that is read once and kept bound, until what is stored changes.

    Requests run in threads: nobody is given a list before it is bound, nor one read before a change that is over.
    """

    def __init__(self, read: Callable[[], list[Part]], bind: Callable[[list[Part]], object]) -> None:
        self._read, self._bind = read, bind
        self._lock = threading.Lock()
        self._parts: list[Part] | None = None

    def __call__(self) -> list[Part]:
        with self._lock:
            if self._parts is None:
                found = self._read()
                self._bind(found)
                self._parts = found
            return self._parts

    def forget(self) -> None:
        """Read anew the next time. Called after a change is stored: a reading that is under way ends before it."""
        with self._lock:
            self._parts = None


class Store:
    """Everything that is kept, in one file."""

    def __init__(self, path: Path | str, clock: Clock = now) -> None:
        if isinstance(path, Path):
            path.parent.mkdir(parents=True, exist_ok=True)
        self.clock = clock
        self.database = Database(path)
        self.builds = Builds(self.database, clock)
        self.journal = Journal(self.database, clock)
        self.kept = KeptFiles(self.database, clock)
        self.parts = Parts(self.database, clock)
        self._shelf = Held(self.parts.shelf, bind_parts)
        self._motors = Held(self.parts.motors, bind_motors)
        self._components = Held(self.parts.components, bind_components)

    def shelf(self) -> list[DriverPart]:
        """The driver parts, read once and kept bound: they change only through ``put_parts``."""
        return self._shelf()

    def put_parts(self, parts: Sequence[DriverPart]) -> None:
        """Add or renew parts on the shelf."""
        self.parts.put(parts)
        self._shelf.forget()

    def take_part(self, id: str) -> None:
        """Take one of the builder's own driver parts away. Raises NotFound."""
        self.parts.take("driver", id)
        self._shelf.forget()

    def renew_part(self, part: DriverPart) -> None:
        """Correct one of the builder's own driver parts. Raises NotFound."""
        self.parts.renew("driver", part)
        self._shelf.forget()

    def renew_motor(self, part: MotorPart) -> None:
        """Correct one of the builder's own motors. Raises NotFound."""
        self.parts.renew("motor", part)
        self._motors.forget()

    def renew_component(self, kind: str, part: Component) -> None:
        """Correct one of the builder's own components. Raises NotFound."""
        self.parts.renew(kind, part)
        self._components.forget()

    def motors(self) -> list[MotorPart]:
        """The shelf of motors, kept bound like the driver parts."""
        return self._motors()

    def put_motors(self, parts: Sequence[MotorPart]) -> None:
        """Add or renew motors on the shelf."""
        self.parts.put_motors(parts)
        self._motors.forget()

    def take_motor(self, id: str) -> None:
        """Take one of the builder's own motors away. Raises NotFound."""
        self.parts.take("motor", id)
        self._motors.forget()

    def components(self) -> list[Component]:
        """The shelf of components, kept bound like the driver parts."""
        return self._components()

    def put_components(self, parts: Sequence[Component]) -> None:
        """Add or renew components on the shelf."""
        self.parts.put_components(parts)
        self._components.forget()

    def take_component(self, kind: str, id: str) -> None:
        """Take one of the builder's own components away. Raises NotFound."""
        self.parts.take(kind, id)
        self._components.forget()

    def close(self) -> None:
        """Close the file."""
        self.database.close()
