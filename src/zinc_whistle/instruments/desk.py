"""What lies on the desk: the instruments that were opened, each used by one at a time.

A supply's output goes on by a press alone, behind its limit; it is turned off by one key, when the app ends, and by a
process of its own when the app dies. Where the line is lost that cannot be, and it is said.
"""

from __future__ import annotations

import subprocess
import sys
import threading
from dataclasses import dataclass, field
from pathlib import Path

from ..core.program.protocol import framed, unframed
from .capability import Capability, matching, tables
from .link import InstrumentLink, LinkError

MOST = 12
STILL_ON = "The line to {name} is lost while its output was on: it may still be on. Turn it off by hand."
BOARD = "motor board"
BOARD_LINES = 20
"""Reports that may come before an answer."""


class DeskError(ValueError):
    """Something that cannot be done; the message is a sentence for its reader."""


@dataclass
class Instrument:
    """One that is open. ``on``: whether its output was turned on here; ``lost``: why the line is gone, empty if it is
    not."""

    id: str
    address: str
    told: str
    kind: str
    can: Capability | None
    link: InstrumentLink
    on: bool = False
    volts: float = 0.0
    limit_a: float = 0.0
    lost: str = ""
    lock: threading.Lock = field(default_factory=threading.Lock)
    guard: subprocess.Popen[bytes] | None = None

    @property
    def name(self) -> str:
        """As it calls itself, in short."""
        words = [w for w in self.told.split(",") if w.strip() and not w.strip().isdigit()]
        return " ".join(words[:2]) or self.address


class Desk:
    """The instruments of one service. ``own`` is a folder of the builder's own capability tables."""

    def __init__(self, own: Path | None = None) -> None:
        self._own = own
        self._items: dict[str, Instrument] = {}
        self._count = 0
        self._lock = threading.Lock()

    def all(self) -> list[Instrument]:
        """Those that are open, or were until their line was lost."""
        return list(self._items.values())

    def faults(self) -> list[str]:
        """What is wrong with the builder's own tables."""
        return tables(self._own)[1]

    def get(self, id: str) -> Instrument:
        """DeskError where there is none."""
        if id not in self._items:
            raise DeskError("This instrument is not open any more.")
        return self._items[id]

    def open(self, address: str, board: bool = False) -> Instrument:
        """Opens what answers at an address that was typed. DeskError, LinkError."""
        with self._lock:
            if len(self._items) >= MOST:
                raise DeskError(f"{MOST} instruments are open: close one first.")
            if any(x.address == address.strip() and not x.lost for x in self._items.values()):
                raise DeskError(f"{address.strip()} is open already.")
            link = InstrumentLink(address)
            try:
                made = _as_board(link) if board else self._as_scpi(link)
            except (LinkError, DeskError):
                link.close()
                raise
            for id in [id for id, x in self._items.items() if x.address == link.address]:
                del self._items[id]
            self._count += 1
            made.id = f"i{self._count}"
            self._items[made.id] = made
            return made

    def _as_scpi(self, link: InstrumentLink) -> Instrument:
        told = link.ask("*IDN?")
        known, _ = tables(self._own)
        can = matching(told, known)
        if can is None:
            raise DeskError(
                f"It says “{told[:80]}”, which no table of instruments fits: write one (docs/instruments.md)."
            )
        return Instrument("", link.address, told, can.kind, can, link)

    def close(self, id: str) -> str:
        """Closes one; a supply is turned off before. What could not be done is told."""
        item = self.get(id)
        said = self._off(item) if item.on else ""
        with item.lock:
            item.link.close()
        self._items.pop(id, None)
        return said

    def read(self, id: str, what: str) -> tuple[float, str]:
        """What it measures, with its unit."""
        item = self.get(id)
        reads = item.can.reads.get(what) if item.can is not None else None
        if reads is None:
            raise DeskError(f"{item.name} does not measure that.")
        with _Used(item):
            return item.link.number(reads.ask), reads.unit

    def supply(self, id: str, volts: float, limit_a: float, on: bool) -> str:
        """Sets limit, then volts, then switches the output; the instrument's own complaint is told, and then the output
        is off."""
        item = self.get(id)
        can = item.can
        if can is None or can.kind != "supply":
            raise DeskError(f"{item.name} is no supply.")
        if not 0 <= volts <= can.most_v or not 0 < limit_a <= can.most_a:
            raise DeskError(
                f"{item.name} gives up to {can.most_v:g} V and {can.most_a:g} A, with a limit above nothing."
            )
        with _Used(item):
            if not on:
                item.link.tell(can.off)
            item.link.tell(can.limit.format(value=f"{limit_a:.6g}"))
            item.link.tell(can.volts.format(value=f"{volts:.6g}"))
            complaint = item.link.ask(can.error)
            if _amiss(complaint):
                item.link.tell(can.off)
                found = _is_on(item.link.ask(can.is_on))
                item.on = item.on and found is not False
                what = "off" if found is False else "not told to be off: turn it off by hand"
                raise DeskError(f"{item.name} refuses: {complaint}. Its output is {what}.")
            item.volts, item.limit_a = volts, limit_a
            if on:
                if item.guard is None or item.guard.poll() is not None:
                    item.guard = guarding(item.address, can.off)
                # From here on it counts as on: if the line breaks now, nobody knows.
                item.on = True
                item.link.tell(can.on)
            found = _is_on(item.link.ask(can.is_on))
            item.on = found is not False and (on or found is True)
        if found is False:
            _let_go(item)
        if found is not on:
            what = {True: "on", False: "off", None: "not told: look at it"}[found]
            raise DeskError(f"{item.name} did not do as it was told: its output is {what}.")
        return ""

    def all_off(self) -> list[str]:
        """Every output off and every board stopped; a sentence for each that could not be told so."""
        return [said for item in self.all() if (said := self._off(item))]

    def _off(self, item: Instrument) -> str:
        if item.kind not in ("supply", BOARD):
            return ""
        try:
            with _Used(item):
                if item.can is not None:
                    item.link.tell(item.can.off)
                    if (found := _is_on(item.link.ask(item.can.is_on))) is not False:
                        what = "says that its output is still on" if found else "does not say that its output is off"
                        return f"{item.name} {what}: turn it off by hand."
                    item.on = False
                else:
                    _said(item.link, "stop")
        except (LinkError, DeskError) as error:
            # Where it was off, or a board that falls silent stops by itself, nothing is left on.
            return STILL_ON.format(name=item.name) if item.on else str(error) if not item.lost else ""
        _let_go(item)
        return ""

    def record(self, id: str, most_v: float, interval_s: float, points: int) -> list[float]:
        """Samples of an oscilloscope, in volts."""
        item = self.get(id)
        can = item.can
        if can is None or can.kind != "oscilloscope":
            raise DeskError(f"{item.name} is no oscilloscope.")
        if not 10 <= points <= can.most_points or not most_v > 0 or not interval_s > 0:
            raise DeskError(
                f"{item.name} takes 10 to {can.most_points:,} samples, with a range and a step above nothing."
            )
        with _Used(item):
            item.link.tell(can.range.format(value=f"{most_v:.6g}"))
            item.link.tell(can.interval.format(value=f"{interval_s:.6g}"))
            item.link.tell(can.points.format(value=points))
            complaint = item.link.ask(can.error)
            if _amiss(complaint):
                raise DeskError(f"{item.name} refuses: {complaint}.")
            answer = item.link.ask(can.record)
        try:
            values = [float(x) for x in answer.split(",")]
        except ValueError as error:
            raise DeskError(f"{item.name} sent a record that is not numbers.") from error
        if len(values) != points:
            raise DeskError(f"{item.name} sent {len(values):,} samples of {points:,}.")
        return values

    def say(self, id: str, line: str) -> str:
        """A line of the protocol to a board, and its answer, both without their frames."""
        item = self.get(id)
        if item.kind != BOARD:
            raise DeskError(f"{item.name} is no motor board.")
        with _Used(item):
            return _said(item.link, line)

    def end(self) -> None:
        """When the app ends: all off, all closed."""
        self.all_off()
        for item in self.all():
            item.link.close()
            if not item.on:
                _let_go(item)
            elif item.guard is not None and item.guard.stdin is not None:
                # Nobody could turn it off on a line that is lost: the guard tries by one of its own.
                item.guard.stdin.close()
        self._items.clear()


