"""One switch and a diode on a winding with its EMF: the periodic current, whether it ends in each period or not.

While the switch is on the current runs towards (V − E)/R, while it is off towards −(E + V_d)/R, both with L/R; the
diode keeps it from turning round. Closed forms: exponentials and their integrals over one period.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
import scipy

from ..algebra.expressions import exp
from ..algebra.kinds import Ampere, Farad, Fraction, Hertz, Number, Ohm, Volt
from ..algebra.nodes import Constant, Unbounded
from ..algebra.rules import Procedure, procedure, rule
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


class Chopper(NamedTuple):
    """What is pulsed: volts while on, EMF, loop resistance, inductance, PWM frequency, diode, and what of the source's
    resistance stands in the way while the switch is on; numbers, or arrays that broadcast."""

    V: Any
    E: Any
    R: Any
    L: Any
    f: Any
    V_d: Any
    R_s: Any = 0.0


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


def _course(of: Chopper, D: Any, form: Form) -> _Course:
    tau, quick = of.L / of.R, of.L / (of.R + of.R_s)
    up, down = (of.V - of.E) / (of.R + of.R_s), -(of.E + of.V_d) / of.R
    on, off = D / of.f, (1 - D) / of.f
    rise, fall = form.exp(-on / quick), form.exp(-off / tau)
    # The start of a period that it comes back to; below nothing the diode has blocked before.
    start = form.larger((up * (1 - rise) * fall + down * (1 - fall)) / (1 - rise * fall), 0.0)
    peak = up + (start - up) * rise
    # Without anything against it the current never ends.
    ends = tau * form.log((peak - down) / form.larger(-down, 1e-30))
    lasts = form.smaller(off, ends)
    return _Course(start=start, peak=peak, up=up, quick=quick, on=on, down=down, tau=tau, lasts=lasts)


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


def chopped(of: Chopper, D: float) -> Chopped:
    """The periodic solution at a duty. ValueError for a duty beyond 0 to 1, or no volts left."""
    if not 0 < D <= 1:
        raise ValueError("the duty must be above 0 and at most 1")
    if of.E >= of.V:
        raise ValueError("the motor's EMF is not below the supply: no current flows")
    at = _course(of, D, NUMBERS)
    rms, conducts = math.sqrt(max(_whole_square(at, NUMBERS), 0.0) * of.f), (at.on + at.lasts) * of.f
    return Chopped(mean_a=_mean(at, of.f, NUMBERS), rms_a=rms, peak_a=at.peak, conducts=conducts)


Pick = Callable[[_Course, Any, Form], Any]


def _of_course(
    name: str, symbol: str, kind: str, pick: Callable[[_Course, Any, Form], Any], closed: float
) -> Procedure:
    """A law of the periodic current; ``closed`` where the switch never opens."""

    def law(V: float, E: float, R: float, L: float, D: float, f: float, V_d: float, R_s: float) -> float:
        if not (0 < D < 1 and V > E):
            return closed
        of = Chopper(V=V, E=E, R=R, L=L, f=f, V_d=V_d, R_s=R_s)
        return float(pick(_course(of, D, NUMBERS), f, NUMBERS))

    def on_arrays(V: Any, E: Any, R: Any, L: Any, D: Any, f: Any, V_d: Any, R_s: Any) -> Any:
        of = Chopper(V=V, E=E, R=R, L=L, f=f, V_d=V_d, R_s=R_s)
        with np.errstate(all="ignore"):
            opens = np.asarray((D > 0) & (D < 1) & (V > E))
            known = np.where(np.isnan(D + sum(of)), np.nan, 1.0)
            # Where it never opens any duty may stand in: nothing of what follows from it is taken.
            return known * np.where(opens, pick(_course(of, np.where(opens, D, 0.5), ARRAYS), f, ARRAYS), closed)

    law.__name__ = name
    return procedure(symbol, kind, says=SAYS, source=SOURCE, arrays=on_arrays)(law)


def _rms_over_mean(at: _Course, f: Any, form: Form) -> Any:
    return (_whole_square(at, form) * f) ** 0.5 / _mean(at, f, form)


def _on_rms_over_mean(at: _Course, f: Any, form: Form) -> Any:
    return (_on_square(at, form) / at.on) ** 0.5 / _mean(at, f, form)


form_factor = _of_course("form_factor", "F", "number", _rms_over_mean, 1.0)
"""RMS of the current over its mean."""
switch_factor = _of_course("switch_factor", "F_on", "number", _on_rms_over_mean, 1.0)
"""RMS of the current while the switch is on over the mean of the motor's."""
chopped_swing = _of_course("chopped_swing", "ΔI", "current", lambda at, f, form: at.peak - at.start, 0.0)
"""Ripple, peak to peak; amperes. The whole peak where the current ends in each period."""


