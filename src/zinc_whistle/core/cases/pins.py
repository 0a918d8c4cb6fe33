"""Pins for every signal of a controller, all its drives together: by what a pin can do, scarce abilities first."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..model.build import Drive
from ..model.panel import PanelSpec
from ..model.signals import Controller, Pin
from .operating import DriveContext
from .pulses import PULSE
from .timer_plan import TimerPlan
from .timers import taken_pins
from .truth import truth_table

SCARCE = ("pwm", "interrupt", "analogue", "digital")
PANEL = {
    "forward": "FORWARD",
    "back": "BACK",
    "home": "HOME",
    "stop": "STOP",
    "clear": "CLEAR",
    "limit_front": "LIMIT FRONT",
    "limit_back": "LIMIT BACK",
}
"""Inputs of the panel that are contacts, and what their wires are called."""


@dataclass(frozen=True, slots=True)
class PinUse:
    """A signal on a controller pin: what it needs, the pin it got, and why not if it got none."""

    signal: str
    needs: str
    pin: Pin | None
    fixed: bool
    refusal: str = ""


Wants = Sequence[tuple[str, str]]
"""Signals, each with what its pin must be able to do."""


def block_of(signal: str) -> str:
    """Where a signal's other end is."""
    if signal.startswith("ENC"):
        return "encoder"
    return "panel" if signal in PANEL.values() or signal == "KNOB" else "driver"


def panel_contacts(panel: PanelSpec, reverses: bool) -> list[str]:
    """The inputs of a panel that are contacts with a wire each."""
    manual = panel.command != "serial"
    latched = (
        panel.stop_input != "none" or panel.fault_input != "none" or panel.watch == "yes" or panel.speed_by == "knob"
    )
    has = {
        "forward": manual,
        "back": manual and reverses,
        "home": manual and panel.homing == "back",
        "stop": panel.stop_input != "none",
        "clear": manual and latched,
        "limit_front": panel.limits == "both",
        "limit_back": panel.limits == "both",
    }
    return [n for n, there in has.items() if there]


def needed(at: DriveContext) -> list[tuple[str, str]]:
    """The signals that a drive asks of its controller: driver's lines, sensing, encoder, panel."""
    wanted: list[tuple[str, str]] = []
    part, panel = at.part, at.drive.panel
    if part is not None:
        table = truth_table(part.input_style, at.drive.signals.decay)
        wanted += list(zip(table.names, table.needs, strict=True))
        if part.sense_gain.value is not None:
            wanted.append(("SENSE", "analogue"))
        if panel.fault_input != "none":
            wanted.append(("FAULT", "digital"))
    if (motor := at.drive.of_motor) is not None and motor.has_encoder:
        by_interrupt = motor.encoder.method == "interrupt"
        # With one or two counts a slot only the edges of A count; B is looked at then.
        both = by_interrupt and motor.encoder.decoding == "4"
        wanted += [("ENC A", "interrupt" if by_interrupt else "digital"), ("ENC B", "interrupt" if both else "digital")]
    wanted += [(PANEL[n], "digital") for n in panel_contacts(panel, at.drive.signals.reversal != "one way")]
    if panel.speed_by == "knob":
        wanted.append(("KNOB", "analogue"))
    return wanted


