"""Which gear, which motor: every motor with every ratio held against speed, torque and heat, all at once."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..algebra.nodes import Node
from ..algebra.quantities import QuantityError, parse
from ..cases import frame
from ..cases.motor import Constants, constants_of
from ..cases.operating import Context
from ..laws import load as rules
from ..laws import motor as motor_rules
from ..model.motor import MotorPart

Array = np.ndarray
HEADROOM = 0.8
"""Starting may use this share of the stall current on a flat supply."""
MOST_SHARE = 4.0
"""An RMS current of more than twice the working one comes from starts, which are searched by themselves."""


@dataclass(frozen=True, slots=True)
class Motors:
    """Constants of n motors as columns, SI: ohms at 25 °C, V·s/rad, A, N·m·s/rad, V, kg·m², A borne for good."""

    resistance: Array
    constant: Array
    friction_a: Array
    viscous: Array
    drop_v: Array
    inertia: Array
    allowed_a: Array


@dataclass(frozen=True, slots=True)
class Wanted:
    """What the load asks at its own shaft, SI, and what feeds it."""

    torque: float
    hardest: float
    inertia: float
    speed: float
    time_to_speed: float
    efficiency: float
    flat_v: float
    duty_share: float


@dataclass(frozen=True, slots=True)
class GearsFound:
    """Every motor (rows) with every ratio (columns): uses of speed, torque and heat, current and top speed."""

    speed_use: Array
    torque_use: Array
    heat_use: Array
    working_a: Array
    starting_a: Array
    top_speed: Array

    @property
    def worst_use(self) -> Array:
        """The largest of the three uses; above one it does not do."""
        return np.asarray(np.fmax(np.fmax(self.speed_use, self.torque_use), self.heat_use))


def search(motors: Motors, ratios: Sequence[float], wanted: Wanted) -> GearsFound:
    """Speed, torque and heat of every pair; shapes (motors, ratios)."""
    n = np.asarray(ratios, dtype=float)[None, :]
    r, k, i_c, b, drop, j, allowed = (
        getattr(motors, name)[:, None]
        for name in ("resistance", "constant", "friction_a", "viscous", "drop_v", "inertia", "allowed_a")
    )
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        speed = wanted.speed * n
        friction = motor_rules.friction_current.bare(i_c, b, k, speed)
        working = motor_rules.current_for.bare(
            rules.shaft_torque.bare(wanted.torque, n, wanted.efficiency), k, friction
        )
        alpha = rules.acceleration.bare(wanted.speed, wanted.time_to_speed)
        pull = rules.starting_torque.bare(
            wanted.torque, rules.acceleration_torque.bare(wanted.inertia, alpha), n, wanted.efficiency, j, alpha
        )
        hardest = rules.shaft_torque.bare(wanted.hardest, n, wanted.efficiency)
        starting = motor_rules.current_for.bare(np.maximum(pull, hardest), k, friction)
        stall = motor_rules.stall_current.bare(wanted.flat_v, drop, r)
        top = motor_rules.speed_at.bare(wanted.flat_v, drop, working, r, k)
        speed_use = np.divide(speed, top, out=np.full_like(top, np.inf), where=top > 0)
        return GearsFound(
            speed_use=speed_use,
            torque_use=starting / (HEADROOM * stall),
            heat_use=working * np.sqrt(wanted.duty_share) / allowed,
            working_a=working,
            starting_a=starting,
            top_speed=top,
        )


def best(found: GearsFound, count: int) -> list[tuple[int, int]]:
    """Row and column of the best pairs: those that do, by the least current; then the least far over."""
    worst = found.worst_use
    does = worst <= 1.0
    key = np.where(
        does, found.working_a / np.nanmax(np.where(np.isfinite(found.working_a), found.working_a, 0.0)), 10.0 + worst
    )
    key = np.where(np.isfinite(key), key, 1e9)
    flat = np.argpartition(key, min(count, key.size) - 1, axis=None)[:count]
    flat = flat[np.argsort(key.ravel()[flat], kind="stable")]
    return [(int(i // key.shape[1]), int(i % key.shape[1])) for i in flat]


@dataclass(frozen=True, slots=True)
class GearChoice:
    """The present motor and the shelf's with every ratio to be had. ``own`` is None where its constants are not
    known."""

    ratio: float
    ratios: list[float]
    own: GearsFound | None
    motors: list[MotorPart]
    shelf: GearsFound | None

    def best_of_each(self, count: int) -> list[tuple[int, int]]:
        """Row of a shelf motor and column of its best ratio, best motors first."""
        if self.shelf is None:
            return []
        first: dict[int, int] = {}
        for i, j in best(self.shelf, self.shelf.worst_use.size):
            first.setdefault(i, j)
        return list(first.items())[:count]


def choices(at: Context, allowed: Node, shelf: Sequence[MotorPart]) -> GearChoice | None:
    """Which gear and which motor would do; None where the load, the present ratio or the ratios are not known.

    ``allowed``: the current that the present winding bears for good.
    """
    wanted, ratio = _wanted(at), at.drive.load.gear_ratio.value
    ratios = read_ratios(at.drive.load.ratios)
    if wanted is None or ratio is None or not ratios:
        return None
    if not any(math.isclose(ratio, n, rel_tol=1e-6) for n in ratios):
        ratios = sorted([*ratios, ratio])
    own = _row(at.motor, allowed)
    rows = [(part, _row(known, _bears(at, part, known))) for part in shelf for known in (constants_of(part),)]
    known_rows = [(part, row) for part, row in rows if row is not None]
    return GearChoice(
        ratio=ratio,
        ratios=ratios,
        own=search(_columns([own]), ratios, wanted) if own is not None else None,
        motors=[part for part, _ in known_rows],
        shelf=search(_columns([row for _, row in known_rows]), ratios, wanted) if known_rows else None,
    )


def _columns(rows: Sequence[Sequence[float]]) -> Motors:
    return Motors(*np.asarray(rows).T)


def _wanted(at: Context) -> Wanted | None:
    r = at.load
    working, heats = r.working_current.value, r.heat_current.value
    values = (
        r.torque.value,
        r.hardest.value,
        r.inertia.value,
        r.speed.value,
        r.ramp_time.value,
        at.drive.load.gear_efficiency.value,
        at.volts.flat.value,
    )
    known = [float(v) for v in values if v is not None]
    if len(known) < len(values):
        return None
    share = min((heats / working) ** 2, MOST_SHARE) if working and heats else 1.0
    return Wanted(*(*known, share))


def _row(known: Constants, allowed: Node) -> list[float] | None:
    values = [
        known.resistance_25.value,
        known.motor_constant.value,
        known.friction_a.value,
        known.viscous.value,
        known.brush_drop.value,
        # A motor of unknown rotor is searched as if it weighed nothing: its start is told too easy, never left out.
        known.rotor_inertia.value or 0.0,
        allowed.value,
    ]
    row = [float(v) for v in values if v is not None]
    return row if len(row) == len(values) else None


def _bears(at: Context, part: MotorPart, known: Constants) -> Node:
    """What a winding bears for good in the hottest air round the build."""
    spec = part.motor
    return motor_rules.winding_allowed(
        spec.winding_limit.leaf,
        at.build.ambient.hot.leaf,
        known.resistance_25,
        frame.to_housing(spec),
        frame.to_air(spec),
    )


def read_ratios(text: str) -> list[float]:
    """The ratios of a list such as ``5, 10, 19.2``; what cannot be read is left out. At most 60."""
    found = []
    for word in text.replace(";", ",").split(","):
        try:
            value = parse(word, "ratio").value
        except QuantityError:
            continue
        if value >= 0.01:
            found.append(value)
    return sorted(set(found))[:60]
