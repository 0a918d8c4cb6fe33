"""What the small parts of a board are like in the hand: where their pins stand, how large they are, how tall.

Sizes are those of the usual bodies (common practice, from memory, no source): a part at hand may differ, and the plan
says so.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

from ..algebra.quantities import QuantityError, parse
from .netlist import Netlist, WiredPart

PITCH_MM = 2.54
"""Distance of the holes of perforated board: a tenth of an inch."""
HOLE_MM = 1.0
"""Width of its holes (common practice, no source)."""
SHIFTS = 254
"""Places between two holes that are tried for a stiff part: one each hundredth of a millimetre."""
Spot = tuple[float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Body:
    """A part as it stands on the board, its first pin at the origin (mm). ``bends``: its leads reach the next holes;
    else its pins stand where they stand. ``lead_mm`` is how thick they are across."""

    pins: Mapping[str, Spot]
    box: tuple[float, float, float, float]
    height_mm: float
    lead_mm: float = 0.6
    bends: bool = True
    sized: bool = True
    """Whether what is given makes its size; else it is drawn as a usual one."""
    note: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class OnGrid:
    """A body brought onto the holes: pins and box in holes (column, row), and by how much its pins miss them (mm)."""

    pins: Mapping[str, tuple[int, int]]
    box: tuple[int, int, int, int]
    off_mm: float
    drilled: tuple[str, ...]
    """Pins that the holes do not let through as they are: the hole is widened."""

    def turned(self) -> OnGrid:
        """The same a quarter round."""
        (a, b, c, d) = self.box
        return OnGrid(
            pins={k: (-y, x) for k, (x, y) in self.pins.items()},
            box=(-d, a, -b, c),
            off_mm=self.off_mm,
            drilled=self.drilled,
        )


_LYING = {
    "resistor": (10.16, 6.5, 2.5, 2.6, 0.6),
    "diode": (10.16, 5.2, 2.7, 2.8, 0.8),
    "zener": (7.62, 4.0, 1.9, 2.0, 0.5),
}
"""Parts with a lead at either end, lying: span of the leads, length, width and height of the body, lead (mm)."""
_CANS = (
    (2.5, 6.3, 12.0, 2.54),
    (6.0, 8.0, 13.0, 3.5),
    (14.0, 10.0, 21.0, 5.0),
    (36.0, 12.5, 26.0, 5.0),
    (80.0, 16.0, 32.0, 7.5),
)
"""Electrolytics: up to so many millicoulombs (µF × V / 1,000), diameter, height and pitch of their leads (mm)."""
_LARGEST_CAN = (18.0, 42.0, 7.5)
ELECTROLYTIC_F = 2e-6
ROW_MM = 7.62
"""Between the two rows of a chip's legs."""


def body_of(part: WiredPart) -> Body | None:
    """What a part is like; None for what does not stand on the board in holes (a heat sink)."""
    if not part.pins:
        return None
    made = _MADE.get(part.kind)
    return made(part) if made is not None else _row(part.pins, height=12.0)


def on_grid(body: Body) -> OnGrid:
    """A body brought onto the holes. A stiff one is shifted until its worst pin misses its hole by the least."""
    dx, dy = (0.0, 0.0) if body.bends else (_shift([at[k] for at in body.pins.values()]) for k in (0, 1))
    missed = _misses(body, (dx, dy))
    pins = {k: (_hole(x + dx), _hole(y + dy)) for k, (x, y) in body.pins.items()}
    x0, y0, x1, y1 = body.box
    box = (_down(x0 + dx), _down(y0 + dy), _up(x1 + dx), _up(y1 + dy))
    columns, rows = [c for c, _ in pins.values()], [r for _, r in pins.values()]
    whole = (min(box[0], *columns), min(box[1], *rows), max(box[2], *columns), max(box[3], *rows))
    room = (HOLE_MM - body.lead_mm) / 2
    tight = tuple(k for k, off in missed.items() if body.lead_mm > HOLE_MM or (not body.bends and off > room))
    return OnGrid(pins=pins, box=whole, off_mm=0.0 if body.bends else max(missed.values()), drilled=tight)


def _shift(along: Sequence[float]) -> float:
    """By how much some places are moved so that the one farthest from a hole misses it by the least (mm)."""
    steps = [PITCH_MM * k / SHIFTS for k in range(SHIFTS)]
    return min(steps, key=lambda s: round(max(abs(x + s - PITCH_MM * _hole(x + s)) for x in along), 6))


def _misses(body: Body, shift: Spot) -> dict[str, float]:
    """By how much each pin misses the nearest hole (mm)."""
    found = {}
    for pin, (x, y) in body.pins.items():
        x, y = x + shift[0], y + shift[1]
        found[pin] = ((x - PITCH_MM * _hole(x)) ** 2 + (y - PITCH_MM * _hole(y)) ** 2) ** 0.5
    return found


