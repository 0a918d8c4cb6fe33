"""The worst corner is searched: no point of a grid off the search's own lies above what a finding reports."""

from __future__ import annotations

import math
import random
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.kit import changed, leaf, staged
from tests.recorder import variants
from zinc_whistle.core.algebra.corners import COARSE, FINE, Frame, axes_of, coarse, worst
from zinc_whistle.core.algebra.doubt import basis_of, doubt_of, missing
from zinc_whistle.core.algebra.expressions import RuleError
from zinc_whistle.core.algebra.kinds import Fraction, Volt
from zinc_whistle.core.algebra.limits import Judge, Limit, upper
from zinc_whistle.core.algebra.nodes import Axis, Constant, Varied
from zinc_whistle.core.algebra.rules import rule
from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases.scene import scenes
from zinc_whistle.core.laws import driver as driver_laws
from zinc_whistle.core.laws import frame as frame_laws
from zinc_whistle.core.model.build import Build, bound_build
from zinc_whistle.core.stations import TABLE
from zinc_whistle.demo.data import lantern_carousel, sample_parts

SUPPLY, KNOB = Axis("supply", ("full", "flat")), Axis("knob", in_words=lambda d: f"knob at {d:.0%}")
ROOM = 0.005
"""What a search may leave between its points: half a per cent."""


@rule("V_x", source="a hump inside its range", title="Hump")
def hump(V: Volt, D: Fraction, p: Fraction) -> Volt:
    return V * D * (1 - D) * (1 + p * D)


def limit(stress: Any, bound: Any = None) -> Limit:
    bound = Constant("1 V", 1.0, "voltage") if bound is None else bound
    return upper("x", station="driver", title="X", stress=stress, bound=bound, todo="")


def ends(full: float | None, flat: float | None) -> Varied:
    return Varied(SUPPLY, (leaf(full, "voltage", "full"), leaf(flat, "voltage", "flat")))


def knob() -> Varied:
    return Varied(KNOB, (Constant("0", 0.0, "fraction"), Constant("1", 1.0, "fraction")))


def test_a_worst_inside_a_range_is_found_and_named() -> None:
    """D(1 − D) is largest at a half: 4 V × ¼ is 1 V."""
    found = Judge()(limit(hump(ends(4.0, 3.0), knob(), leaf(0.0, "fraction"))))
    assert found.used == pytest.approx(1.0)
    assert found.corner == "full, knob at 50%"


def test_a_tie_goes_to_the_end_that_is_declared_first() -> None:
    assert Judge()(limit(ends(0.5, 0.5))).corner == "full"


def test_exceeded_at_a_known_corner_is_exceeded_though_another_is_not_known() -> None:
    assert Judge()(limit(ends(None, 2.0))).verdict == "exceeded"
    assert Judge()(limit(ends(2.0, None))).verdict == "exceeded"


def test_what_is_missing_at_one_corner_leaves_the_limit_unknown() -> None:
    found = Judge()(limit(ends(0.2, None)))
    assert found.verdict == "unknown"
    assert "flat" in found.unknown


def test_any_stress_is_beyond_a_bound_of_nothing_and_the_words_show_both() -> None:
    """A pin that gives 0 V cannot drive an input that wants 2 V: that is no gap in what is known."""
    found = Judge()(limit(leaf(2.0, "voltage"), leaf(0.0, "voltage")))
    assert (found.verdict, found.unknown) == ("exceeded", "")
    nothing = Judge()(limit(leaf(0.0, "voltage"), leaf(0.0, "voltage")))
    assert nothing.verdict == "unknown"


def test_runaway_at_one_corner_is_exceeded_and_never_missing() -> None:
    """With 10 K/W and R rising sixfold to its limit, 20 A make 4 W more for each kelvin shed: no junction holds it."""
    air = Varied(SUPPLY, (leaf(20.0, "temperature"), leaf(25.0, "temperature")))
    junction = driver_laws.junction_temperature(
        T_a=air,
        R_th=leaf(10.0, "thermal resistance"),
        I=leaf(20.0, "current"),
        R_on=leaf(0.1, "resistance"),
        h=leaf(6.0, "ratio"),
        T_lim=leaf(150.0, "temperature"),
        P_0=leaf(0.0, "power"),
    )
    found = Judge()(limit(junction, leaf(150.0, "temperature")))
    assert found.verdict == "exceeded"
    assert "runs away" in found.unknown
    lacking = driver_laws.junction_temperature(
        T_a=air,
        R_th=leaf(None, "thermal resistance"),
        I=leaf(20.0, "current"),
        R_on=leaf(0.1, "resistance"),
        h=leaf(6.0, "ratio"),
        T_lim=leaf(150.0, "temperature"),
        P_0=leaf(0.0, "power"),
    )
    assert Judge()(limit(lacking, leaf(150.0, "temperature"))).verdict == "unknown"


def test_givens_of_the_other_corners_are_in_the_basis_and_nowhere_else() -> None:
    use = Judge()(limit(ends(0.9, 0.5))).utilisation
    assert use is not None
    assert basis_of(use).keys() == {"full", "flat"}
    assert {x.id for x in use.gradient} == {"full"}
    assert not missing(use)
    assert doubt_of(use).standard == 0.0


