"""One switch and a diode on a winding with its EMF: the periodic current, whether it ends in each period or not.

While the switch is on the current runs towards (V − E)/R, while it is off towards −(E + V_d)/R, both with L/R; the
diode keeps it from turning round. Closed forms: exponentials and their integrals over one period.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..algebra.rules import procedure

SAYS = "periodic current of R, L and EMF behind one switch and a diode"
SOURCE = "R-L circuit with EMF, exact exponentials over one period"


@dataclass(frozen=True, slots=True)
class Chopped:
    """One period: mean, RMS and peak current (A), and the share of the period in which any flows."""

    mean_a: float
    rms_a: float
    peak_a: float
    conducts: float


def _piece(start: float, aim: float, tau: float, t: float) -> tuple[float, float]:
    """Integrals of i and i² while a current runs from ``start`` towards ``aim`` for ``t``."""
    gap, fall = start - aim, -math.expm1(-t / tau)
    first = aim * t + gap * tau * fall
    second = aim**2 * t + 2 * aim * gap * tau * fall + gap**2 * tau / 2 * -math.expm1(-2 * t / tau)
    return first, second


def chopped(V: float, E: float, R: float, L: float, D: float, f: float, V_d: float) -> Chopped:
    """The periodic solution at a duty D and a frequency f. ValueError for a duty beyond 0 to 1, or no volts left."""
    if not 0 < D <= 1:
        raise ValueError("the duty must be above 0 and at most 1")
    if E >= V:
        raise ValueError("the motor's EMF is not below the supply: no current flows")
    tau, period = L / R, 1 / f
    on, off = D * period, (1 - D) * period
    up, down = (V - E) / R, -(E + V_d) / R
    rise, fall = math.exp(-on / tau), math.exp(-off / tau)
    # The start of a period that it comes back to; below nothing the diode has blocked before.
    start = (up * (1 - rise) * fall + down * (1 - fall)) / (1 - rise * fall)
    start = max(start, 0.0)
    peak = up + (start - up) * rise
    lasts = off if start > 0 or down == 0 else min(off, tau * math.log((peak - down) / -down))
    a, a2 = _piece(start, up, tau, on)
    b, b2 = _piece(peak, down, tau, lasts)
    return Chopped((a + b) * f, math.sqrt((a2 + b2) * f), peak, (on + lasts) * f)


@procedure("I_mean", "current", says=SAYS, source=SOURCE)
def chopped_mean(V: float, E: float, R: float, L: float, D: float, f: float, V_d: float) -> float:
    """Mean current; amperes."""
    return chopped(V=V, E=E, R=R, L=L, D=D, f=f, V_d=V_d).mean_a


@procedure("I_rms", "current", says=SAYS, source=SOURCE)
def chopped_rms(V: float, E: float, R: float, L: float, D: float, f: float, V_d: float) -> float:
    """RMS current; amperes."""
    return chopped(V=V, E=E, R=R, L=L, D=D, f=f, V_d=V_d).rms_a


@procedure("I_peak", "current", says=SAYS, source=SOURCE)
def chopped_peak(V: float, E: float, R: float, L: float, D: float, f: float, V_d: float) -> float:
    """Peak current; amperes."""
    return chopped(V=V, E=E, R=R, L=L, D=D, f=f, V_d=V_d).peak_a


@procedure("s_on", "fraction", says=SAYS, source=SOURCE)
def chopped_share(V: float, E: float, R: float, L: float, D: float, f: float, V_d: float) -> float:
    """Share of the period in which current flows."""
    return chopped(V=V, E=E, R=R, L=L, D=D, f=f, V_d=V_d).conducts
