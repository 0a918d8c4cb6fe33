"""One switch and a diode on a winding with its EMF: the periodic current, whether it ends in each period or not.

While the switch is on the current runs towards (V − E)/R, while it is off towards −(E + V_d)/R, both with L/R; the
diode keeps it from turning round. Closed forms: exponentials and their integrals over one period.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.optimize import brentq

from ..algebra.kinds import Fraction, Volt
from ..algebra.nodes import Constant
from ..algebra.rules import procedure, rule

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
    return Chopped((a + b) * f, math.sqrt(max(a2 + b2, 0.0) * f), peak, (on + lasts) * f)


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


DIODE_V = Constant("0.7 V", 0.7, "voltage", "common practice, no source: a silicon diode; a Schottky drops less")


@rule(
    "V_on",
    source="mean of the bridge's output over its duty, less the fixed drop",
    title="Volts while the switch is on",
)
def while_on(V: Volt, D: Fraction, V_0: Volt) -> Volt:
    return V / D - V_0


LEAST = 1e-6
"""A duty below which nobody asks: the currents of a shorter pulse are lost in rounding."""


def _unbroken(V: Any, E: Any, R: Any, I: Any, V_d: Any) -> Any:
    """The duty where the current never ends: D V − (1 − D) V_d = E + I R."""
    return (E + I * R + V_d) / (V + V_d)


def _mean_on_arrays(V: Any, E: Any, R: Any, L: Any, D: Any, f: Any, V_d: Any) -> Any:
    """Mean current where each period begins at nothing, or with what is left of the one before; arrays broadcast."""
    tau, up, down = L / R, (V - E) / R, -(E + V_d) / R
    on, off = D / f, (1 - D) / f
    rise, fall = np.exp(-on / tau), np.exp(-off / tau)
    start = np.maximum((up * (1 - rise) * fall + down * (1 - fall)) / (1 - rise * fall), 0.0)
    peak = up + (start - up) * rise
    lasts = np.where(start > 0, off, np.minimum(off, tau * np.log((peak - down) / -down)))
    area = up * on + (start - up) * tau * (1 - rise) + down * lasts + (peak - down) * tau * -np.expm1(-lasts / tau)
    return area * f


def _duty_on_arrays(V: Any, E: Any, R: Any, L: Any, I: Any, f: Any, V_d: Any) -> Any:
    with np.errstate(all="ignore"):
        whole = np.asarray(_unbroken(V, E, R, I, V_d), dtype=float)
        # At a duty of one or more the switch never opens, and nothing can end.
        broken = (whole < 1) & (_mean_on_arrays(V, E, R, L, whole, f, V_d) > I * (1 + 1e-9))
        if not np.any(broken):
            return whole + np.zeros(broken.shape)
        # Only where it ends is there anything to search.
        here = [np.broadcast_to(x, broken.shape)[broken] for x in (V, E, R, L, I, f, V_d)]
        v, e, r, henry, wanted, hertz, drop = here
        high = np.broadcast_to(whole, broken.shape)[broken]
        low = np.zeros_like(high)
        for _ in range(40):
            middle = (low + high) / 2
            over = _mean_on_arrays(v, e, r, henry, middle, hertz, drop) > wanted
            low, high = np.where(over, low, middle), np.where(over, middle, high)
        found = whole + np.zeros(broken.shape)
        found[broken] = high
        return found


@procedure(
    "D", "fraction", says="the duty at which the chopped current has this mean", source=SOURCE, arrays=_duty_on_arrays
)
def chopped_duty(V: float, E: float, R: float, L: float, I: float, f: float, V_d: float) -> float:
    """The duty of one switch and a diode for a mean current of ``I``: less than the averaged one where the current ends
    in each period, for then the diode no longer holds the volts down. Above one where the supply does not suffice."""
    whole = float(_unbroken(V, E, R, I, V_d))
    if not LEAST < whole < 1 or E >= V:
        return whole

    def over(D: float) -> float:
        return chopped(V=V, E=E, R=R, L=L, D=D, f=f, V_d=V_d).mean_a - I

    if over(whole) <= 1e-9 * I or over(LEAST) >= 0:
        return whole
    return float(brentq(over, LEAST, whole, xtol=1e-12))
