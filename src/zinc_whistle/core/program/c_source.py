"""The program as C for the 8-bit target: no framework, a register at a time, every number with its reason."""

from __future__ import annotations

import re
import textwrap
from collections.abc import Iterator
from string import Template

from ..cases.pins import TACHO
from ..laws.decoder import ILLEGAL
from ..model.signals import Pin
from ..panel.settings import BOUNCING, KNOB_LOST, KNOB_TOP, KNOB_ZERO, MOST_GAIN, TRIP_FINE, WINDOW
from . import c_main, c_radio, c_sequence
from . import c_protocol as line
from . import c_runtime as runtime
from .c_drive import WIDE_LINE, _drive, _listed
from .c_names import PRESCALERS, WIDE, bit_of, channel_of, complementary, interrupt_of, pulsed_line, up_name, vector_of
from .c_servo import _servo_code, _servo_parts, _servo_silent, in_turn
from .c_setup import setup
from .keep import stamped
from .planned import DriveProgram, NotYet, ProgramPlan, ServoProgram
from .protocol import LONGEST, POLYNOMIAL, VERSION
from .words import c_comment

PORT, COMPARE, INTERRUPT, CHANNEL = r"[A-L][0-7]", r"[1345][ABC]|2[AB]", r"[0-2]|INT[0-7]", r"[0-9]|1[0-5]"
"""How this target names a bit of a port, a timer's compare output, an interrupt and a channel of the converter;
nothing else may reach the program."""


