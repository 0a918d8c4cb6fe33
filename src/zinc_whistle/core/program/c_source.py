"""The program as C for the 8-bit target: no framework, a register at a time, every number with its reason."""

from __future__ import annotations

import ast
import textwrap
from collections.abc import Iterator
from string import Template

from ..laws.decoder import ILLEGAL
from ..panel.lines import is_pulsed
from ..panel.machine import PanelRule, parsed
from ..panel.runtime import KNOB_LOST, KNOB_TOP, KNOB_ZERO
from . import c_protocol as line
from . import c_runtime as runtime
from .board import WINDOW
from .c_names import PAGES, PRESCALERS, bit_of, comment, compare, complementary, pressed, pulsed_line, put, up_name
from .c_setup import setup
from .keep import stamped
from .plan import DriveProgram, NotYet, ProgramPlan, ServoProgram
from .protocol import LONGEST, POLYNOMIAL, VERSION

WIDE_LINE = 110
"""A line of C is not made longer than this by a list."""


def c_source(plan: ProgramPlan) -> str:
    """The whole program. NotYet with sentences where the plan asks for what this target cannot do."""
    _refuse(plan)
    pieces = [
        _fill(
            runtime.HEAD,
            build=comment(plan.build),
            controller=comment(plan.controller.name),
            clock=f"{plan.clock_hz:.0f}",
            pins="\n".join(_pin_lines(plan)),
        ),
        "\n".join(_numbers(plan)) + "\n\n",
        _fill(runtime.TYPES),
        "\n",
        runtime.CLOCK,
        "\n",
        _fill(line.SERIAL, longest=str(LONGEST), polynomial=f"0x{POLYNOMIAL:02X}"),
        "\n",
        _encoders(plan),
        _fill(runtime.COUNT_OF),
        "\n",
        runtime.SETTLED if any(d.contacts for d in plan.drives) else "",
        "\n",
        _fill(runtime.KNOB, knob_lost=str(KNOB_LOST), knob_zero=str(KNOB_ZERO), knob_top=str(KNOB_TOP))
        if _has_knob(plan)
        else "",
        *("\n".join(_drive(d)) + "\n\n" for d in plan.drives),
        *(_servo_code(s) for s in plan.servos),
        "\n".join(_tables(plan)) + "\n\n",
        _fill(runtime.RUNNING, window=str(WINDOW)),
        "\n",
        runtime.OWN,
        _fill(line.PROTOCOL, version=str(VERSION), **_servo_parts(plan)),
        "\n",
        _fill(runtime.MAIN, setup="\n".join(setup(plan)), servo_silent=_servo_silent(plan)),
    ]
    return stamped("".join(pieces), ("/*", " */"))


def _fill(text: str, **values: str) -> str:
    return Template(text).substitute(values)


def _refuse(plan: ProgramPlan) -> None:
    missing = []
    things: list[DriveProgram | ServoProgram] = [*plan.drives, *plan.servos]
    for thing in things:
        pins = thing.pins if isinstance(thing, DriveProgram) else {"PULSE": thing.pin}
        unknown = [p.label for p in pins.values() if len(p.port) != 2 or p.port[0] not in PAGES]
        if unknown:
            missing.append(f"{thing.name}: the profile does not tell the port of {', '.join(unknown)}.")
        pulsed = [p for s, p in pins.items() if s == "PULSE" or pulsed_line(thing, s)]
        if any(p.compare[:1] not in PRESCALERS for p in pulsed):
            missing.append(f"{thing.name}: its pulses must come from timer 1 or 2; timer 0 is the program's clock.")
        elif any(thing.timing.prescaler not in PRESCALERS[p.compare[0]] for p in pulsed):
            missing.append(f"{thing.name}: its timer has no prescaler of {thing.timing.prescaler}.")
        if (
            isinstance(thing, DriveProgram)
            and thing.lines.leg
            and not thing.timing.centre
            and complementary(thing.lines)
        ):
            missing.append(
                f"{thing.name}: two gates need centre-aligned pulses, so that both edges have their dead time."
            )
        if isinstance(thing, DriveProgram) and "KNOB" in pins and pins["KNOB"].port[:1] != "C":
            missing.append(f"{thing.name}: its knob needs a pin of port C.")
    if missing:
        raise NotYet(missing)


