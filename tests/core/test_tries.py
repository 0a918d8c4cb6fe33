"""Tries side by side, what the shelf has corrected since, and what another build has to give."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from tests.kit import changed
from zinc_whistle.core.assess import assess
from zinc_whistle.core.design.bill import bill
from zinc_whistle.core.design.shelf_offers import ShelfEntry, entries, offers, taken
from zinc_whistle.core.design.taking import What, sources, take
from zinc_whistle.core.model.build import Build, MotorDrive, bind_build
from zinc_whistle.core.model.driver import DriverPart
from zinc_whistle.core.model.given import Given
from zinc_whistle.core.model.motor import MotorPart
from zinc_whistle.core.tries import side_by_side
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, sample_parts, snow_fan

DEMOS = pytest.mark.parametrize("make", [lantern_carousel, cider_stirrer, puppet_stage, snow_fan])


@DEMOS
def test_a_build_beside_itself_differs_in_nothing(make: Callable[[], Build]) -> None:
    one, other = assess(make()), assess(make())
    found = side_by_side([one, other])
    assert not any(line.differs for line in found.stamps)
    assert not any(any(f.moved) for f in found.figures)
    first, second = ([x.code for x in spots] for spots in found.tightest)
    assert first == second


def test_more_volts_turn_it_faster_and_draw_more_at_stall_and_the_third_state_is_told_too() -> None:
    """A volt more: top speed and stall current rise by about one in 12.8 at full supply (nearly linear in the volts);
    the price stays. A volt less, as the third state, moves both the other way."""
    base = lantern_carousel()
    path = "supply__sources__s1__"
    volts = base.supply.sources[0]
    more = changed(base, **{path + "nominal_v": "13.8 V", path + "full_v": f"{(volts.full_v.value or 0) + 1} V"})
    less = changed(base, **{path + "nominal_v": "11.8 V", path + "full_v": f"{(volts.full_v.value or 0) - 1} V"})
    states = [assess(b) for b in (base, more, less)]
    found = side_by_side(states)
    lines = {f.title: f for f in found.figures}
    stall = [s.figures["drives.d1.circuit.stall_full"].value or 0 for s in states]
    full = [s.figures["drives.d1.circuit.delivered_full"].value or 0 for s in states]
    assert stall[2] < stall[0] < stall[1] and full[2] < full[0] < full[1]
    assert lines["Stall current, supply full"].moved == (False, True, True)
    assert lines["Parts of the bill that have a price"].moved == (False, False, False)


def test_the_price_is_that_of_the_bill_and_a_price_taken_away_is_told_not_counted() -> None:
    base = lantern_carousel()
    dear = base.model_copy(deep=True)
    assert dear.units[0].part is not None
    dear.units[0].part.price = Given(text="40 €")
    bind_build(dear)
    none = base.model_copy(deep=True)
    assert none.units[0].part is not None
    none.units[0].part.price = Given(text="")
    bind_build(none)
    states = [assess(b) for b in (base, dear, none)]
    line = next(f for f in side_by_side(states).figures if f.title.startswith("Parts of the bill"))
    known = [bill(s.build, next(iter(s.drives.values())).wiring.netlist).known for s in states]
    assert known[1] > known[0] > known[2]
    assert line.moved == (False, True, True)
    assert "without a price" in line.texts[2]


def test_a_drive_that_only_one_state_has_stands_as_none_in_the_other() -> None:
    after = puppet_stage()
    after.drives, after.sequences, after.interlocks = after.drives[:2], [], []
    found = side_by_side([assess(puppet_stage()), assess(after)])
    gone = [line for line in found.stamps if line.drive == "d3"]
    assert gone and all(line.stamps[0] is not None and line.stamps[1] is None for line in gone)


def _corrected(text: str) -> tuple[Build, list[ShelfEntry], DriverPart]:
    """The carousel with its shelf part, and that part corrected in its on-resistance."""
    build = lantern_carousel()
    part = build.units[0].part
    assert part is not None
    old = next(p for p in sample_parts() if p.id == part.id)
    new = old.model_copy(deep=True)
    new.on_resistance = Given(text=text, origin="data sheet")
    return build, entries("driver", [new], {old.id: [old]}), new


def test_a_corrected_figure_is_offered_and_taken_and_nothing_else_moves() -> None:
    build, shelf, _ = _corrected("0.31 Ω")
    (offer,) = offers(build, shelf)
    (field,) = offer.fields
    assert (offer.path, field.path, field.has) == ("units.u1.part", "on_resistance", "0.31 Ω")
    made = taken(build, [offer])
    assert made.units[0].part is not None and made.units[0].part.on_resistance.text == "0.31 Ω"
    assert build.units[0].part is not None and build.units[0].part.on_resistance.text == field.had
    made.units[0].part.on_resistance = build.units[0].part.on_resistance
    assert made.model_dump(exclude={"units": {0: {"part": {"on_resistance"}}}}) == build.model_dump(
        exclude={"units": {0: {"part": {"on_resistance"}}}}
    )
    bind_build(taken(build, [offer]))
    assert not offers(taken(build, [offer]), shelf)


def test_what_the_builder_changed_in_the_copy_stays_and_is_not_offered() -> None:
    """Its nearest neighbour: the same correction, but the copy's figure is the builder's own."""
    build, shelf, _ = _corrected("0.31 Ω")
    assert build.units[0].part is not None
    build.units[0].part.on_resistance = Given(text="0.25 Ω", origin="measured")
    assert offers(build, shelf) == []


def test_a_copy_of_an_older_body_hears_of_the_newest_and_one_that_was_never_corrected_of_nothing() -> None:
    build, shelf, newest = _corrected("0.31 Ω")
    (entry,) = shelf
    assert build.units[0].part is not None
    between = newest.model_copy(deep=True)
    between.on_resistance = Given(text="0.28 Ω")
    (offer,) = offers(build, [ShelfEntry("driver", newest, (between, *entry.before))])
    assert offer.fields[0].has == "0.31 Ω"
    assert offers(build, entries("driver", [newest], {})) == []


def test_a_motor_is_known_by_its_name_and_its_rows_are_taken_as_one() -> None:
    build = lantern_carousel()
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    old = MotorPart(id="own1", name="x", kind="own", motor=drive.motor.model_copy(deep=True))
    new = old.model_copy(deep=True)
    new.motor.locked = new.motor.locked[:2]
    new.motor.no_load_a = Given(text="0.29 A", origin="measured")
    (offer,) = offers(build, entries("motor", [new], {"own1": [old]}))
    assert {f.path for f in offer.fields} == {"locked", "no_load_a"}
    made = taken(build, [offer]).drives[0]
    assert isinstance(made, MotorDrive) and len(made.motor.locked) == 2 and made.motor.no_load_a.text == "0.29 A"
    other = lantern_carousel()
    drive = other.drives[0]
    assert isinstance(drive, MotorDrive)
    drive.motor.name = "Another motor"
    assert offers(other, entries("motor", [new], {"own1": [old]})) == []


@DEMOS
def test_whatever_a_build_offers_can_be_taken_and_the_build_still_stands(make: Callable[[], Build]) -> None:
    own = lantern_carousel()
    other = make()
    for source in sources(other):
        made = take(own, "d1", other, source.drive, source.what)
        bind_build(made)
        again = Build.model_validate_json(made.model_dump_json())
        done = assess(again, sample_parts())
        assert done.drives["d1"].drive.id == "d1"
        assert [d.id for d in again.drives] == [d.id for d in own.drives]
        assert again.supply.model_dump() == own.supply.model_dump()


def _first_motor(build: Build) -> MotorDrive:
    return next(d for d in build.drives if isinstance(d, MotorDrive))


def test_a_motor_comes_with_its_meter_and_without_what_it_stood_on() -> None:
    own, other = cider_stirrer(), lantern_carousel()
    theirs, ours = _first_motor(other), _first_motor(own)
    theirs.motor.no_load_a.basis = {"a": "b"}
    theirs.motor.no_load_a.reading = "r1"
    used = {x.meter for row in theirs.motor.locked for x in (row.voltage, row.current) if x.meter}
    made = take(own, ours.id, other, theirs.id, "motor")
    got = _first_motor(made)
    assert [r.current.text for r in got.motor.locked] == [r.current.text for r in theirs.motor.locked]
    assert got.motor.no_load_a.basis is None and got.motor.no_load_a.reading is None
    assert other.name in got.motor.no_load_a.note
    meters = {m.id: m for m in made.meters}
    theirs_by_id = {m.id: m for m in other.meters}
    for row, was in zip(got.motor.locked, theirs.motor.locked, strict=True):
        if was.current.meter:
            kept = meters[row.current.meter].model_dump(exclude={"id"})
            assert kept == theirs_by_id[was.current.meter].model_dump(exclude={"id"})
    assert used and theirs.motor.no_load_a.basis == {"a": "b"}  # the other build is as it was


def test_a_meter_whose_id_is_another_one_here_gets_an_id_of_its_own() -> None:
    own, other = lantern_carousel(), lantern_carousel()
    own.meters[0].amps_share = Given(text="5 %")
    bind_build(own)
    made = take(own, "d1", other, "d1", "motor")
    assert len(made.meters) > len(own.meters)
    assert len({m.id for m in made.meters}) == len(made.meters)
    assert made.meters[0].amps_share.text == "5 %"


def test_a_driver_keeps_its_place_in_this_build() -> None:
    own, other = lantern_carousel(), puppet_stage()
    theirs = _first_motor(other)
    made = take(own, "d1", other, theirs.id, "driver")
    unit, was = made.units[0], own.units[0]
    assert unit.made_of == "stage" and (unit.id, unit.source, unit.jam_stop) == (was.id, was.source, was.jam_stop)
    assert unit.bulk_capacitance.text == was.bulk_capacitance.text


@pytest.mark.parametrize("what", ["motor", "panel", "driver", "controller"])
def test_what_is_not_there_is_refused_with_a_sentence(what: What) -> None:
    own, other = lantern_carousel(), puppet_stage()
    with pytest.raises(LookupError, match=r"\w+ .*\."):
        take(own, "d1", other, "nowhere", what)
    if what in ("motor", "panel", "driver"):
        with pytest.raises(LookupError, match=r"\w"):
            take(own, "d1", other, "d2", what)  # a servo
