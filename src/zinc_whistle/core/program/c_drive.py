"""A drive in C: its tables of modes, what it reads, and what it writes to its lines."""

from __future__ import annotations

import ast
import textwrap
from collections.abc import Iterator

from ..cases.pins import TACHO
from ..panel.lamps import BLINK_MS
from ..panel.lines import is_pulsed
from ..panel.machine import PanelRule, parsed
from ..panel.settings import BOUNCING
from .c_names import channel_of, compare, complementary, pressed, put, up_name
from .planned import DriveProgram
from .words import c_comment

WIDE_LINE = 110
"""A line of C is not made longer than this by a list."""


def _drive(d: DriveProgram) -> Iterator[str]:
    p, up = d.slug, up_name(d)
    yield f"/* ---- {c_comment(d.name)} ---- */\n"
    modes = d.machine.modes
    yield from _listed(f"enum {p}_mode {{", [f"{up}_{m.name.upper()}" for m in modes])
    yield from _listed(f"static const char *const {p}_names[] = {{", [f'"{m.name}"' for m in modes])
    yield from _listed(f"static const uint8_t {p}_actions[] = {{", [m.action.upper() for m in modes])
    yield from _listed(f"static const uint8_t {p}_targets[] = {{", [m.target.upper() for m in modes])
    yield ""
    yield from _next(d)
    yield from _read(d)
    yield from _raw(d)
    if d.lamps:
        yield from _lamps(d)
    yield from _two_gates(d) if complementary(d.lines) else _write(d)


def _listed(head: str, items: list[str], tail: str = "};", indent: str = "    ", between: str = ", ") -> Iterator[str]:
    """A list, over as many lines as it needs."""
    whole = f"{head}{between.join(items)}{tail}"
    if len(whole) <= WIDE_LINE:
        yield whole
        return
    yield head
    yield from textwrap.wrap(between.join(items), WIDE_LINE, initial_indent=indent, subsequent_indent=indent)
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
    knob, sense, tacho = (d.pins.get(n) for n in ("KNOB", "SENSE", TACHO))
    yield from (f"static struct contact {d.slug}_{x.input};" for x in d.contacts)
    yield f"static void {d.slug}_read(struct drive *d, struct inputs *in)"
    yield "{"
    for x in d.contacts:
        sign = "|=" if x.input in ("stop", "clear") else "="
        yield f"    in->{x.input} {sign} settled(&{d.slug}_{x.input}, {pressed(x)}, {up_name(d)}_DEBOUNCE_MS);"
    if knob is not None:
        yield f"    knob(d, converted({channel_of(knob)}), in);"
    if sense is not None:
        yield f"    d->sensed = converted({channel_of(sense)});"
    if tacho is not None:
        yield f"    d->turned = converted({channel_of(tacho)});"
    if knob is None and sense is None and tacho is None:
        yield "    (void)d;"
    if not d.contacts and knob is None:
        yield "    (void)in;"
    yield "}\n"


def _raw(d: DriveProgram) -> Iterator[str]:
    """The contacts as they stand, each at its place."""
    yield f"static void {d.slug}_raw(char *bits)"
    yield "{"
    yield from (f"    bits[{BOUNCING.index(x.input)}] = {pressed(x)} ? '1' : '0';" for x in d.contacts)
    if not d.contacts:
        yield "    (void)bits;"
    yield "}\n"


def _lamps(d: DriveProgram) -> Iterator[str]:
    """Which state lights which lamp; without inputs all are dark."""
    yield f"static void {d.slug}_lamps(const struct drive *d, const struct inputs *in)"
    yield "{"
    for lamp in d.lamps:
        terms = [f"d->mode == {up_name(d)}_{m.upper()}" for m in lamp.modes]
        terms += ["d->homed" if lamp.input == "homed" else f"in->{lamp.input}"] if lamp.input else []
        blinking = f" && !(now_ms & {BLINK_MS})" if lamp.blinks else ""
        yield from _listed(
            f"    if (in{blinking} && (", [*terms] or ["false"], f")) /* {c_comment(lamp.name)} */", " " * 8, " || "
        )
        yield f"        {put(d.pins[lamp.signal], '1')}"
        yield "    else"
        yield f"        {put(d.pins[lamp.signal], '0')}"
    yield "    (void)d;"
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
    if pulsed:
        yield f"    bool pulses = {'true' if lines.opposed else 'level > 0'} && (action == FORWARD || action == BACK);"
        yield "    if (action != last || !pulses) { /* what is given up goes low, pulses first */"
        for name in pulsed:
            register, control, bit = compare(d.pins[name])
            yield f"        {control} &= ~_BV({bit});"
            yield f"        {register} = 0;"
            yield f"        {put(d.pins[name], '0')}"
        yield "    }"
    elif not lines.switched:
        yield "    (void)level; /* contacts know no level */"
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
        for name in (n for n in static if levels[n] == "1"):
            if name in lines.switched and action in ("forward", "back"):
                yield "        if (level)"
                yield f"            {put(d.pins[name], '1')}"
                yield "        else"
                yield f"            {put(d.pins[name], '0')}"
            else:
                yield f"        {put(d.pins[name], '1')}"
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
    never = "Both are taken over at the top of the count. The gap is never made smaller first:"
    yield f"""/*
 * The upper gate is high while the count is below {high}, the lower one while it is above {low}: between them lie
 * {up_name(d)}_DEAD counts on both edges. {never}
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
