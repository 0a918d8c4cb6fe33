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

from ..algebra.expressions import exp
from ..algebra.kinds import Ampere, Farad, Fraction, Hertz, Number, Ohm, Volt
from ..algebra.nodes import Constant, Unbounded
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
    """One period: where it begins and peaks; what it runs towards, how quickly and for how long, on and off."""

    start: Any
    peak: Any
    up: Any
    quick: Any
    on: Any
    down: Any
    tau: Any
    lasts: Any


def _course(V: Any, E: Any, R: Any, L: Any, D: Any, f: Any, V_d: Any, R_s: Any, form: Form) -> _Course:
    tau, quick, up, down = L / R, L / (R + R_s), (V - E) / (R + R_s), -(E + V_d) / R
    on, off = D / f, (1 - D) / f
    rise, fall = form.exp(-on / quick), form.exp(-off / tau)
    # The start of a period that it comes back to; below nothing the diode has blocked before.
    start = form.larger((up * (1 - rise) * fall + down * (1 - fall)) / (1 - rise * fall), 0.0)
    peak = up + (start - up) * rise
    # Without anything against it the current never ends.
    ends = tau * form.log((peak - down) / form.larger(-down, 1e-30))
    return _Course(start, peak, up, quick, on, down, tau, form.smaller(off, ends))


def _area(start: Any, aim: Any, tau: Any, t: Any, form: Form) -> Any:
    """∫ i while a current runs from ``start`` towards ``aim`` for ``t``."""
    return aim * t + (start - aim) * tau * -form.expm1(-t / tau)


def _square(start: Any, aim: Any, tau: Any, t: Any, form: Form) -> Any:
    """∫ i² of the same."""
    gap, fall = start - aim, -form.expm1(-t / tau)
    return aim**2 * t + 2 * aim * gap * tau * fall + gap**2 * tau / 2 * -form.expm1(-2 * t / tau)


def _mean(at: _Course, f: Any, form: Form) -> Any:
    return (_area(at.start, at.up, at.quick, at.on, form) + _area(at.peak, at.down, at.tau, at.lasts, form)) * f


def _on_square(at: _Course, form: Form) -> Any:
    return _square(at.start, at.up, at.quick, at.on, form)


def _whole_square(at: _Course, form: Form) -> Any:
    return _on_square(at, form) + _square(at.peak, at.down, at.tau, at.lasts, form)


def chopped(V: float, E: float, R: float, L: float, D: float, f: float, V_d: float, R_s: float = 0.0) -> Chopped:
    """The periodic solution at a duty D and a frequency f, ``R_s`` of the source in the way while the switch is on.

    ValueError for a duty beyond 0 to 1, or no volts left.
    """
    if not 0 < D <= 1:
        raise ValueError("the duty must be above 0 and at most 1")
    if E >= V:
        raise ValueError("the motor's EMF is not below the supply: no current flows")
    at = _course(V, E, R, L, D, f, V_d, R_s, NUMBERS)
    return Chopped(
        _mean(at, f, NUMBERS), math.sqrt(max(_whole_square(at, NUMBERS), 0.0) * f), at.peak, (at.on + at.lasts) * f
    )


def _shape_on_arrays(V: Any, E: Any, R: Any, L: Any, D: Any, f: Any, V_d: Any, R_s: Any) -> tuple[Any, Any, _Course]:
    """Where the switch opens at all, the duty to ask for elsewhere instead, and the course."""
    opens = np.asarray((D > 0) & (D < 1) & (V > E))
    at = _course(V, E, R, L, np.where(opens, D, 0.5), f, V_d, R_s, ARRAYS)
    return opens, np.where(np.isnan(V + E + R + L + D + f + V_d + R_s), np.nan, 1.0), at


def _form_on_arrays(V: Any, E: Any, R: Any, L: Any, D: Any, f: Any, V_d: Any, R_s: Any) -> Any:
    with np.errstate(all="ignore"):
        opens, known, at = _shape_on_arrays(V, E, R, L, D, f, V_d, R_s)
        return known * np.where(opens, np.sqrt(_whole_square(at, ARRAYS) * f) / _mean(at, f, ARRAYS), 1.0)


def _swing_on_arrays(V: Any, E: Any, R: Any, L: Any, D: Any, f: Any, V_d: Any, R_s: Any) -> Any:
    with np.errstate(all="ignore"):
        opens, known, at = _shape_on_arrays(V, E, R, L, D, f, V_d, R_s)
        return known * np.where(opens, at.peak - at.start, 0.0)


def _switched_on_arrays(V: Any, E: Any, R: Any, L: Any, D: Any, f: Any, V_d: Any, R_s: Any) -> Any:
    with np.errstate(all="ignore"):
        opens, known, at = _shape_on_arrays(V, E, R, L, D, f, V_d, R_s)
        return known * np.where(opens, np.sqrt(_on_square(at, ARRAYS) / at.on) / _mean(at, f, ARRAYS), 1.0)


def _opens(V: float, E: float, D: float) -> bool:
    return 0 < D < 1 and V > E


@procedure("F", "number", says=SAYS, source=SOURCE, arrays=_form_on_arrays)
def form_factor(V: float, E: float, R: float, L: float, D: float, f: float, V_d: float, R_s: float) -> float:
    """RMS of the current over its mean; 1 where the switch never opens."""
    if not _opens(V, E, D):
        return 1.0
    found = chopped(V=V, E=E, R=R, L=L, D=D, f=f, V_d=V_d, R_s=R_s)
    return found.rms_a / found.mean_a


