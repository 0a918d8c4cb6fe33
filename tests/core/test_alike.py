"""What is remembered of a template belongs to it alone: to its laws, its axes and all its numbers."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator

import pytest

from tests.kit import leaf
from tests.recorder import variants
from zinc_whistle.core.algebra import alike
from zinc_whistle.core.algebra.alike import Alike
from zinc_whistle.core.algebra.limits import Judge, upper
from zinc_whistle.core.algebra.nodes import Axis, Node, Varied
from zinc_whistle.core.assess import assess
from zinc_whistle.core.laws import driver as driver_laws
from zinc_whistle.core.laws import motor as motor_laws
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import sample_parts

FULL_OR_FLAT, FLAT_OR_FULL = Axis("supply", ("full", "flat")), Axis("supply", ("full", "flat"))


@pytest.fixture(autouse=True)
def _forgetful() -> Iterator[None]:
    alike._MARKS.clear()
    alike._WORST.clear()
    yield
    alike._MARKS.clear()
    alike._WORST.clear()


def volts(full: float | None = 12.0, flat: float | None = 9.0, axis: Axis = FULL_OR_FLAT) -> Varied:
    return Varied(axis, (leaf(full, "voltage", "full"), leaf(flat, "voltage", "flat")))


def stall(at: Node, ohms: float | None = 2.0) -> Node:
    return motor_laws.stall_current(V=at, V_b=leaf(1.0, "voltage"), R=leaf(ohms, "resistance"))


def test_the_same_said_twice_bears_one_mark() -> None:
    assert Alike().mark(stall(volts())) is Alike().mark(stall(volts()))


@pytest.mark.parametrize(
    "other",
    [
        lambda: stall(volts(full=12.000001)),
        lambda: stall(volts(flat=None)),
        lambda: stall(volts(12.0, 9.0, FLAT_OR_FULL)),
        lambda: stall(volts(9.0, 12.0)),
        lambda: stall(volts(), 2.5),
        lambda: stall(volts(), None),
        lambda: driver_laws.worst_of(stall(volts()), stall(volts())),
    ],
    ids=["a number", "one that is missing", "the axis", "the order of ends", "beside it", "nothing beside it", "a law"],
)
def test_its_neighbours_bear_others(other: Callable[[], Node]) -> None:
    assert Alike().mark(stall(volts())) is not Alike().mark(other())


def test_a_list_is_told_from_its_items() -> None:
    one, other = Alike(), Alike()
    assert one._of_input([leaf(1.0), leaf(2.0)]) != other._of_input([leaf(2.0), leaf(1.0)])
    assert one._of_input([leaf(1.0)]) != one._of_input(leaf(1.0))


def found(bound: float, *, turned: bool = False) -> str:
    """The corner at which a stall of 6 A full and 4.5 A flat is worst: full below a limit, flat above one."""
    stress, limit = stall(volts()), leaf(bound, "current")
    declared = upper("x", station="driver", title="X", stress=stress, bound=limit, todo="")
    if turned:
        declared = upper("x", station="driver", title="X", stress=limit, bound=stress, todo="")
    return Judge()(declared).corner


def test_which_side_is_the_stress_belongs_to_it() -> None:
    assert [found(10.0), found(10.0, turned=True), found(10.0)] == ["full", "flat", "full"]


def test_too_many_are_forgotten_and_found_anew(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(alike, "MOST", 3)
    assert {found(1.0 + n / 100) for n in range(40)} == {"full"}
    for n in range(40):
        stress = stall(volts(), 1 + n)
        Judge()(upper("x", station="driver", title="X", stress=stress, bound=leaf(5.0, "current"), todo=""))
        assert len(alike._MARKS) <= 3 + 3


def said_of(build: Build) -> list[tuple[object, ...]]:
    return [(x.code, x.drive, x.verdict, x.used, x.corner, x.unknown) for x in assess(build, sample_parts()).findings]


def test_what_was_remembered_changes_no_assessment() -> None:
    """Twenty builds, each worked out with nothing known; and again after all others have been through."""
    builds = [build for _, build in itertools.islice(variants(), 0, None, 3)]
    fresh = []
    for build in builds:
        alike._MARKS.clear()
        alike._WORST.clear()
        fresh.append(said_of(build))
    assert [said_of(b) for b in builds] == fresh
    known = len(alike._WORST)
    assert [said_of(b) for b in builds] == fresh
    assert len(alike._WORST) == known > 100
