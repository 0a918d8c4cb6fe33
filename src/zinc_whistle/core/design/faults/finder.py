"""Probabilities of the candidate causes from symptoms and readings, and the test that would tell most for its price.

Each cause is drawn many times, with its severity and the tolerances of all else; every draw says what each test would
read. A reading weighs all draws by how well they tell it (Bayes' rule on samples), so readings act together: of a
drawn fault the severity that the first reading asks for must also tell the second.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from ...cases.operating import Context
from ...model.bench import STAGES
from ...stations.bench.step import Step
from .healthy import Healthy, healthy
from .readings import SheetReadings
from .state import in_order
from .symptoms import SYMPTOMS
from .table import Cause, candidates

Grid = NDArray[np.float64]
DRAWS = 320
WIDTH = 0.22
"""How far a reading may lie beside a draw that tells it, on the scale of ``scaled``: a hand's unsteadiness, a tolerance
that nobody drew."""
REACH = 8.0
NOTHING_SHARE = 0.03
"""Of what is expected, less is nothing."""
FINER = {"short": 40.0, "diode": 0.12}
"""Steps whose bounds are wider than what tells one fault from another: Ω and V on their scale."""
SLIP = 0.0015
"""Of all readings so many are wrong whatever is true: a slip, a wrong range. No single one rules a cause out."""
SHARPER = 1.35
"""Power of every likelihood: the draws spread wider than benches do, so what they say is a little too doubtful. Set on
the hidden benches of the tests, by what was told and what was right."""
SEEN, NOT_SEEN = 0.96, 0.02
"""How often a symptom is told where it shows, and where it does not."""
ALIKE = 0.12
"""Causes between which no test tells apart more than this share of the cases count as one."""
UNFIT = 3.5
"""Beyond so many widths no cause tells all the readings together."""
RISK = {"cold": 1.0, "power": 1.2, "inputs": 1.2, "pulses": 1.3, "motor": 1.6, "load": 2.0, "long": 2.0}
"""What a minute of each stage counts: what can still break (common practice, no source)."""
SETTING_UP = 3
"""Minutes to move the probes, set the instrument and read the step (common practice, no source)."""
BURNING = 20.0
"""How much more a stage under power counts for each part of probability that power does harm."""
BINS = np.linspace(-REACH - 0.25, REACH + 0.25, 34)


def scaled(step: Step, value: Grid | float) -> Grid:
    """A reading on a scale on which what is right lies within about ±1 and what is far off grows as its logarithm."""
    middle = step.expected.value or 0.0
    sides = [abs(x - middle) for x in (step.low, step.high) if x is not None]
    half = max([*sides, 1e-3 * abs(middle), 1e-9])
    half = FINER.get(step.id, half)
    read = np.asarray(value, dtype=float)
    found = np.arcsinh((read - middle) / half)
    if middle:
        # Nothing at all and a third of it are both far off, and not the same.
        found = found + 0.5 * (np.arcsinh(read / (NOTHING_SHARE * middle)) - math.asinh(1 / NOTHING_SHARE))
    return np.clip(found, -REACH, REACH)


@dataclass(frozen=True, slots=True)
class Suspect:
    """Causes that no test of the sheet tells apart, their probability together, and what they say to the readings."""

    causes: tuple[Cause, ...]
    probability: float
    reads: Mapping[str, tuple[float, float]]
    """By step: between what it would read in eight of ten cases (SI)."""
    fits: Mapping[str, bool]
    """By step that was read: whether it tells that reading."""


@dataclass(frozen=True, slots=True)
class NextTest:
    """A test that is not done yet, what it would tell (bits of the cause), and its price in minutes at risk."""

    step: Step
    bits: float
    price: float

    @property
    def worth(self) -> float:
        return self.bits / self.price


@dataclass(frozen=True, slots=True)
class Suspects:
    """What the readings say, the most probable first; and the tests left, the most worth first."""

    suspects: tuple[Suspect, ...]
    tests: tuple[NextTest, ...]
    unfit: bool
    """Whether nothing in the list tells all of it together."""
    burning: float
    """How probable it is that power on it does harm."""


class Finder:
    """The draws of one drive: worked out once, asked as often as readings come."""

    def __init__(self, h: Healthy, draws: int = DRAWS, seed: int = 1) -> None:
        self.healthy, self.draws = h, draws
        self.causes = candidates(h)
        self.symptoms = tuple(s for s in SYMPTOMS if s.asked(h))
        predicted: list[dict[str, Grid]] = []
        shown: list[dict[str, Grid]] = []
        for place, cause in enumerate(self.causes):
            chance = np.random.default_rng([seed, place])
            state = in_order(h, draws, chance)
            cause.put_in(h, state, chance)
            reads = SheetReadings(h, state)
            predicted.append({s.id: found for s in h.steps.values() if (found := reads.of(s)) is not None})
            shown.append({s.id: np.asarray(s.shows(reads), dtype=float) for s in self.symptoms})
        self.steps = tuple(s for s in h.steps.values() if s.id in predicted[0])
        self.reads = {s.id: np.stack([p[s.id] for p in predicted]) for s in self.steps}
        self.at = {s.id: scaled(s, self.reads[s.id]) for s in self.steps}
        self.low = {id: np.quantile(r, 0.1, axis=1) for id, r in self.reads.items()}
        self.high = {id: np.quantile(r, 0.9, axis=1) for id, r in self.reads.items()}
        self.shown = {s.id: np.stack([p[s.id] for p in shown]) for s in self.symptoms}
        self.bins = {s.id: _binned(self.at[s.id]) for s in self.steps}
        self.group = self._alike()
        weights = np.array([c.weight for c in self.causes])
        self.prior = np.repeat(weights[:, None] / draws, draws, axis=1) / weights.sum()

    def _alike(self) -> list[int]:
        """For each cause the first one that no test tells from it."""
        means = {s.id: self.bins[s.id].mean(axis=1) for s in self.steps}
        seen = {s.id: self.shown[s.id].mean(axis=1) for s in self.symptoms}
        found = list(range(len(self.causes)))
        for k in range(len(self.causes)):
            for j in range(k):
                apart = [0.5 * float(np.abs(m[k] - m[j]).sum()) for m in means.values()]
                apart += [abs(float(m[k] - m[j])) for m in seen.values()]
                if max(apart, default=0.0) < ALIKE:
                    found[k] = found[j]
                    break
        return found

    def weighed(self, readings: Mapping[str, float], symptoms: Mapping[str, bool]) -> Grid:
        """The probability of every draw, causes × draws."""
        weight = self.prior.copy()
        for id, value in readings.items():
            weight *= self.telling(id, value) ** SHARPER
        for id, yes in symptoms.items():
            shows = SEEN * self.shown[id] + NOT_SEEN * (1 - self.shown[id])
            weight *= (shows if yes else 1 - shows) ** SHARPER
        return np.asarray(weight / weight.sum())

    def telling(self, id: str, value: float) -> Grid:
        """How well each draw tells a reading: the density on the scale, and the slip that any reading may be."""
        step = self.healthy.steps[id]
        apart = (float(scaled(step, value)) - self.at[id]) / WIDTH
        density = np.exp(-0.5 * apart**2) / (WIDTH * math.sqrt(2 * math.pi))
        return np.asarray((1 - SLIP) * density + SLIP / (2 * REACH))

    def ask(self, readings: Mapping[str, float], symptoms: Mapping[str, bool]) -> Suspects:
        """What the readings (SI, by step) and symptoms come to. Steps and symptoms that this drive has not are left
        out."""
        known = {k: v for k, v in readings.items() if k in self.at}
        told = {k: v for k, v in symptoms.items() if k in self.shown}
        weight = self.weighed(known, told)
        each = weight.sum(axis=1)
        burning = float(sum(p for p, c in zip(each, self.causes, strict=True) if c.burns))
        return Suspects(
            suspects=self._suspects(each, known),
            tests=self._tests(weight, known, burning),
            unfit=self._unfit(known),
            burning=burning,
        )

    def _suspects(self, each: Grid, readings: Mapping[str, float]) -> tuple[Suspect, ...]:
        found = []
        for first in dict.fromkeys(self.group):
            own = [k for k, g in enumerate(self.group) if g == first]
            between = {s.id: (float(self.low[s.id][own].min()), float(self.high[s.id][own].max())) for s in self.steps}
            fits = {
                id: bool(np.any(np.abs(scaled(self.healthy.steps[id], v) - self.at[id][own]) < 2 * WIDTH))
                for id, v in readings.items()
            }
            found.append(Suspect(tuple(self.causes[k] for k in own), float(each[own].sum()), between, fits))
        return tuple(sorted(found, key=lambda x: -x.probability))

    def _tests(self, weight: Grid, done: Mapping[str, float], burning: float) -> tuple[NextTest, ...]:
        """Mutual information of cause and reading, for each test not done: H(reading) − H(reading | cause)."""
        groups = sorted(set(self.group))
        rows = np.array([groups.index(g) for g in self.group])
        each = np.zeros(len(groups))
        np.add.at(each, rows, weight.sum(axis=1))
        found = []
        for step in self.steps:
            if step.id in done:
                continue
            joint = np.einsum("cd,cdb->cb", weight, self.bins[step.id])
            by_group = np.zeros((len(groups), joint.shape[1]))
            np.add.at(by_group, rows, joint)
            price = (SETTING_UP + step.minutes) * RISK[step.stage]
            if list(STAGES).index(step.stage) > 0:
                price *= 1 + BURNING * burning
            found.append(NextTest(step, information(by_group), price))
        return tuple(sorted(found, key=lambda t: -t.worth))

    def _unfit(self, readings: Mapping[str, float]) -> bool:
        """Whether even the draw that tells all readings best lies far beside one of them."""
        if not readings:
            return False
        apart = [np.abs(scaled(self.healthy.steps[k], v) - self.at[k]) / WIDTH for k, v in readings.items()]
        return bool(np.min(np.max(np.stack(apart), axis=0)) > UNFIT)


def information(joint: Grid) -> float:
    """Mutual information of rows and columns of a joint distribution, in bits (C. E. Shannon 1948)."""
    rows, columns = joint.sum(axis=1, keepdims=True), joint.sum(axis=0, keepdims=True)
    with np.errstate(divide="ignore", invalid="ignore"):
        parts = np.where(joint > 0, joint * np.log2(joint / (rows * columns)), 0.0)
    return max(float(parts.sum()), 0.0)


def _binned(at: Grid) -> Grid:
    """For every draw the share of its readings in each bin of the scale."""
    edges = scipy.special.ndtr((BINS - at[..., None]) / WIDTH)
    shares = np.diff(edges, axis=-1)
    shares = shares / shares.sum(axis=-1, keepdims=True)
    return np.asarray((1 - SLIP) * shares + SLIP / shares.shape[-1])


def finder_of(at: Context, steps: Sequence[Step]) -> Finder:
    """The finder of a motor's drive. NotKnownYet with a sentence where the design does not tell enough."""
    return Finder(healthy(at, tuple(steps)))


__all__ = ["Finder", "NextTest", "Suspect", "Suspects", "finder_of"]
