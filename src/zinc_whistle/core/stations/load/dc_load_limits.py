"""Checks of a load that is no motor: its volts, and the path of a coil's current."""

from __future__ import annotations

from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import Constant, presence
from ...cases.dc_load import DcLoadResult
from ...cases.sources import SupplyWindow
from ...laws import dc_load as rules
from ...model.dc_load import DcLoadSpec

STATION = "load"
OVER = Constant("1.1", 1.1, "ratio", "common practice, no source: ten per cent over the rating")


def checks(spec: DcLoadSpec, result: DcLoadResult, volts: SupplyWindow, drive: str) -> list[Check]:
    """The supply against the rating, and a held solenoid against its own hold."""
    found: list[Check] = [
        upper(
            "load.rating",
            station=STATION,
            title="Supply against the load's rating",
            stress=volts.any,
            bound=rules.highest_volts(OVER, spec.rated_v.leaf),
            todo="Lower the supply, or keep the duty below the share that the rating allows.",
            drive=drive,
            where=f"{spec.path}.rated_v",
            over="warn",
        ),
    ]
    if spec.kind == "solenoid" and spec.hold_duty.value is not None and spec.hold_duty.value < 1:
        found.append(
            claim(
                "load.hold",
                station=STATION,
                title="Held with enough current",
                holds=spec.hold_duty.value >= 0.2,
                todo="Few solenoids hold with less than a fifth of their current: try it, and shake it.",
                drive=drive,
                over="warn",
                where=f"{spec.path}.hold_duty",
                destructive=False,
            )
        )
    if spec.kind == "lamp":
        found.append(
            claim(
                "load.inrush",
                station=STATION,
                title="The cold lamp's inrush is counted",
                holds=presence(spec.rated_a.leaf).choice == "yes" or None,
                todo="",
                drive=drive,
                unknown="Not known yet: give the rated current.",
                destructive=False,
            )
        )
    return found
