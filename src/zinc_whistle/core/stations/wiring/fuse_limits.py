"""The wires behind the source's fuse: it protects what it was chosen for, which is the wire."""

from __future__ import annotations

from ...algebra.limits import Check, upper
from ...cases.operating import DriveContext
from ...laws import fuse as fuse_laws
from ...laws import stage as stage_laws
from ...laws import wiring as rules
from .compute import STATION


def checks(at: DriveContext) -> list[Check]:
    """The fuse's rating against what the wire carries for good, and a short's I²t against what it bears.

    A battery's short is its volts over its own ohms and the wire's; an adaptor's electronics end one by themselves.
    """
    source, run, drive = at.source, at.unit.supply_run, at.drive.id
    if source.fuse.value is None:
        return []
    carries = rules.wire_carries(at.supply_wire.area, at.air)
    found: list[Check] = [
        upper(
            "wiring.fuse_for_wire",
            station=STATION,
            title="Fuse against the wire behind it",
            stress=source.fuse.leaf,
            bound=carries,
            todo="Take thicker wire, or a smaller fuse: this one lets the wire burn and stays whole. "
            "Local codes may ask for more.",
            drive=drive,
            where=f"{run.path}.gauge",
        )
    ]
    if source.fuse_curve and source.kind == "battery":
        short = fuse_laws.short_current(at.volts.any, at.volts.resistance, at.supply_wire.resistance)
        found.append(
            upper(
                "wiring.short",
                station=STATION,
                title="Wire in a short, until the fuse opens",
                stress=fuse_laws.LET_THROUGH[source.fuse_curve](
                    short,
                    source.fuse.leaf,
                    carries,
                    because=[source.chosen("fuse_curve")],
                    title="I²t of a short until the fuse opens",
                ),
                bound=stage_laws.wire_integral(at.supply_wire.area),
                todo="Take thicker wire or a quicker or smaller fuse.",
                drive=drive,
                where=f"{run.path}.gauge",
            )
        )
    return found
