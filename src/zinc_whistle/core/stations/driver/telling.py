"""How a driver is told what to do, held against who tells it: pulses, levels, currents."""

from __future__ import annotations

from collections.abc import Iterator

from ...algebra.findings import Remedy
from ...algebra.limits import Check, claim, lower, upper
from ...cases import typical
from ...cases.operating import DriveContext
from ...cases.polarity import turned_round
from ...cases.truth import truth_table
from ...model.driver import DriverPart

STATION = "driver"
TOLD_BY_HAND = "by hand"


def checks(at: DriveContext, part: DriverPart) -> Iterator[Check]:
    """The driver understands who tells it, and its inputs get the pulses, the volts and the current that they take."""
    yield _understood(at, part)
    yield from told_by_sheet(at, part)
    if part.input_style == TOLD_BY_HAND:
        return
    drive, teller = at.drive.id, at.controller
    if at.drive.signals.pulsed and part.kind != "contacts":
        yield upper(
            "driver.pwm",
            station=STATION,
            title="PWM frequency",
            stress=at.plan.any_frequency,
            bound=part.pwm_limit.leaf,
            todo="Lower the PWM frequency at Signals, or take a faster part.",
            drive=drive,
            where=_where_frequency(at),
        )
    yield upper(
        "driver.pin",
        station=STATION,
        title="Current a pin gives",
        stress=part.input_current.leaf,
        bound=teller.pin_current.leaf,
        todo="Never drive this from a pin: put a transistor or a driver between.",
        drive=drive,
    )
    # A gate on a pin asks no level of it: how far it is on is the stage's own check.
    # Behind a transistor that turns the line round an input sees its own board's supply.
    lines = set(truth_table(part.input_style, "slow").names)
    if part.input_high.value != 0 and lines - set(turned_round(at.unit, part)):
        yield lower(
            "driver.logic",
            station=STATION,
            title="Logic level",
            stress=teller.output_high.leaf,
            bound=part.input_high.leaf,
            todo="Take a part with logic-level inputs, or put a level shifter between.",
            drive=drive,
            destructive=False,
        )


def _where_frequency(at: DriveContext) -> str:
    signals = at.drive.signals
    return f"{signals.timer.path}.capacitor" if signals.told_by == "timer" else f"{signals.path}.pwm_frequency"


def told_by_sheet(at: DriveContext, part: DriverPart) -> Iterator[Check]:
    """Figures that the sheet should tell and nobody gave: what is not known is not good, and a default is no sheet."""
    if at.unit.made_of == "stage":
        return
    lack = typical.missing(part)
    if not lack:
        return
    labels = [meta.label for name in lack if (meta := type(part).meta(name).ask) is not None]
    guess = typical.estimate(part, lack[0])
    remedy = None
    if guess is not None and at.unit.part is not None and at.unit.part.id == part.id:
        name, text = guess
        remedy = Remedy(f"Take {text}, typical of its class", f"{part.path}.{name}", text, "assumed")
    yield claim(
        "driver.sheet",
        station=STATION,
        title="Its sheet's figures are given",
        holds=None,
        todo="",
        drive=at.drive.id,
        where=f"{at.unit.path}.part",
        unknown=f"Not known yet: give {', '.join(labels)}, or take what is typical of its class.",
        remedy=remedy,
    )


def _understood(at: DriveContext, part: DriverPart) -> Check:
    """Contacts bear no pulses, a hand makes none, and a timer circuit has one output."""
    signals = at.drive.signals
    where, todo, remedy = f"{signals.path}.told_by", "", None
    if signals.pulsed and part.kind == "contacts":
        todo = (
            "Contacts bear no pulses: each one would draw an arc, and they weld or burn within minutes. Switch it on "
            "and off, or pulse what feeds the contacts: one transistor before them."
        )
        by = "hand" if part.input_style == TOLD_BY_HAND else "level"
        remedy = Remedy("Switch it on and off", where, by)
    elif signals.told_by == "hand" and part.input_style != TOLD_BY_HAND:
        todo = "This driver has inputs that something must drive: a controller or a timer circuit."
        # A panel that was given for a program may ask for an encoder that is not there: one press would not do.
        motor = at.drive.of_motor
        counts = motor is not None and motor.encoder.fitted == "yes" and motor.encoder.kind != "tacho"
        if at.drive.panel.watch == "no" or counts:
            remedy = Remedy("A controller switches it", where, "level")
    elif signals.told_by == "level" and part.input_style == TOLD_BY_HAND:
        todo = "A switch has no input: a controller cannot move it. Take a relay, or move it by hand."
        remedy = Remedy("It is moved by hand", where, "hand")
    elif signals.told_by == "timer" and part.input_style == "two gates":
        todo = (
            "Two gates of one leg need two outputs with a dead time between them, and a timer circuit has one: take "
            "one switch and a diode, or a gate driver with a single input."
        )
    return claim(
        "driver.told",
        station=STATION,
        title="It understands who tells it",
        holds=not todo,
        todo=todo,
        drive=at.drive.id,
        where=where,
        remedy=remedy,
    )
