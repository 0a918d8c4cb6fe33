"""Supplies as they are on the table: chargers, packs side by side, regulators in a row, the sun; with each its
neighbour."""

from __future__ import annotations

from functools import partial

import pytest
from pydantic import ValidationError

from tests.kit import codes, staged
from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases.sources import window
from zinc_whistle.core.model.build import Build, bind_build
from zinc_whistle.core.model.given import Given
from zinc_whistle.core.model.supply import Consumer, Regulator
from zinc_whistle.demo.data import lantern_carousel, snow_fan

from .kit import SHELF, altered, said, verdict

FAN = partial(altered, snow_fan)
CAROUSEL = partial(altered, lantern_carousel)
SOURCE = "supply__sources__s1__"


def full_v(build: Build) -> float:
    """The highest volts of the first source."""
    bind_build(build)
    found = window(build.supply.sources[0]).full.value
    assert found is not None
    return float(found)


def test_a_charger_that_stays_on_lifts_the_highest_volts() -> None:
    """Six lead cells at rest: 12.9 V; on a charger 6 · 2.4 V = 14.4 V. What is typed comes before the class. A charger
    below the battery's own volts changes nothing."""
    assert full_v(snow_fan()) == pytest.approx(12.9)
    assert full_v(FAN(**{SOURCE + "charger": "yes"})) == pytest.approx(14.4)
    assert full_v(FAN(**{SOURCE + "charger": "yes", SOURCE + "charge_v": "13.8 V"})) == pytest.approx(13.8)
    assert full_v(FAN(**{SOURCE + "charger": "yes", SOURCE + "charge_v": "11 V"})) == pytest.approx(12.9)


def test_a_part_that_bears_the_battery_may_not_bear_the_charger() -> None:
    """Seven cells: 15.05 V at rest, within the timer's 16; 16.8 V on the charger, beyond."""
    seven = {SOURCE + "cells": "7"}
    assert verdict(FAN(**seven), "signals.timer_high") != "exceeded"
    charged = said(FAN(**seven, **{SOURCE + "charger": "yes"}), "signals.timer_high")
    assert charged is not None and charged.verdict == "exceeded"


def test_cells_for_single_use_are_not_charged() -> None:
    dry = {SOURCE + "chemistry": "alkaline", SOURCE + "cells": "8", SOURCE + "charge_v": "13 V"}
    assert said(FAN(**dry), "supply.s1.charger") is None
    found = said(FAN(**dry, **{SOURCE + "charger": "yes"}), "supply.s1.charger")
    assert found is not None and found.stops and found.remedy is not None and found.remedy.text == "no"
    own = {
        SOURCE + "chemistry": "own",
        SOURCE + "full_v": "13 V",
        SOURCE + "nominal_v": "12 V",
        SOURCE + "flat_v": "11 V",
    }
    unknown = said(FAN(**own, **{SOURCE + "charger": "yes"}), "signals.timer_high")
    assert unknown is not None and unknown.verdict == "unknown", (
        "no class, no volts typed: what it charges to is unknown"
    )


def test_packs_side_by_side_share_the_current_and_add_their_charge() -> None:
    """Two alike: half of 50 mΩ; twice the charge runs more than twice as long where Peukert's exponent is 1.2:
    2^1.2 = 2.30. A spare beside them is one time more."""
    one = assess(snow_fan(), SHELF).shared.sources[0]
    two = assess(FAN(**{SOURCE + "packs": "2"}), SHELF).shared.sources[0]
    assert two.window.resistance.value == pytest.approx((one.window.resistance.value or 0.0) / 2)
    assert one.runtime is not None and two.runtime is not None
    assert (two.runtime.value or 0.0) / (one.runtime.value or 1.0) == pytest.approx(2**1.2, rel=1e-6)
    spared = assess(FAN(**{SOURCE + "spare": "1"}), SHELF).shared.sources[0]
    assert spared.with_spares is not None and spared.runtime is not None
    assert spared.with_spares.value == pytest.approx(2 * (spared.runtime.value or 0.0))


def test_the_sun_of_a_day() -> None:
    """10 W for two hours of full sun, 60 % of it kept: 43 kJ. The fan's mean of some 0.75 A from 12 V is 9 W: one hour
    is 32 kJ, two hours are 65."""
    sun = {SOURCE + "solar_w": "10 W", SOURCE + "sun_for": "2 h"}
    short = said(FAN(**sun, **{SOURCE + "used_for": "1 h"}), "supply.s1.solar")
    assert short is not None and short.verdict in ("holds", "tight")
    assert short.limit is not None and short.limit.value == pytest.approx(10 * 7200 * 0.6)
    long = said(FAN(**sun, **{SOURCE + "used_for": "2 h"}), "supply.s1.solar")
    assert long is not None and long.verdict == "exceeded" and long.severity == "warn"
    untold = said(FAN(**sun), "supply.s1.solar")
    assert untold is not None and untold.verdict == "unknown"


