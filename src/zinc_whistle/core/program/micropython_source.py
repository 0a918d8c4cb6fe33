"""The program as MicroPython: the same machine, ramp and protocol, on the interpreter's own pins and pulses."""

from __future__ import annotations

import re
from collections.abc import Iterator
from string import Template

from ..cases.pins import TACHO
from ..laws.decoder import ILLEGAL
from ..panel.lamps import BLINK_MS
from ..panel.lines import is_pulsed
from ..panel.machine import names_in
from ..panel.settings import (
    BOUNCING,
    FINE,
    KNOB_LOST,
    KNOB_MOVED,
    KNOB_STILL,
    KNOB_TOP,
    KNOB_ZERO,
    MOST_GAIN,
    ONE,
    SPEED_FINE,
    TRIP_FINE,
    WINDOW,
)
from . import micropython_protocol as line
from . import micropython_radio as radio
from . import micropython_runtime as parts
from . import micropython_sequence as sequence
from .keep import stamped
from .planned import DriveProgram, NotYet, ProgramPlan, ServoProgram
from .protocol import LONGEST, POLYNOMIAL, VERSION
from .words import class_name, python_comment, python_docstring

NUMBER = r"0|[1-9][0-9]{0,2}"
"""How this target names a pin; nothing else may reach the program."""


def micropython_source(plan: ProgramPlan) -> str:
    """The whole program. NotYet with sentences where the plan asks for what the interpreter cannot promise."""
    _refuse(plan)
    drives = ", ".join(f"{d.number}: {class_name(d.slug)}()" for d in plan.drives)
    servos = ", ".join(_servo(s) for s in plan.servos)
    pieces = [
        _fill(
            parts.HEAD,
            build=python_comment(plan.build),
            controller=python_comment(plan.controller.name),
            pins="\n".join(_pins(plan)),
            tick=plan.tick_ms,
            link=plan.link_ms,
            one=ONE,
            fine=FINE,
            speed_fine=SPEED_FINE,
            knob_lost=KNOB_LOST,
            knob_zero=KNOB_ZERO,
            knob_top=KNOB_TOP,
        ),
        _fill(
            parts.RUNTIME,
            illegal=ILLEGAL,
            window=WINDOW,
            most_gain=MOST_GAIN,
            blink=BLINK_MS,
            trip_fine=TRIP_FINE,
            still=KNOB_STILL,
            moved=KNOB_MOVED,
        ),
        *("\n".join(_drive(d)) + "\n" for d in plan.drives),
        parts.OWN,
        _fill(
            line.PROTOCOL,
            drives=drives,
            servos=servos,
            lines=_fill(line.FRAMING, polynomial=f"0x{POLYNOMIAL:02X}").rstrip("\n"),
            version=VERSION,
            longest=LONGEST,
            contacts=f"({', '.join(chr(34) + n + chr(34) for n in BOUNCING)})",
            nodes=plan.nodes,
            sides=plan.steering[:2] if plan.steering is not None else (),
            sign=-1 if plan.steering is not None and plan.steering[2] else 1,
            shift=_shift(plan),
            radio=radio.radio(plan),
            player=_fill(sequence.PLAYER, tables=sequence.tables(plan), start=sequence.START),
        ),
    ]
    return stamped("".join(pieces), ("#", ""))


def _fill(text: str, **values: object) -> str:
    return Template(text).substitute({k: str(v) for k, v in values.items()})


def _refuse(plan: ProgramPlan) -> None:
    missing = [
        f"{d.name}: two gates need two outputs with a dead time between them, which "
        "this language's pulses cannot promise: "
        "take a gate driver that makes its own dead time, or the 8-bit controller."
        for d in plan.drives
        if d.lines.leg and not d.lines.switched
    ]
    numbers = [(t.name, p) for t in plan.drives for p in t.pins.values()]
    numbers += [(s.name, p) for s in plan.servos for p in (s.pin, s.knob) if p is not None]
    numbers += [(s.name, c.pin) for s, c in zip(plan.scripts, plan.plays, strict=True) if c is not None]
    if plan.identity is not None:
        numbers.append(("One program for two", plan.identity))
    missing += [
        f"{name}: the profile gives {p.label} no number." for name, p in numbers if not re.fullmatch(NUMBER, p.program)
    ]
    if missing:
        raise NotYet(missing)


def _pins(plan: ProgramPlan) -> Iterator[str]:
    for d in plan.drives:
        yield from (
            f"#   {python_comment(p.label):<4} Pin({p.program})  {python_comment(d.name)}: {s}"
            for s, p in d.pins.items()
        )
    yield from (
        f"#   {python_comment(s.pin.label):<4} Pin({s.pin.program})  {python_comment(s.name)}: PULSE"
        for s in plan.servos
    )


