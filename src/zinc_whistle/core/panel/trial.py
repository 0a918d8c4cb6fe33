"""A panel tried on screen: buttons pressed, the simulated motor answering, some time at a call.

All that a trial remembers goes out as plain numbers and comes back with the next call, so that nothing is kept between.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Literal

import numpy as np

from ..model.panel import FOUND, PanelLamp
from ..simulation.engine import Engine, Phase
from ..simulation.plant import OMEGA, THETA, I, Path, Plant
from .lamps import rules_of
from .lines import Lines
from .machine import Machine
from .runtime import Now, Panel
from .settings import MILLIAMPS, Settings

STEP_MS = 5
"""The motor moves on in steps of so many ms, each at the level of its last one."""
LONGEST_MS = 3000
FROM_ELSEWHERE = ("ahead", "behind", "link_lost", "radio_lost", "locked")
"""What is no contact: it counts at once."""
UNSEEN = tuple(n for n in FOUND if n != "locked")
"""What the tried panel finds out by itself; an interlock is opened by hand, for no other drive is tried with it."""


@dataclass(slots=True)
class Memory:
    """What a trial remembers: the panel's counters, the motor's state, and the time (ms)."""

    ms: int = 0
    mode: str = ""
    homed: bool = False
    level_fine: int = 0
    rest_ms: int = 0
    quiet_ms: int = 0
    settled_ms: int = 0
    quiet_counts_ms: int = 0
    over: int = 0
    peak: int = 0
    peak_before: int = 0
    peak_ms: int = 0
    last_count: int = 0
    count: int = 0
    loop_ms: int = 0
    rpm: int = 0
    integral: int = 0
    bound: int = 0
    coils: dict[str, str] = field(default_factory=dict)
    steady: dict[str, bool] = field(default_factory=dict)
    since: dict[str, int] = field(default_factory=dict)
    motor: list[float] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class TrialCourse:
    """What happened: times (ms), levels (share, below 0 back), speeds (rad/s), currents (A), and the modes entered."""

    ms: list[int]
    level: list[float]
    speed: list[float]
    current: list[float]
    modes: list[tuple[int, str]]
    now: Now
    sensed: int
    """What the current sense reads at the end, of 1023."""


def advance(
    machine: Machine,
    lines: Lines,
    settings: Settings,
    memory: Memory,
    pressed: Sequence[str],
    knob: int,
    ms: int,
    plant: Plant | None = None,
    rest: Path = "short",
    opened: Path = "off",
    counts_per_turn: float | None = None,
    lamps: Sequence[PanelLamp] = (),
    prove: bool = False,
) -> TrialCourse:
    """Some time with these inputs held; changes ``memory``. ``knob`` is a reading of 1023; ``rest`` and ``opened`` are
    the motor's ways where the lines say brake and off; without a plant only the panel answers; ``prove`` keeps all
    outputs off and reads the inputs. ValueError for a time that is too long or inputs that the panel has not."""
    if not 0 < ms <= LONGEST_MS:
        raise ValueError(f"One step may last from 1 to {LONGEST_MS} ms.")
    unknown = [n for n in pressed if n not in machine.inputs or n in UNSEEN]
    if unknown:
        raise ValueError(f"This panel has no input “{unknown[0]}”.")
    if memory.mode and memory.mode not in machine.by_name:
        raise ValueError("The panel has changed since: start the trial anew.")
    panel = _restored(machine, lines, settings, memory)
    panel.lamps = rules_of(machine, lamps)
    engine = _engine(plant) if plant is not None else None
    state = np.array(memory.motor) if engine is not None and len(memory.motor) == 5 else None
    if engine is not None and state is None:
        state = engine.rest()
    contacts = dict.fromkeys(pressed, True)
    times, levels, speeds, currents = list[int](), list[float](), list[float](), list[float]()
    modes: list[tuple[int, str]] = []
    read = 0
    for k in range(ms):
        asked: dict[str, bool] = {n: True for n in pressed if n in FROM_ELSEWHERE}
        if "knob_zero" in machine.inputs:
            asked |= panel.knob(knob * settings.knob_full // 1023)
        count = memory.last_count
        if state is not None and counts_per_turn:
            count = int(np.floor(state[THETA] / (2 * np.pi) * counts_per_turn))
        before, read = panel.mode, _sensed(settings, state)
        if prove:
            panel.rest_at_start()
            panel.debounced(contacts)
            now = panel.nothing()
        else:
            now = panel.tick(contacts, asked, count, read)
        memory.last_count = count
        if panel.mode != before:
            modes.append((memory.ms + k + 1, panel.mode))
        if (memory.ms + k + 1) % STEP_MS == 0:
            if engine is not None and state is not None:
                state = _moved(engine, state, now, settings.full, rest, opened)
            way = {"forward": 1.0, "back": -1.0}.get(now.action, 0.0)
            times.append(memory.ms + k + 1)
            levels.append(way * now.level / settings.full)
            speeds.append(float(state[OMEGA]) if state is not None else 0.0)
            currents.append(float(state[I]) if state is not None else 0.0)
    memory.ms += ms
    _kept(panel, memory, state)
    return TrialCourse(ms=times, level=levels, speed=speeds, current=currents, modes=modes, now=now, sensed=read)


def _sensed(settings: Settings, state: np.ndarray | None) -> int:
    """What the current sense reads (of 1023); it tells no direction."""
    if state is None or not settings.milliamps_fine:
        return 0
    return min(round(abs(float(state[I])) * 1000 * MILLIAMPS / settings.milliamps_fine), 1023)


def _moved(engine: Engine, state: np.ndarray, now: Now, full: int, rest: Path, opened: Path) -> np.ndarray:
    path: Path = opened if now.action == "off" else rest
    duty = 1.0
    if now.action in ("forward", "back") and now.level:
        path, duty = ("forward" if now.action == "forward" else "back"), now.level / full
    if path == "wheel" and state[I] < 0:
        path = "wheel back"  # the contacts still stand as they did while it was driven
    run = engine.run([Phase(1, STEP_MS * 1e-3, duty, path, "off", averaged=True)], state)
    return run.last[1]


@lru_cache(maxsize=8)
def _engine(plant: Plant) -> Engine:
    return Engine(plant)


KEPT = (
    "mode",
    "homed",
    "level_fine",
    "rest_ms",
    "quiet_ms",
    "settled_ms",
    "quiet_counts_ms",
    "over",
    "peak",
    "peak_before",
    "peak_ms",
    "last_count",
    "count",
    "loop_ms",
    "rpm",
    "integral",
    "bound",
)
"""What a panel and a memory both hold, under the same names."""


def _restored(machine: Machine, lines: Lines, settings: Settings, m: Memory) -> Panel:
    panel = Panel(machine, lines, settings, coils=dict(m.coils), **{n: getattr(m, n) for n in KEPT})
    panel._steady, panel._since = dict(m.steady), dict(m.since)
    return panel


def _kept(panel: Panel, m: Memory, state: np.ndarray | None) -> None:
    for name in KEPT:
        setattr(m, name, getattr(panel, name))
    m.coils, m.steady, m.since = dict(panel.coils), dict(panel._steady), dict(panel._since)
    m.motor = [] if state is None else [float(x) for x in state]


def inputs_to_press(machine: Machine) -> Mapping[str, Literal["button", "switch"]]:
    """The inputs that somebody can press or make happen on screen, and whether they are held (buttons) or stay."""
    momentary = ("forward", "back", "run_forward", "run_back", "home", "clear")
    return {
        n: "button" if n in momentary else "switch"
        for n in machine.inputs
        if n not in (*UNSEEN, "knob_zero", "knob_lost")
    }
