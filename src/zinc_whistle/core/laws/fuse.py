"""When a fuse opens: earliest and latest by the gates of its standard, straight between them on logarithmic paper.

A standard promises times only at its gates. The *latest* opening protects winding, driver and wire; the *earliest* is
what a start must stay below. Below the first gate of the latest nothing promises that a fuse ever opens; beyond the
last one it opens no later than there. The earliest shrinks with I²t beyond its last gate: no heat leaves the wire then.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from ..algebra.kinds import Ampere, Fraction, Ohm, Volt
from ..algebra.nodes import Law, Unbounded
from ..algebra.rules import procedure, rule

HOUR = 3600.0
Curve = Literal["blade", "glass quick", "glass slow", "ul 248-14"]
NEVER = "at this current its standard does not promise that it ever opens"


@dataclass(frozen=True, slots=True)
class Gates:
    """Multiples of the rated current, and seconds: at the earliest and at the latest, falling times."""

    earliest: tuple[tuple[float, float], ...]
    latest: tuple[tuple[float, float], ...]
    source: str


GATES: Mapping[Curve, Gates] = {
    "blade": Gates(
        ((1.10, 100 * HOUR), (1.35, 0.75), (1.60, 0.25), (2.00, 0.15), (3.50, 0.04), (6.00, 0.02)),
        ((1.35, 600.0), (1.60, 50.0), (2.00, 5.0), (3.50, 0.5), (6.00, 0.1)),
        "ISO 8820-3, time-current gates (from memory)",
    ),
    "glass quick": Gates(
        ((1.5, HOUR), (2.75, 0.05), (4.0, 0.01)),
        ((2.1, 0.5 * HOUR), (2.75, 2.0), (4.0, 0.3), (10.0, 0.02)),
        "IEC 60127-2, sheet 2, quick (from memory)",
    ),
    "glass slow": Gates(
        ((1.5, HOUR), (2.75, 0.6), (4.0, 0.15), (10.0, 0.02)),
        ((2.1, 120.0), (2.75, 10.0), (4.0, 3.0), (10.0, 0.3)),
        "IEC 60127-2, sheet 3, time-lag (from memory)",
    ),
    "ul 248-14": Gates(
        ((1.10, 4 * HOUR),),
        ((1.35, HOUR), (2.00, 120.0)),
        "UL 248-14 (from memory)",
    ),
}


def _between(gates: tuple[tuple[float, float], ...], times: float) -> float:
    """The time at a multiple of the rated current that lies between the first gate and the last; seconds."""
    for (low, slow), (high, quick) in pairwise(gates):
        if times <= high:
            share = math.log(times / low) / math.log(high / low)
            return float(slow * (quick / slow) ** share)
    return gates[-1][1]


def latest(curve: Curve, times: float) -> float:
    """The latest opening at a multiple of the rated current; seconds. Unbounded below the standard's first gate."""
    gates = GATES[curve].latest
    if times < gates[0][0]:
        raise Unbounded(NEVER)
    return _between(gates, times)


def earliest(curve: Curve, times: float) -> float:
    """The earliest opening at a multiple of the rated current; seconds, the first gate's where it is less."""
    gates = GATES[curve].earliest
    if times <= gates[0][0]:
        return gates[0][1]
    last, quickest = gates[-1]
    return quickest * (last / times) ** 2 if times > last else _between(gates, times)


LAST_WORDS = "log-log between the gates of its standard"


def _laws(curve: Curve) -> tuple[Law, Law, Law, Law]:
    source = GATES[curve].source

    def fuse_opens_at_the_latest(I: float, I_n: float) -> float:
        """When the fuse has opened at the latest; seconds."""
        return latest(curve, I / I_n)

    def fuse_opens_at_the_earliest(I: float, I_n: float) -> float:
        """When the fuse may open at the earliest; seconds."""
        return earliest(curve, I / I_n)

    def left_to_the_fuse(I: float, I_n: float, I_2: float, I_z: float) -> float:
        """How long a current of I_2 lasts behind a fuse that carries I: nothing if I_z is borne for good; seconds."""
        return 0.0 if I_z >= I_2 else latest(curve, I / I_n)

    def let_through(I: float, I_n: float, I_z: float) -> float:
        """I²t of a short until the fuse opens: nothing if the wire bears it for good, without bound if it never does;
        A²s."""
        return 0.0 if I_z >= I else I**2 * latest(curve, I / I_n)

    return (
        procedure("t_fuse", "time", says=f"the latest, {LAST_WORDS}", source=source)(fuse_opens_at_the_latest),
        procedure("t_fuse", "time", says=f"the earliest, {LAST_WORDS}, I²t beyond", source=source)(
            fuse_opens_at_the_earliest
        ),
        procedure("t_on", "time", says=f"0 if I_2 ≤ I_z; else the latest, {LAST_WORDS}", source=source)(
            left_to_the_fuse
        ),
        procedure("I2t", "joule integral", says=f"0 if I ≤ I_z; else I² times the latest, {LAST_WORDS}", source=source)(
            let_through
        ),
    )


