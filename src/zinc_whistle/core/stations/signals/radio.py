"""The link between handsets and the controller that hears them, and each handset by itself.

buttons → lines lost → silence that stops → false stops; battery → life
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import Constant, Figure
from ...cases.controller_feed import suits
from ...cases.pins import PinUse, handset_pins
from ...laws import radio as rules
from ...model.build import Build
from ...model.given import Given
from ...model.handset import MOTION, Handset
from ...model.signals import Controller
from ...panel.machine import Machine
from ...panel.receiver import Remote, RemoteButton

STATION = "signals"
CHANNEL_SHARE = Constant(
    "1/2", 0.5, "fraction", "common practice, no source: senders that do not listen first fill half the time at most"
)
FALSE_STOPS = Constant("1 %", 0.01, "fraction", "common practice, no source: one false stop in a hundred hours")
HUMAN = Constant("1 s", 1.0, "time", "common practice, no source: a drive runs on for a second at most")


@dataclass(frozen=True, slots=True, kw_only=True)
class HandsetResult:
    """One handset: its pins, its mean current, and how long its battery lasts."""

    id: str
    current: Figure | None
    life: Figure | None
    pins: tuple[PinUse, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class RadioResult:
    """The link, and every handset."""

    exchange: Figure
    arrives: Figure
    in_use: Figure
    lost: Figure
    silence: Figure
    between: Figure
    chance: Figure
    handsets: tuple[HandsetResult, ...]


def controller_of(build: Build, id: str) -> Controller | None:
    """A controller of the build, if there is one of that id."""
    return next((c for c in build.controllers if c.id == id), None)


def compute(build: Build) -> RadioResult | None:
    """The link; None without handsets."""
    if not build.handsets:
        return None
    radio = build.radio
    exchange = rules.exchange_time(radio.air_rate.leaf)
    count = Constant(f"{len(build.handsets)}", float(len(build.handsets)), "number")
    lost = rules.lines_lost(radio.loss.leaf, count, exchange, radio.period.leaf, because=[build.members("handsets")])
    between = rules.between_false_stops(radio.period.leaf, lost, radio.tries.leaf)
    return RadioResult(
        exchange=exchange,
        arrives=rules.press_arrives(radio.period.leaf, radio.air_rate.leaf),
        in_use=rules.channel_in_use(count, exchange, radio.period.leaf, because=[build.members("handsets")]),
        lost=lost,
        silence=rules.silence(radio.tries.leaf, radio.period.leaf),
        between=between,
        chance=rules.chance_in_an_hour(between),
        handsets=tuple(_handset(build, h) for h in build.handsets),
    )


def _handset(build: Build, handset: Handset) -> HandsetResult:
    controller, radio = controller_of(build, handset.controller), build.radio
    if controller is None:
        return HandsetResult(id=handset.id, current=None, life=None, pins=())
    in_air = rules.line_in_air(radio.air_rate.leaf)
    current = rules.handset_current(
        controller.draws.leaf, radio.listens.leaf, radio.sends.leaf, in_air, radio.period.leaf
    )
    return HandsetResult(
        id=handset.id,
        current=current,
        life=rules.battery_life(handset.capacity.leaf, current),
        pins=handset_pins(controller, len(handset.buttons)),
    )


def checks(build: Build, result: RadioResult | None, machines: Mapping[str, Machine]) -> Iterator[Check]:
    """What the checks say of the link and of each handset; ``machines`` are the panels' by drive."""
    alone = [d for d in build.driven if d.panel.command == "radio" and d.signals.by_program]
    for drive in alone:
        moved = any(b.drive == drive.id and b.presses in MOTION for h in build.handsets for b in h.buttons)
        yield claim(
            f"radio.{drive.id}.commanded",
            station=STATION,
            title="A handset commands it",
            holds=moved,
            todo="It is commanded by handsets alone, and none has a button that moves it: add a handset below.",
            drive=drive.id,
            where="handsets",
            destructive=False,
        )
    if result is None:
        return
    yield from _link(build, result)
    numbers = [h.number.value for h in build.handsets]
    for handset, own in zip(build.handsets, result.handsets, strict=True):
        yield from _of_handset(build, handset, own, numbers, machines)


def _link(build: Build, result: RadioResult) -> Iterator[Check]:
    radio, board = build.radio, controller_of(build, build.radio.board)
    hears = board is not None and any(d.controller == board.id for d in build.drives)
    twin = board is not None and bool(board.node)
    why = (
        "One program for two controllers has no handsets: give this controller a program of its own."
        if twin
        else "Name the controller that hears the handsets: one that tells a drive."
    )
    yield claim(
        "radio.board",
        station=STATION,
        title="A controller hears the handsets",
        holds=hears and not twin,
        todo=why,
        where="radio.board",
        destructive=False,
    )
    yield claim(
        "radio.address",
        station=STATION,
        title="Handsets and board are paired",
        holds=radio.address.value is not None or None,
        todo="",
        unknown="Choose an address from 1 to 250 that nobody else within reach has.",
        where="radio.address",
        destructive=False,
    )
    volts = _feeds(board, radio.v_min, radio.v_max)
    yield claim(
        "radio.supply",
        station=STATION,
        title="The radio module runs on the logic's volts",
        holds=volts,
        todo="The module's supply must take the logic volts of the controller that hears: another module, or a "
        "regulator of its own and a divider in its line.",
        unknown="Not known yet: the module's lowest and highest supply, and the logic volts of the controller.",
        where="radio.v_min",
    )
    yield upper(
        "radio.channel",
        station=STATION,
        title="The channel has room for all handsets",
        stress=result.in_use,
        bound=CHANNEL_SHARE,
        todo="Send less often, at more bits a second over the air, or with fewer handsets.",
        where="radio.period",
        destructive=False,
    )
    yield upper(
        "radio.silence",
        station=STATION,
        title="It stops soon after a handset falls silent",
        stress=result.silence,
        bound=HUMAN,
        todo="Send more often, or allow fewer missed lines.",
        where="radio.tries",
        over="warn",
    )
    yield upper(
        "radio.false_stops",
        station=STATION,
        title="It does not stop for nothing",
        stress=result.chance,
        bound=FALSE_STOPS,
        todo="Allow more missed lines, send more often, or lose fewer: a better place for the aerial.",
        where="radio.tries",
        over="warn",
        destructive=False,
    )


