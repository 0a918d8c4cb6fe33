"""The panel's state machine as data: modes, and guarded rules in order. Screen, checker and both programs read it.

inputs, already debounced → the first rule of the present mode whose guard holds → the next mode → what the bridge does
"""

from __future__ import annotations

import ast
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from types import CodeType
from typing import Literal

from ..model.panel import INPUTS, PanelSpec

Action = Literal["off", "brake", "forward", "back"]
Target = Literal["wanted", "slow", "zero", "cut"]
"""What the duty does in a mode: ramps to the wanted one, to that of homing, to zero, or is zero at once."""


STOPS = ("stopped", "failed")
"""The modes that everything leads to."""


@dataclass(frozen=True, slots=True)
class PanelMode:
    """A mode: its name in programs, what the bridge does, what the duty does, and what it is, in words."""

    name: str
    action: Action
    target: Target
    says: str


@dataclass(frozen=True, slots=True)
class PanelRule:
    """In one of ``modes``, ``when`` holds: go ``to``. ``homed`` sets or clears that flag; ``says`` is why."""

    modes: tuple[str, ...]
    when: str
    to: str
    says: str
    homed: bool | None = None


@dataclass(frozen=True)
class Machine:
    """Inputs by name, modes in order (the first is where it starts), and rules in the order in which they are tried."""

    inputs: tuple[str, ...]
    modes: tuple[PanelMode, ...]
    rules: tuple[PanelRule, ...]

    @cached_property
    def by_name(self) -> dict[str, PanelMode]:
        """Modes by name."""
        return {m.name: m for m in self.modes}

    @cached_property
    def _ready(self) -> dict[str, list[tuple[CodeType, PanelRule]]]:
        return {
            m.name: [(compile(parsed(r.when), r.when, "eval"), r) for r in self.rules if m.name in r.modes]
            for m in self.modes
        }

    def step(self, mode: str, homed: bool, inputs: Mapping[str, bool]) -> tuple[str, bool, PanelRule | None]:
        """The next mode, whether it is homed, and the rule that led there (None: it stays)."""
        values = {**inputs, "homed": homed}
        for code, rule in self._ready[mode]:
            if eval(code, {"__builtins__": {}}, values):
                return rule.to, homed if rule.homed is None else rule.homed, rule
        return mode, homed, None

    def over(self, mode: str, values: Mapping[str, int], every: int) -> list[tuple[int, PanelRule]]:
        """For sets of combinations of the inputs (a bit for each, ``every`` has all): the rules of a mode, each with
        where it is the one that fires."""
        left, found = every, []
        for rule in (r for r in self.rules if mode in r.modes):
            holds = evaluate(rule.when, values) & left
            found.append((holds, rule))
            left ^= holds
        return found


def parsed(guard: str) -> ast.Expression:
    """A guard as a tree: names, ``and``, ``or``, ``not``, ``True``. ValueError for anything else."""
    tree = ast.parse(guard, mode="eval")
    for node in ast.walk(tree):
        if not isinstance(
            node,
            ast.Expression | ast.BoolOp | ast.And | ast.Or | ast.UnaryOp | ast.Not | ast.Name | ast.Load | ast.Constant,
        ):
            raise ValueError(f"a guard may hold names, and, or, not: {guard}")
    return tree


def evaluate(guard: str, values: Mapping[str, int]) -> int:
    """A guard over sets that are told as whole numbers, a bit for each member; ``True`` is all of them (−1)."""

    def of(node: ast.expr) -> int:
        if isinstance(node, ast.BoolOp):
            first, *rest = (of(v) for v in node.values)
            for other in rest:
                first = first & other if isinstance(node.op, ast.And) else first | other
            return first
        if isinstance(node, ast.UnaryOp):
            return ~of(node.operand)
        if isinstance(node, ast.Constant):
            return -bool(node.value)
        assert isinstance(node, ast.Name)
        return values[node.id]

    return of(parsed(guard).body)


def names_in(guard: str) -> set[str]:
    """The inputs that a guard reads."""
    return {n.id for n in ast.walk(parsed(guard)) if isinstance(n, ast.Name)}


