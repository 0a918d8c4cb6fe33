"""What was set to suit a motor, a gear or a load that is another one now: settings that stayed while the ground under
them moved."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from .algebra.nodes import Figure
from .algebra.quantities import phrase
from .assess import Assessment
from .compare import MOVED
from .design.what_if import owner
from .model.build import Build, Drive, MotorDrive
from .model.given import Given, Spec

PLANT = ("at_supply.no_load_speed", "context.load.reflected_inertia", "context.winding_cold")
"""What a loop or a ramp has before it: speed a duty, what it accelerates, what limits the current."""
CURRENTS = ("circuit.stall_full", "context.starting_current")


@dataclass(frozen=True, slots=True)
class SetFor:
    """A setting by the end of its path, the figures that it was set for, and the one that the app would take for it
    now (empty: it is found on the bench); ``when`` tells whether it acts at all. What a limit holds against a window
    of its own (the frequency of the pulses) is no such setting: its check speaks for it."""

    end: str
    on: tuple[str, ...]
    now: str = ""
    of_unit: bool = False
    when: Callable[[MotorDrive], bool] = lambda drive: True


def _loop(drive: MotorDrive) -> bool:
    return drive.closes_loop


def _counted(drive: MotorDrive) -> bool:
    return drive.has_encoder and drive.panel.moves != "no"


SETTINGS = (
    SetFor("loop.gain", (*PLANT, "encoder.counts_per_motor_turn"), "loop.suggested_gain", when=_loop),
    SetFor("loop.integral", (*PLANT, "encoder.counts_per_motor_turn"), "loop.suggested_integral", when=_loop),
    SetFor("signals.ramp_time", PLANT, when=lambda d: d.signals.ramped),
    SetFor("panel.trip_a", CURRENTS, when=lambda d: d.panel.trip == "yes"),
    SetFor("panel.trip_time", CURRENTS, when=lambda d: d.panel.trip == "yes"),
    SetFor("panel.watch_time", ("encoder.rate_working",), when=lambda d: d.panel.watch == "yes"),
    SetFor(
        "panel.home_duty",
        ("at_supply.no_load_speed", "context.load.motor_torque", "context.winding_cold"),
        when=lambda d: d.panel.homing != "none",
    ),
    SetFor(
        "panel.slow_within",
        ("context.load.reflected_inertia", "encoder.counts_per_output_turn"),
        when=lambda d: _counted(d) and d.panel.approach == "slowing",
    ),
    SetFor("panel.end_front", ("encoder.counts_per_output_turn",), when=_counted),
    SetFor("panel.end_back", ("encoder.counts_per_output_turn",), when=_counted),
    SetFor("panel.most_duty", ("at_supply.no_load_speed",), when=lambda d: d.signals.told_by == "pulses"),
    SetFor("current_limit", CURRENTS, of_unit=True, when=lambda d: d.signals.ramped),
)


@dataclass(frozen=True, slots=True)
class Retune:
    """A setting to be set again: where, of which drive, what it is called and set to, which figures moved under it
    (title, before, after), and what would be worked out for it now (empty: to be found on the bench)."""

    path: str
    drive: str
    label: str
    text: str
    moved: tuple[tuple[str, str, str], ...]
    now: str


def retuning(before: Assessment, after: Assessment) -> list[Retune]:
    """Settings that act, that were given and are given alike in both states, and of which a figure that they were set
    for has moved. What was left to the app's own default is worked out anew by itself and is not told."""
    found = []
    for drive in after.build.drives:
        had = next((d for d in before.build.drives if d.id == drive.id), None)
        if isinstance(drive, MotorDrive) and isinstance(had, MotorDrive):
            found += list(_of(before, after, had, drive))
    return found


def _of(before: Assessment, after: Assessment, had: MotorDrive, drive: MotorDrive) -> Iterator[Retune]:
    for setting in SETTINGS:
        if not (setting.when(drive) and setting.when(had)):
            continue
        path = f"units.{drive.unit}.{setting.end}" if setting.of_unit else f"drives.{drive.id}.{setting.end}"
        was, held = _given(before.build, had, setting), _given(after.build, drive, setting)
        if was is None or held is None or not held[1].text or was[1].text != held[1].text:
            continue
        moved = tuple(_moved(before, after, drive.id, setting.on))
        if moved:
            fresh = after.figures.get(f"drives.{drive.id}.{setting.now}") if setting.now else None
            yield Retune(path, drive.id, held[0], held[1].text, moved, _text(fresh) if fresh is not None else "")


def _given(build: Build, drive: Drive, setting: SetFor) -> tuple[str, Given] | None:
    """The label of a setting and what was given for it."""
    unit = drive.driven.unit if drive.driven is not None else ""
    if setting.of_unit and not any(u.id == unit for u in build.units):
        return None
    at, last = owner(build, f"units.{unit}.{setting.end}" if setting.of_unit else f"drives.{drive.id}.{setting.end}")
    assert isinstance(at, Spec)
    ask, value = at.meta(last).ask, getattr(at, last)
    return (ask.label, value) if ask is not None and isinstance(value, Given) else None


def _moved(before: Assessment, after: Assessment, drive: str, ends: tuple[str, ...]) -> Iterator[tuple[str, str, str]]:
    for end in ends:
        one, other = (s.figures.get(f"drives.{drive}.{end}") for s in (before, after))
        if one is None or other is None or one.value is None or other.value is None:
            continue
        if abs(one.value - other.value) > MOVED * max(abs(one.value), abs(other.value)):
            yield other.title, _text(one), _text(other)


def _text(figure: Figure) -> str:
    return phrase(figure.value, figure.kind.name) if figure.value is not None else "not known"
