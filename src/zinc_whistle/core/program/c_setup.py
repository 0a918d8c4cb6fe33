"""What the C program does before it runs: pins, pull-ups, encoders' interrupts, timers."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ..model.signals import Pin
from .c_names import (
    PRESCALERS,
    WIDE,
    bit_of,
    compare,
    complementary,
    listened,
    pressed,
    pulsed_line,
    put,
    register,
    up_name,
)
from .c_servo import servo_pins, turn_setup
from .planned import DriveProgram, PinTiming, ProgramPlan
from .words import c_comment


def setup(plan: ProgramPlan) -> Iterator[str]:
    for d in plan.drives:
        for name in d.lines.names:
            if complementary(d.lines):
                continue
            pin = d.pins[name]
            yield f"    {register('DDR', pin)} |= {bit_of(pin)}; /* {c_comment(d.name)}: {name}, low */"
        for lamp in d.lamps:
            pin = d.pins[lamp.signal]
            said = f"{c_comment(d.name)}: {c_comment(lamp.name)}"
            yield f"    {register('DDR', pin)} |= {bit_of(pin)}; /* {said}, dark */"
        for x in d.contacts:
            if x.pull_up:
                yield f"    {put(x.pin, '1')} /* {c_comment(d.name)}: {x.input}, pull-up */"
        if d.counting is not None:
            for pin in d.counting.pins:
                yield f"    {put(pin, '1')} /* {c_comment(d.name)}: encoder, pull-up */"
    for number, play in enumerate(plan.plays, 1):
        if play is not None:
            yield f"    {put(play.pin, '1')} /* button of sequence {number}, pull-up */"
    if plan.identity is not None:
        yield f"    {put(plan.identity, '1')} /* identity, pull-up: at ground in the second of two */"
    yield "    _delay_us(50); /* pull-ups need a moment */"
    if plan.identity is not None:
        yield f"    shift = {register('PIN', plan.identity)} & {bit_of(plan.identity)} ? 0 : COUNT;"
    yield from (f"    play_{k}.steady = {pressed(c)};" for k, c in enumerate(plan.plays, 1) if c is not None)
    for d in plan.drives:
        yield from (f"    {d.slug}_{x.input}.steady = {pressed(x)};" for x in d.contacts)
        if d.counting is not None:
            yield f"    {d.slug}_encoder.last = {up_name(d)}_AB;"
            for pin in d.counting.pins:
                yield from (f"    {line}" for line in listened(pin))
    for timing, pin in _timings(plan):
        yield from _timer(timing, pin)
    for d in plan.drives:
        if complementary(d.lines):
            yield from _start_gates(d)
    yield from servo_pins(plan)
    yield from turn_setup(plan)


def _timings(plan: ProgramPlan) -> Sequence[tuple[PinTiming, Pin]]:
    found: dict[str, tuple[PinTiming, Pin]] = {}
    for d in plan.drives:
        for name, pin in d.pins.items():
            if pulsed_line(d, name):
                found.setdefault(pin.compare[0], (d.timing, pin))
    for s in (s for s in plan.servos if s.turn is None):
        found.setdefault(s.pin.compare[0], (s.timing, s.pin))
    return list(found.values())


def _timer(t: PinTiming, pin: Pin) -> Iterator[str]:
    n = pin.compare[0]
    clock = " | ".join(f"_BV({bit})" for bit in PRESCALERS[n][t.prescaler].split())
    yield f"    /* timer {n}: {t.frequency_hz:.6g} Hz, {'up and down' if t.centre else 'up'} to {t.top} */"
    if n in WIDE:
        yield f"    ICR{n} = {t.top};"
        yield f"    TCCR{n}A = _BV(WGM{n}1);"
        yield f"    TCCR{n}B = _BV(WGM{n}3) | {'' if t.centre else f'_BV(WGM{n}2) | '}{clock};"
    else:
        yield f"    TCCR2A = {'_BV(WGM20)' if t.centre else '_BV(WGM21) | _BV(WGM20)'};"
        yield f"    TCCR2B = {clock};"


def _start_gates(d: DriveProgram) -> Iterator[str]:
    upper, lower = d.pins["HIGH"], d.pins["LOW"]
    high, control, connects = compare(upper)
    low, _, connects_low = compare(lower)
    yield f"    {high} = 0; /* {c_comment(d.name)}: both gates off, before the pins drive */"
    yield f"    {low} = {up_name(d)}_FULL;"
    yield f"    {control} |= _BV({connects}) | _BV({connects_low}) | _BV({connects_low[:-1]}0);"
    period_us = 2e6 / d.timing.frequency_hz
    yield f"    _delay_us({period_us:.0f}); /* two periods: the values are taken over */"
    yield f"    {register('DDR', upper)} |= {bit_of(upper)};"
    yield f"    {register('DDR', lower)} |= {bit_of(lower)};"
