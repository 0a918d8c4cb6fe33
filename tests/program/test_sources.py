"""What a person reads in a generated program: numbers with reasons, pins, cautions, lines of a sensible length."""

from __future__ import annotations

import ast
import re
from typing import Any

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.panel.machine import names_in
from zinc_whistle.core.program.c_drive import guard as c_guard
from zinc_whistle.core.program.c_source import c_source
from zinc_whistle.core.program.keep import own_parts
from zinc_whistle.core.program.micropython_source import guard as python_guard
from zinc_whistle.core.program.micropython_source import micropython_source
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.planned import ProgramPlan
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage

from .kit import planned
from .test_micropython import on_python, roomy

DEMOS = [lantern_carousel, cider_stirrer, puppet_stage]


def plan(make: Any) -> ProgramPlan:
    return plan_program(assess(make()), "c1")


def on_micropython() -> ProgramPlan:
    return plan_program(assess(roomy(on_python(puppet_stage()))), "c1")


@pytest.mark.parametrize("make", DEMOS)
def test_every_number_of_the_design_stands_with_its_reason(make: Any) -> None:
    source = c_source(plan(make))
    for drive in plan(make).drives:
        numbers = re.findall(rf"^#define {drive.slug.upper()}_(\w+) (\d+)(.*)$", source, re.M)
        assert {"FULL", "WANTED", "RAMP_STEP", "PAUSE_MS"} <= {name for name, _, _ in numbers}
        for name, _, rest in numbers:
            assert re.search(r"/\* \S.+ \*/", rest), name


@pytest.mark.parametrize("make", DEMOS)
def test_the_head_lists_every_pin_once_with_its_port(make: Any) -> None:
    source, wanted = c_source(plan(make)), plan(make)
    listed = re.findall(r"^ \*   (\S+) +P([B-D]\d)", source, re.M)
    pins = [p for d in wanted.drives for p in d.pins.values()] + [s.pin for s in wanted.servos]
    assert sorted(listed) == sorted((p.label, p.port) for p in pins)
    assert len({port for _, port in listed}) == len(listed)


@pytest.mark.parametrize(
    "source",
    [*(c_source(plan(m)) for m in DEMOS), micropython_source(on_micropython())],
    ids=["carousel", "stirrer", "puppets", "MicroPython"],
)
def test_a_program_warns_keeps_room_for_its_owner_and_fits_a_screen(source: str) -> None:
    head = " ".join(source[:1200].replace("*", " ").replace("#", " ").split())
    assert "does not cut power" in head and "fuse at the battery" in head and "Local codes come first" in head
    assert len(own_parts(source)) == 2
    assert max(len(x) for x in source.splitlines()) <= 150
    assert not [x for x in source.splitlines() if x != x.rstrip()]


def test_the_micropython_source_is_a_program_whose_names_are_all_defined() -> None:
    tree = ast.parse(micropython_source(on_micropython()))
    classes = {n.name for n in tree.body if isinstance(n, ast.ClassDef)}
    assert {"Contact", "Encoder", "Pulses", "Drive", "Servo", "CurtainWinch"} <= classes
    functions = {n.name for n in tree.body if isinstance(n, ast.FunctionDef)}
    called = {n.func.id for n in ast.walk(tree) if isinstance(n, ast.Call) and isinstance(n.func, ast.Name)}
    known = (
        functions
        | classes
        | {
            "ADC",
            "PWM",
            "UART",
            "WDT",
            "Pin",
            *dir(__builtins__),
            "abs",
            "any",
            "chr",
            "int",
            "len",
            "max",
            "min",
            "super",
            "range",
            "isinstance",
        }
    )
    assert called <= known, called - known


@pytest.mark.parametrize("make", DEMOS)
def test_both_languages_ask_the_same_of_the_same_inputs(make: Any) -> None:
    for drive in plan(make).drives:
        for rule in drive.machine.rules:
            names = names_in(rule.when) - {"homed"}
            in_c = set(re.findall(r"in->(\w+)", c_guard(rule.when)))
            in_python = set(re.findall(r'on\["(\w+)"\]', python_guard(rule.when)))
            assert in_c == in_python == names


def test_a_change_of_a_choice_changes_the_program_where_it_should() -> None:
    plain = c_source(planned(lantern_carousel()))
    other = c_source(planned(lantern_carousel(), pause="350 ms"))
    changed = [(a, b) for a, b in zip(plain.splitlines(), other.splitlines(), strict=True) if a != b]
    assert [b.split(" ")[1:3] for _, b in changed if b.startswith("#define")] == [["CAROUSEL_PAUSE_MS", "350"]]
    assert len(changed) == 2, "the number and the sum at the end"


def test_the_same_build_makes_the_same_program() -> None:
    assert c_source(plan(puppet_stage)) == c_source(plan(puppet_stage))
    assert micropython_source(on_micropython()) == micropython_source(on_micropython())