def _pin_lines(plan: ProgramPlan) -> Iterator[str]:
    yield " * Pins:"
    for drive in plan.drives:
        for signal, pin in drive.pins.items():
            yield f" *   {pin.label:<4} P{pin.port:<3} {comment(drive.name)}: {signal}"
    for servo in plan.servos:
        yield f" *   {servo.pin.label:<4} P{servo.pin.port:<3} {comment(servo.name)}: PULSE"
    yield " *   D0, D1   serial port"


def _numbers(plan: ProgramPlan) -> Iterator[str]:
    yield f"#define DRIVES {len(plan.drives)}"
    yield f"#define COUNT {plan.count}"
    yield f"#define LINK_MS {plan.link_ms} /* silence of the serial port that stops */"
    for d in plan.drives:
        s, why = d.settings, d.reasons
        yield f"\n/* {comment(d.name)} */"
        rows: list[tuple[str, int, str]] = [
            ("FULL", s.full, why["full"]),
            ("WANTED", s.wanted, why["wanted"]),
            ("RAMP_STEP", s.ramp_step, why["ramp_ms"] + (", in 1/16384 step a ms" if s.ramp_ms else "")),
            ("PAUSE_MS", s.pause_ms, why["pause_ms"]),
            ("WATCH_MS", s.watch_ms, why["watch_ms"]),
            ("OFFSET", s.offset, why["offset"]),
        ]
        if d.contacts:
            rows.append(("DEBOUNCE_MS", s.debounce_ms, why["debounce_ms"]))
        if d.lines.coils:
            rows.append(("COIL_MS", s.coil_ms, why["coil_ms"]))
        if complementary(d.lines):
            rows.append(("DEAD", d.dead_steps, why["dead"] or "no dead time is given"))
        yield from (f"#define {up_name(d)}_{n} {v} /* {comment(w)} */" for n, v, w in rows)
    for servo in plan.servos:
        tick = servo.timing.prescaler / plan.clock_hz * 1e6
        yield f"\n/* {comment(servo.name)}: pulses in counts of {tick:g} µs */"
        yield f"#define {servo.slug.upper()}_LOW {round(servo.low_us / tick)} /* {servo.low_us:g} µs */"
        yield f"#define {servo.slug.upper()}_HIGH {round(servo.high_us / tick)} /* {servo.high_us:g} µs */"


def _has_knob(plan: ProgramPlan) -> bool:
    return any("KNOB" in d.pins for d in plan.drives)


def _drive(d: DriveProgram) -> Iterator[str]:
    p, up = d.slug, up_name(d)
    yield f"/* ---- {comment(d.name)} ---- */\n"
    modes = d.machine.modes
    yield from _listed(f"enum {p}_mode {{", [f"{up}_{m.name.upper()}" for m in modes])
    yield from _listed(f"static const char *const {p}_names[] = {{", [f'"{m.name}"' for m in modes])
    yield from _listed(f"static const uint8_t {p}_actions[] = {{", [m.action.upper() for m in modes])
    yield from _listed(f"static const uint8_t {p}_targets[] = {{", [m.target.upper() for m in modes])
    yield ""
    yield from _next(d)
    yield from _read(d)
    yield from _two_gates(d) if complementary(d.lines) else _write(d)


def _listed(head: str, items: list[str], tail: str = "};", indent: str = "    ") -> Iterator[str]:
    """A list in braces, over as many lines as it needs."""
    whole = f"{head}{', '.join(items)}{tail}"
    if len(whole) <= WIDE_LINE:
        yield whole
        return
    yield head
    yield from textwrap.wrap(", ".join(items), WIDE_LINE, initial_indent=indent, subsequent_indent=indent)
    yield indent[4:] + tail


