"""Wires held against their limits."""

from __future__ import annotations

from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import Constant, Figure
from ...cases import bodies
from ...cases.operating import DriveContext, WireFigures
from ...cases.wires.terminal import GROUND
from ...laws import wiring as rules
from ...model.build import ServoDrive
from .compute import STATION, WiringResult

MOST_DROP = Constant("3 %", 0.03, "fraction", "common practice, no source")


def checks(at: DriveContext, result: WiringResult) -> list[Check]:
    """One ground, every connection made, every signal on a pin that can carry it, wire large enough."""
    drive, wiring = at.drive.id, at.drive.wiring
    apart = sorted(b for b, r in result.grounds.items() if r != result.grounds.get("source"))
    # Contacts or an opto-coupler between them: then the motor's supply may float against the controller's.
    floats = at.unit.made_of == "part" and at.part is not None and at.part.isolated == "yes"
    split = bool(apart) and not floats
    missing = [c for c in result.connections if not c.made and c.signal != GROUND]
    refused = [u for u in result.pins if u.refusal]
    named = bool(at.part) or bool(result.pins)
    found: list[Check] = [
        claim(
            "wiring.ground",
            station=STATION,
            title="Grounds apart, as its isolation lets them" if floats and apart else "One common ground",
            holds=not split,
            todo=f"Join the ground of the {' and the '.join(apart)} to the battery's minus." if apart else "",
            drive=drive,
            where=f"{wiring.path}.left_out",
        ),
        claim(
            "wiring.made",
            station=STATION,
            title="No connection is left out",
            holds=not missing,
            todo=f"Left out: {', '.join(c.signal for c in missing[:4])}.",
            drive=drive,
            over="warn",
            where=f"{wiring.path}.left_out",
            destructive=False,
        ),
    ]
    if at.drive.signals.by_program:
        found.append(
            claim(
                "wiring.pins",
                station=STATION,
                title="Every signal has a pin that can carry it",
                holds=(not refused) if named else None,
                todo="; ".join(f"{u.signal}: {u.refusal}" for u in refused) + ".",
                drive=drive,
                destructive=False,
                where=f"{wiring.path}.fixed_pins",
                unknown="Not known yet: choose a driver first.",
            )
        )
    booting = sorted({u.pin.label for u in result.pins if u.pin is not None and "boot" in u.pin.can})
    if booting:
        found.append(
            claim(
                "wiring.boot",
                station=STATION,
                title="No signal on a pin that is read at start-up",
                holds=False,
                todo=f"{' and '.join(booting)} decides how the board starts: what hangs there may keep it from "
                "starting. Move the signal, or make sure that nothing pulls the pin while it starts.",
                drive=drive,
                over="warn",
                destructive=False,
                where=f"{wiring.path}.fixed_pins",
            )
        )
    found += _room(at, result)
    assert result.supply_density and result.motor_density
    assert result.supply_drop and result.motor_drop
    runs: tuple[tuple[str, str, str, Figure, Figure, WireFigures], ...] = (
        (
            "supply",
            "source to driver",
            f"{at.unit.path}.supply_run",
            result.supply_density,
            rules.drop_share(result.supply_drop, at.volts.any),
            at.supply_wire,
        ),
        (
            "motor",
            "driver to motor",
            f"{wiring.path}.motor_run",
            result.motor_density,
            rules.drop_share(result.motor_drop, at.volts.any),
            at.motor_wire,
        ),
    )
    for code, words, path, density, share, _ in runs:
        found += [
            upper(
                f"wiring.{code}_density",
                station=STATION,
                title=f"Wire, {words}",
                stress=density,
                bound=rules.MOST_DENSITY,
                todo="Take thicker wire (a smaller gauge number).",
                drive=drive,
                where=f"{path}.gauge",
            ),
            upper(
                f"wiring.{code}_drop",
                station=STATION,
                title=f"Drop, {words}",
                stress=share,
                bound=MOST_DROP,
                todo="Take thicker or shorter wire.",
                drive=drive,
                over="warn",
                where=f"{path}.length",
                destructive=False,
            ),
        ]
    return found


def _room(at: DriveContext, result: WiringResult) -> list[Check]:
    """The tallest part of a stage of one's own, against the height that its board has; nothing where none is told."""
    room = at.unit.stage.board.room
    if at.unit.made_of != "stage" or room.value is None:
        return []
    board, path = f"unit {at.unit.id}", f"{at.unit.stage.board.path}.room"
    if unsized := bodies.unsized(result.netlist, board):
        return [
            claim(
                "wiring.height",
                station=STATION,
                title=f"Height of the board, with {unsized}",
                holds=None,
                unknown=f"Not known yet: capacitance and volts of {unsized}, which make its size.",
                todo="",
                drive=at.drive.id,
                where=path,
                destructive=False,
            )
        ]
    name, height_mm = bodies.tallest(result.netlist, board)
    source = "usual bodies, board, joints and posts; common practice, from memory"
    return [
        upper(
            "wiring.height",
            station=STATION,
            title=f"Height of the board, with {name}" if name else "Height of the board",
            stress=Constant(f"{height_mm:.1f} mm", height_mm * 1e-3, "length", source),
            bound=room.leaf,
            todo=f"Lay {name} flat, take a lower one of its kind, or give the board more room.",
            drive=at.drive.id,
            where=path,
            destructive=False,
        )
    ]


def servo_checks(drive: ServoDrive, result: WiringResult) -> list[Check]:
    """Ground, pin and wire of a servo."""
    split = len(set(result.grounds.values())) > 1
    refused = [u for u in result.pins if u.refusal]
    density, share = result.motor_density, result.motor_drop_share
    assert density is not None and share is not None
    path = drive.wiring.path
    return [
        claim(
            "wiring.ground",
            station=STATION,
            title="One common ground",
            holds=not split,
            todo="Join the servo's dark wire, the rail's minus and the controller's ground.",
            drive=drive.id,
            where=f"{path}.left_out",
        ),
        claim(
            "wiring.pins",
            station=STATION,
            title="The pulse has a pin",
            holds=not refused,
            todo="; ".join(f"{u.signal}: {u.refusal}" for u in refused) + ".",
            drive=drive.id,
            destructive=False,
            where=f"{path}.fixed_pins",
        ),
        upper(
            "wiring.servo_density",
            station=STATION,
            title="Wire to the servo",
            stress=density,
            bound=rules.MOST_DENSITY,
            todo="Take thicker wire (a smaller gauge number).",
            drive=drive.id,
            where=f"{path}.signal_run.gauge",
        ),
        upper(
            "wiring.servo_drop",
            station=STATION,
            title="Drop to the servo, stalled",
            stress=share,
            bound=MOST_DROP,
            todo="Take thicker or shorter wire.",
            drive=drive.id,
            over="warn",
            where=f"{path}.signal_run.length",
            destructive=False,
        ),
    ]