def c_source(plan: ProgramPlan) -> str:
    """The whole program. NotYet with sentences where the plan asks for what this target cannot do."""
    _refuse(plan)
    knobs = _has(plan, "KNOB") or any(s.knob for s in plan.servos)
    pieces = [
        _fill(
            runtime.HEAD,
            build=c_comment(plan.build),
            controller=c_comment(plan.controller.name),
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
        runtime.SETTLED if any(d.contacts for d in plan.drives) or any(plan.plays) else "",
        "\n",
        runtime.CONVERTER if knobs or _has(plan, "SENSE") or _has(plan, TACHO) else "",
        _fill(runtime.KNOB_BOUNDS, knob_lost=str(KNOB_LOST), knob_zero=str(KNOB_ZERO), knob_top=str(KNOB_TOP))
        if knobs
        else "",
        runtime.KNOB if _has(plan, "KNOB") else "",
        *("\n".join(_drive(d)) + "\n\n" for d in plan.drives),
        in_turn(plan),
        *(_servo_code(s) for s in plan.servos),
        c_radio.hands(plan),
        "".join(f"{line}\n" for line in c_sequence.declared(plan)),
        "\n".join(_tables(plan)) + "\n\n",
        _fill(c_sequence.PLAYER, tables=c_sequence.tables(plan)),
        "".join(f"{line}\n" for line in c_sequence.interlocks(plan)),
        c_sequence.buttons(plan),
        _fill(
            runtime.RUNNING,
            window=str(WINDOW),
            by_hand="\n    if (k->hand)\n        by_hand(d, in);" if plan.remote is not None else "",
        ),
        "\n",
        c_main.OWN,
        _fill(
            line.PROTOCOL,
            version=str(VERSION),
            no_contacts="-" * len(BOUNCING),
            most_gain=str(MOST_GAIN),
            by_radio="\n            if (by_radio(line))\n                return;" if plan.remote is not None else "",
            **_sides(plan),
            **_servo_parts(plan),
        ),
        c_radio.radio(plan),
        "\n",
        _fill(
            c_main.MAIN,
            servo_silent=_servo_silent(plan),
            plays=_plays(plan),
            radio_tick="\n    radio_tick();" if plan.remote is not None else "",
        ),
        _fill(c_main.FOREVER, setup="\n".join(setup(plan))),
    ]
    return stamped("".join(pieces), ("/*", " */"))


def _fill(text: str, **values: str) -> str:
    return Template(text).substitute(values)


def _of_servo(servo: ServoProgram) -> dict[str, Pin]:
    """A servo's pins by their signals."""
    return {"PULSE": servo.pin} | ({"KNOB": servo.knob} if servo.knob is not None else {})


def _refuse(plan: ProgramPlan) -> None:
    missing = []
    things: list[DriveProgram | ServoProgram] = [*plan.drives, *plan.servos]
    for thing in things:
        pins = thing.pins if isinstance(thing, DriveProgram) else _of_servo(thing)
        unknown = [p.label for p in pins.values() if not re.fullmatch(PORT, p.port)]
        if unknown:
            missing.append(f"{thing.name}: the profile does not tell the port of {', '.join(unknown)}.")
        turned = not isinstance(thing, DriveProgram) and thing.turn is not None
        pulsed = [p for s, p in pins.items() if (s == "PULSE" and not turned) or pulsed_line(thing, s)]
        if turned and (
            thing.timing.timer_number not in WIDE
            or thing.timing.prescaler not in PRESCALERS.get(thing.timing.timer_number, {})
        ):
            missing.append(f"{thing.name}: the profile does not tell which timer makes the pulses in turn.")
        if any(not re.fullmatch(COMPARE, p.compare) for p in pulsed):
            missing.append(f"{thing.name}: its pulses must come from timer 1 to 5; timer 0 is the program's clock.")
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
        for signal in ("KNOB", "SENSE", TACHO):
            if signal in pins and not re.fullmatch(CHANNEL, channel_of(pins[signal])):
                label = pins[signal].label
                missing.append(f"{thing.name}: the profile does not tell the converter's channel of {label}.")
        if isinstance(thing, DriveProgram) and thing.counting is not None:
            apart = [p.label for p in thing.counting.pins if not re.fullmatch(INTERRUPT, interrupt_of(p))]
            if apart:
                missing.append(f"{thing.name}: the profile does not tell the interrupt of {' and '.join(apart)}.")
    missing += [
        f"{s.name}: the profile does not tell the port of {c.pin.label}."
        for s, c in zip(plan.scripts, plan.plays, strict=True)
        if c is not None and not re.fullmatch(PORT, c.pin.port)
    ]
    if plan.identity is not None and not re.fullmatch(PORT, plan.identity.port):
        missing.append(f"The profile does not tell the port of {plan.identity.label}.")
    if missing:
        raise NotYet(missing)


def _pin_lines(plan: ProgramPlan) -> Iterator[str]:
    yield " * Pins:"
    for drive in plan.drives:
        for signal, pin in drive.pins.items():
            yield f" *   {c_comment(pin.label):<4} P{pin.port:<3} {c_comment(drive.name)}: {signal}"
    for servo in plan.servos:
        yield f" *   {c_comment(servo.pin.label):<4} P{servo.pin.port:<3} {c_comment(servo.name)}: PULSE"
    if plan.identity is not None:
        label, port = c_comment(plan.identity.label), plan.identity.port
        yield f" *   {label:<4} P{port:<3} identity: at ground in the second of two"
    yield " *   D0, D1   serial port"


def _numbers(plan: ProgramPlan) -> Iterator[str]:
    yield f"#define DRIVES {len(plan.drives)}"
    yield f"#define COUNT {plan.count}"
    yield f"#define NODES {plan.nodes}"
    yield f"#define SCRIPTS {len(plan.scripts)}"
    hold = max((d.settings.hold_ms for d in plan.drives), default=1)
    yield f"#define HOLD_MS {hold} /* the highest reading counts for so long */"
    yield f"#define TRIP_FINE {TRIP_FINE}"
    yield f"#define LINK_MS {plan.link_ms} /* silence of the serial port that stops */"
    for d in plan.drives:
        s, why = d.settings, d.reasons
        yield f"\n/* {c_comment(d.name)} */"
        rows: list[tuple[str, int, str]] = [
            ("FULL", s.full, why["full"]),
            ("WANTED", s.wanted, why["wanted"]),
            *((("MOST", s.most, why["most"]),) if s.most else ()),
            ("RAMP_STEP", s.ramp_step, why["ramp_ms"] + (", in 1/16384 step a ms" if s.ramp_ms else "")),
            ("PAUSE_MS", s.pause_ms, why["pause_ms"]),
            ("WATCH_MS", s.watch_ms, why["watch_ms"]),
            ("OFFSET", s.offset, why["offset"]),
        ]
        if d.contacts:
            rows.append(("DEBOUNCE_MS", s.debounce_ms, why["debounce_ms"]))
        if "home" in d.machine.inputs:
            rows.append(("HOME", s.home, why["home"]))
        if s.trip:
            rows += [("TRIP", s.trip, why["trip"]), ("TRIP_SUM", s.trip_sum, why["trip_ms"])]
        if "SENSE" in d.pins:
            rows.append(("MILLIAMPS", s.milliamps_fine, why["milliamps"]))
        if s.ends is not None:
            rows += [("END_BACK", s.ends[0], why["ends"]), ("END_FRONT", s.ends[1], why["ends"])]
        if d.lines.coils:
            rows.append(("COIL_MS", s.coil_ms, why["coil_ms"]))
        if complementary(d.lines):
            rows.append(("DEAD", d.dead_steps, why["dead"] or "no dead time is given"))
        yield from (f"#define {up_name(d)}_{n} {v} /* {c_comment(w)} */" for n, v, w in rows)
    for servo in plan.servos:
        tick = servo.timing.prescaler / plan.clock_hz * 1e6
        yield f"\n/* {c_comment(servo.name)}: pulses in counts of {tick:g} µs */"
        yield f"#define {servo.slug.upper()}_LOW {round(servo.low_us / tick)} /* {servo.low_us:g} µs */"
        yield f"#define {servo.slug.upper()}_HIGH {round(servo.high_us / tick)} /* {servo.high_us:g} µs */"


def _sides(plan: ProgramPlan) -> dict[str, str]:
    """What the two sides of a steered pair are called; ``sign`` turns the right one round."""
    if plan.steering is None:
        return {"left": "0", "right": "0", "sign": ""}
    left, right, mirrored = plan.steering
    place = {d.number: k for k, d in enumerate(plan.drives)}
    return {"left": f"&drives[{place[left]}]", "right": f"&drives[{place[right]}]", "sign": "-" if mirrored else ""}


def _plays(plan: ProgramPlan) -> str:
    return "\n        look_for_plays();" if any(plan.plays) else ""


def _has(plan: ProgramPlan, signal: str) -> bool:
    return any(signal in d.pins for d in plan.drives)


def _encoders(plan: ProgramPlan) -> str:
    counting = [(d, d.counting) for d in plan.drives if d.counting is not None]
    if not counting:
        return ""
    made = [_fill(runtime.COUNTING, illegal=str(ILLEGAL))]
    calls_of: dict[str, list[str]] = {}
    for d, e in counting:
        values = ", ".join(map(str, e.table))
        way = "" if e.b is not None else " = {.way = 1}"
        made.append(
            f"static struct encoder {d.slug}_encoder{way};\nstatic const int8_t {d.slug}_turns[16] = {{{values}}};\n"
        )
        bits = zip(e.pins, (2, 1), strict=False)
        reads = " | ".join(f"((PIN{p.port[0]} & {bit_of(p)}) ? {weight} : 0)" for p, weight in bits)
        made.append(f"#define {up_name(d)}_AB ({reads})\n\n")
        for interrupt in {interrupt_of(p) for p in e.pins}:
            calls_of.setdefault(interrupt, []).append(f"    turn(&{d.slug}_encoder, {up_name(d)}_AB, {d.slug}_turns);")
    for interrupt, calls in sorted(calls_of.items()):
        made.append(f"ISR({vector_of(interrupt)})\n{{\n" + "\n".join(calls) + "\n}\n\n")
    return "".join(made)


def _tables(plan: ProgramPlan) -> Iterator[str]:
    guarded = {g.actor for g in plan.guards}
    loads = {a.id for s in plan.scripts for a in s.actors.values() if a.kind == "load"}
    for d in plan.drives:
        up, loop, near = up_name(d), d.settings.loop, d.settings.approach
        coils = [
            sum(1 << k for k, n in enumerate(d.lines.coils) if d.lines.levels[a][n] == "1")
            for a in ("off", "brake", "forward", "back")
        ]
        flags = {
            "by_port": d.panel.command == "serial",
            "two_way": "back" in d.machine.inputs,
            "homes": "home" in d.machine.inputs,
            "moves": "ahead" in d.machine.inputs,
            "ends": d.settings.ends is not None,
            "opposed": d.lines.opposed,
            "watches": d.panel.watch == "yes",
            "turns_knob": "KNOB" in d.pins,
            "senses": "SENSE" in d.pins,
            "tacho": TACHO in d.pins,
            "load": d.id in loads,
        }
        numbers = {
            "full": f"{up}_FULL",
            "most": f"{up}_MOST" if d.settings.most else f"{up}_FULL",
            "wanted": f"{up}_WANTED",
            "ramp_step": f"{up}_RAMP_STEP",
            "pause_ms": f"{up}_PAUSE_MS",
            "coil_ms": f"{up}_COIL_MS" if d.lines.coils else "0",
            "watch_ms": f"{up}_WATCH_MS",
            "watch_from": str(d.settings.watch_from),
            "offset": f"{up}_OFFSET",
            "home": f"{up}_HOME" if "home" in d.machine.inputs else "0",
            "trip": f"{up}_TRIP" if d.settings.trip else "0",
            "trip_sum": f"{up}_TRIP_SUM" if d.settings.trip else "0",
            "milliamps": f"{up}_MILLIAMPS" if "SENSE" in d.pins else "0",
            "end_back": f"{up}_END_BACK" if d.settings.ends else "0",
            "end_front": f"{up}_END_FRONT" if d.settings.ends else "0",
            "loop_ms": str(loop.period_ms if loop else 0),
            "rpm_per_count": str(loop.rpm_per_count_fine if loop else 0),
            "rpm_per_level": str(loop.rpm_per_level_fine if loop else 1),
            "rpm_drop": str(loop.rpm_drop if loop else 0),
            "slow_within": str(near.within if near else 0),
            "creep": str(near.creep if near else 0),
        }
        yield f"static const struct kind {d.slug}_kind = {{"
        yield f"    .number = {d.number},"
        said = ", ".join(f".{n} = {str(v).lower()}" for n, v in flags.items()) + ","
        yield from textwrap.wrap(said, WIDE_LINE, initial_indent="    ", subsequent_indent="    ")
        if loop is not None:
            yield f"    /* {c_comment(d.reasons.get('loop', ''))} */"
        yield from _listed("    .n = {", [f".{n} = {v}" for n, v in numbers.items()], "},", "        ")
        yield f"    .names = {d.slug}_names, .actions = {d.slug}_actions, .targets = {d.slug}_targets,"
        yield f"    .coils = {{{', '.join(map(str, coils))}}},"
        yield f"    .next = {d.slug}_next, .read = {d.slug}_read, .write = {d.slug}_write,"
        yield f"    .lamps = {f'{d.slug}_lamps' if d.lamps else '0'}, .raw = {d.slug}_raw,"
        if c_radio.commanded(plan, d):
            yield f"    .hand = {d.slug}_hand,"
        if d.id in guarded:
            yield f"    .locked = {d.slug}_locked,"
        yield f"    .encoder = {f'&{d.slug}_encoder' if d.counting else '0'},"
        yield "};"
    kinds = []
    for d in plan.drives:
        loop = d.settings.loop
        gains = f", .gain = {loop.gain_fine}, .adds = {loop.integral_fine}" if loop and loop.closed else ""
        kinds.append(f"{{.k = &{d.slug}_kind, .wanted = {up_name(d)}_WANTED{gains}}}")
    yield ""
    head = f"static struct drive drives[DRIVES{'' if plan.drives else ' + 1'}] = {{"
    yield from _listed(head, kinds or ["{0}"])
