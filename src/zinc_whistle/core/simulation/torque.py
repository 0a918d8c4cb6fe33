"""The load's torque at the motor's shaft by what it does: rub, pull, or grow with the speed."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..algebra.giving_up import within
from ..cases.operating import Context
from ..model.load import Lever
from .engine import Engine, Phase, Run
from .plant import OMEGA, THETA, Plant, State

WITHIN = 5e-3
"""The speed of a run whose torque is held between steps shall change by less than this when the steps are halved."""
FIRST_STEPS, MOST_STEPS = 30, 240


@dataclass(frozen=True, slots=True)
class LoadTorque:
    """In SI at the motor's shaft: ``rub`` (N·m) against any motion, ``pull`` (N·m) back always, as a weight does,
    ``square`` (N·m s²) times the speed squared, and a lever's weight: ``lever`` (N·m) times the cosine of its angle."""

    rub: float
    pull: float
    square: float = 0.0
    lever: float = 0.0
    lever_start: float = 0.0
    lever_ratio: float = 1.0

    @property
    def held(self) -> bool:
        """Whether it has to be held constant for a while at a time."""
        return bool(self.square or self.lever)

    def on(self, plant: Plant, x: State) -> Plant:
        """A plant with this torque as it is at a state."""
        pull = self.pull
        if self.lever:
            pull += self.lever * math.cos(self.lever_start + float(x[THETA]) / self.lever_ratio)
        rub = plant.coulomb_nm + self.square * float(x[OMEGA]) ** 2
        return replace(plant, coulomb_nm=rub, load_nm=pull, stiction_nm=max(plant.stiction_nm, rub))


SLOWEST = 1e-4
"""rad/s: what moves a turn a day follows no square of its speed, and as a fan's it would stall any motor."""


def load_torque(at: Context) -> LoadTorque:
    """The load's torque split by its mechanisms. What is not known counts as rubbing."""
    whole, speed = max(float(at.load.motor_torque.value or 0.0), 0.0), at.load.motor_speed.value
    total = sum(_value(m.torque) for m in at.load.mechanisms)
    if not whole or not total or not speed or abs(speed) < SLOWEST:
        return LoadTorque(whole, 0.0)
    shares = {
        kind: sum(_value(m.torque) for m in at.load.mechanisms if m.kind == kind) / total for kind in ("fan", "lever")
    }
    rest = whole * max(1.0 - shares["fan"] - shares["lever"], 0.0)
    back = float(at.load.back_torque.value or 0.0) if at.load.back_torque is not None and not shares["lever"] else 0.0
    # Up it takes pull + rub, down it gives pull − rub: both are known from the load.
    pull = min((rest + back) / 2, rest) if back > 0 else 0.0
    lever, start = 0.0, 0.0
    if shares["lever"]:
        spec = next(m for m in at.drive.load.mechanisms if isinstance(m, Lever))
        hardest = next(_value(m.hardest) for m in at.load.mechanisms if m.kind == "lever")
        lever, start = whole * hardest / total, float(spec.start.value or 0.0)
    return LoadTorque(
        rub=rest - pull,
        pull=pull,
        square=whole * shares["fan"] / speed**2,
        lever=lever,
        lever_start=start,
        lever_ratio=float(at.drive.load.gear_ratio.value or 1.0),
    )


def _value(node: object) -> float:
    return float(getattr(node, "value", None) or 0.0)


def run_held(plant: Plant, torque: LoadTorque, schedule: Sequence[Phase], x: State, patience: int) -> tuple[Run, float]:
    """A run whose load's torque is held between steps, and the share by which its speed changes when they are halved.

    Steps are halved until that share is small, or there are too many of them.
    """
    steps, told = FIRST_STEPS, 0.25
    with within(0.0, told):
        coarse = _held(plant, torque=torque, schedule=schedule, x=x, steps=steps, patience=patience)
    while True:
        # How often it must be halved nobody knows: each time is told as half of what is left.
        with within(told, told := (1 + told) / 2):
            fine = _held(plant, torque=torque, schedule=schedule, x=x, steps=2 * steps, patience=patience)
        change = _apart(coarse, fine)
        if change <= WITHIN or 2 * steps >= MOST_STEPS:
            return fine, change
        coarse, steps = fine, 2 * steps


def _held(plant: Plant, torque: LoadTorque, schedule: Sequence[Phase], x: State, steps: int, patience: int) -> Run:
    total = sum(p.periods * p.period_s for p in schedule)
    run, now, before, length = Run(), 0.0, x, 0.0
    run.add(now, x)
    for phase in schedule:
        for piece in _pieces(phase, total / steps):
            # Held as it will be in the middle of the step, carried on from the step before.
            ahead = piece.periods * piece.period_s / (2 * length) if length else 0.0
            with within(now / total, (now + piece.periods * piece.period_s) / total):
                part = Engine(torque.on(plant, x + ahead * (x - before)), patience).run([piece], x)
            run.pieces += [(times + now, states) for times, states in part.pieces[1:]]
            run.events += [(t + now, words) for t, words in part.events]
            before, (length, x) = x, part.last
            now += length
    return run


def _pieces(phase: Phase, step_s: float) -> list[Phase]:
    """A phase in pieces of about a step: periods together, or one long period cut."""
    if phase.periods > 1 or (not phase.averaged and 0 < phase.duty < 1):
        count = max(round(step_s / phase.period_s), 1)
        whole, rest = divmod(phase.periods, count)
        return [replace(phase, periods=count)] * whole + ([replace(phase, periods=rest)] if rest else [])
    cut = max(math.ceil(phase.period_s / step_s), 1)
    return [replace(phase, period_s=phase.period_s / cut)] * cut


def _apart(coarse: Run, fine: Run) -> float:
    """How far the speeds lie apart at the coarse run's own times, as a share of the highest."""
    (ta, xa), (tb, xb) = coarse.arrays(), fine.arrays()
    top = float(np.abs(xb[:, OMEGA]).max()) or 1.0
    return float(np.abs(xa[:, OMEGA] - np.interp(ta, tb, xb[:, OMEGA])).max()) / top
