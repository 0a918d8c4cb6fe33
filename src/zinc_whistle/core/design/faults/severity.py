"""What each cause changes of a bench, and by how much: a draw of its severity for every likeness of the bench.

Severities are drawn over what is met, not one typical value each (common practice, no source).
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from .healthy import Healthy
from .state import FLOATING_SHARE, OVER_RANGE, BenchState, Draws

PutIn = Callable[[Healthy, BenchState, np.random.Generator], None]


def _log(chance: np.random.Generator, s: BenchState, low: float, high: float) -> Draws:
    return np.exp(chance.uniform(np.log(low), np.log(high), len(s.emf_v)))


def _even(chance: np.random.Generator, s: BenchState, low: float, high: float) -> Draws:
    return chance.uniform(low, high, len(s.emf_v))


def fixed_to(**values: float) -> PutIn:
    """Fields set to one value each."""

    def put_in(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
        for name, value in values.items():
            setattr(s, name, np.full(len(s.emf_v), value))

    return put_in


def times(name: str, low: float, high: float) -> PutIn:
    """A field times a factor between two."""

    def put_in(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
        setattr(s, name, getattr(s, name) * _log(chance, s, low, high))

    return put_in


def plus_lead(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.lead_ohm = s.lead_ohm + h.motor_ohm * _log(chance, s, 0.4, 6.0)


def plus_source(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    """From what costs a tenth of the volts at work to what costs half of them."""
    s.source_ohm = s.source_ohm + h.flat_v / max(h.working_a, 1e-3) * _log(chance, s, 0.1, 0.6)


def dead_cell(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    left = 1 - _even(chance, s, 0.8, 1.1) / h.cells
    s.emf_v, s.near_v = s.emf_v * left, s.near_v * left


def too_low(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.limit_a = h.working_a * _log(chance, s, 0.2, 0.9)


def shorted(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.short_ohm = _log(chance, s, 0.05, 4.0)


def leg_dead(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    """An upper or a lower switch of either leg: one way is left."""
    ahead = chance.random(len(s.emf_v)) < 0.5
    s.forward, s.back = np.where(ahead, 0.0, 1.0), np.where(ahead, 1.0, 0.0)


def switch_shorted(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.stuck = np.ones(len(s.emf_v))
    s.back = np.zeros(len(s.emf_v))


def worn(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.winding = s.winding * _log(chance, s, 1.6, 8.0)
    s.own["no_load_a"] = s.own.get("no_load_a", np.ones(len(s.emf_v))) * _even(chance, s, 0.8, 1.15)


def shorted_turns(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    left = _even(chance, s, 0.55, 0.85)
    s.winding, s.constant = left, left
    s.friction = _log(chance, s, 1.3, 2.5)


def slipping(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.slips = np.ones(len(s.emf_v))


def floating(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.rest = _even(chance, s, 0.22, 1.5 * FLOATING_SHARE)
    s.floats = (chance.random(len(s.emf_v)) < 0.4).astype(float)


def taken(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    """Another pace, most often far from the planned one; the duty is then of another top."""
    s.frequency = np.where(chance.random(len(s.emf_v)) < 0.5, _log(chance, s, 0.01, 0.5), _log(chance, s, 1.5, 4.0))
    s.duty = _even(chance, s, -0.4, 0.4)


def mixed(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    """The pulses stand on the line for the way: where they should be there is a level, and it runs full or not."""
    s.pulses = np.zeros(len(s.emf_v))
    s.forward = np.where(chance.random(len(s.emf_v)) < 0.5, 0.0, 1.0)
    s.by_hand = np.full(len(s.emf_v), 2.0)


def gate_weak(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.gate = _even(chance, s, 0.2, 0.75)
    s.bridge_ohm = s.bridge_ohm * _log(chance, s, 4.0, 40.0)


def boot_gone(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.boot = _even(chance, s, 0.0, 0.5)
    s.forward = np.zeros(len(s.emf_v))
    s.by_hand = np.where(chance.random(len(s.emf_v)) < 0.5, 0.0, 2.0)


def slip_disc(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.count = _even(chance, s, 0.15, 0.95)
    s.lost_counts = np.ones(len(s.emf_v))


def few_lost(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.lost_counts = np.where(chance.random(len(s.emf_v)) < 0.5, 1.0, -1.0) * _log(chance, s, 0.2, 3.0)


def diode_back(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.diode_v, s.driven_short = np.full(len(s.emf_v), OVER_RANGE), _even(chance, s, 0.3, 1.0)


def diode_gone(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.diode_v = np.full(len(s.emf_v), OVER_RANGE)
    s.heat = s.heat * _log(chance, s, 2.0, 6.0)


def diode_shorted(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.diode_v, s.driven_short = _even(chance, s, 0.0, 0.05), _even(chance, s, 0.02, 0.6)


def sense_wrong(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.sense = np.where(chance.random(len(s.emf_v)) < 0.5, _log(chance, s, 1.7, 3.0), _log(chance, s, 0.3, 0.6))


def barrier(h: Healthy, s: BenchState, chance: np.random.Generator, side: str) -> None:
    setattr(s, side, _even(chance, s, 0.35, 0.95))
    s.count, s.lost_counts = np.zeros(len(s.emf_v)), np.ones(len(s.emf_v))
