"""One switch and a diode on a winding with its EMF: the periodic current, whether it ends in each period or not.

While the switch is on the current runs towards (V − E)/R, while it is off towards −(E + V_d)/R, both with L/R; the
diode keeps it from turning round. Closed forms: exponentials and their integrals over one period.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
from scipy.optimize import brentq

from ..algebra.kinds import Fraction, Volt
from ..algebra.nodes import Constant
from ..algebra.rules import procedure, rule
from .forms import ARRAYS, NUMBERS, Form

SAYS = "periodic current of R, L and EMF behind one switch and a diode"
SOURCE = "R-L circuit with EMF, exact exponentials over one period"


@dataclass(frozen=True, slots=True)
class Chopped:
    """One period: mean, RMS and peak current (A), and the share of the period in which any flows."""

    mean_a: float
    rms_a: float
    peak_a: float
    conducts: float


class _Course(NamedTuple):
    """One period: where it begins and peaks, what it runs towards, and for how long."""

    start: Any
    peak: Any
    up: Any
    down: Any
    tau: Any
    on: Any
    lasts: Any


def _course(V: Any, E: Any, R: Any, L: Any, D: Any, f: Any, V_d: Any, form: Form) -> _Course:
    tau, up, down = L / R, (V - E) / R, -(E + V_d) / R
    on, off = D / f, (1 - D) / f
    rise, fall = form.exp(-on / tau), form.exp(-off / tau)
    # The start of a period that it comes back to; below nothing the diode has blocked before.
    start = form.larger((up * (1 - rise) * fall + down * (1 - fall)) / (1 - rise * fall), 0.0)
    peak = up + (start - up) * rise
    # Without anything against it the current never ends.
    ends = tau * form.log((peak - down) / form.larger(-down, 1e-30))
    return _Course(start, peak, up, down, tau, on, form.smaller(off, ends))


def _area(start: Any, aim: Any, tau: Any, t: Any, form: Form) -> Any:
    """∫ i while a current runs from ``start`` towards ``aim`` for ``t``."""
    return aim * t + (start - aim) * tau * -form.expm1(-t / tau)


def _square(start: float, aim: float, tau: float, t: float) -> float:
    """∫ i² of the same."""
    gap, fall = start - aim, -math.expm1(-t / tau)
    return aim**2 * t + 2 * aim * gap * tau * fall + gap**2 * tau / 2 * -math.expm1(-2 * t / tau)


def _mean(at: _Course, f: Any, form: Form) -> Any:
    return (_area(at.start, at.up, at.tau, at.on, form) + _area(at.peak, at.down, at.tau, at.lasts, form)) * f


def chopped(V: float, E: float, R: float, L: float, D: float, f: float, V_d: float) -> Chopped:
    """The periodic solution at a duty D and a frequency f. ValueError for a duty beyond 0 to 1, or no volts left."""
    if not 0 < D <= 1:
        raise ValueError("the duty must be above 0 and at most 1")
    if E >= V:
        raise ValueError("the motor's EMF is not below the supply: no current flows")
    at = _course(V, E, R, L, D, f, V_d, NUMBERS)
    square = _square(at.start, at.up, at.tau, at.on) + _square(at.peak, at.down, at.tau, at.lasts)
    return Chopped(_mean(at, f, NUMBERS), math.sqrt(max(square, 0.0) * f), at.peak, (at.on + at.lasts) * f)


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
    return _mean(_course(V, E, R, L, D, f, V_d, ARRAYS), f, ARRAYS)


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
