"""Pins for every signal of a controller, all its drives together: by what a pin can do."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass

import numpy as np
import scipy

from ..model.build import Build, Drive
from ..model.panel import LAMP as PANEL_LAMP
from ..model.panel import PanelSpec, is_lamp, lamp_signal
from ..model.sequence import PLAY
from ..model.signals import Controller, Pin
from .operating import DriveContext
from .pulses import PULSE
from .timer_plan import TimerPlan
from .timers import taken_pins
from .truth import truth_table

PANEL = {
    "forward": "FORWARD",
    "back": "BACK",
    "run_forward": "RUN FORWARD",
    "run_back": "RUN BACK",
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


IDENTITY = "IDENTITY"
"""The pin that tells one program for two controllers which of them it runs in."""
HANDSET, LINK_LAMP = "BUTTON ", f"{PANEL_LAMP}link"
"""The wires of a handset's buttons begin with this, its number among the buttons follows; and that of its lamp."""
DEVICE, FROM_DEVICE = "DEVICE ", "FROM DEVICE "
"""What the wires to and from other devices of a controller begin with."""


def device_wants(controller: Controller) -> list[tuple[str, str]]:
    """What a controller asks of its pins for itself: its identity, and the signals of its other devices; those on the
    bus share its two wires."""
    wanted: list[tuple[str, str]] = [(IDENTITY, "digital")] if controller.node else []
    if any(d.bus == "yes" for d in controller.devices):
        wanted += [(f"{DEVICE}BUS DATA", "bus"), (f"{DEVICE}BUS CLOCK", "bus")]
    for place, device in enumerate(controller.devices, 1):
        name = device.name.strip() or f"device {place}"
        outputs, inputs, analogue = (int(g.value or 0) for g in (device.outputs, device.inputs, device.analogue))
        wanted += [(f"{DEVICE}{name} {k}", "digital") for k in range(1, outputs + 1)]
        needs = ["analogue"] * min(analogue, inputs) + ["digital"] * max(inputs - analogue, 0)
        wanted += [(f"{FROM_DEVICE}{name} {k}", need) for k, need in enumerate(needs, 1)]
    return list(dict(wanted).items())


def block_of(signal: str) -> str:
    """Where a signal's other end is."""
    if signal.startswith((DEVICE, FROM_DEVICE)):
        return "devices"
    if signal.startswith("ENC"):
        return "encoder"
    if signal == IDENTITY:
        return "identity"
    if is_lamp(signal) or signal.startswith((PLAY, HANDSET)):
        return "panel"
    return "panel" if signal in PANEL.values() or signal == "KNOB" else "driver"


TACHO = "ENC TACHO"
STOP = PANEL["stop"]
STOP_LINE = "stop line"
"""Where the stop inputs of all drives hang where one line joins them."""


def panel_contacts(panel: PanelSpec, reverses: bool) -> list[str]:
    """The inputs of a panel that are contacts with a wire each."""
    manual = panel.wired
    has = {
        "forward": manual,
        "back": manual and reverses,
        "run_forward": panel.touches,
        "run_back": panel.touches and reverses,
        "home": manual and panel.homing == "back",
        "stop": panel.stop_input != "none",
        "clear": manual and panel.clears,
        "limit_front": panel.limits == "both",
        "limit_back": panel.limits != "none",
    }
    return [n for n, there in has.items() if there]


def needed(at: DriveContext) -> list[tuple[str, str]]:
    """The signals that a drive asks of its controller: driver's lines, sensing, encoder, panel."""
    wanted: list[tuple[str, str]] = []
    if not at.drive.signals.by_program:
        return wanted
    part, panel = at.part, at.drive.panel
    if part is not None:
        table = truth_table(part.input_style, at.drive.signals.decay, at.drive.signals.pulsed)
        wanted += list(zip(table.names, table.needs, strict=True))
        if part.sense_gain.value is not None:
            wanted.append(("SENSE", "analogue"))
        if panel.fault_input != "none":
            wanted.append(("FAULT", "digital"))
    if (motor := at.drive.of_motor) is not None and motor.has_encoder:
        by_interrupt = motor.encoder.method == "interrupt"
        # With one or two counts a slot only the edges of A count; B is looked at then.
        both = by_interrupt and motor.encoder.decoding == "4"
        wanted.append(("ENC A", "interrupt" if by_interrupt else "digital"))
        if not motor.encoder.single:
            wanted.append(("ENC B", "interrupt" if both else "digital"))
    if motor is not None and motor.has_tacho:
        wanted.append((TACHO, "analogue"))
    wanted += [(PANEL[n], "digital") for n in panel_contacts(panel, at.drive.signals.reversal != "one way")]
    wanted += [(signal, "digital") for signal in play_buttons(at.build, at.drive.id)]
    wanted += [(lamp_signal(place, lamp), "digital") for place, lamp in enumerate(panel.lamps, 1)]
    if panel.speed_by == "knob" and at.drive.signals.pulsed:
        wanted.append(("KNOB", "analogue"))
    return wanted


