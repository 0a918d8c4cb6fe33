"""The whole build's wiring: returns of signals, leads that drives share, buses; pins that conflict, and ways out."""

from __future__ import annotations

import itertools
import random

import pytest

from tests.kit import changed, finding
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.cases.pins import _matched, can, rivals_of, unfit
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.signals import Library, Peripheral, Pin
from zinc_whistle.core.model.wiring import FixedPin
from zinc_whistle.core.pin_ways import homeless, pin_ways, reasons
from zinc_whistle.demo.data import lantern_carousel


def twice(first: str = "20") -> Build:
    """The carousel with a second drive like its first, on one source; the first lead of that size."""
    build = lantern_carousel()
    unit, drive = build.units[0].model_copy(deep=True), build.drives[0].model_copy(deep=True)
    unit.id, drive.id, drive.name = "u2", "d2", "Second"
    drive.unit, drive.wiring.fixed_pins = "u2", []
    build.units.append(unit)
    build.drives.append(drive)
    build.units[0].supply_run.gauge.text = first
    return Build.model_validate(build.model_dump(mode="json"))


def verdict(done: Assessment, code: str) -> str:
    return finding(done, code).verdict


def test_one_lead_for_two_drives_bears_both() -> None:
    """Each draws 0.66 to 0.69 A through wire so thin: AWG 37 may carry 0.88 A and would do for one, not for 1.38 A;
    AWG 34 carries 1.34 A; AWG 33 1.54 A."""
    thin = assess(twice("37"))
    assert verdict(thin, "wiring.s1.shared") == "exceeded"
    assert {f.verdict for f in thin.findings if f.code == "wiring.supply_heat"} <= {"holds", "tight"}
    assert verdict(assess(twice("32")), "wiring.s1.shared") in ("holds", "tight")
    assert not [f for f in assess(lantern_carousel()).findings if f.code == "wiring.s1.shared"], (
        "one drive shares nothing"
    )


def on_the_bus(length: str) -> Build:
    build = changed(lantern_carousel(), drives__d1__wiring__signal_run__length=length)
    build.controllers[0].devices = [
        Peripheral.model_validate({"id": f"x{k}", "name": f"Display {k}", "bus": "yes", "address": f"0x{k}"})
        for k in range(3)
    ]
    return Build.model_validate(build.model_dump(mode="json"))


def test_a_bus_may_be_so_long() -> None:
    """5 V: 1,533 Ω at least. 1 µs and 0.8473: 770 pF at the most then. Four pins are 40 pF, so 7.3 m of 100 pF."""
    assert verdict(assess(on_the_bus("7.4 m")), "wiring.c1.bus") == "exceeded"
    assert verdict(assess(on_the_bus("7.1 m")), "wiring.c1.bus") == "tight"
    assert not [f for f in assess(lantern_carousel()).findings if f.code == "wiring.c1.bus"]


def test_isolated_inputs_need_no_ground_beside_them() -> None:
    build = lantern_carousel()
    build.drives[0].wiring.left_out = ["ground", "signal:SENSE"]
    found = finding(assess(build), "wiring.return")
    assert found.verdict == "exceeded" and "MOSFET bridge board" in found.todo
    assert build.units[0].part is not None
    build.units[0].part.isolated = "yes"
    assert verdict(assess(build), "wiring.return") == "holds"


# Pins -----------------------------------------------------------------------------------------------------------------
NEEDS = ("digital", "interrupt", "analogue")


def board(dice: random.Random, count: int) -> list[Pin]:
    pins = []
    for k in range(count):
        able = ["digital", *(x for x in (*NEEDS[1:], "boot", "input only") if dice.random() < 0.35)]
        pins.append(Pin.model_validate({"id": f"p{k}", "label": f"D{k}", "can": able}))
    return pins


def fits(pin: Pin, signal: str, need: str) -> bool:
    return can(pin, need) and not unfit(pin, signal)


def all_served(wants: list[tuple[str, str]], pins: list[Pin]) -> bool:
    """By trying every way."""
    return any(
        all(fits(pin, *want) for want, pin in zip(wants, way, strict=True))
        for way in itertools.permutations(pins, len(wants))
    )