@rule("I_heat", source="what heats is the RMS: mean × form factor", title="Current, as its heat counts it")
def as_it_heats(I: Ampere, F: Number) -> Ampere:
    return I * F


@rule("θ", source="heat goes with the square of the form factor: F² − 1", title="Heat of the ripple")
def extra_heat(F: Number) -> Fraction:
    return F**2 - 1


def _of_chopped(name: str, symbol: str, kind: str, pick: Callable[[Chopped], float]) -> Procedure:
    def law(V: float, E: float, R: float, L: float, D: float, f: float, V_d: float) -> float:
        return pick(chopped(Chopper(V=V, E=E, R=R, L=L, f=f, V_d=V_d), D))

    law.__name__ = name
    return procedure(symbol, kind, says=SAYS, source=SOURCE)(law)


chopped_mean = _of_chopped("chopped_mean", "I_mean", "current", lambda found: found.mean_a)
chopped_rms = _of_chopped("chopped_rms", "I_rms", "current", lambda found: found.rms_a)
chopped_peak = _of_chopped("chopped_peak", "I_peak", "current", lambda found: found.peak_a)
chopped_share = _of_chopped("chopped_share", "s_on", "fraction", lambda found: found.conducts)


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


def _unbroken(of: Chopper, I: Any) -> Any:
    """The duty where the current never ends: D (V − I R_s) − (1 − D) V_d = E + I R."""
    return (of.E + I * of.R + of.V_d) / (of.V - I * of.R_s + of.V_d)


def _duty_on_arrays(V: Any, E: Any, R: Any, L: Any, I: Any, f: Any, V_d: Any, R_s: Any) -> Any:
    of = Chopper(V=V, E=E, R=R, L=L, f=f, V_d=V_d, R_s=R_s)

    def mean(of: Chopper, duty: Any) -> Any:
        return _mean(_course(of, duty, ARRAYS), of.f, ARRAYS)

    with np.errstate(all="ignore"):
        whole = np.asarray(np.where(I * R_s >= V, np.inf, _unbroken(of, I)), dtype=float)
        # At a duty of one or more the switch never opens, and nothing can end.
        broken = (whole > 0) & (whole < 1) & (mean(of, whole) > I * (1 + 1e-9))
        found = whole + np.zeros(broken.shape)
        if np.any(broken):
            # Only where it ends is there anything to search.
            here = Chopper(*(np.broadcast_to(x, broken.shape)[broken] for x in of))
            wanted, high = (np.broadcast_to(x, broken.shape)[broken] for x in (I, whole))
            low = np.zeros_like(high)
            for _ in range(40):
                middle = (low + high) / 2
                over = mean(here, middle) > wanted
                low, high = np.where(over, low, middle), np.where(over, middle, high)
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
    of = Chopper(V=V, E=E, R=R, L=L, f=f, V_d=V_d, R_s=R_s)
    whole = float(_unbroken(of, I))
    if not LEAST < whole < 1 or E >= V:
        return whole

    def over(D: float) -> float:
        return chopped(of, D).mean_a - I

    if over(whole) <= 1e-9 * I or over(LEAST) >= 0:
        return whole
    return float(scipy.optimize.brentq(over, LEAST, whole, xtol=1e-12))
