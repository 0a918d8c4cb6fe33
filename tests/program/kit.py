"""Ways to run a generated program, and builds to make programs of."""

from __future__ import annotations

import json
import shutil
import subprocess
from collections.abc import Mapping, Sequence
from functools import cache
from pathlib import Path
from typing import Any

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build, MotorDrive
from zinc_whistle.core.program.c_source import c_source
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.planned import ProgramPlan
from zinc_whistle.core.program.protocol import framed, unframed

HERE = Path(__file__).parent
CLOCK = 16_000_000
MS = CLOCK // 1000
FLAGS = ["-std=c11", "-Os", "-Wall", "-Wextra", "-Werror"]
CAPABLE = """
#include <avr/io.h>
#if defined(USART_RX_vect) && defined(PCINT2_vect) && defined(TIMER2_COMPB_vect) && RAMEND == 0x8FF \\
    && FLASHEND == 0x7FFF
capable
#endif
"""
"""What the simulator runs: three timers, one port of each kind, 2 KiB of memory, 32 KiB of program."""


LARGE = """
#include <avr/io.h>
#if defined(PCINT2_vect) && defined(OCR5C) && defined(OCR4A) && defined(OCR3A) && defined(PORTL) && defined(MUX5)
capable
#endif
"""
"""What the large 8-bit profile says: six timers, ports up to L, sixteen channels of the converter."""


@cache
def target(needs: str = CAPABLE, core: str = "avr5") -> str:
    """The compiler's name for a chip that can what an 8-bit profile says, found by what its header defines."""
    found = subprocess.run(["avr-gcc", "-print-libgcc-file-name"], capture_output=True, text=True, check=True)
    specs = sorted((Path(found.stdout.strip()).parent / "device-specs").glob("specs-*"))
    for name in (p.name.removeprefix("specs-") for p in specs if core in p.read_text()):
        words = ["avr-gcc", f"-mmcu={name}", "-E", "-P", "-"]
        if "capable" in subprocess.run(words, input=needs, capture_output=True, text=True).stdout.split():
            return f"-mmcu={name}"
    raise AssertionError("the compiler knows no such chip: is avr-libc installed?")


def planned(build: Build, **panel: str) -> ProgramPlan:
    """The program of a build's first controller, with other choices on the first motor's panel."""
    copy = build.model_copy(deep=True)
    drive = next(d for d in copy.drives if isinstance(d, MotorDrive))
    for name, value in panel.items():
        spot = getattr(drive.panel, name)
        if hasattr(spot, "text"):
            spot.text = value
        else:
            setattr(drive.panel, name, value)
    return plan_program(assess(copy), copy.controllers[0].id)


