"""An outer loop on a sensor of something else, tried on the model of this drive."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from ...algebra.quantities import phrase
from ...cases.circuit import Circuit
from ...cases.encoder import EncoderResult
from ...cases.operating import Context
from ...laws.loop_margins import lagging
from ...laws.tuning import Lagging, simc
from ...model.load import Rack, Wheels, Winch
from ...simulation.moves.outer import (
    Balancing,
    Following,
    OuterFound,
    OuterLaw,
    Sensed,
    run_outer,
    suggested_balance,
)
from ...simulation.moves.shaft import Shaft
from .moves import shaft_of

LONGEST_S = 20.0
LOWEST_M, HIGHEST_M = 0.01, 100.0
MOST = 1e9
"""No gain, unit or target is larger."""
MOST_ROWS = 40
RPM = 30 / math.pi


@dataclass(frozen=True, slots=True, kw_only=True)
class OuterAsked:
    """What hangs on the drive (SI; ``unit_per_rpm`` of what follows, for a rpm of the output), the time looked at, the
    sensor's table and step, and gains of one's own (None: suggested). ``compensated``: the breakaway duty is added."""

    kind: Literal["balancing", "following"]
    seconds: float
    height_m: float = 0.3
    start_rad: float = 0.0
    unit_per_rpm: float = 1.0
    lag_s: float = 0.0
    delay_s: float = 0.0
    target: float = 1.0
    table: str = ""
    step: float = 0.0
    gain: float | None = None
    change: float | None = None
    adds: float | None = None
    compensated: bool = True


@dataclass(frozen=True, slots=True)
class OuterTried:
    """What came of it, the law with its gains, and sentences."""

    found: OuterFound
    law: OuterLaw
    says: tuple[str, ...]


def outer_of(at: Context, solved: Circuit, encoder: EncoderResult, asked: OuterAsked) -> OuterTried:
    """ValueError with what is missing or cannot be."""
    if not 0 < asked.seconds <= LONGEST_S:
        raise ValueError(f"Look at between nothing and {LONGEST_S:g} s.")
    numbers = (asked.unit_per_rpm, asked.lag_s, asked.target, asked.step, asked.gain, asked.change, asked.adds)
    if any(x is not None and abs(x) > MOST for x in numbers):
        raise ValueError(f"One of the numbers is larger than {MOST:g}: take another unit.")
    shaft = shaft_of(at, solved, encoder)
    period, ratio = at.drive.loop.period.value, at.drive.load.gear_ratio.value
    if period is None or ratio is None:
        raise ValueError("Not known yet: the control period.")
    one_way = at.drive.signals.reversal == "one way"
    lag = lagging(shaft.motor, period)
    way = _way(at)
    what: Balancing | Following
    if asked.kind == "balancing":
        if way is None:
            raise ValueError("What balances stands on wheels: give the wheels at Load.")
        if one_way:
            raise ValueError("It runs one way: what balances must run back too.")
        if not LOWEST_M <= asked.height_m <= HIGHEST_M:
            raise ValueError("Give the height of the centre of gravity above the axle: 1 cm to 100 m.")
        what = Balancing(asked.height_m, way / ratio, asked.start_rad)
        law = suggested_balance(shaft, what, period, lag.lag_s or period)
    else:
        if asked.unit_per_rpm == 0 or asked.lag_s < 0 or not 0 <= asked.delay_s <= asked.seconds:
            raise ValueError("Give what a rpm of the output makes of it, its lag and how late it is told.")
        what = Following(asked.unit_per_rpm * RPM / ratio, asked.lag_s, asked.delay_s, asked.target)
        law = _following(what, shaft, lag, period)
    own = {n: v for n in ("gain", "change", "adds") if (v := getattr(asked, n)) is not None}
    breakaway = shaft.stiction_nm * shaft.motor.resistance_ohm / (shaft.motor.constant * shaft.motor.bus_v)
    offset = min(breakaway, 0.5) if asked.compensated else 0.0
    law = replace(law, **own, offset=offset, least=0.0 if one_way else -1.0)
    found = run_outer(shaft, what, law, asked.seconds, _sensed(asked))
    return OuterTried(found, law, tuple(_says(found, what, law, breakaway)))


def _way(at: Context) -> float | None:
    """Metres of way for a radian of the output."""
    for m in at.drive.load.mechanisms:
        if isinstance(m, Wheels):
            return None if m.diameter.value is None else m.diameter.value / 2
        if isinstance(m, Winch | Rack):
            return m.radius.value
    return None


def _following(what: Following, shaft: Shaft, lag: Lagging, period: float) -> OuterLaw:
    """Skogestad's PI for the drive's lag and what follows it, one after the other: the larger is the lag, half of the
    smaller counts as dead time (his half rule)."""
    top = shaft.motor.bus_v / shaft.motor.constant * what.gain
    drive = lag.lag_s or 0.0
    dead = what.delay_s + lag.dead_s + period / 2
    if what.lag_s == 0.0:
        gains = simc(Lagging(top, None, dead + drive))
    else:
        slow, quick = max(what.lag_s, drive), min(what.lag_s, drive)
        gains = simc(Lagging(top, slow + quick / 2, dead + quick / 2))
    adds = gains.gain / gains.integral_s if gains.integral_s else 0.0
    return OuterLaw(period, gain=gains.gain, adds=adds)


def _sensed(asked: OuterAsked) -> Sensed:
    """The sensor's table out of its text: truth:told, rising; of a tilt in degrees. ValueError with a sentence."""
    rows = [r for r in asked.table.replace(";", ",").split(",") if r.strip()]
    if not rows:
        return Sensed(step=asked.step)
    try:
        pairs = [tuple(float(x) for x in r.split(":")) for r in rows]
    except ValueError:
        pairs = []
    fits = 2 <= len(pairs) <= MOST_ROWS and all(len(p) == 2 for p in pairs)
    if not fits or not all(abs(x) <= MOST for p in pairs for x in p):
        raise ValueError("Write the sensor's table as truth:told, two rows or more: 0:0, 10:9.5, 20:21.")
    if any(b[0] <= a[0] for a, b in itertools.pairwise(pairs)):
        raise ValueError("The truths of the sensor's table must rise from row to row.")
    scale = math.pi / 180 if asked.kind == "balancing" else 1.0
    return Sensed(tuple(scale * p[0] for p in pairs), tuple(scale * p[1] for p in pairs), asked.step)