_ALL: Mapping[str, tuple[Law, Law, Law, Law]] = {curve: _laws(curve) for curve in GATES}
LATEST: Mapping[str, Law] = {curve: laws[0] for curve, laws in _ALL.items()}
EARLIEST: Mapping[str, Law] = {curve: laws[1] for curve, laws in _ALL.items()}
EXPOSED: Mapping[str, Law] = {curve: laws[2] for curve, laws in _ALL.items()}
LET_THROUGH: Mapping[str, Law] = {curve: laws[3] for curve, laws in _ALL.items()}


@procedure(
    "t_on", "time", says="0 if I ≤ I_z; else the time in which it acts", source="what is borne for good needs no stop"
)
def left_to_the_stop(t: float, I: float, I_z: float) -> float:
    """How long a current lasts before a stop acts: nothing if it is borne for good; seconds."""
    return 0.0 if I_z >= I else t


@procedure(
    "t_on",
    "time",
    says="0 if I ≤ I_z; never where it stays below the trip; else the time in which it acts",
    source="a trip sees no current below its own level",
)
def left_to_the_trip(t: float, I: float, I_z: float, I_trip: float) -> float:
    """How long a current lasts before a driver's own limit or a cut-out acts; seconds."""
    if I_z >= I:
        return 0.0
    if I_trip > I:
        raise Unbounded("this current stays below the trip, which never acts")
    return t


TWICE = 2.0**2 - 1.0
"""What a program sums up in each second at twice its limit, as (I/I_t)² − 1."""
SEEN_S = 0.064
"""How long a program looks before it has read a pulse of the current: of 64 readings, one a millisecond, one in a
hundred such windows misses pulses of 7 % duty."""


def _until_summed(t_2: float, times: float) -> float:
    """When a program's sum of (I/I_t)² − 1 has come to its stop, at a multiple of its limit; seconds."""
    return SEEN_S + TWICE * t_2 / (times**2 - 1.0)


@procedure(
    "t_on",
    "time",
    says="0 if I ≤ I_z; never where I ≤ I_t; else 64 ms + 3 t_2/((I/I_t)² − 1)",
    source="a program that sums up (I/I_t)² − 1, as an overload relay of inverse time; t_2 at twice its limit",
)
def left_to_the_program(t_2: float, I: float, I_z: float, I_t: float) -> float:
    """How long a current lasts before a program stops it by what it senses; seconds."""
    if I_z >= I:
        return 0.0
    if I_t >= I:
        raise Unbounded("this current stays below the limit of the program, which never acts")
    return _until_summed(t_2, I / I_t)


@procedure(
    "t_on",
    "time",
    says="0 if I ≤ I_z; never where I_z ≤ I_t; else 64 ms + 3 t_2/((I_z/I_t)² − 1)",
    source="of all currents up to I the least that harms lasts longest",
)
def longest_to_the_program(t_2: float, I: float, I_z: float, I_t: float) -> float:
    """How long a harmful current of up to I lasts at most before a program stops it; seconds."""
    if I_z >= I:
        return 0.0
    if I_t >= I_z:
        raise Unbounded("a current between what is borne and the limit of the program is never stopped")
    return _until_summed(t_2, I_z / I_t)


@procedure(
    "q",
    "fraction",
    says="t ((I/I_t)² − 1)/(3 t_2), and 64 ms more of it; 0 where I ≤ I_t",
    source="what the same sum has come to when the start is over",
)
def sum_of_a_start(t: float, I: float, t_2: float, I_t: float) -> float:
    """How far a start brings a program's sum towards its stop: 1 is there."""
    return max((t + SEEN_S) * ((I / I_t) ** 2 - 1.0), 0.0) / (TWICE * t_2)


@rule("I_jam", source="a chopped jam: the source gives the current for the duty only", title="Source current in a jam")
def jam_source_current(D: Fraction, I_m: Ampere) -> Ampere:
    return D * I_m


@rule("I_jam", source="at standstill the duty's share of the supply drives it", title="Motor current in a jam")
def jam_motor_current(D: Fraction, I_s: Ampere) -> Ampere:
    return D * I_s


@rule("I_sc", source="Ohm: source and wire alone", title="Short-circuit current at the end of the wire")
def short_current(V: Volt, R_source: Ohm, R_w: Ohm) -> Ampere:
    return V / (R_source + R_w)