def compiled(plan: ProgramPlan, folder: Path, *flags: str) -> Path:
    """The program as a hex file; AssertionError with the compiler's words if it does not compile without a warning."""
    source, elf, made = folder / "program.c", folder / "program.elf", folder / "program.hex"
    source.write_text(c_source(plan), "utf-8")
    done = subprocess.run(["avr-gcc", target(), *FLAGS, *flags, "-o", elf, source], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    subprocess.run(["avr-objcopy", "-O", "ihex", elf, made], check=True)
    return made


class Avr:
    """A running program. Times in ms; pins by port and bit (B1)."""

    def __init__(self, hexfile: Path, *recorded: str) -> None:
        node = shutil.which("node")
        assert node
        self.process = subprocess.Popen(
            [node, HERE / "avr.mjs", ",".join(recorded)], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
        )
        self.edges: list[tuple[int, str, int]] = []
        self.text, self.cycle, self.levels = "", 0, dict[str, int]()
        self._pending = ""
        self.ask(load=hexfile.read_text())

    def __enter__(self) -> Avr:
        return self

    def __exit__(self, *_: object) -> None:
        self.process.kill()
        self.process.wait()

    def ask(self, **request: Any) -> list[tuple[int, str, int]]:
        """One request; gives the edges that came with it."""
        assert self.process.stdin and self.process.stdout
        self.process.stdin.write(json.dumps(request) + "\n")
        self.process.stdin.flush()
        meta = json.loads(self.process.stdout.readline())
        self.cycle, self.levels = meta["cycle"], meta["levels"]
        self.text += meta["text"]
        new = [tuple(e) for e in meta["edges"]]
        self.edges += new
        return new

    def run(self, ms: float, edges: Sequence[tuple[int, str, int]] = ()) -> list[tuple[int, str, int]]:
        """Run on; gives the edges of this time."""
        return self.ask(run=round(ms * MS), edges=list(edges))

    def contacts(self, **levels: int) -> None:
        """Levels from outside."""
        self.ask(contacts=levels)

    def lines(self) -> list[str]:
        """What the port has said since the last look, checked and without its checks."""
        whole, _, self.text = self.text.rpartition("\n")
        found = [unframed(x) for x in whole.split("\n") if x]
        assert all(x is not None for x in found), whole
        return [x for x in found if x is not None]

    def tell(self, text: str, wait: float = 25) -> list[str]:
        """Send a line, run on, and give what came back."""
        self.ask(send=framed(text) + "\n")
        self.run(wait)
        return self.lines()

    def status(self, number: int = 1) -> list[str]:
        """The words of a drive's status: mode, level, speed, count, lost."""
        found = [x for x in self.tell(f"status {number}") if x.startswith("ok status")]
        return found[-1].split(" ")[3:]


def duty_of(edges: Sequence[tuple[int, str, int]], pin: str) -> tuple[float, float]:
    """Frequency (Hz) and duty of a pin over whole periods, from rise to rise."""
    own = [(c, v) for c, p, v in edges if p == pin]
    rises = [c for c, v in own if v]
    assert len(rises) > 3, own[:10]
    first, last = rises[0], rises[-1]
    high, since = 0, 0
    for c, v in own:
        if first <= c <= last:
            if v:
                since = c
            elif c > first:
                high += c - since
    return CLOCK * (len(rises) - 1) / (last - first), high / (last - first)


def overlap(edges: Sequence[tuple[int, str, int]], a: str, b: str, start: Mapping[str, int]) -> tuple[int, int]:
    """Cycles during which two pins were high together, and the shortest gap between one's end and the other's begin."""
    level = dict(start)
    both, shortest, fell, last = 0, 10**9, {a: -(10**9), b: -(10**9)}, None
    for cycle, pin, value in edges:
        if pin not in (a, b):
            continue
        if last is not None and level[a] and level[b]:
            both += cycle - last
        other = b if pin == a else a
        if value and not level[pin]:
            shortest = min(shortest, cycle - fell[other])
        if not value:
            fell[pin] = cycle
        level[pin], last = value, cycle
    return both, shortest


class Interpreter:
    """A running MicroPython program. Times in ms; pins by number."""

    def __init__(self, source: str, tick_ms: int) -> None:
        node = shutil.which("node")
        assert node
        self.tick_ms = tick_ms
        self.process = subprocess.Popen(
            [node, HERE / "micropython.mjs"], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
        )
        self.ask(files={"/machine.py": (HERE / "machine.py").read_text(), "/program.py": source})
        self.ask(run="import sys\nsys.path.insert(0, '/')\nimport json\nimport machine")

    def __enter__(self) -> Interpreter:
        return self

    def __exit__(self, *_: object) -> None:
        self.process.kill()
        self.process.wait()

    def ask(self, **request: Any) -> str:
        """One request; gives what was printed. AssertionError with the traceback if it failed."""
        assert self.process.stdin and self.process.stdout
        self.process.stdin.write(json.dumps(request) + "\n")
        self.process.stdin.flush()
        meta = json.loads(self.process.stdout.readline())
        assert "error" not in meta, meta["error"]
        return str(meta["text"])

    def start(self) -> None:
        """Power up."""
        self.ask(run="import program\nprogram.own_start()")

    def levels(self, **pins: int) -> None:
        """Levels from outside, by the pin's number with a p before it."""
        self.ask(run="\n".join(f"machine.edge({n[1:]}, {v})" for n, v in pins.items()))

    def analogue(self, pin: str, reading: int) -> None:
        """What the converter reads at a pin, of 65,535."""
        self.ask(run=f"machine.volts[{pin}] = {reading}")

    def run(self, ms: float) -> None:
        """Rounds of the program."""
        self.ask(run=f"for _ in range({round(ms / self.tick_ms)}):\n    program.listen()\n    program.tick()")

    def tell(self, text: str, wait: float = 25) -> list[str]:
        """Send a line, run on, and give what came back."""
        return self.send(framed(text) + "\n", wait)

    def send(self, raw: str, wait: float = 25) -> list[str]:
        """Send characters as they are, run on, and give what came back."""
        self.ask(run=f"machine.coming.extend({raw.encode()!r})")
        self.run(wait)
        meta = self.ask(run="print(''.join(machine.sent), end='')\nmachine.sent.clear()\nprint()")
        found = [unframed(x) for x in meta.split("\n") if x]
        assert all(x is not None for x in found), meta
        return [x for x in found if x is not None]

    def status(self, number: int = 1) -> list[str]:
        """The words of a drive's status: mode, level, speed, count, lost."""
        found = [x for x in self.tell(f"status {number}", 5) if x.startswith("ok status")]
        return found[-1].split(" ")[3:]

    def seen(self, expression: str) -> Any:
        """A value out of the interpreter."""
        return json.loads(self.ask(run=f"print(json.dumps({expression}))"))
