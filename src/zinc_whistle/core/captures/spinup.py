"""Fits a captured spin-up: R, L, Ke, J, friction by nonlinear least squares, with confidence, or a refusal.

Model: v = R i + L di/dt + Ke ω + V_b;  J dω/dt = Ke i − Tc − b ω once Ke i exceeds Tc, the shaft at rest before.
Between samples the system is affine, so the simulation is exact for a voltage that is held from sample to sample.

A spin-up at one voltage is a single exponential, and then constant and viscous friction cannot be told apart: more of
one looks like less of the other with a slightly other inertia. So the fit asks for the friction at top speed and its
viscous share; the share starts from “anything between none and all” and widens the interval of the inertia by what it
leaves open.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
import scipy

from ..algebra.giving_up import go_on
from .spinup_capture import SpinUp, _thinned, physical, simulate
from .table import CaptureError, decimated

NAMES = ("resistance", "inductance", "constant", "inertia", "friction", "viscous")


SHARE, SHARE_SPREAD = 0.5, 12**-0.5
"""Viscous share of the friction before anything is seen: even between 0 and 1, so 0.5 with a spread of 1/√12."""


TITLES = {
    "resistance": "Resistance",
    "inductance": "Inductance",
    "constant": "Motor constant",
    "inertia": "Inertia",
    "friction_at_speed": "Friction at top speed",
    "friction": "Constant friction",
    "viscous": "Viscous friction",
}


Z_95 = 1.959963984540054


UNSURE = 0.5
"""Known to worse than half its value (95 %), a constant is not reported."""


SHARE_UNSURE = 0.35


MOST_SAMPLES = 300_000
"""More of a spin-up tells its constants no better than their own drift allows, and takes memory by the gigabyte."""


FINAL_SPREAD = 0.01
"""A final speed given by hand is taken to one per cent."""


FLAT = 1e-7
"""A direction in which the residuals move by less than this share of the steepest cannot be told from the capture."""


@dataclass(frozen=True, slots=True)
class SpinUpConstant:
    """One fitted constant (SI): value, half-width of its 95 % interval, or why it is not reported."""

    name: str
    value: float | None
    half_width: float | None
    reason: str = ""


@dataclass(frozen=True, slots=True)
class Fit:
    """The fit: constants, how well it follows, and traces thinned for the eye (time in s, SI)."""

    constants: dict[str, SpinUpConstant]
    time_constant_s: float | None
    noise_a: float
    noise_rad_s: float | None
    follows: bool
    notes: tuple[str, ...]
    trace: dict[str, list[float]] = field(default_factory=dict)


def fit(capture: SpinUp) -> Fit:
    """Fit all constants; those that the capture does not determine carry a reason instead of a value."""
    guess, top = _first_guess(capture)
    coarse = _thinned(capture)
    scale_a, scale_w = float(np.max(capture.current)), top
    rough = _solve(_Job(coarse, top, scale_a * 0.05, scale_w * 0.05), guess)
    noise_a, noise_w = _noise(_Job(coarse, top, scale_a, scale_w), rough)
    q = _solve(_Job(coarse, top, noise_a, noise_w), rough)
    job = _Job(capture, top, noise_a, noise_w)
    if coarse is not capture:
        q = _polished(job, q)
    job = _Job(capture, top, *_noise(job, q))
    noise_a, noise_w = job.noise_a, job.noise_w
    sure = _Sure.of(job.jacobian(q))
    found = _judge(q, sure, job)
    current, speed = job.modelled(q)
    follows = _white(capture.current - current)
    notes = [*capture.notes]
    if not follows:
        notes.append(
            "The residuals are not noise alone: the model leaves something out, so the intervals are too narrow."
        )
    notes += questions(found)
    return Fit(
        constants=found,
        time_constant_s=_time_constant(q, sure, top),
        noise_a=noise_a,
        noise_rad_s=noise_w if capture.speed is not None else None,
        follows=follows,
        notes=tuple(notes),
        trace=_trace(capture, current, speed),
    )


@dataclass(frozen=True, slots=True)
class FittedValues:
    """One constant as the build takes it over: the given's path below the motor, the constant, and a note."""

    path: str
    constant: SpinUpConstant
    note: str = ""


COUNTED_AS_CONSTANT = "friction at top speed, counted as constant: the capture does not tell the share"


