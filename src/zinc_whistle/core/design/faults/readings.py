"""What each step of the test sheet reads of a drive with something wrong."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from ...stations.bench.step import Step
from .healthy import Healthy
from .state import OVER_RANGE, BenchState, Draws, SettledMotor, fed, run


class SheetReadings:
    """The tests of a drive, worked out together: what several of them stand on is worked out once."""

    def __init__(self, h: Healthy, s: BenchState) -> None:
        self.h, self.s = h, s
        self.free, self.near = run(h, s), run(h, replace(s, emf_v=s.near_v))
        self.loaded = run(h, s, max(h.working_a - h.friction_a, 0.0))

    def of(self, step: Step) -> Draws | None:
        """What a step reads, draw by draw; None for one of which the finder knows nothing."""
        id = "hand" if step.id.startswith("hand") else step.id
        if id not in READ:
            return None
        with np.errstate(divide="ignore", invalid="ignore"):
            found = READ[id](self, step) * self.s.own[step.id]
        return np.clip(np.nan_to_num(found, posinf=OVER_RANGE), -OVER_RANGE, OVER_RANGE)


def _near(reads: SheetReadings, step: Step, now: SettledMotor, before: float) -> Draws:
    """A current that is told by the design, moved by as much as the circuit says."""
    return (step.expected.value or 0.0) * now.current_a / max(before, 1e-9)


def _no_load(r: SheetReadings, step: Step) -> Draws:
    healthy_speed = _free_speed(r.h)
    return _near(r, step, r.free, r.h.friction_a + r.h.viscous * healthy_speed / r.h.constant)


def _free_speed(h: Healthy) -> float:
    volts = h.nominal_v - h.bridge_v - h.brush_v
    ohms = h.source_ohm + h.bridge_ohm + h.motor_ohm
    return max(volts - h.friction_a * ohms, 0.0) / (h.constant + ohms * h.viscous / h.constant)


def _loaded(r: SheetReadings, step: Step) -> Draws:
    return _near(r, step, r.loaded, r.h.working_a)


def _speed(r: SheetReadings, step: Step) -> Draws:
    """By the encoder where there is one: it sees nothing where its channels are off."""
    seen = (np.abs(r.s.count) if r.h.counted else 1.0) * np.abs(r.near.speed)
    return (step.expected.value or 0.0) * seen / max(_free_speed(r.h), 1e-9)


def _stall(r: SheetReadings, step: Step) -> Draws:
    ohms = r.s.lead_ohm + r.h.winding_ohm * r.s.winding
    return (step.expected.value or 0.0) * r.h.motor_ohm / ohms * r.s.lead


def _idle(r: SheetReadings, step: Step) -> Draws:
    emf, _ = fed(r.h, r.s)
    given = emf / r.s.short_ohm
    runs = run(r.h, r.s, ordered=0.0).current_a
    own = (step.expected.value or 0.0) * r.s.idle * (emf > r.h.flat_v / 2)
    # A driver's own thousands of ohms are in its idle current already.
    return own + runs + np.where(r.s.short_ohm < 100, given, 0.0)


def _hand(r: SheetReadings, step: Step) -> Draws:
    h, s = r.h, r.s
    emf, _ = fed(h, s)
    way = h.hands[step.id]
    driven = np.where(s.by_hand > 1, 1.0, np.where(way > 0, s.forward, s.back) * s.by_hand)
    if way == 0:
        return np.where(s.stuck > 0, emf, 0.0) + s.stray_v / 2
    # Where one end stands at the supply for good, the other way both ends stand there.
    stuck = np.where(s.stuck > 0, 1.0 if way > 0 else 0.0, driven)
    level = np.where(s.gate < 0.5, 0.6 * stuck, stuck)
    found = level * np.maximum(emf - h.bridge_v, 0.0) + np.where((driven == 0) | (emf < 1), s.stray_v, 0.0)
    return np.where(s.driven_short > 0, s.stray_v, found)


def _lamp(r: SheetReadings, step: Step) -> Draws:
    """A lamp that draws about what the motor does at work: what is in its way takes its part."""
    h, s = r.h, r.s
    emf, source = fed(h, s)
    told = np.maximum(np.abs(s.forward) * s.commanded, np.maximum(s.stuck, s.floats))
    volts = np.maximum(emf - h.bridge_v, 0.0)
    lamp = np.maximum(h.flat_v / max(h.working_a, 0.2), 1.0)
    # A gate that is half on lets its switch take tens of ohms; a source in its limit gives no more than that.
    across = volts * lamp / (lamp + source + np.where(s.gate < 0.8, np.maximum(s.bridge_ohm, 30.0), s.bridge_ohm))
    return np.asarray(np.where(told > 0, np.minimum(across, s.limit_a * lamp), 0.05) * (s.driven_short == 0))


def _duty(r: SheetReadings, step: Step) -> Draws:
    # Without an oscilloscope it is read as the mean of the pulses.
    full = r.h.logic_v if step.kind == "voltage" else 1.0
    return np.where(r.s.pulses > 0, (step.expected.value or 0.0) + full * r.s.duty, 0.0)


def _counts(r: SheetReadings, step: Step) -> Draws:
    """Turned by hand at the output: what slips between it and the encoder counts less."""
    slipped = np.where((r.s.slips > 0) & r.h.counts_motor, 0.3, 1.0)
    return (step.expected.value or 0.0) * r.s.count * slipped


def _direction(r: SheetReadings, step: Step) -> Draws:
    share = np.clip(r.free.speed / max(_free_speed(r.h), 1e-9), -1.5, 1.5)
    # At a quarter duty friction takes more of the volts than at full duty.
    return (step.expected.value or 0.0) * 0.9 * share * r.s.count


def _warm(r: SheetReadings, step: Step) -> Draws:
    """The case's rise goes with the losses and the way to the air."""
    rise = max((step.expected.value or 0.0) - r.h.air, 3.0)
    square = (r.loaded.current_a / max(r.h.working_a, 1e-9)) ** 2
    lost = square * r.s.bridge_ohm / max(r.h.bridge_ohm, 1e-9) if r.h.bridge_ohm else square
    return (step.expected.value or 0.0) - rise + rise * np.minimum(lost * r.s.heat, 8.0) * 0.9