def _next(d: DriveProgram) -> Iterator[str]:
    yield f"static uint8_t {d.slug}_next(struct drive *d, const struct inputs *in)"
    yield "{"
    yield "    switch (d->mode) {"
    for mode in d.machine.modes:
        yield f"    case {up_name(d)}_{mode.name.upper()}: /* {mode.says} */"
        for rule in (r for r in d.machine.rules if mode.name in r.modes):
            yield from _rule(d, rule)
            if rule.when == "True":
                break
        else:
            yield "        break;"
    yield "    }"
    yield "    return d->mode;"
    yield "}\n"


def _rule(d: DriveProgram, rule: PanelRule) -> Iterator[str]:
    go = f"return {up_name(d)}_{rule.to.upper()}; /* {rule.says} */"
    if rule.when == "True":
        yield f"        {go}"
    elif rule.homed is None:
        yield f"        if ({guard(rule.when)})"
        yield f"            {go}"
    else:
        yield f"        if ({guard(rule.when)}) {{"
        yield f"            d->homed = {'true' if rule.homed else 'false'};"
        yield f"            {go}"
        yield "        }"


def guard(text: str) -> str:
    """A guard as a C expression."""

    def of(node: ast.expr, inside: bool) -> str:
        if isinstance(node, ast.BoolOp):
            sign = " && " if isinstance(node.op, ast.And) else " || "
            made = sign.join(of(v, True) for v in node.values)
            return f"({made})" if inside else made
        if isinstance(node, ast.UnaryOp):
            return f"!{of(node.operand, True)}"
        assert isinstance(node, ast.Name)
        return "d->homed" if node.id == "homed" else f"in->{node.id}"

    return of(parsed(text).body, False)


def _read(d: DriveProgram) -> Iterator[str]:
    knob = d.pins.get("KNOB")
    yield from (f"static struct contact {d.slug}_{x.input};" for x in d.contacts)
    yield f"static void {d.slug}_read(struct drive *d, struct inputs *in)"
    yield "{"
    for x in d.contacts:
        sign = "|=" if x.input in ("stop", "clear") else "="
        yield f"    in->{x.input} {sign} settled(&{d.slug}_{x.input}, {pressed(x)}, {up_name(d)}_DEBOUNCE_MS);"
    if knob is not None:
        yield f"    knob(d, converted({knob.port[1]}), in);"
    else:
        yield "    (void)d;"
    if not d.contacts and knob is None:
        yield "    (void)in;"
    yield "}\n"


def _level(d: DriveProgram, action: str) -> str:
    """The value for the compare register."""
    if d.lines.opposed:
        return f"({up_name(d)}_FULL {'+' if action == 'forward' else '-'} level) / 2"
    return "level"


def _write(d: DriveProgram) -> Iterator[str]:
    """What stands on the driver's lines: what is given up goes low first, pulses come last."""
    lines = d.lines
    pulsed = [n for n in lines.names if any(is_pulsed(levels[n]) for levels in lines.levels.values())]
    static = [n for n in lines.names if n not in lines.coils]
    wide = "uint8_t" if d.timing.bits == 8 else "uint16_t"
    yield f"static void {d.slug}_write(const struct drive *d, uint8_t action, uint16_t level)"
    yield "{"
    yield "    static uint8_t last = OFF;"
    yield f"    bool pulses = {'true' if lines.opposed else 'level > 0'} && (action == FORWARD || action == BACK);"
    yield "    if (action != last || !pulses) { /* what is given up goes low, pulses first */"
    for name in pulsed:
        register, control, bit = compare(d.pins[name])
        yield f"        {control} &= ~_BV({bit});"
        yield f"        {register} = 0;"
        yield f"        {put(d.pins[name], '0')}"
    yield "    }"
    yield "    if (action != last) {"
    yield from (f"        {put(d.pins[n], '0')}" for n in static if n not in pulsed)
    yield "        last = action;"
    yield "    }"
    if lines.coils:
        for k, name in enumerate(lines.coils):
            yield f"    if (d->coils & {1 << k})"
            yield f"        {put(d.pins[name], '1')}"
            yield "    else"
            yield f"        {put(d.pins[name], '0')}"
    else:
        yield "    (void)d;"
    yield "    switch (action) {"
    for action in ("off", "brake", "forward", "back"):
        levels = lines.levels[action]
        yield f"    case {action.upper()}:"
        yield from (f"        {put(d.pins[n], '1')}" for n in static if levels[n] == "1")
        for name in (n for n in static if is_pulsed(levels[n])):
            register, control, bit = compare(d.pins[name])
            if not lines.opposed:
                yield f"        if (pulses && level >= {up_name(d)}_FULL) {{ /* full is full: no edge is left */"
                yield f"            {control} &= ~_BV({bit});"
                yield f"            {put(d.pins[name], '1')}"
                yield "        } else if (pulses) {"
            else:
                yield "        if (pulses) {"
            yield f"            {register} = ({wide})({_level(d, action)});"
            yield f"            {control} |= _BV({bit});"
            yield "        }"
        yield "        break;"
    yield "    }"
    yield "}\n"