def _says(found: OuterFound, what: Balancing | Following, law: OuterLaw, breakaway: float) -> list[str]:
    said = []
    if isinstance(what, Balancing):
        if found.fell_s is not None:
            said.append(f"It falls after {phrase(found.fell_s, 'time')}.")
        elif found.swing > math.radians(0.1):
            said.append(f"It stands, and sways by {math.degrees(found.swing):.2g}° at the end.")
        else:
            said.append("It stands upright.")
        runs = float(np.mean(found.speed[-max(len(found.speed) // 10, 2) :])) * what.metres_per_rad
        if found.fell_s is None and abs(runs) > 0.02:
            why = "the duty that only overcomes friction is missing" if law.offset == 0 else "nothing holds its place"
            said.append(f"It runs on at {abs(runs):.2g} m/s at the end: {why}.")
        jolt = found.jolt * what.metres_per_rad
        said.append(f"The largest jolt is {jolt * 1000:.3g} mm/s at once, as breakaway and play are crossed.")
        said.append(
            f"A tilt grows by itself by e in {phrase(1 / what.falls_per_s, 'time')}: looked at every "
            f"{phrase(law.period_s, 'time')}. What the swaying weight does to the wheels' torque is left out."
        )
    else:
        near = abs(found.rest) <= 0.02 * abs(what.target)
        said.append("It comes to its target." if near else f"It is off its target by {found.rest:.3g} at the end.")
        if found.swing > 0.02 * abs(what.target):
            said.append(f"It swings by {found.swing:.3g} at the end.")
    if breakaway > 0.01 and law.offset == 0.0:
        said.append(f"Below {breakaway * 100:.2g} % of duty nothing moves: add that duty to what the law asks for.")
    return said