def _shift(plan: ProgramPlan) -> str:
    """What the second of two adds to its drives' numbers, as the program finds it out."""
    pin = plan.identity
    return "0" if pin is None else f"0 if Pin({pin.program}, Pin.IN, Pin.PULL_UP).value() else COUNT"


def _servo(s: ServoProgram) -> str:
    low, high = (round(us * s.timing.frequency_hz * 65536 / 1e6) for us in (s.low_us, s.high_us))
    knob = f", {s.knob.program}" if s.knob is not None else ""
    return f"{s.number}: Servo({s.number}, {s.pin.program}, {round(s.timing.frequency_hz)}, {low}, {high}{knob})"


def _drive(d: DriveProgram) -> Iterator[str]:
    s, why, lines = d.settings, d.reasons, d.lines
    yield f"\n\nclass {class_name(d.slug)}(Drive):"
    yield f'    """{python_docstring(d.name)}."""\n'
    yield f"    number = {d.number}"
    for name, value, reason in (
        ("wanted", s.wanted, f"{why['wanted']}, of 65535"),
        ("ramp_step", s.ramp_step, f"{why['ramp_ms']}, in fine units a round"),
        ("pause_ticks", s.pause_ms, why["pause_ms"]),
        ("watch_ticks", s.watch_ms, why["watch_ms"]),
        ("watch_from", s.watch_from, "from this level on it must turn"),
        ("offset", s.offset, why["offset"]),
        *((("homing", s.home, why["home"]),) if s.home else ()),
        *((("trip", s.trip, why["trip"] + ", of 1023"), ("trip_sum", s.trip_sum, why["trip_ms"])) if s.trip else ()),
        *((("hold_ticks", s.hold_ms, "the highest reading counts for so long"),) if s.trip else ()),
        *((("milliamps", s.milliamps_fine, why["milliamps"]),) if "SENSE" in d.pins else ()),
        *((("ends", s.ends, why["ends"]),) if s.ends else ()),
        *((("most", s.most, why["most"]),) if s.most else ()),
        *_slowing(d),
    ):
        yield f"    {name} = {value}  # {python_comment(reason)}"
    yield f"    by_port, two_way = {d.panel.command == 'serial'}, {'back' in d.machine.inputs}"
    yield (
        f"    homes, moves, watches = {'home' in d.machine.inputs}, "
        f"{'ahead' in d.machine.inputs}, {d.panel.watch == 'yes'}"
    )
    if s.loop is not None:
        gain = s.loop.gain_fine if s.loop.closed else 0
        yield f"    # {python_comment(why.get('loop', ''))}"
        yield (
            f"    loop_ticks, rpm_per_count, rpm_per_level = {s.loop.period_ms}, "
            f"{s.loop.rpm_per_count_fine}, {s.loop.rpm_per_level_fine}"
        )
        each = s.loop.integral_fine if s.loop.closed else 0
        yield f"    rpm_drop, gain, each_adds = {s.loop.rpm_drop}, {gain}, {each}"
    if lines.coils:
        masks = {a: sum(1 << k for k, n in enumerate(lines.coils) if v[n] == "1") for a, v in lines.levels.items()}
        yield f"    coil_ticks = {s.coil_ms}  # {python_comment(why['coil_ms'])}"
        yield f"    coils_of = {masks}".replace("'", '"')
    yield from _dict("    actions", {m.name: f'"{m.action}"' for m in d.machine.modes})
    yield from _dict("    targets", {m.name: f'"{m.target}"' for m in d.machine.modes})
    yield "\n    def __init__(self):"
    yield "        super().__init__()"
    for name in lines.names:
        pin = d.pins[name]
        if any(is_pulsed(v[name]) for v in lines.levels.values()):
            yield (
                f"        self.{_attribute(name)} = Pulses({pin.program}, "
                f"{round(d.timing.frequency_hz)})  # {python_comment(why['full'])}"
            )
        else:
            yield f"        self.{_attribute(name)} = Pin({pin.program}, Pin.OUT, value=0)"
    contacts = {
        x.input: f"Contact({x.pin.program}, {0 if x.low else 1}, "
        f"{'Pin.PULL_UP' if x.pull_up else 'Pin.PULL_DOWN'}, {s.debounce_ms})"
        for x in d.contacts
    }
    yield from _dict("        self.contacts", contacts)
    if d.counting is not None:
        second = None if d.counting.b is None else d.counting.b.program
        yield f"        self.encoder = Encoder({d.counting.a.program}, {second}, {d.counting.table})"
    yield from (
        f"        self.{_attribute(n)} = ADC(Pin({d.pins[n].program}))" for n in ("KNOB", "SENSE") if n in d.pins
    )
    if TACHO in d.pins:
        yield f"        self.tacho = ADC(Pin({d.pins[TACHO].program}))"
    if d.lamps:
        yield "        self.lamps = ("
        for lamp in d.lamps:
            modes = "".join(f'"{m}", ' for m in lamp.modes)
            output = f"Pin({d.pins[lamp.signal].program}, Pin.OUT, value=0)"
            yield f'            ({output}, ({modes}), "{lamp.input}", {lamp.blinks}),  # {python_comment(lamp.name)}'
        yield "        )"
    yield "\n    def read(self):"
    yield "        on = {name: contact.read() for name, contact in self.contacts.items()}"
    if "KNOB" in d.pins:
        yield "        self.turn_knob(on)"
    yield "        return on\n"
    yield from _next(d)
    yield from _write(d)