def play_buttons(build: Build, drive: str) -> list[str]:
    """The buttons of the sequences that begin with a drive: they are told with it."""
    return [
        f"{PLAY}{number}"
        for number, sequence in enumerate(build.sequences, 1)
        if sequence.started_by == "button" and sequence.steps and sequence.steps[0].drive == drive
    ]


def allot(
    controller: Controller,
    drives: Sequence[Drive],
    wants: Mapping[str, Wants],
    plans: Mapping[str, TimerPlan],
    boards: Mapping[str, Mapping[str, str]] | None = None,
    under: Set[str] = frozenset(),
) -> dict[str, tuple[PinUse, ...]]:
    """Pins for all drives of one controller, and for its other devices under ``on_board``.

    The builder's own come first, then as many of the others as there can be. Pulses go where the timetable put them; a
    servo without a timer gets a plain pin. ``boards``: by drive, the pins of all that does not move, where a stacked
    board decides some of it; ``under``: pins that such boards take, whatever they carry.
    """
    by_id = {p.id: p for p in controller.pins}
    own = boards if boards is not None else {d.id: {p.signal: p.pin for p in d.wiring.fixed_pins} for d in drives}
    fixed = {(d.id, s): pin for d in drives for s, pin in own.get(d.id, {}).items() if s in dict(wants[d.id])}
    planned = {(d.id, s): p for d in drives for s, p in plans[d.id].pins.items()}
    taken = taken_pins(controller) | {pin for pin in fixed.values() if pin in by_id}
    taken |= {p.id for key, p in planned.items() if key not in fixed} | under
    uses: dict[tuple[str, str], PinUse] = {}
    open_: list[tuple[tuple[str, str], str]] = []
    for drive in drives:
        for signal, need in wants[drive.id]:
            key = drive.id, signal
            if key in fixed:
                pin = by_id.get(fixed[key])
                uses[key] = _fixed(controller, key=key, need=need, pin=pin, fixed=fixed, planned=planned)
            elif key in planned:
                uses[key] = PinUse(signal, need, planned[key], False)
            elif need == "pwm" and signal != PULSE:
                uses[key] = PinUse(signal, need, None, False, "no timer has room for it: see the timers at Signals")
            else:
                open_.append((key, need))
    devices = device_wants(controller)
    open_ += [((controller.id, signal), need) for signal, need in devices]
    free = [p for p in controller.pins if p.id not in taken]
    wanted = [(key[1], need) for key, need in open_]
    got = _matched(wanted, free)
    for place, ((key, need), pin) in enumerate(zip(open_, got, strict=True)):
        if pin is not None:
            uses[key] = PinUse(key[1], need, pin, False)
            continue
        rivals, pins = rivals_of(place, wanted, free, got)
        uses[key] = PinUse(
            key[1],
            need,
            None,
            False,
            f"no free pin can do {_ability(need)}{_told(wanted, rivals, pins)}",
        )
    found = {d.id: tuple(uses[d.id, signal] for signal, _ in wants[d.id]) for d in drives}
    found[on_board(controller)] = tuple(uses[controller.id, signal] for signal, _ in devices)
    return found


def handset_pins(controller: Controller, buttons: int) -> tuple[PinUse, ...]:
    """Pins of a handset's controller: each button's, then its lamp's."""
    wants = [(f"{HANDSET}{k}", "digital") for k in range(1, buttons + 1)] + [(LINK_LAMP, "digital")]
    taken = taken_pins(controller)
    pins = _matched(wants, [p for p in controller.pins if p.id not in taken])
    return tuple(
        PinUse(signal, need, pin, False, "" if pin is not None else f"no free pin can do {_ability(need)}")
        for (signal, need), pin in zip(wants, pins, strict=True)
    )


def on_board(controller: Controller) -> str:
    """What the pins of a controller's other devices are kept under; no drive has such an id."""
    return f"on {controller.id}"


BOOT, LAMP, SHARED = 1000.0, 300.0, 30.0
"""What it costs to use a pin that starts the board, one with the lamp, or an interrupt that a port shares; each ability
that a pin has beyond what is asked costs 1: those who need it may come later."""
NONE = 1e6