@dataclass(frozen=True, slots=True)
class Around:
    """What of the rest of the design shapes a panel: whether it reverses, how, and what it does at rest."""

    reverses: bool = True
    slammed: bool = False
    rest: Literal["off", "brake"] = "off"
    locked: bool = False
    """Whether an interlock may stop it."""
    remote: bool = False
    """Whether a handset has buttons for it."""


WAYS = (("forward", "back"), ("back", "forward"))
MOVED = {"forward": "ahead", "back": "behind"}
LIMIT = {"forward": "limit_front", "back": "limit_back"}
END = {"forward": "end_front", "back": "end_back"}
"""Where a drive that counts from where it stood must not go beyond."""


@dataclass(frozen=True, slots=True)
class _Making:
    """The choices while the machine is put together, and what follows from them."""

    spec: PanelSpec
    around: Around
    inputs: tuple[str, ...]

    @property
    def ways(self) -> tuple[tuple[str, str], ...]:
        return WAYS if self.around.reverses else WAYS[:1]

    @property
    def touch(self) -> bool:
        return self.spec.command == "touch"

    @property
    def buttons(self) -> list[str]:
        return [n for n in ("forward", "back", "run_forward", "run_back") if n in self.inputs]

    @property
    def failing(self) -> list[str]:
        return [n for n in ("fault", "knob_lost", "stuck", "over") if n in self.inputs]

    @property
    def released(self) -> str:
        """Nothing is asked for, and the knob is at zero."""
        return _all(
            *(f"not {n}" for n in self.buttons),
            "not home" if "home" in self.inputs else "",
            "knob_zero" if "knob_zero" in self.inputs else "",
        )

    def free(self, way: str) -> str:
        """No limit forbids this direction, nor an end in counts."""
        own = self.spec.limit_stops == "own"
        stops = [LIMIT[way]] if own else list(LIMIT.values())
        return _all(*(f"not {n}" for n in (*stops, END[way], "locked") if n in self.inputs))

    def asked(self, way: str, other: str) -> str:
        """What asks for a direction."""
        first = self.spec.both == "first" and way == "forward"
        if first or not self.around.reverses:
            return way
        return _all(way, f"not {other}", f"not run_{other}" if self.spec.touches else "")

    def others(self, than: str) -> list[str]:
        """The buttons but one."""
        return [n for n in self.buttons if n != than]


def _all(*guards: str) -> str:
    return " and ".join(g for g in guards if g)


def assemble(spec: PanelSpec, around: Around) -> Machine:
    """The machine that the builder's choices make. ValueError with a sentence where choices do not go together."""
    if spec.homing == "back" and spec.limits == "none":
        raise ValueError("Homing needs limit switches: it drives back until its limit is reached.")
    if spec.homing == "back" and not around.reverses:
        raise ValueError("Homing needs a drive that runs both ways.")
    if spec.moves == "yes" and spec.homing == "none":
        raise ValueError("A move to a position needs homing first: without it nobody knows where zero is.")
    if spec.moves == "relative" and spec.homing != "none":
        raise ValueError("Ends counted from where it stood, or a zero found by homing: choose one of the two.")
    made = _Making(spec, around, _inputs(spec, around))
    modes = _modes(made)
    names = tuple(m.name for m in modes)
    driving = tuple(m.name for m in modes if m.action in ("forward", "back"))
    rules = _watching(made, tuple(n for n in names if n not in STOPS), driving)
    start = "True" if spec.start_up == "at once" else made.released
    rules.append(PanelRule(("waiting",), start, "idle", "power is up" if start == "True" else "all is released"))
    if spec.homing == "back":
        rules += _homing(made)
    for way, other in made.ways:
        rules += _limited(made, way, driving)
        rules += _touched(made, way, other) if made.touch else _held(made, way, other)
        if spec.touches:
            rules += _run(made, way)
        if spec.moves != "no":
            rules += _moving(made, way)
        rules.append(PanelRule((f"slowing_{way}",), "still", "resting", "it has come to rest"))
    touched = made.buttons if made.touch else [n for n in made.buttons if n.startswith("run_")]
    again = _all("rested", *(f"not {n}" for n in touched))
    rules.append(PanelRule(("resting",), again, "idle", "the rest is over"))
    rules += _clearing(made)
    return Machine(made.inputs, modes, tuple(rules))


