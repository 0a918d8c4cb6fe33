"""What goes along with a program to the board: how to compile and load it, what to type at it, its numbers."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

from .handset import HandsetProgram
from .planned import DriveProgram, ProgramPlan
from .protocol import VERSION, framed

BAUD = 38_400
CLASSES = {
    True: ("avr6", ("defined(OCR5C)", "defined(PORTL)", "defined(MUX5)")),
    False: (
        "avr5",
        ("defined(OCR1B)", "defined(OCR2B)", "defined(USART_RX_vect)", "defined(PCINT2_vect)", "RAMEND >= 0x8FF"),
    ),
}
"""By whether the profile has timers 3 to 5: the compiler's core, and what a chip's header must define."""


def is_large(plan: ProgramPlan | HandsetProgram) -> bool:
    """Whether the controller is of the large 8-bit class: its timers 3 to 5 are on the chip."""
    return any(p.compare[:1] in ("3", "4", "5") for p in plan.controller.pins if p.compare)


def files(plan: ProgramPlan, source: str, file: str) -> dict[str, str]:
    """The archive's files by name: the source, how to make and load it, what to type, and the numbers."""
    made = {file: source, "TYPE.txt": type_this(plan), "numbers.json": numbers(plan)}
    if plan.controller.program == "avr":
        return made | {"Makefile": makefile(plan), "LOAD.txt": LOAD_C}
    return made | {"LOAD.txt": LOAD_PYTHON.format(file=file)}


def handset_files(plan: HandsetProgram, source: str, file: str) -> dict[str, str]:
    """The same for a handset's program."""
    told = (
        f"{plan.name}: sends a line every {plan.period_ms} ms by its radio module; address {plan.address}, handset "
        f"{plan.number}.\nIts buttons, each by its bit: "
        + ", ".join(f"{1 << k} {name}" for k, (name, _) in enumerate(plan.buttons))
        + f".\nThe line of nothing pressed:  {framed(f'hand {plan.address} {plan.number} 0 0')}\n"
        "Its lamp is lit while it is answered. Take the module's plug off while the program is loaded.\n"
    )
    made = {file: source, "SENDS.txt": told}
    if plan.controller.program == "avr":
        return made | {"Makefile": makefile(plan), "LOAD.txt": LOAD_C}
    return made | {"LOAD.txt": LOAD_PYTHON.format(file=file)}


def makefile(plan: ProgramPlan | HandsetProgram) -> str:
    """Compiles without a warning; ``make chips`` lists the compiler's names of chips that can what the profile says."""
    core, needs = CLASSES[is_large(plan)]
    return MAKEFILE.format(clock=round(plan.clock_hz), core=core, needs=" && ".join(needs))


MAKEFILE = """\
# Give the compiler's name of your chip:   make MCU=...
# Do not know it?                          make chips
# The clock and all other numbers stand in program.c.
MCU ?=
FLAGS = -std=c11 -Os -Wall -Wextra -Werror

program.hex: program.elf
\tavr-objcopy -O ihex program.elf program.hex
\tavr-size program.elf

program.elf: program.c
\t@test -n "$(MCU)" || (echo "make MCU=...: see make chips" && false)
\tavr-gcc -mmcu=$(MCU) $(FLAGS) -o program.elf program.c

# The clock of this design: {clock} Hz.
chips:
\t@for f in $$(dirname $$(avr-gcc -print-libgcc-file-name))/device-specs/specs-*; do \\
\t  grep -q {core} $$f || continue; \\
\t  n=$${{f##*specs-}}; \\
\t  printf '#include <avr/io.h>\\n#if {needs}\\nfits\\n#endif\\n' \\
\t    | avr-gcc -mmcu=$$n -E -P - 2>/dev/null | grep -q '^fits$$' && echo $$n; \\
\tdone; true

.PHONY: chips
"""
LOAD_C = """\
From program to board

1. Take the motor's supply off. The programming lead alone feeds the controller.
2. make MCU=...          (make chips lists the names that fit; the one printed on your chip is among them)
3. Load program.hex with the loader that your board came with: it wants the file, the port and the chip's name.
4. Before the motor is joined: the Bench station's steps, one by one. TYPE.txt holds the lines to type.

A stop in the program does not cut power. Local codes come first; ask a qualified person where they apply.
"""
LOAD_PYTHON = """\
From program to board

1. Take the motor's supply off. The programming lead alone feeds the controller.
2. Copy {file} to the board under that name, with any tool that copies files to MicroPython, and restart it: it runs by
   itself from then on.
3. Before the motor is joined: the Bench station's steps, one by one. TYPE.txt holds the lines to type.

A stop in the program does not cut power. Local codes come first; ask a qualified person where they apply.
"""