def _hole(mm: float) -> int:
    return round(mm / PITCH_MM)


def _down(mm: float) -> int:
    """The first hole that a body covers; one that it only touches stays free."""
    return -int((-mm - 0.6) // PITCH_MM) if mm < 0 else int((mm + PITCH_MM - 0.6) // PITCH_MM)


def _up(mm: float) -> int:
    return int((mm + 0.6) // PITCH_MM)


def _lying(part: WiredPart) -> Body:
    span, length, width, height, lead = _LYING[part.kind]
    note = ""
    if part.kind == "resistor" and len(part.pins) > 2:
        return _shunt(part)
    if part.name == "Flyback diode":
        span, length, width, height, lead = 15.24, 9.5, 5.3, 5.5, 1.3
        note = "its leads are thicker than the holes"
    inset = (span - length) / 2
    one, other = part.pins[:2]
    return Body(
        pins={one: (0.0, 0.0), other: (span, 0.0)},
        box=(inset, -width / 2, inset + length, width / 2),
        height_mm=height,
        lead_mm=lead,
        note=note,
    )


def _shunt(part: WiredPart) -> Body:
    """A shunt: its sense wires start right at its two pads, in holes of their own."""
    one, other, *sense = part.pins
    pins = {one: (0.0, 0.0), other: (15.24, 0.0)}
    pins |= dict(zip(sense, ((0.0, PITCH_MM), (15.24, PITCH_MM)), strict=False))
    return Body(pins=pins, box=(0.0, -2.5, 15.24, 2.5), height_mm=6.0, lead_mm=0.9)


def _capacitor(part: WiredPart) -> Body:
    one, other = part.pins[:2]
    farad, volts = _read(part.value, "capacitance"), _read(part.value, "voltage")
    if farad is None or farad < ELECTROLYTIC_F:
        flat = (0.0, -1.3, 5.08, 1.3)
        return Body(pins={one: (0.0, 0.0), other: (5.08, 0.0)}, box=flat, height_mm=5.0, sized=farad is not None)
    charge = farad * (volts if volts is not None else 25.0) * 1e3
    width, height, pitch = next((can[1:] for can in _CANS if charge <= can[0]), _LARGEST_CAN)
    middle, half = pitch / 2, width / 2
    return Body(
        pins={one: (0.0, 0.0), other: (max(pitch, PITCH_MM), 0.0)},
        box=(middle - half, -half, middle + half, half),
        height_mm=height,
        lead_mm=0.8 if width > 12 else 0.6,
        sized=volts is not None,
        note="" if volts is not None else "its volts are not given: taken as 25 V for its size",
    )


def _read(value: str, kind: str) -> float | None:
    for word in re.split(r",\s*", value):
        try:
            return parse(word, kind).value
        except QuantityError:
            continue
    return None


def _transistor(part: WiredPart) -> Body:
    small = "B" in part.pins and not part.value
    if small:
        return _row(part.pins, height=8.0, deep=4.0, lead=0.5, note="its legs are spread; their order is on its sheet")
    return _tall(part)


def _tall(part: WiredPart) -> Body:
    """A body with a tab, upright."""
    return _row(part.pins, height=20.0, deep=4.8, lead=0.9, stiff=True)


def _lamp(part: WiredPart) -> Body:
    return _row(part.pins, height=9.0, deep=5.0, note="the short lead is the lower side")


def _chip(part: WiredPart) -> Body:
    """A chip in its socket: legs down one side and up the other, in the order of its sheet where that is told."""
    count = max(8, len(part.pins) + len(part.pins) % 2)
    side = count // 2
    places = [(PITCH_MM * k, 0.0) for k in range(side)] + [(PITCH_MM * (side - 1 - k), ROW_MM) for k in range(side)]
    # A dash is a leg that nothing is joined to.
    pins = {pin: at for pin, at in zip(part.pins, places, strict=False) if not pin.startswith("–")}
    return Body(
        pins=pins,
        box=(0.0, 0.0, PITCH_MM * (side - 1), ROW_MM),
        height_mm=9.0,
        lead_mm=0.5,
        bends=False,
        note="" if part.in_order else "the order of its legs is not told: they stand as in this list",
    )


def _relay(part: WiredPart) -> Body:
    """A relay in its cube: two coil pins beside the common contact, the others across. With two poles a larger one."""
    coils = [p for p in part.pins if p.startswith("coil")]
    poles = (len(part.pins) - len(coils)) // 3
    if poles == 1:
        pins = {"COM 1": (0.0, 0.0), "NO 1": (14.2, -6.0), "NC 1": (14.2, 6.0)}
        pins |= dict(zip(coils, ((2.0, -6.0), (2.0, 6.0)), strict=False))
        return Body(pins=pins, box=(-2.0, -7.8, 17.0, 7.8), height_mm=15.5, lead_mm=0.8, bends=False)
    pins = {}
    for k, coil in enumerate(coils):
        pins[coil] = (0.0, 7.5 * k)
    for k in range(poles):
        pins |= {f"COM {k + 1}": (15.0, 7.5 * k), f"NC {k + 1}": (20.0, 7.5 * k), f"NO {k + 1}": (25.0, 7.5 * k)}
    return Body(pins=pins, box=(-2.0, -3.0, 27.0, 10.5), height_mm=16.0, lead_mm=0.9, bends=False)


def _button(part: WiredPart) -> Body:
    one, other = part.pins[:2]
    return Body(
        pins={one: (0.0, 0.0), other: (6.5, 0.0)}, box=(0.0, -3.0, 6.5, 3.0), height_mm=7.0, lead_mm=0.7,
        note="its legs spring into the holes; a switch in the front plate has leads instead",
    )  # fmt: skip


def _row(
    pins: Sequence[str],
    *,
    height: float,
    deep: float = 2.5,
    lead: float = 0.6,
    stiff: bool = False,
    pitch: float = PITCH_MM,
    note: str = "",
) -> Body:
    """Pins in a row."""
    width = pitch * (len(pins) - 1)
    return Body(
        pins={p: (pitch * k, 0.0) for k, p in enumerate(pins)},
        box=(-pitch, -deep / 2, width + pitch, deep / 2),
        height_mm=height,
        lead_mm=lead,
        bends=not stiff,
        note=note,
    )


SCREW_MM = 5.0
"""Between two poles of a screw terminal: not quite two holes, and that adds up from pole to pole."""


def screws(pins: Sequence[str]) -> Body:
    """A block of screw terminals."""
    width = SCREW_MM * (len(pins) - 1)
    return Body(
        pins={p: (SCREW_MM * k, 0.0) for k, p in enumerate(pins)},
        box=(-SCREW_MM / 2, -4.0, width + SCREW_MM / 2, 4.0),
        height_mm=10.0,
        lead_mm=0.9,
        bends=False,
    )


def header(pins: Sequence[str]) -> Body:
    """A row of pins for a plug."""
    return _row(pins, height=9.0, stiff=True)


_MADE: Mapping[str, Callable[[WiredPart], Body]] = {
    "resistor": _lying,
    "diode": _lying,
    "zener": _lying,
    "capacitor": _capacitor,
    "transistor": _transistor,
    "gate driver": _chip,
    "device": _chip,
    "relay": _relay,
    "contact": _button,
    "regulator": _tall,
    "lamp": _lamp,
}


POSTS_MM, BOARD_MM, SOLDER_MM = 5.0, 1.6, 2.0
"""The least post that keeps the joints off what lies below, the board, and the joints (common practice, no source)."""
LOOP_MM, SCREW_TALL_MM = 6.0, 10.0
"""Heights of a loop of wire and of a screw terminal (common practice, from memory)."""
COUNTED = ("transistor", "resistor", "zener")
"""Kinds of which several stand side by side at the same joints."""


def standing(net: Netlist, board: str) -> list[WiredPart]:
    """The small parts of a board, each of several by itself, and the large capacitor at its terminals."""
    own = f"capacitor {board.partition(' ')[2]}" if board.startswith("unit ") else ""
    found: list[WiredPart] = []
    for p in net.parts.values():
        if p.id != own and not (p.on and net.under(p.id) == board):
            continue
        if p.each == 1 or p.kind not in COUNTED:
            found.append(p)
            continue
        found += [replace(p, id=f"{p.id} {k}", name=f"{p.name} {k}") for k in range(1, p.each + 1)]
    return found


def unsized(net: Netlist, board: str) -> str:
    """The first part of a board whose size does not follow from what is given; empty where there is none."""
    bodies = ((p.name, body_of(p)) for p in standing(net, board))
    return next((name for name, body in bodies if body is not None and not body.sized), "")


def tallest(net: Netlist, board: str) -> tuple[str, float]:
    """The tallest part of a board, and the height that it takes with board, joints and posts (mm)."""
    bodies = [(p.name, body.height_mm) for p in standing(net, board) if (body := body_of(p)) is not None]
    name, height = max(bodies, key=lambda x: x[1], default=("", SCREW_TALL_MM))
    return name, POSTS_MM + SOLDER_MM + BOARD_MM + height
