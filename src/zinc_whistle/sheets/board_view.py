"""What the screen shows of a board of one's own: places from above, wire from below, and the lists for the bench."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..core.algebra.preferred import at_least
from ..core.algebra.quantities import phrase
from ..core.assess import Assessment, DriveAssessment
from ..core.cases.netlist import Netlist
from ..core.design.board import BoardPlan, JointOnBoard, OnBoard, board_plan, hole_name
from ..core.model.perf_board import PerfBoard
from ..core.model.stage import CIRCUITS, ONE_WAY, StageSpec

LAMP_V, LAMP_A = 2.0, 2e-3
"""A red lamp that is seen on the bench (common practice, no source)."""
FORCED_OHM = 1e3
"""Through which an input is forced by hand: little flows if the controller pulls the other way (common practice)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class HoleView:
    """A hole: its name as seen from the parts, its column and row from 0, what stands in it, and the joint."""

    pin: str
    hole: str
    column: int
    row: int
    joint: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PlacedView:
    """A part on the board; ``box`` is its left, top, right and bottom hole."""

    name: str
    value: str
    kind: str
    box: list[int]
    pins: list[HoleView]
    height: str
    look: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TrackView:
    """Bare wire along the underside, as the holes at its ends and turns (column, row)."""

    joint: str
    corners: list[list[int]]


@dataclass(frozen=True, slots=True, kw_only=True)
class WireLinkView:
    """Insulated wire on the side of the parts, from hole to hole."""

    joint: str
    one: list[int]
    other: list[int]
    said: str


@dataclass(frozen=True, slots=True, kw_only=True)
class JointView:
    """A joint for the iron: from hole to hole along its wire, and how thick that is."""

    name: str
    ways: str
    current: str
    wire: str


@dataclass(frozen=True, slots=True, kw_only=True)
class BoardView:
    """The whole plan."""

    title: str
    columns: int
    rows: int
    letters: list[str]
    """What the columns are called."""
    size: str
    height: str
    fits: str
    parts: list[PlacedView]
    tracks: list[TrackView]
    links: list[WireLinkView]
    joints: list[JointView]
    mounting: list[list[int]]
    notes: list[str]
    worth: list[str]


def board_view(all: Assessment, done: DriveAssessment, board: str) -> BoardView:
    """The plan of one board of a build. BoardError where there is none."""
    unit = next((u for u in all.build.units if board == f"unit {u.id}" and u.made_of == "stage"), None)
    given = unit.stage.board if unit is not None else None
    net = done.wiring.netlist
    plan = board_plan(net, board, given)
    joint_of = {hole: j.name for j in plan.joints for hole in j.holes}
    return BoardView(
        title=plan.title,
        columns=plan.columns,
        rows=plan.rows,
        letters=[hole_name((c, 0)).rstrip("1") for c in range(plan.columns)],
        size=f"{plan.width_mm:.0f} × {plan.length_mm:.0f} mm",
        height=f"{plan.height_mm:.0f} mm",
        fits=_fits(plan, given),
        parts=[_placed(p, joint_of) for p in sorted(plan.parts, key=lambda p: (p.height_mm, p.name))],
        tracks=[TrackView(joint=t.joint, corners=[list(h) for h in t.corners]) for t in plan.tracks],
        links=[
            WireLinkView(
                joint=x.joint,
                one=list(x.one),
                other=list(x.other),
                said=f"{hole_name(x.one)} to {hole_name(x.other)}",
            )
            for x in plan.links
        ],
        joints=[_joint(plan, j) for j in plan.joints],
        mounting=[list(h) for h in plan.mounting],
        notes=list(_notes(plan, unit.stage if unit is not None else None)),
        worth=list(_worth(net, done, board)),
    )


def _fits(plan: BoardPlan, given: PerfBoard | None) -> str:
    if given is None or (given.width.value is None and given.length.value is None and given.room.value is None):
        return ""
    if plan.fits:
        return "It fits the board and the height that are given."
    takes = f"{plan.width_mm:.0f} × {plan.length_mm:.0f} mm, {plan.height_mm:.0f} mm high"
    return f"It does not fit what is given: it takes {takes}."