def _two_gates(d: DriveProgram) -> Iterator[str]:
    """Upper gate and its complement: the dead time stands between the two compare values, on both edges."""
    upper, lower = d.pins["HIGH"], d.pins["LOW"]
    high, low = compare(upper)[0], compare(lower)[0]
    yield f"""/*
 * The upper gate is high while the count is below {high}, the lower one while it is above {low}: between them lie
 * {up_name(d)}_DEAD counts on both edges. Both are taken over at the top of the count. The gap is never made smaller first:
 * rising, the lower gate gives way first; falling, the upper one.
 */
static void {d.slug}_gates(uint16_t above, uint16_t below)
{{
    if (below > {up_name(d)}_FULL)
        below = {up_name(d)}_FULL; /* never high */
    uint8_t was = SREG;
    cli();
    if (above > {high}) {{
        {low} = below;
        {high} = above;
    }} else {{
        {high} = above;
        {low} = below;
    }}
    SREG = was;
}}

static void {d.slug}_write(const struct drive *d, uint8_t action, uint16_t level)
{{
    (void)d;
    if (action == FORWARD && level)
        {d.slug}_gates(level, level + {up_name(d)}_DEAD);
    else if (action == BRAKE)
        {d.slug}_gates(0, 0); /* lower gate on */
    else
        {d.slug}_gates(0, {up_name(d)}_FULL); /* both off */
}}
"""


def _encoders(plan: ProgramPlan) -> str:
    counting = [(d, d.counting) for d in plan.drives if d.counting is not None]
    if not counting:
        return ""
    made = [_fill(runtime.COUNTING, illegal=str(ILLEGAL))]
    ports: dict[str, list[str]] = {}
    for d, e in counting:
        values = ", ".join(map(str, e.table))
        made.append(
            f"static struct encoder {d.slug}_encoder;\nstatic const int8_t {d.slug}_turns[16] = {{{values}}};\n"
        )
        reads = " | ".join(f"((PIN{p.port[0]} & {bit_of(p)}) ? {weight} : 0)" for p, weight in ((e.a, 2), (e.b, 1)))
        made.append(f"#define {up_name(d)}_AB ({reads})\n\n")
        for port in {e.a.port[0], e.b.port[0]}:
            ports.setdefault(port, []).append(f"    turn(&{d.slug}_encoder, {up_name(d)}_AB, {d.slug}_turns);")
    for port, calls in sorted(ports.items()):
        made.append(f"ISR(PCINT{PAGES[port]}_vect)\n{{\n" + "\n".join(calls) + "\n}\n\n")
    return "".join(made)


