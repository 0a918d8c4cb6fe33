"""Further properties of the Signals station: arrays and steps agree, tables are sane, old builds still open."""

from __future__ import annotations

import itertools
import math
import random
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.kit import changed, finding, given_at
from zinc_whistle.core.assess import MotorAssessment, assess
from zinc_whistle.core.cases.truth import truth_table
from zinc_whistle.core.model.build import Build, LoadDrive, MotorDrive, bind_build
from zinc_whistle.core.model.panel import PanelSpec
from zinc_whistle.core.panel.check import check
from zinc_whistle.core.panel.lines import is_pulsed, lines_of
from zinc_whistle.core.panel.machine import Around, PanelRule, assemble
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.planned import NotYet
from zinc_whistle.core.stations.signals.panel_settings import settings_of
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage
from zinc_whistle.sheets.signals import signals as drawn

CHOICES = st.fixed_dictionaries(
    {
        "command": st.sampled_from(["hold", "touch", "serial"]),
        "both": st.sampled_from(["stop", "first"]),
        "speed_by": st.sampled_from(["fixed", "knob"]),
        "limits": st.sampled_from(["none", "both"]),
        "limit_stops": st.sampled_from(["own", "all"]),
        "stop_input": st.sampled_from(["none", "open"]),
        "stop_latched": st.sampled_from(["yes", "no"]),
        "fault_input": st.sampled_from(["none", "low"]),
        "watch": st.sampled_from(["no", "yes"]),
        "start_up": st.sampled_from(["released", "at once"]),
    }
)


@given(CHOICES, st.booleans(), st.booleans(), st.integers(0, 2**32 - 1))
@settings(deadline=None, max_examples=60)
def test_rules_on_sets_fire_as_they_do_one_by_one(
    choices: dict[str, str], reverses: bool, slammed: bool, seed: int
) -> None:
    machine = assemble(PanelSpec.model_validate(choices), Around(reverses, slammed))
    rng = random.Random(seed)
    columns = {n: rng.getrandbits(40) for n in machine.inputs}
    every = (1 << 40) - 1
    for mode, homed in itertools.product(machine.modes, (False, True)):
        values = {**columns, "homed": every if homed else 0}
        fired: dict[int, PanelRule] = {}
        for holds, rule in machine.over(mode.name, values, every):
            for k in (k for k in range(40) if holds >> k & 1):
                assert k not in fired, "one rule fires, no second"
                fired[k] = rule
        for k in range(40):
            to, _, rule_or_none = machine.step(mode.name, homed, {n: bool(c >> k & 1) for n, c in columns.items()})
            assert rule_or_none is fired.get(k)
            assert to == (rule_or_none.to if rule_or_none is not None else mode.name)


@given(CHOICES, st.booleans(), st.booleans())
@settings(deadline=None, max_examples=40)
def test_a_safe_verdict_is_never_refuted_by_a_long_random_walk(
    choices: dict[str, str], reverses: bool, slammed: bool
) -> None:
    spec = PanelSpec.model_validate(choices)
    machine = assemble(spec, Around(reverses, slammed))
    safe = {v.code for v in check(machine, spec).verdicts if v.holds}
    rng, mode, homed, last = random.Random(1), machine.modes[0].name, False, ""
    for _ in range(600):
        inputs = {n: rng.random() < 0.4 for n in machine.inputs}
        driving = machine.by_name[mode].action in ("forward", "back")
        inputs["rested"] = inputs["rested"] and not driving
        before, (mode, homed, _) = mode, machine.step(mode, homed, inputs)
        action = machine.by_name[mode].action
        if "limit" in safe and "limit_front" in inputs:
            assert not (action == "forward" and inputs["limit_front"])
            assert not (action == "back" and inputs["limit_back"])
        if "fault" in safe and "fault" in inputs:
            assert not (action in ("forward", "back") and inputs["fault"])
        if "direction" in safe and action in ("forward", "back"):
            assert action == last or not last, (before, mode)
        last = action if action in ("forward", "back") else "" if inputs["rested"] and not driving else last


@pytest.mark.parametrize("decay", ["slow", "fast", "locked anti-phase"])
@pytest.mark.parametrize("style", ["two inputs", "pwm and direction", "pwm, direction, brake", "two inputs and enable"])
def test_forward_and_back_are_each_others_mirror(style: str, decay: str) -> None:
    table, lines = truth_table(style, decay), lines_of(truth_table(style, decay))
    rows = {a: r for r in table.rows for a in r.action.split(" and ") if a}
    assert rows["forward"].motor != "" and "back" in rows
    if not lines.opposed:
        assert (rows["forward"].output_1, rows["forward"].output_2) == (rows["back"].output_2, rows["back"].output_1)
    pulsed = [n for n, v in lines.levels["forward"].items() if is_pulsed(v)]
    assert len(pulsed) == 1, "one line carries the pulses"
    needs = dict(zip(table.names, table.needs, strict=True))
    assert all(needs[n] == "pwm" for n in pulsed)


