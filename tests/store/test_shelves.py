"""The shelves of parts and motors: samples and one's own, kept apart by kind, renewed and taken away."""

from __future__ import annotations

import threading
from pathlib import Path

import pytest

from zinc_whistle.core.model.components import HeatSink
from zinc_whistle.core.model.driver import DriverPart
from zinc_whistle.core.model.motor import MotorPart
from zinc_whistle.demo.data import sample_components, sample_motors, sample_parts
from zinc_whistle.demo.seed import stock_shelf
from zinc_whistle.store import parts
from zinc_whistle.store.builds import NotFound
from zinc_whistle.store.store import Held, Store


@pytest.fixture
def stocked() -> Store:
    store = Store(":memory:")
    stock_shelf(store)
    return store


def test_samples_of_both_kinds_stand_on_their_own_shelf(stocked: Store) -> None:
    assert {p.id for p in stocked.shelf()} == {p.id for p in sample_parts()}
    assert {m.id for m in stocked.motors()} == {m.id for m in sample_motors()}
    assert all(p.sample for p in stocked.shelf())
    assert all(m.sample for m in stocked.motors())


def test_stocking_twice_changes_nothing(stocked: Store) -> None:
    before = [p.model_dump() for p in stocked.shelf()]
    stock_shelf(stocked)
    assert [p.model_dump() for p in stocked.shelf()] == before
    assert len(stocked.motors()) == len(sample_motors())


def test_an_own_motor_is_kept_renewed_and_taken_away(stocked: Store) -> None:
    mine = MotorPart(id="mine", name="From the attic")
    stocked.put_motors([mine])
    assert [m.name for m in stocked.motors() if not m.sample] == ["From the attic"]
    stocked.put_motors([mine.model_copy(update={"name": "From the cellar"})])
    assert [m.name for m in stocked.motors() if not m.sample] == ["From the cellar"]
    stocked.take_motor("mine")
    assert all(m.sample for m in stocked.motors())
    with pytest.raises(NotFound, match="of your own"):
        stocked.take_motor("mine")


def test_an_own_part_is_kept_and_taken_away_and_kinds_do_not_mix(stocked: Store) -> None:
    stocked.put_parts([DriverPart(id="mine", name="Mine")])
    with pytest.raises(NotFound):
        stocked.take_motor("mine")
    stocked.take_part("mine")
    assert all(p.sample for p in stocked.shelf())


@pytest.mark.parametrize("take", ["part", "motor"])
def test_samples_stay(stocked: Store, take: str) -> None:
    id = sample_parts()[0].id if take == "part" else sample_motors()[0].id
    with pytest.raises(NotFound):
        (stocked.take_part if take == "part" else stocked.take_motor)(id)
    assert len(stocked.shelf()) == len(sample_parts())
    assert len(stocked.motors()) == len(sample_motors())


def test_shelves_survive_closing_the_file(tmp_path: Path) -> None:
    path = tmp_path / "shelf.sqlite3"
    store = Store(path)
    stock_shelf(store)
    store.put_motors([MotorPart(id="mine", name="Mine")])
    store.close()
    again = Store(path)
    assert "Mine" in {m.name for m in again.motors()}
    assert len(again.shelf()) == len(sample_parts())
    again.close()


@pytest.mark.parametrize("motor", sample_motors(), ids=lambda m: m.id)
def test_every_sample_motor_is_known_and_plausible(motor: MotorPart) -> None:
    """Common practice, no source: idle well below stall, efficiency between a tenth and nine tenths."""
    from zinc_whistle.core.cases.motor import at_supply, constants
    from zinc_whistle.core.model.build import bind_motors

    bind_motors([motor])
    known = constants(motor.motor)
    at = at_supply(motor.motor, known, motor.motor.sheet.voltage.leaf, "rated")
    assert known.resistance_25.value and known.resistance_25.value > 0
    assert known.motor_constant.value and known.motor_constant.value > 0
    assert at.stall_current.value > 4 * known.friction_a.value
    assert 0.1 < at.best_efficiency.value < 0.9
    assert at.rated_a.value > known.friction_a.value
    assert at.survivable_stall.value > 0
    for ways in (known.resistance_ways, known.constant_ways):
        for way in ways[1:]:
            assert way.ratio is not None
            assert way.ratio.value == pytest.approx(1, abs=0.3), (motor.id, way.words)


def test_components_stand_by_class_and_come_back_as_they_went(stocked: Store) -> None:
    assert {c.id for c in stocked.components()} == {c.id for c in sample_components()}
    mine = HeatSink(id="mine", name="From an amplifier")
    mine.to_air.text = "1.5 K/W"
    stocked.put_components([mine])
    kept = next(c for c in stocked.components() if c.id == "mine")
    assert isinstance(kept, HeatSink) and kept.to_air.value == 1.5
    assert {type(c) for c in stocked.parts.components("heat sink")} == {HeatSink}
    with pytest.raises(NotFound):
        stocked.take_component("fuse", "mine")
    stocked.take_component("heat sink", "mine")
    assert "mine" not in {c.id for c in stocked.components()}
    with pytest.raises(NotFound):
        stocked.take_component("mosfet", sample_components()[0].id)


def test_parts_of_different_kinds_may_bear_one_id(stocked: Store) -> None:
    """A file of heat sinks once wrote over a driver of the same id, and no shelf could be read any more."""
    driver, motor = sample_parts()[0], sample_motors()[0]
    sink = next(c for c in sample_components() if c.kind == "heat sink")
    for part in (driver, motor, sink):
        part.id, part.sample = "same", False
    stocked.put_parts([driver])
    stocked.put_motors([motor])
    stocked.parts.put_components([sink])
    assert "same" in {p.id for p in stocked.shelf()}
    assert "same" in {m.id for m in stocked.motors()}
    assert "same" in {c.id for c in stocked.parts.components("heat sink")}
    stocked.parts.take("heat sink", "same")
    assert "same" in {p.id for p in stocked.shelf()} & {m.id for m in stocked.motors()}


def test_a_shelf_that_is_full_says_so_and_keeps_what_it_has(stocked: Store, monkeypatch: pytest.MonkeyPatch) -> None:
    held = {p.id for p in stocked.shelf()}
    monkeypatch.setattr(parts, "MOST_PARTS", len(held) + 2)
    more = [sample_parts()[0].model_copy(update={"id": f"more{i}", "sample": False}) for i in range(3)]
    with pytest.raises(parts.ShelfFull, match="take some away"):
        stocked.put_parts(more)
    assert {p.id for p in stocked.shelf()} == held
    stocked.put_parts(more[:2])
    stocked.put_parts(more[:2])
    assert len(stocked.shelf()) == len(held) + 2
    stocked.put_motors([MotorPart(id="mine", name="Another kind has room of its own")])


def test_nobody_is_given_a_list_before_it_is_bound() -> None:
    # Two requests at once: the second asks while the first still binds what it read.
    bound, given, beside = list[str](), list[list[str]](), list[threading.Thread]()

    def bind(parts: list[str]) -> None:
        other = threading.Thread(target=lambda: given.append([p for p in held() if p not in bound]))
        other.start()
        beside.append(other)
        other.join(0.2)
        bound.extend(parts)

    held = Held(lambda: ["a", "b"], bind)
    assert held() == ["a", "b"]
    beside[0].join()
    assert given == [[]]


def test_what_is_stored_is_read_anew() -> None:
    stored, held = ["a"], Held[str](lambda: list(stored), lambda parts: None)
    assert held() is held()
    stored.append("b")
    assert held() == ["a"]
    held.forget()
    assert held() == ["a", "b"]
