"""From program to board: the archive is whole, makes what it says, and its lines are understood."""

from __future__ import annotations

import json
import subprocess
from pathlib import Path

import pytest

from zinc_whistle.api.board_files import chip, image_of
from zinc_whistle.core.assess import assess
from zinc_whistle.core.program.archive import files, makefile, numbers, type_this
from zinc_whistle.core.program.c_source import c_source
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.protocol import unframed
from zinc_whistle.demo.data import lantern_carousel, puppet_stage

from .kit import Avr, compiled, planned
from .test_profiles import on


def test_make_builds_it_without_a_warning_and_lists_the_chips_that_fit(tmp_path: Path) -> None:
    plan = planned(lantern_carousel())
    for name, text in files(plan, c_source(plan), "program.c").items():
        (tmp_path / name).write_text(text, "utf-8")
    chips = subprocess.run(["make", "-s", "chips"], cwd=tmp_path, capture_output=True, text=True, check=True)
    fitting = chip(False)
    assert fitting is not None and fitting in chips.stdout.split()
    silent = subprocess.run(["make"], cwd=tmp_path, capture_output=True, text=True)
    assert silent.returncode != 0 and "make chips" in silent.stdout
    made = subprocess.run(["make", f"MCU={fitting}"], cwd=tmp_path, capture_output=True, text=True)
    assert made.returncode == 0, made.stderr
    assert (tmp_path / "program.hex").read_text("ascii").startswith(":")


def test_the_large_class_has_a_chip_of_its_own() -> None:
    plan = plan_program(assess(on(lantern_carousel(), "eight-bit-large")), "c1")
    assert "defined(OCR5C)" in makefile(plan) and chip(True) not in (None, chip(False))


def test_every_line_to_type_is_framed_and_understood(tmp_path: Path) -> None:
    """Each line of TYPE.txt sent to the running program: none is refused."""
    plan = planned(lantern_carousel(), command="serial", stop_input="none", watch="no")
    told = type_this(plan)
    lines = [x.rpartition("  ")[2].strip() for x in told.splitlines() if "~" in x]
    assert len(lines) >= 8 and all(unframed(x) is not None for x in lines)
    assert "half duty" in told and "its count" in told
    with Avr(compiled(plan, tmp_path)) as avr:
        avr.run(30)
        for line in lines:
            avr.tell("clear")
            answers = avr.tell(unframed(line) or "")
            assert any(a.startswith("ok") for a in answers), (line, answers)


def test_the_numbers_are_those_of_the_program() -> None:
    plan = planned(puppet_stage())
    told = json.loads(numbers(plan))
    assert told["drives"][0]["settings"]["full"] == plan.drives[0].settings.full
    assert [s["name"] for s in told["servos"]] == [s.name for s in plan.servos]


@pytest.mark.parametrize("lost", ["avr-gcc", "avr-objcopy"])
def test_without_a_compiler_there_is_no_image(monkeypatch: pytest.MonkeyPatch, lost: str) -> None:
    plan = planned(lantern_carousel())
    monkeypatch.setattr("shutil.which", lambda name: None if name == lost else f"/usr/bin/{name}")
    chip.cache_clear()
    assert image_of(plan, c_source(plan)) is None
    chip.cache_clear()


def test_micropython_goes_as_it_is() -> None:
    plan = plan_program(assess(on(lantern_carousel(), "thirty-two-bit-48")), "c1")
    found = files(plan, "x = 1\n", "main.py")
    assert set(found) == {"main.py", "LOAD.txt", "TYPE.txt", "numbers.json"} and "main.py" in found["LOAD.txt"]
    assert image_of(plan, "x = 1\n") is None