def test_a_build_from_before_the_panel_opens_and_says_what_its_program_needs() -> None:
    old = lantern_carousel().model_dump(mode="json")
    for drive in old["drives"]:
        drive.pop("panel")
    for controller in old["controllers"]:
        controller.pop("program")
        controller.pop("libraries")
        for pin in controller["pins"]:
            pin.pop("port")
            pin.pop("compare")
    build = Build.model_validate(old)
    done = assess(build)
    assert done.drives["d1"].wiring.pins
    with pytest.raises(NotYet, match="choose a profile from the shelf"):
        plan_program(done, "c1")


def test_a_pump_gets_a_panel_and_a_program_of_its_own() -> None:
    build = lantern_carousel()
    pump = LoadDrive(id="d2", name="Pump", unit="u1", controller="c1")
    pump.channel.text = "1"
    for name, text in (("rated_v", "12 V"), ("rated_a", "0.5 A")):
        getattr(pump.load, name).text = text
    build.drives = [pump]
    build.units[0].part.input_style = "one input"
    done = assess(build)
    worked = done.drives["d2"]
    assert worked.panel.machine is not None and "back" not in worked.panel.machine.inputs
    assert plan_program(done, "c1").drives[0].slug == "pump"


@pytest.mark.parametrize("make", [lantern_carousel, cider_stirrer, puppet_stage])
def test_the_scales_are_the_same_duty_in_other_words(make: Any) -> None:
    done = next(iter(assess(make()).drives.values()))
    assert isinstance(done, MotorAssessment)
    duty, top = done.signals.duty.value, done.context.plan.top.value
    assert duty and top
    shown = [s.text.replace("−", "-") for s in drawn(done, [], None).scales]
    assert float(shown[0].split(" ")[0]) == pytest.approx(100 * duty, abs=0.06)
    assert [int(x) for x in shown[1:]] == [round(255 * duty), round(top * duty), -round(top * duty), round(1000 * duty)]


def test_the_ramp_of_a_program_is_the_ramp_of_the_design() -> None:
    build = changed(lantern_carousel(), drives__d1__signals__ramp_time="2 s")
    done = next(iter(assess(build).drives.values()))
    assert isinstance(done, MotorAssessment)
    made = settings_of(done.context, done.circuit, done.signals, done.counts_per_motor_turn)
    ticks = math.ceil(made.wanted * 16384 / made.ramp_step)
    assert ticks == pytest.approx(2000, rel=0.01)
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    drive.signals.soft_start = "no"
    done = next(iter(assess(build).drives.values()))
    assert isinstance(done, MotorAssessment)
    assert settings_of(done.context, done.circuit, done.signals, done.counts_per_motor_turn).ramp_ms == 0


def test_a_rest_shorter_than_the_relays_pause_is_a_stop() -> None:
    build = changed(puppet_stage(), drives__d1__panel__pause="40 ms")
    assert finding(assess(build), "panel.pause").severity == "stop"
    given_at(build, "drives.d1.panel.pause").text = "100 ms"
    assert finding(assess(build), "panel.pause").severity == "note"


def test_a_watch_without_an_encoder_is_a_stop_that_says_so() -> None:
    build = puppet_stage()
    build.drives[0].panel.watch, build.drives[0].encoder.fitted = "yes", "no"
    found = finding(assess(build), "panel.watch")
    assert found.severity == "stop" and "encoder" in found.todo


@given(st.sampled_from(["0.1 ms", "500 ms", "3 s", "nonsense", "", "-5 ms", "31 s"]))
def test_a_wrong_time_keeps_the_last_good_one_in_use(text: str) -> None:
    build = lantern_carousel()
    bind_build(build)
    spot = given_at(build, "drives.d1.panel.pause")
    spot.text = text
    done = assess(build)
    refused = "drives.d1.panel.pause" in done.bound.errors
    assert refused == (text in ("nonsense", "-5 ms", "31 s"))
    if refused:
        assert spot.value == pytest.approx(0.2)
        assert len(done.bound.errors["drives.d1.panel.pause"]) > 20