def test_a_quantity_in_the_wrong_place_is_refused_at_the_call() -> None:
    """Ohms, kelvin and volts handed over in the wrong places used to answer in amperes."""
    with pytest.raises(RuleError, match="takes voltage"):
        driver_laws.stall_in_circuit(
            leaf(12.0, "resistance"), leaf(25.0, "temperature"), leaf(1.0, "voltage"), leaf(2.0, "voltage")
        )
    with pytest.raises(RuleError, match="cannot be held against"):
        Judge()(limit(leaf(1.0, "current")))


@settings(max_examples=60)
@given(st.floats(0.1, 10), st.floats(0.1, 10), st.floats(-0.9, 5))
def test_no_point_between_the_searchs_own_lies_above_it(full: float, flat: float, skew: float) -> None:
    stress = hump(ends(full, flat), knob(), leaf(skew, "fraction"))
    found = Judge()(limit(stress))
    grid = Frame({SUPPLY: [0, 1], KNOB: np.linspace(0, 1, 1009).tolist()})
    assert found.used is not None
    assert np.max(grid(stress)) <= found.used * (1 + ROOM)


def off_grid(axis: Axis, dice: random.Random) -> list[float]:
    """Points of an axis that are not the search's: all ends, and of a range a grid that shares none of its steps."""
    if not axis.is_range:
        return list(range(len(axis.ends)))
    count = 101
    assert count - 1 not in (COARSE - 1, FINE - 1)
    return sorted({0.0, 1.0, *(min(max((i + dice.random()) / count, 0.0), 1.0) for i in range(count))})


def builds() -> list[tuple[str, Build]]:
    found = []
    for name, build in variants():
        for drive in build.drives:
            if hasattr(drive, "panel"):
                drive.panel.speed_by = "knob"
        found.append((name, build))
    return found


@pytest.mark.parametrize(("name", "build"), builds(), ids=[n for n, _ in builds()])
def test_no_point_of_a_brute_force_grid_lies_above_the_reported_use(name: str, build: Build) -> None:
    own, _ = bound_build(build)
    judge, dice = Judge(), random.Random(name)
    looked = 0
    for id, scene in scenes(own, (), judge).drives.items():
        for station in TABLE:
            if scene.drive.kind not in station.work:
                continue
            for check in station.work[scene.drive.kind](scene).checks:
                if not isinstance(check, Limit) or not (axes := axes_of(check.stress, check.bound)):
                    continue
                found = judge(check)
                use = np.asarray(check.utilisation_on(Frame({a: off_grid(a, dice) for a in axes})), dtype=float)
                use = np.where(use < 0, math.inf, use)
                looked += 1
                if np.isnan(use).any():
                    assert found.verdict in ("unknown", "exceeded"), f"{id} {check.code}"
                    continue
                most = float(use.max())
                if math.isinf(most):
                    assert found.verdict == "exceeded", f"{id} {check.code}"
                elif found.used is not None and found.used >= 0:
                    assert most <= found.used * (1 + ROOM), f"{id} {check.code}: {most} above {found.used}"
    assert looked > 3 or not own.drives


def test_a_coarse_frame_and_the_worst_agree_with_plain_evaluation(carousel: Build) -> None:
    """Each corner of the carousel's driver limits, traced one by one, against the arrays."""
    own, _ = bound_build(carousel)
    judge = Judge()
    scene = scenes(own, (), judge).drives["d1"]
    for check in (c for s in TABLE if "motor" in s.work for c in s.work["motor"](scene).checks):
        if not isinstance(check, Limit):
            continue
        axes = axes_of(check.stress, check.bound)
        if not axes or any(a.is_range for a in axes):
            continue
        frame = coarse(axes)
        stress = np.broadcast_to(frame(check.stress), [len(a.ends) for a in axes])
        for place in np.ndindex(*stress.shape):
            trace = judge.at({a: float(i) for a, i in zip(axes, place, strict=True)})
            assert trace(check.stress).value == pytest.approx(float(stress[place]), rel=1e-9), check.code
        assert worst(check.utilisation_on, axes).utilisation == pytest.approx(judge(check).used or 0.0)


def test_the_worst_corner_moves_and_the_basis_tells() -> None:
    """Braking energy aside, the highest supply decides; with a flat one that is typed above it, the flat one does."""
    build = lantern_carousel()
    before = next(x for x in assess(build, sample_parts()).findings if x.code == "driver.volts_high")
    assert before.corner == "supply full"
    other = changed(build, supply__sources__s1__flat_v="16 V")
    after = next(x for x in assess(other, sample_parts()).findings if x.code == "driver.volts_high")
    assert after.corner == "supply flat"
    assert before.utilisation is not None
    assert "supply.sources.s1.flat_v" in basis_of(before.utilisation)


def test_the_low_side_is_judged_where_it_conducts_longest() -> None:
    """The lower switch of a half bridge carries for 1 − D: most with the supply full, not with it flat."""
    build = staged(lantern_carousel(), "half bridge")
    build.drives[0].signals.reversal = "one way"
    found = next(x for x in assess(build).findings if x.code == "driver.heat")
    assert "supply full" in found.corner or "supply flat" in found.corner
    assert "hottest air" in found.corner


def test_a_law_that_overflows_is_not_known_whether_something_varies_or_not() -> None:
    """A machine's numbers end: on plain numbers Python raises where an array says infinite."""
    assert math.isnan(frame_laws.rotor_inertia.on_arrays([1.0, 1e300, 1.0]))
    varied = frame_laws.rotor_inertia.on_arrays([np.array([1.0, 2.0]), 1e300, 1.0])
    assert not np.isfinite(varied).any()