def type_this(plan: ProgramPlan) -> str:
    """The lines to type at the serial port, with their checks, drive by drive."""
    silent = f"{plan.link_ms * plan.tick_ms} ms"
    head = (
        f"Lines for the serial port: {BAUD:,} baud, 8 data bits, no parity, one stop bit; protocol {VERSION}.\n"
        f"Each ends with a line feed. After {silent} without a right line everything that the port asked for stops:\n"
        "send hello or status again and again to keep a drive running.\n"
    )
    rows = [*_common(plan), *(row for d in plan.drives for row in _of_drive(d, plan.shift))]
    for servo in plan.servos:
        rows += [(f"\n{servo.name}, a servo", "")]
        places = (*SERVO_PLACES, *servo.poses)
        rows += [(f"to {words}", f"duty {servo.number + plan.shift} {x}") for words, x in places]
    width = max(len(words) for words, line in rows if line)
    told = "\n".join(f"{words:<{width}}  {framed(line)}" if line else words for words, line in rows)
    return f"{head}\n{told}\n"


SERVO_PLACES = (("one end", 0), ("the middle", 500), ("the other end", 1000))


def _common(plan: ProgramPlan) -> Iterator[tuple[str, str]]:
    yield "Every drive", ""
    yield "is anybody there", "hello"
    yield "stop, latched", "stop"
    yield "clear the stop", "clear"
    yield "prove the inputs, all outputs off", "prove 1"
    yield "no more of that", "prove 0"
    for number, script in enumerate(plan.scripts, 1):
        yield f"play: {script.name}", f"play {number}"
    if plan.steering is not None:
        yield "half ahead, both sides", "steer 500 0"
        yield "turn right where it stands", "steer 0 300"
        yield "both sides compared", "compare"
    if plan.nodes > 1:
        return
    yield "tell everything ten times a second", "report 100"
    yield "no more of that", "report 0"


def _of_drive(drive: DriveProgram, shift: int = 0) -> Iterator[tuple[str, str]]:
    n = drive.number + shift
    yield f"\n{drive.name}", ""
    yield "how is it", f"status {n}"
    if drive.panel.command != "serial":
        by = "its buttons" if drive.panel.wired else "handsets"
        yield f"commanded by {by}: the port only asks", ""
    else:
        pulsed = not drive.lines.switched and bool(drive.timing.frequency_hz)
        if pulsed:
            yield "half duty", f"duty {n} 500"
        yield "full duty" if pulsed else "on", f"duty {n} 1000"
        if "back" in drive.machine.inputs:
            yield ("back, a quarter", f"duty {n} -250") if pulsed else ("on, back", f"duty {n} -1000")
        yield "off", f"duty {n} 0"
        if drive.settings.loop is not None and drive.settings.loop.closed:
            yield "600 rpm at the motor", f"speed {n} 600"
        if "home" in drive.machine.inputs:
            yield "home", f"home {n}"
    yield "what stands on its inputs", f"inputs {n}"
    if "SENSE" in drive.pins:
        yield "its current", f"sense {n}"
    if drive.counting is not None:
        yield "its count", f"counts {n}"
        yield "reset the counter", f"zero {n}"


def numbers(plan: ProgramPlan) -> str:
    """All numbers of a program as JSON, each drive with its pins and the reasons."""
    drives: list[dict[str, Any]] = [
        {
            "number": d.number,
            "name": d.name,
            "settings": asdict(d.settings),
            "pins": {signal: {"label": p.label, "program": p.program, "port": p.port} for signal, p in d.pins.items()},
            "reasons": dict(d.reasons),
        }
        for d in plan.drives
    ]
    servos = [
        {"number": s.number, "name": s.name, "pin": s.pin.label, "low_us": s.low_us, "high_us": s.high_us}
        for s in plan.servos
    ]
    whole = {
        "build": plan.build,
        "controller": plan.controller.name,
        "clock_hz": plan.clock_hz,
        "tick_ms": plan.tick_ms,
        "drives": drives,
        "servos": servos,
    }
    return json.dumps(whole, ensure_ascii=False, indent=1) + "\n"