def _inputs(spec: PanelSpec, around: Around) -> tuple[str, ...]:
    has = {
        "back": around.reverses,
        "home": spec.homing == "back",
        "run_forward": spec.touches,
        "run_back": spec.touches and around.reverses,
        "ahead": spec.moves != "no",
        "behind": spec.moves != "no",
        "end_front": spec.moves == "relative",
        "end_back": spec.moves == "relative",
        "stop": spec.stops,
        "limit_front": spec.limits == "both",
        "limit_back": spec.limits != "none",
        "fault": spec.fault_input != "none",
        "knob_zero": spec.speed_by == "knob",
        "knob_lost": spec.speed_by == "knob",
        "link_lost": spec.command == "serial" or spec.moves != "no",
        "radio_lost": around.remote,
        "stuck": spec.watch == "yes",
        "over": spec.trip == "yes",
        "locked": around.locked,
        "clear": spec.clears,
    }
    return tuple(n for n in INPUTS if has.get(n, n in ("forward", "still", "rested")))


def _modes(made: _Making) -> tuple[PanelMode, ...]:
    rest = made.around.rest
    modes = [PanelMode("waiting", rest, "cut", "waits for release"), PanelMode("idle", rest, "cut", "ready")]
    for way, _ in made.ways:
        action: Action = "forward" if way == "forward" else "back"
        if made.touch:
            modes.append(PanelMode(f"starting_{way}", action, "wanted", f"starts {way}, button still held"))
        modes.append(PanelMode(way, action, "wanted", f"drives {way}"))
        if made.spec.touches:
            modes.append(PanelMode(f"touched_{way}", action, "wanted", f"runs {way}, button still held"))
            modes.append(PanelMode(f"running_{way}", action, "wanted", f"runs {way} by itself"))
        if made.spec.moves != "no":
            modes.append(PanelMode(f"moving_{way}", action, "wanted", f"moves {way} to a position"))
        modes.append(PanelMode(f"slowing_{way}", action, "zero", f"slows down, {way}"))
    if made.spec.homing == "back":
        modes.append(PanelMode("homing", "back", "slow", "drives back to its limit"))
    modes.append(PanelMode("resting", rest, "cut", "rests"))
    if "stop" in made.inputs:
        modes.append(PanelMode("stopped", rest, "cut", "stopped"))
    if made.failing:
        modes.append(PanelMode("failed", "off", "cut", "failed"))
    return tuple(modes)


def _watching(made: _Making, live: tuple[str, ...], driving: tuple[str, ...]) -> list[PanelRule]:
    """What stops everything, in the order in which it counts."""
    rules = []
    if "stop" in made.inputs:
        rules.append(PanelRule((*live, *(["failed"] if made.failing else [])), "stop", "stopped", "stop is pressed"))
    for name, says in (("fault", "the driver reports a fault"), ("knob_lost", "a wire of the knob is off")):
        if name in made.inputs:
            rules.append(PanelRule(live, name, "failed", says))
    if "stuck" in made.inputs:
        rules.append(PanelRule(driving, "stuck", "failed", "it is driven and no counts come", homed=False))
    if "over" in made.inputs:
        rules.append(PanelRule(driving, "over", "failed", "the current stays above its limit"))
    if "locked" in made.inputs:
        rules.append(PanelRule(driving, "locked", "resting", "its interlock is open"))
    if "link_lost" in made.inputs:
        serial = tuple(n for n in driving if made.spec.command == "serial" or n.startswith(("moving", "homing")))
        rules.append(PanelRule(serial, "link_lost", "resting", "the serial port is silent"))
    if "radio_lost" in made.inputs:
        rules.append(PanelRule(driving, "radio_lost", "resting", "the handset that has it in hand is silent"))
    return rules


def _unlocked(made: _Making) -> str:
    return "not locked" if "locked" in made.inputs else ""


def _homing(made: _Making) -> list[PanelRule]:
    calm = " and ".join(f"not {n}" for n in made.buttons)
    return [
        PanelRule(("idle",), f"home and limit_back and {calm}", "resting", "it is home already", homed=True),
        PanelRule(("idle",), _all("home", calm, _unlocked(made)), "homing", "homing is asked for", homed=False),
        PanelRule(("homing",), "limit_back", "resting", "home is reached", homed=True),
        PanelRule(("homing",), " or ".join(made.buttons), "slowing_back", "a button ends it"),
    ]