def _placed(p: OnBoard, joint_of: dict[tuple[int, int], str]) -> PlacedView:
    pins = [
        HoleView(pin=pin, hole=hole_name(h), column=h[0], row=h[1], joint=joint_of.get(h, ""))
        for pin, h in p.pins.items()
    ]
    look = [p.note] if p.note else []
    if p.drilled:
        why = (
            f"its pins stand up to {p.off_mm:.1f} mm beside the holes" if p.off_mm >= SEEN_MM else "its leads are thick"
        )
        look.append(f"widen the holes of {', '.join(p.drilled)}: {why}")
    return PlacedView(
        name=p.name,
        value=p.value,
        kind=p.kind,
        box=list(p.box),
        pins=pins,
        height=f"{p.height_mm:.0f} mm",
        look="; ".join(look),
    )


SEEN_MM = 0.1
BOTH_WAYS = tuple(c for c in CIRCUITS if c not in (*ONE_WAY, "half bridge"))
"""Circuits that turn the motor both ways."""


def _joint(plan: BoardPlan, j: JointOnBoard) -> JointView:
    """A joint in words: its tracks from turn to turn, then its links."""
    ways = [" – ".join(hole_name(h) for h in t.corners) for t in plan.tracks if t.joint == j.name]
    ways += [f"link {hole_name(x.one)} to {hole_name(x.other)}" for x in plan.links if x.joint == j.name]
    return JointView(
        name=j.name,
        ways="; ".join(ways) or ", ".join(hole_name(h) for h in j.holes),
        current=phrase(j.current_a, "current") if j.current_a else "",
        wire=f"{j.wire_mm:.1f} mm",
    )


def _notes(plan: BoardPlan, stage: StageSpec | None) -> Iterator[str]:
    yield "Sizes are those of the usual bodies: hold the real part against its place before the first joint."
    if stage is None or stage.board.holes == "one side":
        yield "Copper on one side only: solder the wire down at each hole that it passes; a pulled pad comes off."
    else:
        yield "Plated through: a joint also reaches the side of the parts; keep metal bodies off the pads."
    if plan.loop_mm is not None and stage is not None:
        yield _loop(plan.loop_mm, stage)
    if plan.beside:
        yield f"Not on the board: {', '.join(plan.beside)}."
    if plan.mounting:
        yield "Mounting holes of 3 mm at the corners, for posts; no glued feet: they let go when it gets warm."
    yield "Label both sides: the underside runs the other way round, as it is drawn."
    yield "From the breadboard: take one joint over after the other, and tick it in the list before the next."


def _loop(mm: float, stage: StageSpec) -> str:
    """What the plan's switching loop is, beside what the stage is reckoned with."""
    henry = mm * HENRY_PER_MM
    said = f"Once round capacitor and switches: {mm:.0f} mm of wire and parts, about {phrase(henry, 'inductance')}"
    given = stage.loop.value
    if given is None or henry <= given:
        return f"{said}."
    reckoned = f"The build reckons with {phrase(given, 'inductance')} (Power stage, Board)"
    return f"{said}. {reckoned}: give it this, or lay a ceramic capacitor straight across the switches."


HENRY_PER_MM = 1e-9
"""Of a loop of wire, each millimetre round (common practice, no source)."""


def _worth(net: Netlist, done: DriveAssessment, board: str) -> Iterator[str]:
    """Lamps, buttons and a link that shorten every later search."""
    if not board.startswith("unit ") or done.scene.driven is None:
        return
    at = done.scene.driven.at
    if f"unit {at.unit.id}" != board:
        return
    for name, volts in (("supply", at.volts.full.value), ("gate supply", at.unit.stage.gate_v.value)):
        if volts is not None and volts > LAMP_V:
            ohms = at_least((volts - LAMP_V) / LAMP_A, "E12")
            before = f"{phrase(ohms, 'resistance')} before it (2 mA at {phrase(volts, 'voltage')})"
            yield f"A lamp on the {name}: red, with {before}."
    outs = [p for p in net.parts[board].pins if p.startswith("OUT") or p.endswith("COM")]
    if len(outs) > 1 and at.unit.stage.circuit in BOTH_WAYS:
        ends = f"{outs[0]} and {outs[1]}"
        yield f"Two lamps the opposite way round between {ends}, with the same resistor: they show the direction."
    inputs = sorted(
        {
            (w.end if w.end.block == board else w.start).pin
            for w in net.leads
            if w.role == "signal" and board in (w.start.block, w.end.block)
        }
        - {"SENSE"}
    )
    if inputs:
        logic = done.scene.controller.logic_v.value
        flows = f", {phrase(logic / FORCED_OHM, 'current')} at most" if logic else ""
        way = f"from logic + through {phrase(FORCED_OHM, 'resistance')}{flows}"
        yield f"A push button {way} to {', '.join(inputs)} each: an input is forced by hand."
    yield "A link in one motor lead, of two screws and a wire: there the motor's current is measured."