def _slowing(d: DriveProgram) -> tuple[tuple[str, int, str], ...]:
    near, why = d.settings.approach, d.reasons
    return () if near is None else (("slow_within", near.within, why["slow"]), ("creep", near.creep, why["creep"]))


def _dict(head: str, values: dict[str, str]) -> Iterator[str]:
    """A dictionary, an entry a line."""
    if not values:
        yield f"{head} = {{}}"
        return
    indent = " " * (len(head) - len(head.lstrip()) + 4)
    yield f"{head} = {{"
    yield from (f'{indent}"{name}": {value},' for name, value in values.items())
    yield f"{indent[4:]}}}"


def _attribute(line: str) -> str:
    return line.lower().replace(" ", "_")


def _next(d: DriveProgram) -> Iterator[str]:
    yield "    def next(self, on):"
    yield "        mode = self.mode"
    for mode in d.machine.modes:
        yield f'        if mode == "{mode.name}":  # {mode.says}'
        rules = [r for r in d.machine.rules if mode.name in r.modes]
        for rule in rules:
            yield f"            if {guard(rule.when)}:  # {rule.says}"
            if rule.homed is not None:
                yield f"                self.homed = {rule.homed}"
            yield f'                return "{rule.to}"'
        if not rules:
            yield "            pass"
    yield "        return mode\n"


def guard(text: str) -> str:
    """A guard as a Python expression over the inputs."""
    made = text.replace("(", "( ").replace(")", " )").split()
    names = names_in(text)
    words = ["self.homed" if w == "homed" else f'on["{w}"]' if w in names else w for w in made]
    return " ".join(words).replace("( ", "(").replace(" )", ")")


def _write(d: DriveProgram) -> Iterator[str]:
    lines = d.lines
    pulsed = [n for n in lines.names if any(is_pulsed(v[n]) for v in lines.levels.values())]
    static = [n for n in lines.names if n not in pulsed and n not in lines.coils]
    yield "    def write(self, action, level):"
    yield "        # What is given up goes low first, pulses before anything else; pulses come last."
    if pulsed:
        yield f'        pulses = {"True" if lines.opposed else "level > 0"} and action in ("forward", "back")'
        yield "        if action != self.last_action or not pulses:"
        yield from (f"            self.{_attribute(n)}.still(0)" for n in pulsed)
    yield "        if action != self.last_action:"
    yield from (f"            self.{_attribute(n)}.value(0)" for n in static)
    yield "            self.last_action = action"
    for k, name in enumerate(lines.coils):
        yield f"        self.{_attribute(name)}.value(self.coils >> {k} & 1)"
    for action in ("off", "brake", "forward", "back"):
        levels = lines.levels[action]
        todo = [f"self.{_attribute(n)}.still(1)" for n in pulsed if levels[n] == "1"]
        gated = lines.switched if action in ("forward", "back") else ()
        todo += [
            f"self.{_attribute(n)}.value({'1 if level else 0' if n in gated else '1'})"
            for n in static
            if levels[n] == "1"
        ]
        sign = "+" if action == "forward" else "-"
        value = f"(self.full {sign} level) // 2" if lines.opposed else "level"
        after = [f"self.{_attribute(n)}.level({value})" for n in pulsed if is_pulsed(levels[n])]
        if todo or after:
            yield f'        if action == "{action}":'
            yield from (f"            {x}" for x in todo)
            if after:
                yield "            if pulses:"
                yield from (f"                {x}" for x in after)