class _Used:
    """An instrument for one at a time. A line that is lost on the way is remembered, and said."""

    def __init__(self, item: Instrument) -> None:
        self.item = item

    def __enter__(self) -> None:
        self.item.lock.acquire()
        if self.item.lost:
            self.item.lock.release()
            raise LinkError(self.item.lost)

    def __exit__(self, kind: object, error: object, trace: object) -> None:
        if isinstance(error, LinkError) and error.lost:
            self.item.lost = STILL_ON.format(name=self.item.name) if self.item.on else str(error)
        self.item.lock.release()
        if isinstance(error, LinkError) and error.lost and self.item.on:
            raise LinkError(self.item.lost, lost=True) from error


def _is_on(answer: str) -> bool | None:
    """Whether an output is on, as the instrument tells it; None where it tells something else."""
    return {"1": True, "ON": True, "0": False, "OFF": False}.get(answer.strip().upper())


def _amiss(complaint: str) -> bool:
    return not complaint.startswith(("0,", "+0,"))


def _as_board(link: InstrumentLink) -> Instrument:
    answer = _said(link, "hello")
    if not answer.startswith("ok hello "):
        raise DeskError(f"It answers “{answer[:60]}”, which is not this protocol's.")
    return Instrument("", link.address, f"Motor board, {answer}", BOARD, None, link)


def _said(link: InstrumentLink, line: str) -> str:
    """One line and its answer; reports that come between are passed over."""
    try:
        sent = framed(line.strip())
    except ValueError as error:
        raise DeskError(str(error)) from error
    link.tell(sent.rstrip("\n"))
    for _ in range(BOARD_LINES):
        answer = unframed(link.hear(line))
        if answer is None:
            raise DeskError("The answer came damaged: say it again.")
        if not answer.startswith("at "):
            return answer
    raise DeskError("The board reports without end and does not answer.")


def guarding(address: str, off: str) -> subprocess.Popen[bytes]:
    """A process that says ``off`` at an address as soon as this one is gone."""
    words = [sys.executable, "-m", "zinc_whistle.instruments.guard", address, off]
    return subprocess.Popen(words, stdin=subprocess.PIPE, start_new_session=True)


def _let_go(item: Instrument) -> None:
    """Tells the guard that there is nothing left to guard."""
    guard, item.guard = item.guard, None
    if guard is not None and guard.stdin is not None:
        try:
            guard.stdin.write(b"done\n")
            guard.stdin.close()
        except OSError:
            pass
