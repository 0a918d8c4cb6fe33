"""Servos in C: by a compare output each, or in turn by one timer's interrupt; ordered, or by a knob."""

from __future__ import annotations

from collections.abc import Iterator

from ..panel.settings import KNOB_MOVED, KNOB_STILL
from .c_names import PRESCALERS, bit_of, channel_of, compare, put, register
from .planned import ProgramPlan, ServoProgram
from .words import c_comment

KNOB_MS = 20


def turned(plan: ProgramPlan) -> list[ServoProgram]:
    """The servos whose pulses one timer makes in turn."""
    return [s for s in plan.servos if s.turn is not None]


def in_turn(plan: ProgramPlan) -> str:
    """The interrupt that gives each its pulse, one after the other; nothing where none wants it."""
    servos = turned(plan)
    if not servos:
        return ""
    timing = servos[0].timing
    n, slot = timing.timer_number, (timing.top + 1) // len(servos)
    on, off = (
        "".join(f"    case {s.turn}:\n        {put(s.pin, level)}\n        break;\n" for s in servos)
        for level in ("1", "0")
    )
    return f"""/* ---- servos in turn: timer {n} ---- */

#define TURNS {len(servos)}
#define TURN_SLOT {slot}U

static volatile uint16_t turn_counts[TURNS]; /* 0: no pulses */

static void turn_on(uint8_t who)
{{
    switch (who) {{
{on}    }}
}}

static void turn_off(uint8_t who)
{{
    switch (who) {{
{off}    }}
}}

ISR(TIMER{n}_COMPA_vect)
{{
    static uint8_t who;
    static uint16_t counts; /* of the pulse that is on; 0: none */
    if (counts) {{
        turn_off(who);
        OCR{n}A += TURN_SLOT - counts;
        counts = 0;
        who = (who + 1) % TURNS;
        return;
    }}
    counts = turn_counts[who];
    if (counts) {{
        turn_on(who);
        OCR{n}A += counts;
        return;
    }}
    OCR{n}A += TURN_SLOT;
    who = (who + 1) % TURNS;
}}

static void pulse_in_turn(uint8_t who, uint16_t counts)
{{
    uint8_t kept = SREG;
    cli(); /* two bytes, and the interrupt reads both */
    turn_counts[who] = counts;
    SREG = kept;
}}

"""


def turn_setup(plan: ProgramPlan) -> Iterator[str]:
    """The timer of the servos in turn: it counts on and on, its compare interrupt comes when the next edge is due."""
    servos = turned(plan)
    if not servos:
        return
    timing = servos[0].timing
    n = timing.timer_number
    clock = " | ".join(f"_BV({bit})" for bit in PRESCALERS[n][timing.prescaler].split())
    yield f"    /* timer {n}: servos in turn, {timing.frequency_hz:.6g} frames a second */"
    yield f"    TCCR{n}A = 0;"
    yield f"    TCCR{n}B = {clock};"
    yield f"    OCR{n}A = TURN_SLOT;"
    yield f"    TIMSK{n} |= _BV(OCIE{n}A);"


def _pulses(s: ServoProgram) -> tuple[str, str]:
    """What ends a servo's pulses, and what sets them to the counts in ``counts``."""
    if s.turn is not None:
        return f"        pulse_in_turn({s.turn}, 0);", f"    pulse_in_turn({s.turn}, counts);"
    own, control, bit = compare(s.pin)
    off = f"        {control} &= ~_BV({bit});\n        {put(s.pin, '0')}"
    return off, f"    {own} = counts;\n    {control} |= _BV({bit});"


def _servo_code(s: ServoProgram) -> str:
    up = s.slug.upper()
    off, on = _pulses(s)
    by_order = f"    {s.slug}_ordered();\n" if s.knob is not None else ""
    return f"""/* ---- {c_comment(s.name)} ---- */

static int16_t {s.slug}_place = -1; /* of 1000; below 0: no pulses */
static uint16_t {s.slug}_for;       /* ms since it was sent there */
static bool {s.slug}_by_port;       /* its silence ends that */

static void {s.slug}_move(int16_t place)
{{
    {s.slug}_place = place;
    {s.slug}_for = 0;
    if (place < 0) {{
{off}
        return;
    }}
    uint16_t counts = {up}_LOW + (uint16_t)((uint32_t)place * ({up}_HIGH - {up}_LOW) / 1000);
{on}
}}

{_knob(s)}static void {s.slug}_go(int16_t place)
{{
    {s.slug}_move(place);
{by_order}}}

"""