@procedure("F_on", "number", says=SAYS, source=SOURCE, arrays=_switched_on_arrays)
def switch_factor(V: float, E: float, R: float, L: float, D: float, f: float, V_d: float, R_s: float) -> float:
    """RMS of the current while the switch is on over the mean of the motor's; 1 where it never opens."""
    if not _opens(V, E, D):
        return 1.0
    at = _course(V, E, R, L, D, f, V_d, R_s, NUMBERS)
    return float(math.sqrt(_on_square(at, NUMBERS) / at.on) / _mean(at, f, NUMBERS))


@procedure("ΔI", "current", says=SAYS, source=SOURCE, arrays=_swing_on_arrays)
def chopped_swing(V: float, E: float, R: float, L: float, D: float, f: float, V_d: float, R_s: float) -> float:
    """Ripple, peak to peak; amperes. The whole peak where the current ends in each period."""
    if not _opens(V, E, D):
        return 0.0
    at = _course(V, E, R, L, D, f, V_d, R_s, NUMBERS)
    return float(at.peak - at.start)


@rule("I_heat", source="what heats is the RMS: mean × form factor", title="Current, as its heat counts it")
def as_it_heats(I: Ampere, F: Number) -> Ampere:
    return I * F


@rule("θ", source="heat goes with the square of the form factor: F² − 1", title="Heat of the ripple")
def extra_heat(F: Number) -> Fraction:
    return F**2 - 1


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


@rule("s", source="capacitor that the source charges through its resistance", title="Sag within a pulse")
def sag_share(R_s: Ohm, C: Farad, D: Fraction, f: Hertz) -> Fraction:
    """The share of the source's resistance that a pulse sees: all of a long one's, nothing where C holds the volts."""
    return 1 - R_s * C * f / D * (1 - exp(-D / (R_s * C * f)))


@rule("R_p", source="share of the source's resistance", title="Source's resistance within a pulse")
def pulse_resistance(R_s: Ohm, s: Fraction) -> Ohm:
    return R_s * s


@rule("V_on", source="open-circuit volts less the mean sag and the fixed drop", title="Volts while the switch is on")
def while_on(V_oc: Volt, D: Fraction, I: Ampere, R_s: Ohm, R_p: Ohm, V_0: Volt) -> Volt:
    """The mean of the source's current, D·I, sags what the capacitor evens out."""
    return V_oc - D * I * (R_s - R_p) - V_0


LEAST = 1e-6
"""A duty below which nobody asks: the currents of a shorter pulse are lost in rounding."""


def _unbroken(V: Any, E: Any, R: Any, I: Any, V_d: Any, R_s: Any) -> Any:
    """The duty where the current never ends: D (V − I R_s) − (1 − D) V_d = E + I R."""
    return (E + I * R + V_d) / (V - I * R_s + V_d)


def _mean_on_arrays(V: Any, E: Any, R: Any, L: Any, D: Any, f: Any, V_d: Any, R_s: Any) -> Any:
    return _mean(_course(V, E, R, L, D, f, V_d, R_s, ARRAYS), f, ARRAYS)


def _duty_on_arrays(V: Any, E: Any, R: Any, L: Any, I: Any, f: Any, V_d: Any, R_s: Any) -> Any:
    with np.errstate(all="ignore"):
        whole = np.asarray(_unbroken(V, E, R, I, V_d, R_s), dtype=float)
        # At a duty of one or more the switch never opens, and nothing can end.
        broken = (whole > 0) & (whole < 1) & (_mean_on_arrays(V, E, R, L, whole, f, V_d, R_s) > I * (1 + 1e-9))
        if not np.any(broken):
            return whole + np.zeros(broken.shape)
        # Only where it ends is there anything to search.
        here = [np.broadcast_to(x, broken.shape)[broken] for x in (V, E, R, L, I, f, V_d, R_s)]
        v, e, r, henry, wanted, hertz, drop, sag = here
        high = np.broadcast_to(whole, broken.shape)[broken]
        low = np.zeros_like(high)
        for _ in range(40):
            middle = (low + high) / 2
            over = _mean_on_arrays(v, e, r, henry, middle, hertz, drop, sag) > wanted
            low, high = np.where(over, low, middle), np.where(over, middle, high)
        found = whole + np.zeros(broken.shape)
        found[broken] = high
        return found


@procedure(
    "D", "fraction", says="the duty at which the chopped current has this mean", source=SOURCE, arrays=_duty_on_arrays
)
def chopped_duty(V: float, E: float, R: float, L: float, I: float, f: float, V_d: float, R_s: float) -> float:
    """The duty of one switch and a diode for a mean current of ``I``: less than the averaged one where the current ends
    in each period, for then the diode no longer holds the volts down. Above one where the supply does not suffice."""
    if I * R_s >= V:
        raise Unbounded("the source's resistance alone takes more than its volts")
    whole = float(_unbroken(V, E, R, I, V_d, R_s))
    if not LEAST < whole < 1 or E >= V:
        return whole

    def over(D: float) -> float:
        return chopped(V=V, E=E, R=R, L=L, D=D, f=f, V_d=V_d, R_s=R_s).mean_a - I

    if over(whole) <= 1e-9 * I or over(LEAST) >= 0:
        return whole
    return float(brentq(over, LEAST, whole, xtol=1e-12))