def test_the_arming_lamp() -> None:
    """12 V nominal less 2 V at 5 mA: 2 kΩ; full 12.9 V: 54.5 mW. It hangs behind the switch, and its current counts."""
    lit = assess(FAN(**{SOURCE + "lamp_a": "5 mA"}), SHELF)
    source, dark = lit.shared.sources[0], assess(snow_fan(), SHELF).shared.sources[0]
    assert source.lamp_resistor is not None and source.lamp_resistor.value == pytest.approx(2000)
    assert source.lamp_heat is not None and source.lamp_heat.value == pytest.approx(10.9 * 5e-3)
    assert (source.mean.value or 0.0) - (dark.mean.value or 0.0) == pytest.approx(5e-3)
    rows = {c.id: c for c in lit.drives["d1"].wiring.connections}
    assert rows["lamp+"].start.block == "switch" and rows["lamp+"].end.block == "lamp"
    assert len(set(lit.drives["d1"].wiring.grounds.values())) == 1


def in_a_row(first_v: str = "9 V", kind: str = "linear") -> Build:
    """The carousel's logic regulator behind another one."""
    build = lantern_carousel()
    last = build.supply.regulators[0]
    first = Regulator(id="r9", name="Step-down", kind="switching", source="s1")
    first.output_v.text, first.efficiency.text, first.load.text, first.dropout.text = first_v, "90 %", "0 A", "1 V"
    first.load.origin = "chosen"
    last.source, last.kind, last.place = "r9", kind, "own"  # type: ignore[assignment]
    build.supply.regulators.append(first)
    bind_build(build)
    return build


def test_a_regulator_behind_a_regulator() -> None:
    """The first carries what the second draws; the second is fed with the first's volts and burns only the difference
    to those; the first one's headroom is what the source must keep."""
    done = assess(in_a_row(), SHELF)
    last, first = done.shared.regulator("r1"), done.shared.regulator("r9")
    assert last is not None and first is not None
    draw = last.load.value or 0.0
    assert first.load.value == pytest.approx(draw), "a linear one passes its current on"
    assert last.heat.value == pytest.approx((9 - (done.build.supply.regulators[0].output_v.value or 0.0)) * draw)
    flat = window(done.build.supply.sources[0]).flat.value
    assert flat is not None and first.input_current.value == pytest.approx(9 * draw / (0.9 * flat))
    scene = done.drives["d1"].driven
    assert scene is not None and scene.scene.logic_needs is not None
    assert scene.scene.logic_needs.value == pytest.approx(10.0)
    low = said(in_a_row("6 V"), "supply.r1.input_low")
    assert low is not None and low.stops and "does not leave it its headroom" in low.todo
    assert verdict(in_a_row("9 V"), "supply.r1.input_low") == "holds"
    blocks = {t.block for c in done.drives["d1"].wiring.connections for t in (c.start, c.end)}
    assert {"regulator", "regulator r9"} <= blocks
    assert len(set(done.drives["d1"].wiring.grounds.values())) == 1


def test_no_regulator_feeds_itself() -> None:
    build = in_a_row()
    data = build.model_dump(mode="json")
    data["supply"]["regulators"][1]["source"] = "r1"
    with pytest.raises(ValidationError, match="leads back to itself"):
        Build.model_validate(data)


def test_a_gate_supply_of_its_own_does_not_sag_with_the_motors() -> None:
    """The motor's battery is flat at 10.8 V: a regulator behind it leaves the gates 8.8 V. A 9 V source of its own,
    through the same 2 V, leaves 7 V; one of 15 V leaves all 12."""
    boot = partial(staged, circuit="full bridge", gate_v="12 V", gate_dropout="2 V")
    behind = said(boot(lantern_carousel()), "stage.driver_low")
    assert behind is not None and behind.stress is not None
    for volts, left in (("9 V", 7.0), ("15 V", 12.0)):
        build = boot(lantern_carousel(), gate_fed="source", gate_source="s9")
        extra = build.supply.sources[0].model_copy(
            update={"id": "s9", "chemistry": "own", "kind": "adaptor"}, deep=True
        )
        for name in ("full_v", "nominal_v", "flat_v"):
            getattr(extra, name).text = volts
        build.supply.sources.append(extra)
        found = said(build, "stage.driver_low")
        assert found is not None and found.stress is not None and found.stress.value == pytest.approx(left)
    unnamed = boot(lantern_carousel(), gate_fed="source")
    assert verdict(unnamed, "stage.driver_low") == "unknown"