@pytest.mark.parametrize("seed", range(60))
def test_pins_against_every_way_of_giving_them(seed: int) -> None:
    """As many signals get a pin as any way could give one, no pin twice, each able; where one gets none, its rivals
    cannot all be served, and whichever is dropped, the others can."""
    dice = random.Random(seed)
    pins = board(dice, dice.randint(2, 5))
    names = ["ENC A", "DIR", "STOP", "SENSE", "LAMP 1", "KNOB"]
    wants = [(name, dice.choice(NEEDS)) for name in names[: dice.randint(2, 6)]]
    got = _matched(wants, pins)
    given = [p.id for p in got if p is not None]
    assert len(given) == len(set(given))
    assert all(fits(p, *want) for p, want in zip(got, wants, strict=True) if p is not None)
    most = max(
        k for k in range(len(wants) + 1) for group in itertools.combinations(wants, k) if all_served(list(group), pins)
    )
    assert len(given) == most
    for place, pin in enumerate(got):
        if pin is not None:
            continue
        rivals, shared = rivals_of(place, wants, pins, got)
        assert place in rivals and len(shared) == len(rivals) - 1
        assert not all_served([wants[k] for k in rivals], pins)
        for dropped in rivals:
            assert all_served([wants[k] for k in rivals if k != dropped], pins)


def crowded() -> Build:
    """Two drives with encoders on two interrupt pins."""
    build = twice()
    for pin in build.controllers[0].pins:
        pin.can = [x for x in pin.can if x != "change"]
    build.drives[0].wiring.fixed_pins = []
    return Build.model_validate(build.model_dump(mode="json"))


def test_a_conflict_names_all_who_ask_and_what_there_is() -> None:
    done = assess(crowded())
    waiting = [u for d in done.drives.values() for u in d.wiring.pins if u.refusal and u.needs == "interrupt"]
    assert len(waiting) == 2
    assert "3 (ENC A, ENC B and ENC A) ask for 2" in waiting[0].refusal or "ask for 2 (D2 and D3)" in waiting[0].refusal


def test_ways_out_are_tried_before_they_are_offered() -> None:
    build = crowded()
    before = homeless(assess(build))
    ways = pin_ways(build)
    assert ways and all(w.left < len(before) for w in ways)
    assert [w.left for w in ways] == sorted(w.left for w in ways)
    polled = next(w for w in ways if w.label.startswith("Look at the encoder of Second"))
    assert [(c.path, c.text) for c in polled.changes] == [("drives.d2.encoder.method", "polling")]
    then = build.model_copy(deep=True)
    motor = then.drives[1].of_motor
    assert motor is not None
    motor.encoder.method = "polling"
    assert len(homeless(assess(then))) == polled.left
    assert pin_ways(lantern_carousel()) == []


def test_timers_that_cannot_serve_all_are_told_one_by_one_and_a_library_can_go() -> None:
    """Three timers: one keeps the program's clock, a library takes one, and on the last two drives want 20 kHz and
    1 kHz: no way. Without the library both have a timer."""
    build = twice()
    build.driven[1].signals.pwm_frequency.text = "1 kHz"
    controller = build.controllers[0]
    free = [t for t in controller.timers if not t.kept_for]
    controller.libraries = [Library(id="l1", name="Chimes", timers=free[0].id)]
    done = assess(build)
    lines = reasons(done)
    assert any("kept for the library Chimes" in x for x in lines)
    assert any("want different frequencies" in x or "has not the pins" in x for x in lines)
    assert len([x for x in lines if "kept for" in x]) == len(controller.timers) - len(free) + 1
    way = next(w for w in pin_ways(build) if w.label == "Do without the library Chimes")
    assert way.emptied == ("controllers.c1.libraries",) and way.left < len(homeless(done))
    controller.libraries = []
    assert reasons(assess(build)) == []


def test_a_pin_fixed_in_anothers_way_can_be_let_go() -> None:
    build = lantern_carousel()
    for pin in build.controllers[0].pins:
        pin.can = [x for x in pin.can if x != "change"]
    build.drives[0].wiring.fixed_pins = [FixedPin(id="f1", signal="DIR", pin="p2")]
    assert homeless(assess(build)) == [("d1", "ENC A")] or homeless(assess(build)) == [("d1", "ENC B")]
    assert any(w.emptied == ("drives.d1.wiring.fixed_pins",) and w.left == 0 and not w.breaks for w in pin_ways(build))