def allot(
    controller: Controller, drives: Sequence[Drive], wants: Mapping[str, Wants], plans: Mapping[str, TimerPlan]
) -> dict[str, tuple[PinUse, ...]]:
    """Pins for all drives of one controller: the builder's own first, then what is scarce, then the least able pin.

    Pulses go where the timetable put them; a servo without a timer gets a plain pin.
    """
    by_id = {p.id: p for p in controller.pins}
    fixed = {(d.id, p.signal): p.pin for d in drives for p in d.wiring.fixed_pins if p.signal in dict(wants[d.id])}
    planned = {(d.id, s): p for d in drives for s, p in plans[d.id].pins.items()}
    taken = taken_pins(controller) | {pin for pin in fixed.values() if pin in by_id}
    taken |= {p.id for key, p in planned.items() if key not in fixed}
    uses: dict[tuple[str, str], PinUse] = {}
    for need in SCARCE:
        for drive in drives:
            for signal, asked in wants[drive.id]:
                if asked != need:
                    continue
                key = drive.id, signal
                if key in fixed:
                    uses[key] = _fixed(
                        controller, key=key, need=asked, pin=by_id.get(fixed[key]), fixed=fixed, planned=planned
                    )
                elif key in planned:
                    uses[key] = PinUse(signal, asked, planned[key], False)
                else:
                    uses[key] = _found(controller, signal, asked, taken)
                    if (pin := uses[key].pin) is not None:
                        taken.add(pin.id)
    return {d.id: tuple(uses[d.id, signal] for signal, _ in wants[d.id]) for d in drives}


def _found(controller: Controller, signal: str, need: str, taken: set[str]) -> PinUse:
    if need == "pwm" and signal != PULSE:
        return PinUse(signal, need, None, False, "no timer has room for it: see the timers at Signals")
    able = [
        p
        for p in controller.pins
        if p.id not in taken and can(p, "digital" if signal == PULSE else need) and not _unfit(p, signal)
    ]
    # An interrupt of its own before one that is shared with a port.
    able.sort(key=lambda p: ("boot" in p.can, "lamp" in p.can, need == "interrupt" and need not in p.can, len(p.can)))
    pin = able[0] if able else None
    return PinUse(signal, need, pin, False, "" if pin else f"no free pin can do {_ability(need)}")


def _fixed(
    controller: Controller,
    key: tuple[str, str],
    need: str,
    pin: Pin | None,
    fixed: Mapping[tuple[str, str], str],
    planned: Mapping[tuple[str, str], Pin],
) -> PinUse:
    signal = key[1]
    if pin is None:
        return PinUse(signal, need, None, True, "the pin that was fixed is not on this controller")
    double = [other[1] for other, p in fixed.items() if p == pin.id and other != key]
    double += [other[1] for other, p in planned.items() if p.id == pin.id and other != key]
    if double:
        return PinUse(signal, need, pin, True, f"{pin.label} also carries {double[0]}")
    if pin.id in taken_pins(controller):
        return PinUse(signal, need, pin, True, f"{pin.label} is taken by a library")
    if unfit := _unfit(pin, signal):
        return PinUse(signal, need, pin, True, unfit)
    if signal == PULSE:
        return PinUse(signal, need, pin, True, "" if "digital" in pin.can else f"{pin.label} cannot do digital")
    if not can(pin, need):
        return PinUse(signal, need, pin, True, f"{pin.label} cannot do {_ability(need)}")
    if need == "pwm" and key not in planned:
        return PinUse(signal, need, pin, True, f"{pin.label} hangs on another timer than the one planned")
    return PinUse(signal, need, pin, True)


def can(pin: Pin, need: str) -> bool:
    """Whether a pin has an ability. An encoder is read as well by an interrupt that the pin shares with its port."""
    return need in pin.can or (need == "interrupt" and "change" in pin.can)


def reads(signal: str) -> bool:
    """Whether the controller reads a signal; the others it drives."""
    return signal in ("SENSE", "FAULT") or block_of(signal) in ("encoder", "panel")


def _unfit(pin: Pin, signal: str) -> str:
    """Why a pin that could by its abilities still cannot carry a signal; empty if it can."""
    if "input only" in pin.can and not reads(signal):
        return f"{pin.label} is an input only"
    if "lamp" in pin.can and reads(signal) and signal not in ("SENSE", "KNOB"):
        return f"{pin.label} carries the board's lamp, which pulls a contact's input down"
    return ""


def _ability(need: str) -> str:
    return {"pwm": "PWM from the planned timer", "interrupt": "interrupts", "analogue": "analogue input"}.get(
        need, need
    )