def _matched(wants: Wants, free: Sequence[Pin]) -> list[Pin | None]:
    """A pin for each signal, or None: as many as there can be, and those at the least cost (an assignment problem)."""
    if not wants:
        return []
    n, m = len(wants), len(free)
    cost = np.full((n, m + n), NONE)
    for k, (signal, need) in enumerate(wants):
        for place, pin in enumerate(free):
            if can(pin, "digital" if signal == PULSE else need) and not unfit(pin, signal):
                # Among pins that are alike the signals keep the order of the board.
                cost[k, place] = peculiar(pin, need) + 1e-6 * (n - k) * place
    _, columns = scipy.optimize.linear_sum_assignment(cost)
    return [free[c] if c < m and cost[k, c] < NONE else None for k, c in enumerate(columns)]


def rivals_of(place: int, wants: Wants, free: Sequence[Pin], got: Sequence[Pin | None]) -> tuple[list[int], list[Pin]]:
    """The fewest wishes that cannot all have a pin, the one at ``place`` among them, and the pins that they share.

    What can be reached from a wish without a pin by giving its pins up in turn (an alternating tree): there is one
    wish more than pins, and whichever of them is dropped, the others can all be served (P. Hall 1935).
    """
    holder = {pin.id: k for k, pin in enumerate(got) if pin is not None}
    wishes, pins, waiting = [place], dict[str, Pin](), [place]
    while waiting:
        signal, need = wants[waiting.pop()]
        for pin in free:
            if pin.id in pins or unfit(pin, signal) or not can(pin, "digital" if signal == PULSE else need):
                continue
            # A pin that nobody holds would have been given to the wish.
            pins[pin.id] = pin
            wishes.append(holder[pin.id])
            waiting.append(holder[pin.id])
    return sorted(wishes), list(pins.values())


def _told(wants: Wants, rivals: Sequence[int], pins: Sequence[Pin]) -> str:
    """Who asks for what, where more ask than there is."""
    if not pins:
        return ""
    names = [wants[k][0] for k in rivals]
    return f": {len(names)} ({_and(names)}) ask for {len(pins)} ({_and([p.label for p in pins])})"


def _and(words: Sequence[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


@dataclass(frozen=True, slots=True)
class Alternative:
    """A pin that could carry a signal too: what it costs beside the others, and what it carries now."""

    pin: Pin
    cost: float
    carries: str = ""


def alternatives(controller: Controller, use: PinUse, carried: Mapping[str, str]) -> list[Alternative]:
    """The pins that could carry a signal, the free and plain ones first. ``carried`` by pin: what it carries."""
    need = "digital" if use.signal == PULSE else use.needs
    able = [p for p in controller.pins if can(p, need) and not unfit(p, use.signal)]
    found = [
        Alternative(p, peculiar(p, need), "" if use.pin is not None and p.id == use.pin.id else carried.get(p.id, ""))
        for p in able
    ]
    return sorted(found, key=lambda a: (bool(a.carries), a.cost))


def peculiar(pin: Pin, need: str) -> float:
    """What it costs to use a pin for a need."""
    shared = need == "interrupt" and need not in pin.can
    return BOOT * ("boot" in pin.can) + LAMP * ("lamp" in pin.can) + SHARED * shared + len(pin.can)


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
        return PinUse(signal, need, None, True, f"{fixed[key]} is not on this controller")
    double = [other[1] for other, p in fixed.items() if p == pin.id and other != key]
    double += [other[1] for other, p in planned.items() if p.id == pin.id and other != key]
    if double:
        return PinUse(signal, need, pin, True, f"{pin.label} also carries {double[0]}")
    if pin.id in taken_pins(controller):
        return PinUse(signal, need, pin, True, f"{pin.label} is taken by a library")
    if why := unfit(pin, signal):
        return PinUse(signal, need, pin, True, why)
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
    own = signal in ("SENSE", "FAULT", IDENTITY) or signal.startswith(FROM_DEVICE)
    return own or (block_of(signal) in ("encoder", "panel") and not is_lamp(signal))


def unfit(pin: Pin, signal: str) -> str:
    """Why a pin that could by its abilities still cannot carry a signal; empty if it can."""
    if "absent" in pin.can:
        return f"{pin.label} is not brought out"
    if "serial" in pin.can:
        return f"{pin.label} carries the line over which the program is loaded and talked to"
    if "input only" in pin.can and not reads(signal):
        return f"{pin.label} is an input only"
    if "lamp" in pin.can and reads(signal) and signal not in ("SENSE", "KNOB"):
        return f"{pin.label} carries the board's lamp, which pulls a contact's input down"
    return ""


def _ability(need: str) -> str:
    return {
        "pwm": "PWM from the planned timer",
        "interrupt": "interrupts",
        "analogue": "analogue input",
        "bus": "the bus",
    }.get(need, need)