def test_a_lead_that_stays_in_is_told_and_mended() -> None:
    lead = CAROUSEL(supply__lead_in="yes")
    found = said(lead, "supply.back_feed")
    assert found is not None and found.verdict == "exceeded" and found.remedy is not None
    cut = CAROUSEL(supply__lead_in=found.remedy.text)
    assert verdict(cut, "supply.back_feed") == "holds"
    assert codes(assess(cut, SHELF)) <= codes(assess(lead, SHELF))


# -- what feeds the controller -----------------------------------------------------------------------------------------


def straight(kind: str, full: str, flat: str) -> Build:
    """The carousel's controller on a source of its own, as it is."""
    build = lantern_carousel()
    own = build.supply.sources[0].model_copy(update={"id": "s9", "kind": kind, "chemistry": "own"}, deep=True)
    own.full_v.text, own.nominal_v.text, own.flat_v.text = full, full, flat
    build.supply.sources.append(own)
    build.controllers[0].regulator = "s9"
    bind_build(build)
    return build


def test_a_controller_straight_on_a_source() -> None:
    """5 V logic: 5 V from an adaptor suits its rail, 9 V its V in (6.5 to 15 V), 6 V neither; 16 V breaks it. By USB it
    is asked nothing. Its own 45 mA weigh on that source."""
    for full, flat, said_of in (("5.1 V", "4.9 V", "holds"), ("9 V", "8 V", "holds"), ("6 V", "5.8 V", "exceeded")):
        assert verdict(straight("adaptor", full, flat), "supply.c1.feed") == said_of, full
    assert verdict(straight("adaptor", "16 V", "15 V"), "supply.c1.feed") == "exceeded"
    usb = straight("usb", "5.2 V", "4.8 V")
    assert said(usb, "supply.c1.feed") is None and said(usb, "supply.logic") is None
    source = assess(usb, SHELF).shared.source("s9")
    assert source is not None and source.mean.value == pytest.approx(45e-3)
    rows = {c.id: c for c in assess(usb, SHELF).drives["d1"].wiring.connections}
    assert (rows["logic+"].start.block, rows["logic+"].end.pin) == ("logic source", "USB")
    untold = straight("adaptor", "9 V", "8 V")
    untold.controllers[0].vin_max.text = ""
    assert verdict(untold, "supply.c1.feed") == "unknown"


def test_on_the_motors_own_source_it_browns_out_with_the_motor() -> None:
    """V in wants 6.5 V; the carousel's pack is 10.8 V flat and sags little at a soft start. With 4 Ω inside it does not
    stay above."""
    build = lantern_carousel()
    build.controllers[0].regulator = "s1"
    bind_build(build)
    assert verdict(build, "supply.brown_out_start") in ("holds", "tight")
    build.supply.sources[0].resistance.text, build.drives[0].signals.soft_start = "4 Ω", "no"
    assert verdict(build, "supply.brown_out_start") == "exceeded"


def test_what_others_take_from_a_controllers_rails() -> None:
    """The carousel's board gives 300 mA to others."""
    build = lantern_carousel()
    assert said(build, "supply.c1.rail") is None, "nothing hangs on it"
    build.supply.regulators[0].consumers = [Consumer(id="k1", name="Lanterns", current=Given(text="290 mA"))]
    assert verdict(build, "supply.c1.rail") in ("holds", "tight")
    build.supply.regulators[0].consumers[0].current.text = "310 mA"
    assert verdict(build, "supply.c1.rail") == "exceeded"


def test_a_controllers_own_draw_stands_in_where_nobody_read_the_logics_current() -> None:
    """Nothing read: its sheet's 45 mA. Read, all told: that, and not 45 mA more."""
    build = lantern_carousel()
    build.supply.regulators[0].consumers = []
    read = assess(build, SHELF).shared.regulator("r1")
    build.supply.regulators[0].load.text = ""
    bind_build(build)
    told = assess(build, SHELF).shared.regulator("r1")
    assert read is not None and told is not None and told.load.value == pytest.approx(45e-3)
    assert read.load.value == pytest.approx(lantern_carousel().supply.regulators[0].load.value or 0.0)
