"""The bus under PWM: a square current that the source, through its resistance and lead, and the capacitor share.

Two states (current of the lead, volts of the capacitor) under a current that is switched: linear, so its periodic orbit
and what flows between are sums of two exponentials, and so are their turning points. One arrangement for numbers and
for arrays that broadcast.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, NamedTuple

import numpy as np

from ..algebra.rules import procedure

SAYS = "the periodic current that lead and capacitor share, exact"
SOURCE = "source with resistance and lead inductance beside a capacitor with its own, under a square current"
SWINGS = range(4)
"""Of a ring the first swings are the largest."""
MANY, TABLE = 400, np.linspace(0.0, 1.0, 257)
"""Of more duties than that a table is made and read between its places: what is left is below 10⁻⁴ of the ripple."""


class BusState(NamedTuple):
    """Deviations from rest: the lead's current, the capacitor's volts."""

    i: Any
    v: Any


@dataclass(frozen=True, slots=True)
class _Kit:
    exp: Callable[[Any], Any]
    sqrt: Callable[[Any], Any]
    turn: Callable[[tuple[Any, Any], int, Any, Any], Any]
    """The logarithm of a ratio and some full turns, over a difference of roots: a time within a span, or 0."""
    larger: Callable[[Any, Any], Any]
    smaller: Callable[[Any, Any], Any]


def _time(ratio: tuple[Any, Any], turns: int, apart: Any, span: Any) -> Any:
    top, under = ratio
    if top == 0 or under == 0:
        return 0.0
    t = (cmath.log(top / under) + 2j * math.pi * turns) / apart
    return t.real if abs(t.imag) < 1e-6 * abs(t) and 0 < t.real < span else 0.0


def _times(ratio: tuple[Any, Any], turns: int, apart: Any, span: Any) -> Any:
    t = (np.log(np.asarray(ratio[0] / ratio[1], dtype=complex)) + 2j * np.pi * turns) / apart
    return np.where((np.abs(t.imag) < 1e-6 * np.abs(t)) & (t.real > 0) & (t.real < span), t.real, 0.0)


NUMBERS = _Kit(cmath.exp, cmath.sqrt, _time, max, min)
ARRAYS = _Kit(np.exp, np.sqrt, _times, np.maximum, np.minimum)


@dataclass(frozen=True, slots=True)
class Orbit:
    """A period of it: a square ``current`` for ``on``, then nothing for ``off``; SI units."""

    kit: _Kit
    roots: tuple[Any, Any]
    whole: Any
    henry: Any
    farad: Any
    esr: Any
    parts: tuple[tuple[BusState, Any, Any], ...]
    """For both parts: the state at its beginning, how long it lasts, and by how much its rest lies under no load."""

    def _weights(self, first: Any, slope: Any) -> tuple[Any, Any]:
        """A course with this beginning and slope as a sum of the two exponentials."""
        other = (slope - self.roots[0] * first) / (self.roots[1] - self.roots[0])
        return first - other, other

    def _slope(self, at: BusState) -> Any:
        return (-self.whole * at.i - at.v) / self.henry

    def swing(self) -> Any:
        """The bus from its lowest to its highest (V)."""
        high: Any = -math.inf
        low: Any = math.inf
        a, b = self.roots
        for at, span, under in self.parts:
            p, q = self._weights(at.v + self.esr * at.i, at.i / self.farad + self.esr * self._slope(at))
            turns = [self.kit.turn((-q * b, p * a), n, a - b, span) for n in SWINGS]
            for t in (0.0, span, *turns):
                volts = (p * self.kit.exp(a * t) + q * self.kit.exp(b * t)).real - under
                high, low = self.kit.larger(high, volts), self.kit.smaller(low, volts)
        return high - low

    def square(self) -> Any:
        """∫ i² of the capacitor over a period (A²s)."""
        found: Any = 0.0
        a, b = self.roots
        for at, span, _ in self.parts:
            p, q = self._weights(at.i, self._slope(at))
            for weight, rate in ((p * p, 2 * a), (2 * p * q, a + b), (q * q, 2 * b)):
                found = found + (weight * (self.kit.exp(rate * span) - 1) / rate).real
        return found


def orbit(current: Any, on: Any, off: Any, *, farad: Any, esr: Any, ohm: Any, henry: Any, kit: _Kit = NUMBERS) -> Orbit:
    """The periodic orbit under a square current; amperes, seconds, SI units."""
    whole = ohm + esr
    middle = -whole / (2 * henry)
    # The least bit off: of two equal roots the two exponentials would be one.
    apart = kit.sqrt(middle * middle - (1 - 1e-9) / (henry * farad) + 0j)
    roots = (middle + apart, middle - apart)

    def moved(at: BusState, t: Any) -> BusState:
        a, b = (kit.exp(r * t) for r in roots)
        odd = (a - b) / (2 * apart)
        even = (a + b) / 2 - middle * odd
        return BusState(even * at.i + odd * (-whole * at.i - at.v) / henry, even * at.v + odd * at.i / farad)

    rest = BusState(current, -ohm * current)
    # x begins the on-time: x = E_off (rest + E_on (x − rest)); the matrix column by column, then Cramer's rule.
    (m11, m21), (m12, m22) = (moved(moved(unit, on), off) for unit in (BusState(1.0, 0.0), BusState(0.0, 1.0)))
    back = moved(rest, on)
    goal = moved(BusState(rest.i - back.i, rest.v - back.v), off)
    det = (1 - m11) * (1 - m22) - m12 * m21
    begin = BusState(
        (goal.i * (1 - m22) + m12 * goal.v) / det - rest.i, ((1 - m11) * goal.v + m21 * goal.i) / det - rest.v
    )
    end = moved(begin, on)
    return Orbit(
        kit=kit,
        roots=roots,
        whole=whole,
        henry=henry,
        farad=farad,
        esr=esr,
        parts=((begin, on, ohm * current), (BusState(end.i + rest.i, end.v + rest.v), off, 0.0)),
    )


@lru_cache(maxsize=64)
def _squares(part: Callable[[Orbit], Any], period: float, farad: float, esr: float, ohm: float, henry: float) -> Any:
    """Squares by the places of TABLE for one ampere, in which all is linear; numpy's complaints are the caller's."""
    table = part(
        orbit(1.0, TABLE * period, (1 - TABLE) * period, farad=farad, esr=esr, ohm=ohm, henry=henry, kit=ARRAYS)
    )
    return table**2


def _on_arrays(part: Callable[[Orbit], Any]) -> Callable[..., Any]:
    def made(k: Any, I: Any, D: Any, f: Any, C: Any, ESR: Any, R_s: Any, L: Any) -> Any:
        duty, pace = np.asarray(D, dtype=float), np.asarray(f, dtype=float)
        paces, fixed = np.unique(pace), all(np.ndim(x) == 0 for x in (C, ESR, R_s, L))
        with np.errstate(all="ignore"):
            if fixed and duty.size > MANY * paces.size:
                # Its square: near no duty and full duty the root is too steep to be read between places.
                duty, pace = np.broadcast_arrays(duty, pace)
                square = np.full(duty.shape, np.nan)
                for one in paces:
                    at = pace == one
                    square[at] = np.interp(duty[at], TABLE, _squares(part, *map(float, (1 / one, C, ESR, R_s, L))))
                found = np.sqrt(square)
            else:
                period = 1 / pace
                found = part(
                    orbit(1.0, duty * period, (1 - duty) * period, farad=C, esr=ESR, ohm=R_s, henry=L, kit=ARRAYS)
                )
            # Neither no pulse nor an endless one is a ripple; what is missing stays so.
            return k * I * np.where((duty <= 0) | (duty >= 1), found * 0.0, found)

    return made


def _rms(found: Orbit) -> Any:
    spans = [span for _, span, _ in found.parts]
    return found.kit.sqrt(found.square() / (spans[0] + spans[1])).real


@procedure("ΔV", "voltage", says=SAYS, source=SOURCE, arrays=_on_arrays(Orbit.swing))
def ripple_on_the_supply(k: float, I: float, D: float, f: float, C: float, ESR: float, R_s: float, L: float) -> float:
    """Ripple on the supply, peak to peak (V): ``k`` is 1 for slow decay, 2 where the current turns round."""
    if not 0 < D < 1:
        return 0.0
    return k * I * float(orbit(1.0, D / f, (1 - D) / f, farad=C, esr=ESR, ohm=R_s, henry=L).swing())


@procedure("I_C", "current", says=SAYS, source=SOURCE, arrays=_on_arrays(_rms))
def ripple_in_the_capacitor(
    k: float, I: float, D: float, f: float, C: float, ESR: float, R_s: float, L: float
) -> float:
    """What of the ripple flows in the capacitor (A, RMS); the lead's ring may make it more than the bridge's own."""
    if not 0 < D < 1:
        return 0.0
    return k * I * float(_rms(orbit(1.0, D / f, (1 - D) / f, farad=C, esr=ESR, ohm=R_s, henry=L)))
