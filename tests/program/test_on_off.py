"""Programs of drives that are only switched: in the instruction simulator and in the interpreter, against the panel."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

import pytest

from tests.verdicts.test_told_by import with_part
from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build, MotorDrive
from zinc_whistle.core.panel.runtime import Panel
from zinc_whistle.core.program.micropython_source import micropython_source
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.planned import DriveProgram, ProgramPlan
from zinc_whistle.demo.data import lantern_carousel, profile

from .kit import Avr, Interpreter, compiled

PARTS = ("relay-bridge-8a", "relay-one-8a", "relay-fet-10a", "mos-single-5a", "discrete-40a", "bip-quad-0a6")
PRESSES: tuple[tuple[str, int], ...] = (
    ("", 60),
    ("forward", 200),
    ("", 120),
    ("back", 200),
    ("forward back", 80),
    ("", 300),
    ("back", 150),
    ("forward", 300),
    ("", 200),
)
"""What is held, and for how long (ms)."""


def switched(part: str, controller: str = "") -> Build:
    """The carousel with a driver that is only switched, by two buttons."""
    build = with_part(lantern_carousel(), part, "level")
    if controller:
        build.controllers = [profile(controller).model_copy(update={"id": "c1", "regulator": "r1"}, deep=True)]
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    two_way = build.units[0].part is not None and build.units[0].part.reverses == "yes"
    drive.signals.reversal = "through zero" if two_way else "one way"
    drive.signals.braking = (
        "brake" if build.units[0].part is not None and build.units[0].part.brakes == "yes" else "coast"
    )
    drive.wiring.fixed_pins = []
    drive.encoder.fitted = "no"
    panel = drive.panel
    panel.command, panel.stop_input, panel.watch, panel.limits, panel.speed_by = "hold", "none", "no", "none", "fixed"
    return build


def expected(drive: DriveProgram) -> list[Mapping[str, str]]:
    """The levels of the driver's lines after each press, by the panel that both languages are held against."""
    panel = Panel(drive.machine, drive.lines, drive.settings)
    found: list[Mapping[str, str]] = []
    for held, ms in PRESSES:
        pressed = {n: True for n in held.split() if n in drive.machine.inputs}
        for _ in range(ms):
            now = panel.tick(pressed)
        found.append(dict(now.lines))
    return found


def plan_of(build: Build) -> tuple[ProgramPlan, DriveProgram]:
    plan = plan_program(assess(build), "c1")
    (drive,) = plan.drives
    assert drive.settings.ramp_ms == 0 and not any("PWM" in v for x in drive.lines.levels.values() for v in x.values())
    return plan, drive


@pytest.mark.parametrize("part", PARTS)
def test_in_c_the_lines_stand_as_the_panel_says(part: str, tmp_path: Path) -> None:
    plan, drive = plan_of(switched(part))
    buttons = {x.input: x for x in drive.contacts}
    ports = {n: drive.pins[n].port for n in drive.lines.names}
    with Avr(compiled(plan, tmp_path), *ports.values()) as avr:
        avr.contacts(**{x.pin.port: int(x.low) for x in buttons.values()})
        avr.run(30)
        for (held, ms), lines in zip(PRESSES, expected(drive), strict=True):
            avr.contacts(
                **{x.pin.port: int(x.low) ^ int(name in held.split()) for name, x in buttons.items()},
            )
            avr.run(ms)
            assert {n: str(avr.levels.get(p, 0)) for n, p in ports.items()} == lines, (held, ms)


@pytest.mark.parametrize("part", PARTS)
def test_in_micropython_too(part: str) -> None:
    plan, drive = plan_of(switched(part, "thirty-two-bit-48"))
    ticks = plan.tick_ms
    buttons = {x.input: x for x in drive.contacts}
    with Interpreter(micropython_source(plan), ticks) as python:
        python.levels(**{f"p{x.pin.program}": int(x.low) for x in buttons.values()})
        python.start()
        panel = Panel(drive.machine, drive.lines, drive.settings)
        for held, ms in PRESSES:
            pressed = {n: True for n in held.split() if n in drive.machine.inputs}
            python.levels(
                **{f"p{x.pin.program}": int(x.low) ^ int(name in held.split()) for name, x in buttons.items()}
            )
            python.run(ms)
            for _ in range(ms // ticks):
                now = panel.tick(pressed)
            seen = {n: str(python.seen(f"machine.levels.get({drive.pins[n].program}, 0)")) for n in drive.lines.names}
            assert seen == dict(now.lines), (held, ms)


def test_contacts_alone_let_go_at_once_and_contacts_before_a_switch_wait() -> None:
    """Relays that end the current themselves must not wait for it to end; those before a transistor must."""
    _, alone = plan_of(switched("relay-bridge-8a"))
    assert alone.lines.coils == ()
    _, pair = plan_of(switched("relay-fet-10a"))
    assert pair.lines.coils == ("COIL 1", "COIL 2") and pair.lines.switched == ("PWM",)