def _held(made: _Making, way: str, other: str) -> list[PanelRule]:
    """Hold to run: it drives while it is asked for."""
    asked = made.asked(way, other)
    rules = []
    if made.around.slammed and made.around.reverses:
        turn = _all(made.asked(other, way), made.free(other))
        rules.append(PanelRule((way,), turn, other, f"{other} is asked for"))
    return [
        *rules,
        PanelRule(("idle",), _all(asked, made.free(way)), way, f"{way} is asked for"),
        PanelRule((way,), f"not ({asked})", f"slowing_{way}", f"{way} is no longer asked for"),
        PanelRule((f"slowing_{way}",), _all(asked, made.free(way)), way, f"{way} is asked for again"),
    ]


def _touched(made: _Making, way: str, other: str) -> list[PanelRule]:
    """One touch: a press starts it, the next press of any button stops it."""
    calm, pressed = " and ".join(f"not {n}" for n in made.buttons), " or ".join(made.buttons)
    wrong = f"not ({made.asked(way, other)}) and ({pressed})"
    another = [PanelRule((f"starting_{way}",), wrong, f"slowing_{way}", "another button is touched")]
    return [
        PanelRule(("idle",), _all(made.asked(way, other), made.free(way)), f"starting_{way}", f"{way} is touched"),
        PanelRule((f"starting_{way}",), calm, way, "the button is released"),
        *(another if made.around.reverses else []),
        PanelRule((way,), pressed, f"slowing_{way}", "a button is touched again"),
    ]


def _run(made: _Making, way: str) -> list[PanelRule]:
    """One touch beside hold to run: a touch of its own button starts it, the next of any button stops it."""
    own, pressed, calm = f"run_{way}", " or ".join(made.buttons), " and ".join(f"not {n}" for n in made.buttons)
    others = made.others(own)
    alone = _all(own, *(f"not {n}" for n in others))
    return [
        PanelRule(("idle",), _all(alone, made.free(way)), f"touched_{way}", f"run {way} is touched"),
        PanelRule((f"touched_{way}",), calm, f"running_{way}", "the button is let go"),
        PanelRule((f"touched_{way}",), " or ".join(others), f"slowing_{way}", "another button is touched"),
        PanelRule((f"running_{way}",), pressed, f"slowing_{way}", "a button is touched again"),
    ]


def _moving(made: _Making, way: str) -> list[PanelRule]:
    pressed, calm = " or ".join(made.buttons), " and ".join(f"not {n}" for n in made.buttons)
    move, name = MOVED[way], f"moving_{way}"
    return [
        PanelRule(
            ("idle",),
            _all("homed" if made.spec.moves == "yes" else "", move, calm, made.free(way)),
            name,
            "a position is asked for",
        ),
        PanelRule((name,), f"{pressed} or not {move}", f"slowing_{way}", "it is there, or a button is pressed"),
    ]


def _limited(made: _Making, way: str, driving: tuple[str, ...]) -> list[PanelRule]:
    own = made.spec.limit_stops == "own"
    modes = tuple(n for n in driving if n.endswith(way))
    found = []
    if stops := [n for n in ([LIMIT[way]] if own else LIMIT.values()) if n in made.inputs]:
        says = f"the {LIMIT[way].removeprefix('limit_')} limit is reached" if own else "a limit is reached"
        found.append(PanelRule(modes, " or ".join(stops), "resting", says))
    if END[way] in made.inputs:
        says = f"the {END[way].removeprefix('end_')} end in counts is reached"
        found.append(PanelRule(modes, END[way], "resting", says))
    return found


def _clearing(made: _Making) -> list[PanelRule]:
    calm = _all(
        "not stop" if "stop" in made.inputs else "", *(f"not {n}" for n in made.failing if n != "stuck"), made.released
    )
    rules = []
    if "stop" in made.inputs:
        latched = made.spec.stop_latched == "yes"
        rules.append(
            PanelRule(("stopped",), f"clear and {calm}", "resting", "it is cleared")
            if latched
            else PanelRule(("stopped",), "not stop", "resting", "stop is released")
        )
    if made.failing:
        cleared = calm if made.spec.clear_by == "release" else f"clear and {calm}"
        says = "all is let go, and its cause is gone" if made.spec.clear_by == "release" else "it is cleared"
        rules.append(PanelRule(("failed",), cleared, "resting", says))
    return rules
