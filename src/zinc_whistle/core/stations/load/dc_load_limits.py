"""Checks of a load that is no motor: its volts, and the path of a coil's current."""

from __future__ import annotations

from ...algebra import findings as f
from ...algebra.findings import Finding
from ...algebra.working import Constant, presence
from ...cases.dc_load import DcLoadResult
from ...cases.sources import Window
from ...laws import dc_load as rules
from ...model.dc_load import DcLoadSpec

STATION = "load"
OVER = Constant("1.1", 1.1, "ratio", "common practice, no source: ten per cent over the rating")


def checks(spec: DcLoadSpec, result: DcLoadResult, volts: Window, drive: str) -> list[Finding]:
    """The supply against the rating, and a held solenoid against its own hold."""
    found = [
        f.upper(
            "load.rating",
            STATION,
            "Supply against the load's rating",
            volts.full,
            rules.highest_volts(OVER, spec.rated_v.leaf),
            "Lower the supply, or keep the duty below the share that the rating allows.",
            drive=drive,
            where=f"{spec.path}.rated_v",
            over="warn",
        ),
    ]
    if spec.kind == "solenoid" and spec.hold_duty.value is not None and spec.hold_duty.value < 1:
        found.append(
            f.yes_no(
                "load.hold",
                STATION,
                "Held with enough current",
                spec.hold_duty.value >= 0.2,
                "Few solenoids hold with less than a fifth of their current: try it, and shake it.",
                drive=drive,
                over="warn",
                where=f"{spec.path}.hold_duty",
                destructive=False,
            )
        )
    if spec.kind == "lamp":
        found.append(
            f.yes_no(
                "load.inrush",
                STATION,
                "The cold lamp's inrush is counted",
                presence(spec.rated_a.leaf).choice == "yes" or None,
                "",
                drive=drive,
                unknown="Not known yet: give the rated current.",
                destructive=False,
            )
        )
    return found
