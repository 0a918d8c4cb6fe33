"""The disc's four states against the drawn shape, looked at place by place."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from zinc_whistle.core.laws.disc import NEVER, FourStates, cut_by_hand, four_states

FINE = 20_000
TURNS_ON = {(0, 0): 0, (1, 0): 1, (1, 1): 2, (0, 1): 3}


def looked_at(tooth: float, shift: float) -> list[tuple[tuple[int, int], int]]:
    """What the sensors see at so many places of three pitches: states with how long they last, from a change on."""
    x = np.arange(3 * FINE) / FINE
    seen = list(zip((np.mod(x, 1) < tooth).astype(int), (np.mod(x - shift, 1) < tooth).astype(int), strict=True))
    runs: list[tuple[tuple[int, int], int]] = []
    for a, b in seen:
        if runs and runs[-1][0] == (a, b):
            runs[-1] = (a, b), runs[-1][1] + 1
        else:
            runs.append(((int(a), int(b)), 1))
    return runs[1:-1]


@given(st.floats(0.05, 0.95), st.floats(0.02, 5.98))
def test_the_states_are_those_of_the_drawn_disc(tooth: float, shift: float) -> None:
    lead = min(shift % 1, 1 - shift % 1)
    runs = looked_at(tooth, shift)
    if min(lead, tooth - lead, 1 - tooth - lead) < NEVER:
        with pytest.raises(ValueError, match="never comes"):
            four_states(tooth, shift)
        # By places the same, but for what lies within a degree.
        assume(min(lead, tooth - lead, 1 - tooth - lead) < -1e-3)
        assert len({state for state, _ in runs}) < 4 or any(
            (TURNS_ON[after] - TURNS_ON[before]) % 4 == 2 or _turns_back(runs)
            for (before, _), (after, _) in itertools.pairwise(runs)
        )
        return
    found = four_states(tooth, shift)
    assert sum(found.widths) == pytest.approx(1)
    lengths = sorted(n / FINE for _, n in runs[:4])
    assert sorted(found.widths) == pytest.approx(lengths, abs=2 / FINE)
    (one, _), (next_, _) = runs[0], runs[1]
    assert ((TURNS_ON[next_] - TURNS_ON[one]) % 4 == 3) == found.backwards


def _turns_back(runs: list[tuple[tuple[int, int], int]]) -> bool:
    steps = {(TURNS_ON[b] - TURNS_ON[a]) % 4 for (a, _), (b, _) in itertools.pairwise(runs)}
    return {1, 3} <= steps


def test_an_even_disc_has_even_steps() -> None:
    """Half tooth, half gap, sensors n + 1/4 or n + 3/4 pitches apart: four quarters; the second runs the other way."""
    for shift, backwards in ((0.25, False), (3.25, False), (0.75, True), (2.75, True)):
        found = four_states(0.5, shift)
        assert found.widths == pytest.approx((0.25,) * 4) and found.largest_error == pytest.approx(0)
        assert found.backwards is backwards


def test_a_phase_of_sixty_degrees() -> None:
    """60° where 90° is ideal: states of 60°, 120°, 60°, 120°. Edges at 0, 60, 180 and 240° instead of each 90°: 0, −30,
    0 and −30° off, ±15° about their middle, a sixth of a count."""
    found = four_states(0.5, 60 / 360)
    assert found.widths == pytest.approx((1 / 6, 1 / 3, 1 / 6, 1 / 3))
    assert found.largest_error == pytest.approx(1 / 6)


@pytest.mark.parametrize(("tooth", "shift"), [(0.5, 0.0), (0.2, 0.25), (0.8, 0.25), (0.5, 1.0), (0.5, 0.5)])
def test_a_state_that_never_comes_is_told(tooth: float, shift: float) -> None:
    """One tooth or one gap must cover both sensors at some time."""
    with pytest.raises(ValueError, match="never comes"):
        four_states(tooth, shift)
    for wrong in (0.0, 1.0, 1.2):
        with pytest.raises(ValueError, match="tooth"):
            four_states(wrong, 0.25)


def test_discs_cut_without_a_fault_are_the_drawn_one() -> None:
    for shift in (0.25, 0.75, 2.3, 3.7):
        states: FourStates = four_states(0.45, shift)
        cut = cut_by_hand(12, 0.45, shift, 0.0, states.shortest - 1e-9)
        assert cut.good == 1.0 and cut.shortest == pytest.approx(states.shortest)


def test_one_throw_by_hand() -> None:
    """A thousand discs made edge by edge in plain Python with dice of their own: the shortest state that 19 of 20 keep
    agrees within a few percent."""
    dice, teeth, tooth, shift, tol = np.random.default_rng(3), 6, 0.5, 0.25, 0.05
    shortest = []
    for _ in range(3000):
        ups = [k + dice.uniform(-tol, tol) for k in range(teeth)]
        downs = [k + tooth + dice.uniform(-tol, tol) for k in range(teeth)]
        apart = shift + dice.uniform(-tol, tol)
        edges = sorted([(x % teeth) for x in (*ups, *downs)] + [(x + apart) % teeth for x in (*ups, *downs)])
        shortest.append(min((b - a) % teeth for a, b in zip(edges, [*edges[1:], edges[0] + teeth], strict=True)))
    by_hand = float(np.quantile(shortest, 0.05))
    assert cut_by_hand(teeth, tooth, shift, tol, 0.0).shortest == pytest.approx(by_hand, rel=0.03)
    assert cut_by_hand(teeth, tooth, shift, tol, 0.1).good == pytest.approx(
        np.mean(np.array(shortest) >= 0.1), abs=0.03
    )


def test_sensors_that_look_at_different_teeth_are_worse_off() -> None:
    near, far = (cut_by_hand(12, 0.5, s, 0.04, 0.0).shortest for s in (0.25, 3.25))
    assert far < near, "the errors of two teeth add up"
    assert math.isfinite(far)