def take_over(found: Fit) -> list[FittedValues]:
    """What a build may take over; nothing without resistance and motor constant. Untold friction counts as constant."""
    c = found.constants
    if c["resistance"].value is None or c["constant"].value is None:
        return []
    split = c["friction"].value is not None
    friction = (
        FittedValues("fitted.friction", c["friction"])
        if split
        else FittedValues("fitted.friction", c["friction_at_speed"], COUNTED_AS_CONSTANT)
    )
    viscous = c["viscous"] if split else SpinUpConstant("viscous", 0.0, None)
    wanted = [
        FittedValues("fitted.resistance", c["resistance"]),
        FittedValues("fitted.constant", c["constant"]),
        friction,
        FittedValues("fitted.viscous", viscous),
        FittedValues("inductance", c["inductance"]),
        FittedValues("rotor_inertia", c["inertia"]),
    ]
    return [t for t in wanted if t.constant.value is not None]


@dataclass(frozen=True, slots=True)
class _Job:
    """A capture with the weights of its residuals: A, rad/s."""

    capture: SpinUp
    top: float
    noise_a: float
    noise_w: float

    @property
    def units(self) -> np.ndarray:
        """What a step of the last two is counted in: the share as it is, the moment of switching on in samples."""
        return np.array([1.0, self.capture.period_s])

    @property
    def latest(self) -> float:
        """The latest moment of switching on, s."""
        return self.capture.lead * self.capture.period_s

    def modelled(self, q: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Current (A) and speed (rad/s) at every sample."""
        return simulate(physical(q, self.top), self.capture, float(q[6]))

    def residual(self, q: np.ndarray) -> np.ndarray:
        """Residuals in units of the noise; the last is the share's own."""
        go_on()
        capture = self.capture
        with np.errstate(all="ignore"):
            current, speed = self.modelled(q)
        parts = [(current - capture.current) / self.noise_a]
        if capture.speed is not None:
            parts.append((speed - capture.speed) / self.noise_w)
        elif capture.final_speed is not None:
            tail = max(len(speed) // 50, 1)
            parts.append(np.array([(float(np.mean(speed[-tail:])) / capture.final_speed - 1) / FINAL_SPREAD]))
        parts.append(np.array([(q[5] - SHARE) / SHARE_SPREAD]))
        whole = np.concatenate(parts)
        return np.where(np.isfinite(whole), whole, 1e6)

    def jacobian(self, q: np.ndarray, base: np.ndarray | None = None) -> np.ndarray:
        """Derivatives of the residuals by the relative change of each constant, by the share and by the moment.

        Central differences, or forward ones from the residuals ``base`` at ``q``.
        """
        columns = []
        sizes = [*q[:5], *self.units]
        for m, size in enumerate(sizes):
            step = (1e-4 if m < 5 else 1e-3) if base is None else 1e-6
            width = step * size
            high, low = q.copy(), q.copy()
            high[m], low[m] = q[m] + width, q[m] - width
            if base is None:
                columns.append((self.residual(high) - self.residual(low)) / (2 * step))
            else:
                columns.append((self.residual(high) - base) / step)
        return np.column_stack(columns)


def _first_guess(capture: SpinUp) -> tuple[np.ndarray, float]:
    """Constants from the shape (peak and final current, time to the peak and to the fall), and the top speed."""
    i, dt = capture.current, capture.period_s
    smooth = np.convolve(i, np.ones(5) / 5, mode="same") if len(i) > 50 else i
    volts = float(np.median(capture.volts[len(i) // 2 :])) - capture.brush_v
    if volts <= 0:
        raise CaptureError("The voltage is zero or less while the motor runs: check which column is the voltage.")
    at = int(np.argmax(smooth))
    peak, end = float(smooth[at]), float(np.mean(i[-max(len(i) // 20, 3) :]))
    if end > 0.9 * peak and at < len(i) - 2:
        end = 0.5 * peak
    r = volts / peak * 0.9
    fall = np.nonzero(smooth[at:] < end + (peak - end) / np.e)[0]
    tau_m = max((int(fall[0]) if len(fall) else len(i) - at) * dt, 2 * dt)
    inductance = r * max(at * dt / 3, 0.2 * dt)
    top = float(np.mean(capture.speed[-max(len(i) // 20, 3) :])) if capture.speed is not None else capture.final_speed
    emf = max(volts - end * r, 0.05 * volts)
    k = emf / top if top and top > 0 else 0.02
    j = tau_m * k * k / r
    begins = capture.lead * dt / 2
    return np.array([r, inductance, k, j, max(k * end, 1e-9), SHARE, begins]), top if top and top > 0 else emf / k


def _solve(job: _Job, start: np.ndarray) -> np.ndarray:

    scale = np.maximum(start, 1e-15)
    scale[5:] = job.units
    free = 7 if job.capture.lead else 6

    def whole(x: np.ndarray) -> np.ndarray:
        return np.append(x * scale[:free], start[free:])

    found = scipy.optimize.least_squares(
        lambda x: job.residual(whole(x)),
        (start / scale)[:free],
        bounds=([*[1e-6] * 5, 0.0, 0.0][:free], [*[np.inf] * 5, 1.0, job.capture.lead][:free]),
        x_scale="jac",
        max_nfev=60,
        xtol=1e-10,
        ftol=1e-10,
    )
    return np.asarray(whole(found.x))


def _polished(job: _Job, start: np.ndarray) -> np.ndarray:
    """A few Gauss–Newton steps on all the rows: the answer on the thinned ones is near."""
    q = start
    for _ in range(2):
        residual = job.residual(q)
        jacobian = job.jacobian(q, residual)
        step = -np.linalg.lstsq(jacobian.T @ jacobian, jacobian.T @ residual, rcond=1e-13)[0]
        others = np.clip(q[5:] + step[5:] * job.units, 0.0, [1.0, job.latest])
        q = np.append(q[:5] * np.clip(1 + step[:5], 0.2, 5.0), others)
        if np.max(np.abs(step)) < 1e-5:
            break
    return q


def _noise(job: _Job, q: np.ndarray) -> tuple[float, float]:
    """What is left of current (A) and speed (rad/s), as one standard deviation."""
    capture, (current, speed) = job.capture, job.modelled(q)
    free = max(len(current) - 6, 1)
    a = float(np.sqrt(np.sum((current - capture.current) ** 2) / free)) or job.noise_a * 1e-9
    w = job.noise_w
    if capture.speed is not None:
        w = float(np.sqrt(np.sum((speed - capture.speed) ** 2) / free)) or job.noise_w * 1e-9
    return a, w


@dataclass(frozen=True, slots=True)
class _Sure:
    """What a capture tells: 95 % half-ways along the directions that it fixes, and the directions that it does not."""

    half_ways: np.ndarray
    open_ways: np.ndarray

    @classmethod
    def of(cls, jacobian: np.ndarray) -> _Sure:
        _, sizes, ways = np.linalg.svd(np.linalg.qr(jacobian, mode="r"))
        keep = sizes > FLAT * sizes[0]
        return cls(Z_95 * ways[keep] / sizes[keep][:, None], ways[~keep])

    def half_width(self, gradient: np.ndarray) -> float | None:
        """Of what goes by ``gradient`` with the constants' relative changes; None where the capture leaves it open."""
        if self.open_ways.size and np.max(np.abs(self.open_ways @ gradient)) > 0.05 * np.linalg.norm(gradient):
            return None
        return float(np.linalg.norm(self.half_ways @ gradient))


def _time_constant(q: np.ndarray, sure: _Sure, top: float) -> float | None:
    """The mechanical time constant in s, if the capture tells it: of inertia and constant it needs their ratio only."""
    r, _, k, j, _, b = physical(q, top)
    stiff = k**2 + r * b
    by = np.array([k**2 / stiff, 0.0, -2 * k**2 / stiff, 1.0, -r * b / stiff, -r * b / stiff / max(q[5], 1e-9), 0.0])
    half = sure.half_width(by)
    return float(r * j / stiff) if half is not None and half <= UNSURE else None


IMPOSSIBLE = {
    "resistance": (5e-3, 200.0, "ohms"),
    "inductance": (1e-7, 0.3, "henries"),
    "constant": (1e-4, 5.0, "volts for each rad/s"),
    "inertia": (1e-10, 0.1, "kg·m²"),
}
"""Between what a motor that can be wired by hand has its constants (common practice, no source)."""


def questions(constants: dict[str, SpinUpConstant]) -> list[str]:
    """What no such motor has: most often a column was read in the wrong unit."""
    found = []
    for name, (low, high, unit) in IMPOSSIBLE.items():
        value = constants[name].value
        if value is not None and not low <= value <= high:
            found.append(
                f"{TITLES[name]} of {value:.3g} {unit}: hardly any brushed motor has that. Are the columns in the "
                "units that their headers say (A or mA, s or ms, rpm or rad/s)?"
            )
    return found


def _judge(q: np.ndarray, sure: _Sure, job: _Job) -> dict[str, SpinUpConstant]:
    """Confidence of each constant by the singular values of the Jacobian; refused where a direction is flat."""
    capture = job.capture
    flat = np.any(np.abs(sure.open_ways) > 0.05, axis=0) if len(sure.open_ways) else np.zeros(7, dtype=bool)
    no_speed = capture.speed is None and capture.final_speed is None
    if no_speed:
        # Without any speed the constants of the mechanical side scale together and leave the current as it is.
        flat |= np.array([False, False, True, True, True, True, False])
    half_ways = sure.half_ways
    spread = np.sqrt(np.sum(half_ways**2, axis=0))
    reason = (
        "The current alone does not tell it: capture the speed too, or give the final speed."
        if no_speed
        else "This capture does not tell it apart from the others."
    )
    found: dict[str, SpinUpConstant] = {}
    for m, name in enumerate(("resistance", "inductance", "constant", "inertia", "friction_at_speed")):
        half = float(spread[m] * q[m])
        if flat[m]:
            found[name] = SpinUpConstant(name, None, None, reason)
        elif spread[m] > UNSURE:
            words = f"Known only to ±{spread[m] * 100:.0f} %: capture faster, longer or with less noise."
            found[name] = SpinUpConstant(name, None, None, words)
        else:
            found[name] = SpinUpConstant(name, float(q[m]), half)
    if capture.period_s > 0.5 * q[1] / q[0]:
        found["inductance"] = SpinUpConstant(
            "inductance",
            None,
            None,
            "The samples are too far apart for the rise of the current: capture at least ten in each L/R.",
        )
    return found | _split(q, half_ways, flat, reason, job)


def _split(q: np.ndarray, half_ways: np.ndarray, flat: np.ndarray, reason: str, job: _Job) -> dict[str, SpinUpConstant]:
    """Constant and viscous friction by themselves, where the capture tells the share."""
    _, _, _, _, friction, viscous = physical(q, job.top)
    if flat[4] or flat[5]:
        return {n: SpinUpConstant(n, None, None, reason) for n in ("friction", "viscous")}
    if np.sqrt(np.sum(half_ways[:, 5] ** 2)) > SHARE_UNSURE:
        words = (
            "One spin-up at one voltage does not tell constant friction from viscous: "
            "capture two voltages in one go, or "
            "a second no-load reading."
        )
        return {n: SpinUpConstant(n, None, None, words) for n in ("friction", "viscous")}

    def half(by_size: float, by_share: float) -> float:
        return float(q[4] * np.sqrt(np.sum((by_size * half_ways[:, 4] + by_share * half_ways[:, 5]) ** 2)))

    return {
        "friction": SpinUpConstant("friction", float(friction), half(1 - q[5], -1.0)),
        "viscous": SpinUpConstant("viscous", float(viscous), half(q[5], 1.0) / job.top),
    }


def _white(residual: np.ndarray) -> bool:
    """Whether neighbouring residuals are as good as independent."""
    centred = residual - np.mean(residual)
    power = float(np.sum(centred**2))
    if power == 0:
        return True
    lag = float(np.sum(centred[1:] * centred[:-1])) / power
    return abs(lag) < 0.3


def _trace(capture: SpinUp, current: np.ndarray, speed: np.ndarray) -> dict[str, list[float]]:
    """Data, model and residual, thinned without hiding a peak."""
    time = np.arange(len(current)) * capture.period_s
    left = capture.current - current
    columns = [time, capture.current, current, left, capture.volts, speed]
    names = ["time_s", "current_a", "model_a", "residual_a", "volts", "model_rad_s"]
    if capture.speed is not None:
        columns.append(capture.speed)
        names.append("speed_rad_s")
    return {
        name: [float(f"{x:.6g}") for x in thinned] for name, thinned in zip(names, decimated(*columns), strict=True)
    }