def _tables(plan: ProgramPlan) -> Iterator[str]:
    for d in plan.drives:
        up, loop = up_name(d), d.settings.loop
        coils = [
            sum(1 << k for k, n in enumerate(d.lines.coils) if d.lines.levels[a][n] == "1")
            for a in ("off", "brake", "forward", "back")
        ]
        flags = {
            "by_port": d.panel.command == "serial",
            "two_way": "back" in d.machine.inputs,
            "homes": "home" in d.machine.inputs,
            "moves": "ahead" in d.machine.inputs,
            "opposed": d.lines.opposed,
            "watches": d.panel.watch == "yes",
        }
        numbers = {
            "full": f"{up}_FULL",
            "wanted": f"{up}_WANTED",
            "ramp_step": f"{up}_RAMP_STEP",
            "pause_ms": f"{up}_PAUSE_MS",
            "coil_ms": f"{up}_COIL_MS" if d.lines.coils else "0",
            "watch_ms": f"{up}_WATCH_MS",
            "watch_from": str(d.settings.watch_from),
            "offset": f"{up}_OFFSET",
            "loop_ms": str(loop.period_ms if loop else 0),
            "rpm_per_count": str(loop.rpm_per_count_fine if loop else 0),
            "rpm_per_level": str(loop.rpm_per_level_fine if loop else 1),
            "rpm_drop": str(loop.rpm_drop if loop else 0),
            "gain": str(loop.gain_fine if loop and loop.closed else 0),
        }
        yield f"static const struct kind {d.slug}_kind = {{"
        yield f"    .number = {d.number},"
        yield "    " + " ".join(f".{n} = {str(v).lower()}," for n, v in flags.items())
        if loop is not None:
            yield f"    /* {comment(d.reasons.get('loop', ''))} */"
        yield from _listed("    .n = {", [f".{n} = {v}" for n, v in numbers.items()], "},", "        ")
        yield f"    .names = {d.slug}_names, .actions = {d.slug}_actions, .targets = {d.slug}_targets,"
        yield f"    .coils = {{{', '.join(map(str, coils))}}},"
        yield f"    .next = {d.slug}_next, .read = {d.slug}_read, .write = {d.slug}_write,"
        yield f"    .encoder = {f'&{d.slug}_encoder' if d.counting else '0'},"
        yield "};"
    kinds = ", ".join(f"{{.k = &{d.slug}_kind, .wanted = {up_name(d)}_WANTED}}" for d in plan.drives)
    yield f"\nstatic struct drive drives[DRIVES{'' if plan.drives else ' + 1'}] = {{{kinds or '{0}'}}};"


def _servo_code(s: ServoProgram) -> str:
    register, control, bit = compare(s.pin)
    up = s.slug.upper()
    return f"""/* ---- {comment(s.name)} ---- */

static int16_t {s.slug}_place = -1; /* of 1000; below 0: no pulses */

static void {s.slug}_go(int16_t place)
{{
    {s.slug}_place = place;
    if (place < 0) {{
        {control} &= ~_BV({bit});
        {put(s.pin, "0")}
        return;
    }}
    {register} = {up}_LOW + (uint16_t)((uint32_t)place * ({up}_HIGH - {up}_LOW) / 1000);
    {control} |= _BV({bit});
}}

"""


def _servo_parts(plan: ProgramPlan) -> dict[str, str]:
    if not plan.servos:
        return {"servo_answer": "", "servo_stop": "", "servo_branch": ""}
    cases = "".join(
        f"""    case {s.number}:
        place = {s.slug}_place;
        move = {s.slug}_go;
        break;
"""
        for s in plan.servos
    )
    made = f"""
static bool servo(const char *word, int32_t number, int32_t x, char *reply, size_t size)
{{
    int16_t place;
    void (*move)(int16_t);
    switch (number) {{
{cases}    default:
        return false;
    }}
    if (!strcmp(word, "status"))
        snprintf(reply, size, "ok status %d %s %d 0 0 0", (int)number, place < 0 ? "off" : "on", place < 0 ? 0 : place);
    else if (strcmp(word, "duty"))
        strcpy(reply, "no servo");
    else if (x < 0 || x > 1000)
        strcpy(reply, "no range");
    else {{
        move((int16_t)x);
        strcpy(reply, "ok duty");
    }}
    return true;
}}
"""
    stop = "".join(f"\n        {s.slug}_go(-1);" for s in plan.servos)
    branch = (
        "\n        if (servo(text, x[1], x[2], reply, sizeof reply)) "
        "{\n            say(reply);\n            return;\n        }"
    )
    return {"servo_answer": made, "servo_stop": stop, "servo_branch": branch}


def _servo_silent(plan: ProgramPlan) -> str:
    if not plan.servos:
        return ""
    calls = "".join(f"\n        {s.slug}_go(-1);" for s in plan.servos)
    return f"\n    if (silent) {{{calls}\n    }}"
