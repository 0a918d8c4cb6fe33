"""What the checks of one stage share: its case, its words' places and how they are declared."""

from __future__ import annotations

from typing import Any

from ...algebra.evaluators import Tracing
from ...algebra.limits import Check, claim, lower, upper
from ...cases.operating import DriveContext
from ...cases.stage_parts import because_of, fits
from ...cases.stage_result import StageResult

STATION = "power_stage"


class StageChecks:
    """One stage's checks; what they share stands here once."""

    def __init__(self, at: DriveContext, result: StageResult) -> None:
        self.at, self.result, self.stage = at, result, result.spec
        self.anywhere = result.anywhere
        self.drive, self.path = at.drive.id, result.spec.path
        self.k = Tracing("", because_of(at, result.spec))
        self.switch = result.spec.switch if fits(result.spec) else None

    def up(self, code: str, title: str, stress: Any, limit: Any, todo: str, field: str, **more: Any) -> Check:
        return upper(
            f"stage.{code}",
            station=STATION,
            title=title,
            stress=stress,
            bound=limit,
            todo=todo,
            drive=self.drive,
            where=f"{self.path}.{field}",
            **more,
        )

    def low(self, code: str, title: str, value: Any, limit: Any, todo: str, field: str, **more: Any) -> Check:
        return lower(
            f"stage.{code}",
            station=STATION,
            title=title,
            stress=value,
            bound=limit,
            todo=todo,
            drive=self.drive,
            where=f"{self.path}.{field}",
            **more,
        )

    def so(self, code: str, title: str, holds: bool | None, todo: str, field: str, **more: Any) -> Check:
        return claim(
            f"stage.{code}",
            station=STATION,
            title=title,
            holds=holds,
            todo=todo,
            drive=self.drive,
            where=f"{self.path}.{field}",
            **more,
        )