def _feeds(controller: Controller | None, least: Given, most: Given) -> bool | None:
    """Whether a module bears the logic volts of a controller."""
    logic = controller.logic_v.value if controller is not None else None
    if logic is None or least.value is None or most.value is None:
        return None
    return least.value <= logic <= most.value


def _of_handset(
    build: Build, handset: Handset, own: HandsetResult, numbers: list[float | None], machines: Mapping[str, Machine]
) -> Iterator[Check]:
    name, path = handset.name or "Handset", f"handsets.{handset.id}"
    controller, number = controller_of(build, handset.controller), handset.number.value

    def says(code: str, title: str, holds: bool | None, todo: str, field: str, unknown: str = "") -> Check:
        return claim(
            f"radio.{handset.id}.{code}",
            station=STATION,
            title=f"{name}: {title}",
            holds=holds,
            todo=todo,
            where=f"{path}.{field}",
            unknown=unknown,
            destructive=False,
        )

    yield says(
        "number",
        "has a number of its own",
        None if number is None else numbers.count(number) == 1,
        "Two handsets with one number cannot be told apart: give each its own.",
        "number",
        "Give it a number, 1 to 8.",
    )
    busy = controller is not None and any(d.controller == controller.id for d in build.drives)
    shared = controller is not None and [h.controller for h in build.handsets].count(controller.id) > 1
    yield says(
        "controller",
        "has a controller of its own",
        controller is not None and bool(controller.program) and not busy and not shared,
        "Its controller tells a drive: a handset has its own, with no wire to the board."
        if busy
        else "Two handsets cannot share a controller."
        if shared
        else "Its profile names no language for a program: choose one from the shelf."
        if controller is not None
        else "Add a controller at Build and name it here.",
        "controller",
    )
    refused = _wrong_buttons(build, handset, machines)
    yield says(
        "buttons",
        "its buttons press what is there",
        bool(handset.buttons) and not refused,
        refused or "Give it a button.",
        "buttons",
    )
    if controller is not None and handset.buttons:
        yield says(
            "pins",
            "every button has a pin",
            all(u.pin is not None for u in own.pins),
            "Its controller has too few pins for its buttons and its lamp.",
            "controller",
        )
    yield says(
        "module",
        "its radio module runs on its logic's volts",
        _feeds(controller, build.radio.v_min, build.radio.v_max),
        "Take a controller of the module's volts, or feed the module by itself.",
        "controller",
        "Not known yet: the module's supply, and the controller's logic volts.",
    )
    yield says(
        "battery",
        "its battery suits its controller",
        _battery_suits(handset, controller),
        "Full and flat, the battery must lie within what V in takes, or within a tenth of the logic's volts.",
        "v_full",
        "Not known yet: the battery full and flat, and what V in of its controller takes.",
    )


def _battery_suits(handset: Handset, controller: Controller | None) -> bool | None:
    full, flat = handset.v_full.value, handset.v_flat.value
    if controller is None or full is None or flat is None:
        return None
    if flat > full:
        return False
    return suits(controller, full, flat)


def _wrong_buttons(build: Build, handset: Handset, machines: Mapping[str, Machine]) -> str:
    """What is wrong with the first button that presses nothing; empty if all are right."""
    seen = set[tuple[str, str]]()
    drives = {d.id: d for d in build.drives}
    for place, button in enumerate(handset.buttons, 1):
        name, drive = button.name or f"Button {place}", drives.get(button.drive)
        if drive is None:
            return f"{name}: choose its drive."
        what = drive.name or drive.id
        machine = machines.get(drive.id)
        if drive.controller != build.radio.board:
            return f"{name}: {what} is not told by the controller that hears the handsets."
        if machine is None:
            return f"{name}: {what} has no panel that runs."
        if button.presses not in machine.inputs:
            return f"{name}: the panel of {what} has no {button.presses.replace('_', ' ')}."
        if (button.drive, button.presses) in seen:
            return f"{name}: another button of this handset presses the same."
        seen.add((button.drive, button.presses))
    return ""


def remote_of(build: Build, numbers: Mapping[str, int], tick_ms: int) -> Remote | None:
    """What the program of the controller that hears holds of the handsets; None where it hears none.

    ``numbers`` are the drives' by id. ValueError with a sentence where something is missing.
    """
    radio = build.radio
    told = sorted(((int(h.number.value), h) for h in build.handsets if h.number.value), key=lambda x: x[0])
    if len(told) < len(build.handsets) or len({n for n, _ in told}) < len(told):
        raise ValueError("Every handset needs a number of its own.")
    if radio.address.value is None:
        raise ValueError("Choose the paired address of the handsets.")
    period, tries = radio.period.value, radio.tries.value
    if period is None or tries is None:
        raise ValueError("Not known yet: how often a handset sends, and how many lines may be missed.")
    return Remote(
        address=int(radio.address.value),
        lost_ms=max(round((tries + 0.5) * period * 1000 / tick_ms), 1),
        buttons={
            number: tuple(
                RemoteButton(bit, numbers[b.drive], b.presses) for bit, b in enumerate(h.buttons) if b.drive in numbers
            )
            for number, h in told
        },
    )