def _knob(s: ServoProgram) -> str:
    """A knob that it follows: an order stands until the knob is moved again. Of a knob with a wire off nothing is
    believed."""
    if s.knob is None:
        return ""
    n = s.slug
    return f"""static uint16_t {n}_turned = 0xFFFF; /* the knob, as it was obeyed or as it stood at an order */
static bool {n}_follows = true;

static void {n}_ordered(void)
{{
    {n}_turned = converted({channel_of(s.knob)});
    {n}_follows = false;
}}

static void {n}_look(void)
{{
    uint16_t reading = converted({channel_of(s.knob)});
    uint16_t apart = reading > {n}_turned ? reading - {n}_turned : {n}_turned - reading;
    if (reading < KNOB_LOST || reading > 1023 - KNOB_LOST || apart <= ({n}_follows ? {KNOB_STILL} : {KNOB_MOVED}))
        return;
    uint16_t above = reading > KNOB_ZERO ? reading - KNOB_ZERO : 0;
    if (above > KNOB_TOP - KNOB_ZERO)
        above = KNOB_TOP - KNOB_ZERO;
    {n}_turned = reading;
    {n}_follows = true;
    {n}_by_port = false;
    {n}_move((int16_t)((uint32_t)above * 1000 / (KNOB_TOP - KNOB_ZERO)));
}}

"""


def _servo_parts(plan: ProgramPlan) -> dict[str, str]:
    if not plan.servos:
        return {"servo_answer": "", "servo_stop": "", "servo_branch": ""}
    cases = "".join(
        f"""    case {s.number}:
        place = {s.slug}_place;
        move = {s.slug}_go;
        by_port = &{s.slug}_by_port;
        break;
"""
        for s in plan.servos
    )
    made = f"""
static bool servo(const char *word, int32_t number, int32_t x, char *reply, size_t size)
{{
    int16_t place;
    void (*move)(int16_t);
    bool *by_port;
    switch (number) {{
{cases}    default:
        return false;
    }}
    if (!strcmp(word, "status"))
        snprintf(reply, size, "ok status %d %s %d 0 0 0", (int)number + shift, place < 0 ? "off" : "on",
                 place < 0 ? 0 : place);
    else if (strcmp(word, "duty"))
        strcpy(reply, "no servo");
    else if (proving)
        strcpy(reply, "no output");
    else if (x < 0 || x > 1000)
        strcpy(reply, "no range");
    else {{
        move((int16_t)x);
        *by_port = true;
        strcpy(reply, "ok duty");
    }}
    return true;
}}
"""
    stop = "".join(f"\n        {s.slug}_go(-1);" for s in plan.servos)
    branch = (
        "\n        if (servo(text, x[1] - shift, x[2], reply, sizeof reply)) "
        "{\n            say(reply);\n            return;\n        }"
    )
    return {"servo_answer": made, "servo_stop": stop, "servo_branch": branch}


def _servo_silent(plan: ProgramPlan) -> str:
    if not plan.servos:
        return ""
    aged = "".join(
        f"""
    {s.slug}_for += {s.slug}_for < 60000;
    if (silent && {s.slug}_by_port && {s.slug}_place >= 0)
        {s.slug}_go(-1);"""
        for s in plan.servos
    )
    knobs = [s.slug for s in plan.servos if s.knob is not None]
    if not knobs:
        return aged
    looks = "".join(f"\n        {n}_look();" for n in knobs)
    return f"{aged}\n    if (!proving && now_ms % {KNOB_MS} == 0) {{{looks}\n    }}"


def servo_pins(plan: ProgramPlan) -> Iterator[str]:
    """The servos' pins as outputs, low."""
    for s in plan.servos:
        yield f"    {register('DDR', s.pin)} |= {bit_of(s.pin)}; /* {c_comment(s.name)}, low */"
