"""The winding's heat: steady, over time, and how long a stall is survived. Two nodes: winding and housing."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import scipy

from ...algebra.limits import Check, upper
from ...algebra.nodes import Figure, Node
from ...cases import frame
from ...cases.motor import Constants
from ...laws import motor as rules
from ...model.motor import MotorSpec

STATION = "motor"
MELTED = 2000.0
"""Nothing is told beyond this: copper melts at 1085 °C."""


@dataclass(frozen=True, slots=True)
class WindingHeat:
    """Where the winding ends on the hottest day, and what it may carry for good."""

    current: Node
    """As its heat counts it."""
    temperature: Figure
    allowed: Figure
    any_allowed: Node
    """The same in any air."""
    winding_capacity: Figure
    housing_capacity: Figure
    time_constant: Figure


def compute(spec: MotorSpec, known: Constants, current: Node, air: Node, any_air: Node) -> WindingHeat:
    """Steady winding temperature at ``current`` (as heat counts it) in ``air``; A and °C."""
    r, inner, outer = known.resistance_25, frame.to_housing(spec), frame.to_air(spec)
    winding = rules.winding_capacity(frame.copper(spec))
    return WindingHeat(
        current=current,
        temperature=rules.winding_temperature(air, current, r, inner, outer, case="hottest air"),
        allowed=rules.winding_allowed(spec.winding_limit.leaf, air, r, inner, outer, case="hottest air"),
        any_allowed=rules.winding_allowed(spec.winding_limit.leaf, any_air, r, inner, outer),
        winding_capacity=winding,
        housing_capacity=rules.housing_capacity(frame.housing(spec)),
        time_constant=rules.winding_time(winding, inner),
    )


def checks(spec: MotorSpec, heat: WindingHeat, current: Node, drive: str) -> list[Check]:
    """The winding's heat as currents: never a ratio of degrees."""
    return [
        upper(
            "motor.heat",
            station=STATION,
            title="Winding heat",
            stress=current,
            bound=heat.any_allowed,
            todo="Gear down, rest longer, cool the motor, or take a larger one.",
            drive=drive,
            where=f"{spec.path}.winding_limit",
        ),
    ]


@dataclass(frozen=True, slots=True)
class TwoNodes:
    """A motor's thermal side, SI: heat capacities in J/K, resistances in K/W, ohms at 25 °C."""

    winding_j_k: float
    housing_j_k: float
    inner_k_w: float
    outer_k_w: float
    resistance_ohm: float

    def system(self, current_a: float, air_c: float) -> tuple[np.ndarray, np.ndarray]:
        """dx/dt = A x + c for x = (winding, housing) in °C; copper's resistance grows linearly."""
        per_degree = current_a**2 * self.resistance_ohm / (float(rules.COPPER_ZERO) + float(rules.REFERENCE))
        flow = 1.0 / self.inner_k_w
        a = np.array(
            [
                [(per_degree - flow) / self.winding_j_k, flow / self.winding_j_k],
                [flow / self.housing_j_k, -(flow + 1.0 / self.outer_k_w) / self.housing_j_k],
            ]
        )
        c = np.array(
            [per_degree * float(rules.COPPER_ZERO) / self.winding_j_k, air_c / self.outer_k_w / self.housing_j_k]
        )
        return a, c


def course(
    nodes: TwoNodes, current_a: float, air_c: float, times_s: np.ndarray, start: tuple[float, float]
) -> np.ndarray:
    """Winding and housing temperature (°C, shape (n, 2)) at evenly spaced times under a constant current.

    Exact between the samples: the augmented matrix exponential of an affine system.
    """
    a, c = nodes.system(current_a, air_c)
    block = np.zeros((3, 3))
    block[:2, :2], block[:2, 2] = a, c
    state = np.array([*start, 1.0])
    rows = [state[:2]]
    # What runs away past all numbers within a step has melted all the same.
    with np.errstate(over="ignore", invalid="ignore"):
        step = scipy.linalg.expm(block * (times_s[1] - times_s[0]))
        for _ in times_s[1:]:
            state = step @ state
            if not np.all(np.isfinite(state)) or state[0] > MELTED:
                state = np.array([MELTED, state[1] if np.isfinite(state[1]) else MELTED, 1.0])
            rows.append(state[:2])
    return np.array(rows)


def nodes_of(spec: MotorSpec, known: Constants, heat: WindingHeat) -> TwoNodes | None:
    """The two nodes in numbers; None until all is known."""
    values = (
        heat.winding_capacity.value,
        heat.housing_capacity.value,
        frame.to_housing(spec).value,
        frame.to_air(spec).value,
        known.resistance_25.value,
    )
    return None if any(v is None or v <= 0 for v in values) else TwoNodes(*values)  # type: ignore[arg-type]


def seconds_to(
    nodes: TwoNodes, current_a: float, air_c: float, start: tuple[float, float], limit_c: float
) -> float | None:
    """Seconds until the winding reaches ``limit_c``; None if it never does. Bracketed, then closed in on the exact
    course."""
    a, c = nodes.system(current_a, air_c)
    block = np.zeros((3, 3))
    block[:2, :2], block[:2, 2] = a, c
    begin = np.array([*start, 1.0])

    def winding(t: float) -> float:
        # What runs away past all numbers has melted all the same.
        with np.errstate(over="ignore", invalid="ignore"):
            hot = float((scipy.linalg.expm(block * t) @ begin)[0])
        return hot if math.isfinite(hot) else MELTED

    if start[0] >= limit_c:
        return 0.0
    end = nodes.winding_j_k * nodes.inner_k_w * 1e-3
    while winding(end) < limit_c:
        end *= 2
        if end > 1e6:
            return None
    # Regula falsi, the Illinois way: a dozen exponentials where halving would take fifty.
    low, below, above = 0.0, start[0] - limit_c, winding(end) - limit_c
    for _ in range(60):
        middle = end - above * (end - low) / (above - below)
        value = winding(middle) - limit_c
        if abs(value) < 1e-9 * abs(limit_c) + 1e-9:
            return middle
        if value > 0:
            end, above, below = middle, value, below / 2
        else:
            low, below, above = middle, value, above / 2
    return end
