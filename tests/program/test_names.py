"""The builder's words in a program: whatever they are, it does what it does with plain ones.

The compiler and the interpreter decide: the same machine code in C, the same syntax tree in MicroPython, and the
program runs.
"""

from __future__ import annotations

import ast
from functools import cache
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.program import keep
from zinc_whistle.core.program.c_source import c_source
from zinc_whistle.core.program.micropython_source import micropython_source
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.planned import NotYet
from zinc_whistle.core.program.words import RESERVED, class_name, identifier

from .kit import Interpreter, compiled, planned
from .test_c import styled
from .test_micropython import on_python, roomy

HOSTILE = (
    "\r#error x\r",
    "*/ #error y\n/*",
    '"""\n1/0\n"""',
    "'''\\",
    "\\",
    '"' * 6,
    "\x0b1/0\x0c1/0\x1c1/0\x85 1/0\u2028 1/0\u2029 1/0",
    "\u202e)0 :gnidoc #",
    "??/\n#error z",
    "/* /* // -*- coding: utf-7 -*-",
    " yours: loop */",
    "\x00\x1b[2J\ufeff",
    "${clock} $build $$ %s {0}",
)
"""Texts without a letter before their first break, so that the name of a thing stays the same where it can."""


def renamed(build: Build, words: str, drives: bool) -> Build:
    """The same build with hostile words wherever a builder may put some that reach a program."""
    build.name = f"x{words}"
    for controller in build.controllers:
        controller.name = f"x{words}"
        for pin in controller.pins:
            pin.label = words[:20]
    if drives:
        for number, drive in enumerate(build.drives):
            drive.name = f"{words}{number}"
    return build


@pytest.mark.parametrize("words", HOSTILE)
def test_hostile_words_give_the_same_machine_code(words: str, tmp_path: Path) -> None:
    plain = compiled(planned(styled("pwm and direction")), tmp_path).read_text()
    hostile = compiled(planned(renamed(styled("pwm and direction"), words, drives=True)), tmp_path).read_text()
    assert hostile == plain


def tree(source: str) -> str:
    """What a program is without its words: the syntax tree, classes by their order, no docstrings."""
    names = [node.name for node in ast.parse(source).body if isinstance(node, ast.ClassDef)]
    made = ast.parse(source)
    for node in ast.walk(made):
        if isinstance(node, ast.ClassDef):
            node.name = str(names.index(node.name))
            node.body = node.body[1:] if ast.get_docstring(node) is not None else node.body
        elif isinstance(node, ast.Name) and node.id in names:
            node.id = str(names.index(node.id))
    return ast.dump(made)


@pytest.fixture(scope="module")
def python() -> Interpreter:
    return Interpreter("", 5)


@pytest.mark.parametrize("words", HOSTILE)
def test_hostile_words_give_the_same_micropython(words: str, python: Interpreter) -> None:
    plain = micropython_source(planned(roomy(on_python(styled("pwm and direction")))))
    source = micropython_source(planned(renamed(roomy(on_python(styled("pwm and direction"))), words, drives=True)))
    assert tree(source) == tree(plain)
    python.ask(files={"/program.py": source})
    python.ask(run="import sys\nsys.modules.pop('program', None)\nimport program\nprogram.tick()")
    assert python.seen("program.drives[1].mode")


@cache
def plain_micropython() -> str:
    return micropython_source(planned(roomy(on_python(styled("pwm and direction")))))


@cache
def plain_c() -> str:
    return c_source(planned(styled("pwm and direction")))


@given(st.text(max_size=80))
def test_any_words_leave_the_tree_as_it_is(words: str) -> None:
    """Also the marks between which the builder writes: no name can be taken for one."""
    build = roomy(on_python(styled("pwm and direction")))
    plain, source = plain_micropython(), micropython_source(planned(renamed(build, words, drives=False)))
    assert tree(source) == tree(plain)
    assert keep.own_parts(source) == keep.own_parts(plain)
    assert source.encode("utf-8")


@given(st.text(max_size=80))
def test_any_words_stay_in_their_comments(words: str) -> None:
    """Without its comments the C program is the same."""
    plain = plain_c()
    source = c_source(planned(renamed(styled("pwm and direction"), words, drives=False)))
    assert uncommented(source) == uncommented(plain)
    assert keep.own_parts(source) == keep.own_parts(plain)


def uncommented(source: str) -> str:
    """C without its comments, by the language's own rule: from the first slash and star to the next star and slash."""
    made, rest = "", source
    while "/*" in rest:
        before, _, rest = rest.partition("/*")
        _, _, rest = rest.partition("*/")
        made += before
    return made + rest


@pytest.mark.parametrize("number", ["08", "²", "1)\nimport os #", "١", ""])
def test_a_pin_that_is_no_number_is_refused(number: str) -> None:
    build = roomy(on_python(styled("pwm and direction")))
    for pin in build.controllers[0].pins:
        pin.program = number
    with pytest.raises(NotYet, match="no number"):
        micropython_source(plan_program(assess(build), "c1"))


@pytest.mark.parametrize("port", ["B\n", "B9", "B;", "b1", "BB"])
def test_a_port_that_is_none_is_refused(port: str) -> None:
    build = styled("pwm and direction")
    for pin in build.controllers[0].pins:
        pin.port = port
    with pytest.raises(NotYet, match="does not tell the port"):
        c_source(plan_program(assess(build), "c1"))


@given(st.lists(st.sampled_from([*sorted(RESERVED), "none", "a b", "a-b", "A_B", "ab", "1", "", "…", "drive 2"])))
def test_identifiers_are_unlike_one_another_and_what_the_programs_have(names: list[str]) -> None:
    taken: set[str] = set()
    made = [identifier(name, taken) for name in names]
    classes = [class_name(slug) for slug in made]
    assert len(set(made)) == len(made) == len(set(classes)) and not set(classes) & RESERVED
    assert all(slug.isidentifier() and slug.isascii() for slug in made)


def test_reserved_are_all_classes_of_the_runtime() -> None:
    plan = planned(roomy(on_python(styled("pwm and direction"))))
    classes = {n.name for n in ast.parse(micropython_source(plan)).body if isinstance(n, ast.ClassDef)}
    assert classes - {class_name(d.slug) for d in plan.drives} <= RESERVED


def test_two_drives_that_fold_to_one_name_stay_two(python: Interpreter) -> None:
    """A command for one moves the other's pins, where both were one class."""
    build = roomy(on_python(styled("pwm and direction")))
    more = build.drives[0].model_copy(update={"id": "d9", "name": "pulses"}, deep=True)
    build.drives[0].name = "Pulses"
    build.drives.append(more)
    plan = plan_program(assess(build), "c1")
    source = micropython_source(plan)
    assert source.count("class Pulses:") == 1 and len({d.slug for d in plan.drives}) == 2
    python.ask(files={"/program.py": source})
    python.ask(run="import sys\nsys.modules.pop('program', None)\nimport program")
    assert python.seen("type(program.drives[1]).__name__") != python.seen("type(program.drives[2]).__name__")
