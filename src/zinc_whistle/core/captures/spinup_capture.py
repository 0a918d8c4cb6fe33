"""A capture of a spin-up made ready for its fit: cut to its start, thinned, its columns named."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from .table import CaptureError

FEWEST = 30


COARSE = 3000


@dataclass(frozen=True, slots=True)
class SpinUp:
    """A spin-up from rest, SI: evenly sampled time (s), current (A), volts (V) and, where captured, speed (rad/s).

    ``final_speed`` (rad/s) stands in for a captured speed: the speed at the end, read by other means. The motor is
    switched on somewhere in the first ``lead`` intervals, over which ``volts`` are told as they are afterwards.
    """

    period_s: float
    volts: np.ndarray
    current: np.ndarray
    speed: np.ndarray | None
    final_speed: float | None = None
    brush_v: float = 0.0
    notes: tuple[str, ...] = ()
    lead: int = 0

    def applied(self, delay_s: float) -> np.ndarray:
        """Volts (V) over each interval, brushes taken off, when they come on ``delay_s`` after the beginning."""
        volts = self.volts - self.brush_v
        if not self.lead:
            return volts
        on = np.clip(np.arange(1, len(volts) + 1) - delay_s / self.period_s, 0.0, 1.0)
        return np.asarray(volts * on)


def prepare(
    time: np.ndarray,
    current: np.ndarray,
    *,
    volts: np.ndarray | float,
    speed: np.ndarray | None = None,
    final_speed: float | None = None,
    brush_v: float = 0.0,
) -> SpinUp:
    """Check a capture and bring it to even sampling from rest. Raises CaptureError with a sentence."""
    notes = []
    if len(time) < FEWEST:
        raise CaptureError(f"The capture has {len(time)} rows: a fit needs at least {FEWEST}.")
    if final_speed is not None and final_speed <= 0:
        raise CaptureError("A final speed must be above zero: a motor that does not turn tells no constant.")
    steps = np.diff(time)
    if not np.all(steps > 0):
        raise CaptureError(f"Time does not run forward at row {int(np.argmin(steps > 0)) + 2}.")
    constant = not isinstance(volts, np.ndarray)
    v = np.full(len(time), float(volts)) if constant else np.asarray(volts, dtype=float)
    period = float(np.median(steps))
    if np.max(np.abs(steps - period)) > 0.02 * period:
        even = np.arange(time[0], time[-1], (time[-1] - time[0]) / (len(time) - 1))
        current, v = np.interp(even, time, current), np.interp(even, time, v)
        speed = None if speed is None else np.interp(even, time, speed)
        period = float((time[-1] - time[0]) / (len(time) - 1))
        notes.append("The samples were not evenly spaced: they were interpolated.")
    else:
        period = float((time[-1] - time[0]) / (len(time) - 1))
    if np.mean(current) < 0:
        current = -current
        notes.append("The current was counted the other way round: its sign is turned.")
    if not constant and np.mean(v) < 0:
        v = -v
    if speed is not None and np.mean(speed) < 0:
        speed = -speed
    v = _held(v)
    start, lead = _onset(current, v, constant)
    current, v = current[start:], v[start:]
    if lead and not constant:
        v[:lead] = v[lead]
    speed = None if speed is None else speed[start:]
    if len(current) < FEWEST:
        raise CaptureError("Too little is left after the motor was switched on: capture for longer.")
    if speed is not None and np.mean(speed[:3]) > 0.1 * np.max(speed):
        raise CaptureError("The motor already turns when the capture begins: start it before switching on.")
    if not np.max(current) > 0:
        raise CaptureError("No current flows in this capture.")
    return SpinUp(
        period_s=period,
        volts=v,
        current=current,
        speed=speed,
        final_speed=final_speed,
        brush_v=brush_v,
        notes=tuple(notes),
        lead=lead,
    )


JUMP = 0.2
"""A change of the volts between two samples by more than this share of the highest is a switch, not a sag."""


def _held(volts: np.ndarray) -> np.ndarray:
    """Volts over each interval: the mean of its ends where they sag, the earlier one where something was switched."""
    after = np.append(volts[1:], volts[-1])
    switched = np.abs(after - volts) > JUMP * float(np.max(np.abs(volts)))
    return np.where(switched, volts, (volts + after) / 2)


def _onset(current: np.ndarray, volts: np.ndarray, constant: bool) -> tuple[int, int]:
    """Where to cut so that the switching on lies behind the cut, and in how many intervals from there it may lie.

    A current that is seen to flow began to do so earlier, by about half of what it takes for twice as much more: a cut
    at a level would falsify the inductance by that time, however finely it is sampled.
    """
    signal = current if constant else volts
    seen = _from(signal, SEEN)
    if not constant or not seen:
        return max(seen - 1, 0), min(seen, 1)
    start = max(seen - (_from(signal, 3 * SEEN) - seen) - 3, 0)
    return start, seen - start


SEEN, SURE = 0.04, 0.3
"""Shares of the highest at which a signal is taken to have begun, and at which it certainly has."""


def _from(signal: np.ndarray, share: float) -> int:
    """The first sample from which the signal is above a share of its highest until it is surely on."""
    top = float(np.max(signal))
    sure = int(np.argmax(signal > SURE * top))
    below = np.nonzero(signal[:sure] <= share * top)[0]
    return int(below[-1]) + 1 if len(below) else 0


def simulate(p: np.ndarray, capture: SpinUp, delay_s: float = 0.0) -> tuple[np.ndarray, np.ndarray]:
    """Current (A) and speed (rad/s) at every sample for R, L, Ke, J, Tc, b; exact for volts held between samples.

    Switched on ``delay_s`` after the beginning, where that is left open.
    """

    r, inductance, k, j, friction, b = p
    u = capture.applied(delay_s)
    dt, n = capture.period_s, len(u)
    # At rest: a first-order rise of the current until its torque overcomes the friction.
    decay = np.exp(-r * dt / inductance)
    stuck = scipy.signal.lfilter([0.0, (1 - decay) / r], [1.0, -decay], u)
    free = np.nonzero(k * stuck > friction)[0]
    current, speed = stuck.copy(), np.zeros(n)
    if len(free) == 0:
        return current, speed
    # The shaft lets go between two samples: that moment is found exactly, so that nothing jumps with the friction.
    after = max(int(free[0]), 1)
    target, end = u[after - 1] / r, friction / k
    gap = (end - target) / (stuck[after - 1] - target)
    wait = min(max(-inductance / r * np.log(gap), 0.0), dt) if 0 < gap <= 1 else 0.0
    block = np.zeros((4, 4))
    block[:2, :2] = [[-r / inductance, -k / inductance], [k / j, -b / j]]
    block[:2, 2:] = [[1 / inductance, 0.0], [0.0, -1 / j]]
    whole = scipy.linalg.expm(block * dt)
    phi, gamma = whole[:2, :2], whole[:2, 2:]
    values, vectors = np.linalg.eig(phi)
    if abs(values[0] - values[1]) < 1e-9:
        return simulate(np.array([r, inductance * (1 + 1e-5), k, j, friction, b]), capture, delay_s)
    loose = scipy.linalg.expm(block * (dt - wait)) @ np.array([end, 0.0, u[after - 1], friction])
    inverse = np.linalg.inv(vectors)
    begin, push = inverse @ loose[:2], inverse @ gamma
    length = n - after
    state = np.empty((2, length), dtype=values.dtype)
    for m in range(2):
        force = push[m, 0] * u[after - 1 : n - 1] + push[m, 1] * friction
        force[0] = begin[m]
        state[m] = scipy.signal.lfilter([1.0], [1.0, -values[m]], force)
    current[after:] = (vectors[0, 0] * state[0] + vectors[0, 1] * state[1]).real
    speed[after:] = np.maximum((vectors[1, 0] * state[0] + vectors[1, 1] * state[1]).real, 0.0)
    return current, speed


def physical(q: np.ndarray, top: float) -> np.ndarray:
    """R, L, Ke, J, Tc, b from R, L, Ke, J, friction at the speed ``top`` (rad/s) and its viscous share."""
    return np.array([*q[:4], q[4] * (1 - q[5]), q[4] * q[5] / top])


def _thinned(capture: SpinUp) -> SpinUp:
    """Every so many samples, for the first rounds: enough for the shape, not for the noise."""
    stride = len(capture.current) // COARSE
    if stride < 2:
        return capture
    count = len(capture.current) // stride * stride
    volts = capture.volts[:count].reshape(-1, stride).mean(axis=1)
    return SpinUp(
        period_s=capture.period_s * stride,
        volts=volts,
        current=capture.current[:count:stride],
        speed=None if capture.speed is None else capture.speed[:count:stride],
        final_speed=capture.final_speed,
        brush_v=capture.brush_v,
        lead=-(-capture.lead // stride),
    )
