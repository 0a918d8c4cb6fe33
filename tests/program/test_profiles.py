"""Every profile that ships gets a program: compiled for a chip of its class, or run in the interpreter."""

from __future__ import annotations

import itertools
import subprocess
from pathlib import Path

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.program.c_names import interrupt_of, listened, vector_of
from zinc_whistle.core.program.c_source import c_source
from zinc_whistle.core.program.micropython_source import micropython_source
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.planned import ProgramPlan
from zinc_whistle.demo.data import cider_stirrer, controllers, lantern_carousel, profile, puppet_stage

from .kit import CAPABLE, FLAGS, LARGE, Interpreter, planned, target

IN_C = {"eight-bit-16": (CAPABLE, "avr5"), "eight-bit-large": (LARGE, "avr6")}
IN_PYTHON = [c.id for c in controllers() if c.program == "micropython"]
MAKERS = (lantern_carousel, cider_stirrer, puppet_stage)


def on(build: Build, id: str) -> Build:
    """The build with its controller changed for another, its pins found anew."""
    build.controllers = [profile(id).model_copy(update={"id": "c1", "regulator": "r1"}, deep=True)]
    for drive in build.drives:
        drive.wiring.fixed_pins = []
    return build


def test_every_profile_with_a_language_is_among_these() -> None:
    assert {c.id for c in controllers() if c.program} == {*IN_C, *IN_PYTHON}


def compiles(plan: ProgramPlan, id: str, folder: Path) -> None:
    source = folder / "program.c"
    source.write_text(c_source(plan), "utf-8")
    words = ["avr-gcc", target(*IN_C[id]), *FLAGS, "-o", str(folder / "program.elf"), str(source)]
    done = subprocess.run(words, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr[:2000]


@pytest.mark.parametrize(("id", "make"), list(itertools.product(IN_C, MAKERS)))
def test_the_c_program_of_every_demo_compiles_for_the_class(id: str, make: object, tmp_path: Path) -> None:
    build = on(make(), id)
    compiles(plan_program(assess(build), "c1"), id, tmp_path)


@pytest.mark.parametrize("id", IN_C)
def test_with_all_that_a_panel_can_have_it_compiles(id: str, tmp_path: Path) -> None:
    build = on(lantern_carousel(), id)
    build.drives[0].signals.reversal = "through zero"
    everything = {"command": "hold", "limits": "both", "stop_input": "closed", "speed_by": "knob", "watch": "yes"}
    compiles(planned(build, **everything, homing="back"), id, tmp_path)


def test_on_the_large_one_each_motor_has_a_timer_and_the_encoder_a_shared_interrupt(tmp_path: Path) -> None:
    """Four carousels at four frequencies: timers 1, 3, 4 and 5, which the small one does not have."""
    build = on(lantern_carousel(), "eight-bit-large")
    first = build.drives[0]
    for number in range(2, 5):
        more = first.model_copy(update={"id": f"d{number}", "name": f"Ring {number}", "unit": f"u{number}"}, deep=True)
        build.units.append(build.units[0].model_copy(update={"id": f"u{number}"}, deep=True))
        build.drives.append(more)
    for drive, khz in zip(build.drives, (20, 15, 11, 8), strict=True):
        drive.signals.pwm_frequency.text = f"{khz} kHz"
    plan = plan_program(assess(build), "c1")
    compiles(plan, "eight-bit-large", tmp_path)
    text = c_source(plan)
    assert {d.pins["PWM"].compare[0] for d in plan.drives} == {"1", "3", "4", "5"}
    for n in "1345":
        assert f"    ICR{n} = " in text and f"WGM{n}3" in text
    for d in plan.drives:
        assert d.counting is not None
        for pin in d.counting.pins:
            assert f"ISR({vector_of(interrupt_of(pin))})" in text
            assert all(line in text for line in listened(pin))
    assert "EIMSK |= _BV(INT" in text and "PCICR |= _BV(PCIE" in text, "both kinds are used"


@pytest.mark.parametrize("id", IN_PYTHON)
def test_the_micropython_program_runs_on_the_pins_of_the_profile(id: str) -> None:
    build = on(lantern_carousel(), id)
    build.drives[0].wiring.fixed_pins = []
    panel = build.drives[0].panel
    panel.command, panel.watch, panel.stop_input = "serial", "no", "none"
    plan = plan_program(assess(build), "c1")
    pwm = plan.drives[0].pins["PWM"]
    assert pwm.program in {p.program for p in profile(id).pins if "pwm" in p.can}
    with Interpreter(micropython_source(plan), 5) as python:
        python.start()
        python.run(60)
        assert python.tell("hello")[0].startswith("ok hello")
        for _ in range(20):
            python.tell("duty 1 500", 200)
        seen = python.ask(run=f"print(machine.pwm[{pwm.program}][1])").strip()
        assert 0.4 < float(seen) / 65535 < 0.6