def _sense(r: SheetReadings, step: Step) -> Draws:
    return _near(r, step, r.loaded, r.h.working_a) * r.s.sense


def _sag(r: SheetReadings, step: Step) -> Draws:
    emf, source = fed(r.h, r.s)
    share = np.where(r.loaded.current_a > 0, np.maximum(r.loaded.current_a / max(r.h.working_a, 1e-9), 1.0), 0.0)
    taken = np.minimum(r.h.starting_a * share, r.s.limit_a)
    return np.where(np.isfinite(r.s.limit_a), np.minimum(emf * 0.5, emf - source * taken), emf - source * taken)


def _scaled(name: str) -> Callable[[SheetReadings, Step], Draws]:
    return lambda r, step: (step.expected.value or 0.0) * getattr(r.s, name)


def _winding(r: SheetReadings, step: Step) -> Draws:
    return (step.expected.value or 0.0) * r.s.winding + 0.1


def _rail(r: SheetReadings, step: Step) -> Draws:
    """At rest, behind the fuse: a resistance in the way shows only when something is drawn."""
    held = np.where(np.isfinite(r.s.limit_a) & (r.s.short_ohm > 100), r.s.emf_v, fed(r.h, r.s)[0])
    return np.asarray(held, dtype=float)


def _rest(r: SheetReadings, step: Step) -> Draws:
    return r.h.logic_v * r.s.rest


READ: dict[str, Callable[[SheetReadings, Step], Draws]] = {
    "short": lambda r, step: np.where(r.s.short_ohm < 400, r.s.short_ohm + 0.1, r.s.short_ohm),
    "winding": _winding,
    "diode": lambda r, step: r.s.diode_v,
    "rail": _rail,
    "logic": _scaled("logic"),
    "idle": _idle,
    "gate_supply": _scaled("gate"),
    "rest": _rest,
    "hand": _hand,
    "dead_time": _scaled("dead_time"),
    "boot": lambda r, step: (step.expected.value or 0.0) * np.minimum(r.s.boot, r.s.gate),
    "proving": lambda r, step: np.maximum((step.expected.value or 0.0) - r.s.contacts_lost, 0.0),
    "frequency": lambda r, step: np.where(r.s.pulses > 0, (step.expected.value or 0.0) * r.s.frequency, 0.0),
    "duty": _duty,
    "lamp": _lamp,
    "barrier_lit": lambda r, step: (step.expected.value or 0.0) + r.s.lit * r.h.logic_v,
    "barrier_dark": lambda r, step: (step.expected.value or 0.0) - r.s.dark * r.h.logic_v,
    "counts": _counts,
    "direction": _direction,
    "out_and_back": lambda r, step: (step.high or 0.0) / 2 * (r.s.lost_counts * 20),
    "no_load_a": _no_load,
    "no_load_speed": _speed,
    "stall": _stall,
    "loaded": _loaded,
    "sense": _sense,
    "sag": _sag,
    "again": lambda r, step: r.loaded.bus_v,
    "warm": _warm,
}
