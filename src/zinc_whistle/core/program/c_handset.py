"""The program of a handset in C for the 8-bit target. Written as C; only ``$names`` are filled in."""

from __future__ import annotations

import re
from string import Template

from . import c_main, c_protocol, c_runtime
from .c_names import bit_of, put, register
from .c_source import PORT
from .handset import ANSWERED_FOR, DEBOUNCE_MS, SPREAD, HandsetProgram
from .keep import stamped
from .planned import NotYet
from .protocol import LONGEST, POLYNOMIAL
from .words import c_comment

BODY = """\
#define ADDRESS $address   /* paired: the board's program holds the same */
#define NUMBER $number
#define PERIOD_MS $period
#define BUTTONS $count
#define ANSWERED_MS $answered /* the lamp is lit for so long after an answer */
#define DEBOUNCE_MS $debounce

"""
RUN = """\

/* ---- buttons, lines, lamp ---- */

static struct contact buttons[BUTTONS];
static uint8_t sequence;
static uint16_t since_sent, since_answer = ANSWERED_MS;

static uint8_t pressed(void)
{
    uint8_t bits = 0;
$read
    return bits;
}

static void heard(void)
{
    char wanted[20];
    for (uint8_t k = 0; k < $last; k++) { /* an answer may come late */
        snprintf(wanted, sizeof wanted, "ok hand %u %u", NUMBER, (uint8_t)(sequence - k));
        if (!strcmp(line, wanted))
            since_answer = 0;
    }
}

static void take(char c)
{
    if (c == '\\r')
        return;
    if (c != '\\n') {
        if (line_length <= LONGEST)
            line[line_length++] = c;
        return;
    }
    uint8_t length = line_length;
    char check[4];
    line_length = 0;
    line[length] = 0;
    if (length < 3 || length > LONGEST)
        return;
    snprintf(check, sizeof check, "~%02X", crc8(line, length - 3));
    if (strcmp(line + length - 3, check))
        return;
    line[length - 3] = 0;
    heard();
}

static void listen(void)
{
    while (came_out != came_in) {
        char c = came[came_out];
        came_out = (came_out + 1) % sizeof came;
        take(c);
    }
}

/* From a line to the next: up to a quarter less than the period, as by dice, or two handsets meet again and again. */
static uint16_t gap(void)
{
    const char dice[2] = {NUMBER, (char)sequence};
    return PERIOD_MS - (uint16_t)((uint32_t)crc8(dice, 2) * PERIOD_MS / $spread);
}

static void tick(void)
{
    uint8_t bits = pressed();
    now_ms++;
    if (since_answer < ANSWERED_MS)
        since_answer++;
    if (++since_sent >= gap()) {
        char text[LONGEST];
        since_sent = 0;
        snprintf(text, sizeof text, "hand %u %u %u %u", ADDRESS, NUMBER, ++sequence, bits);
        say(text);
    }
    if (since_answer < ANSWERED_MS)
        $lamp_on
    else
        $lamp_off
    own_tick();
}
"""
OWN = """\

/* yours: start, every millisecond */
static void own_start(void)
{
}

static void own_tick(void)
{
}
/* end of yours: start, every millisecond */
"""
CONTACT = """\
struct contact { /* a button: it counts once it has stayed for the debounce time */
    bool steady;
    uint16_t since;
};

"""


def c_handset(plan: HandsetProgram) -> str:
    """The whole program. NotYet where the profile does not tell a pin's port."""
    pins = [*(pin for _, pin in plan.buttons), plan.lamp]
    unknown = [p.label for p in pins if not re.fullmatch(PORT, p.port)]
    if unknown:
        raise NotYet([f"{plan.name}: the profile does not tell the port of {', '.join(unknown)}."])
    named = [(f"{c_comment(name)}, to ground", pin) for name, pin in plan.buttons] + [("its lamp", plan.lamp)]
    listed = [f" *   {c_comment(p.label):<4} P{p.port:<3} {says}" for says, p in named]
    read = [
        f"    bits |= settled(&buttons[{k}], !({register('PIN', pin)} & {bit_of(pin)}), DEBOUNCE_MS) << {k}; "
        f"/* {c_comment(name)} */"
        for k, (name, pin) in enumerate(plan.buttons)
    ]
    setup = [f"    {put(pin, '1')} /* {c_comment(name)}, pull-up */" for name, pin in plan.buttons]
    setup.append(f"    {register('DDR', plan.lamp)} |= {bit_of(plan.lamp)}; /* lamp, dark */")

    def fill(text: str, **values: object) -> str:
        return Template(text).substitute({k: str(v) for k, v in values.items()})

    pieces = [
        fill(
            c_runtime.HEAD,
            build=c_comment(f"{plan.build}: {plan.name}"),
            controller=c_comment(plan.controller.name),
            clock=f"{plan.clock_hz:.0f}",
            pins="\n".join([" * Pins:", *listed, " *   D0, D1   radio module"]),
        ),
        fill(
            BODY,
            address=plan.address,
            number=plan.number,
            period=plan.period_ms,
            count=len(plan.buttons),
            answered=ANSWERED_FOR * plan.period_ms,
            debounce=DEBOUNCE_MS,
        ),
        CONTACT,
        c_runtime.CLOCK,
        "\n",
        fill(c_protocol.SERIAL, longest=LONGEST, polynomial=f"0x{POLYNOMIAL:02X}"),
        "\n",
        c_runtime.SETTLED,
        OWN,
        fill(
            RUN,
            read="\n".join(read),
            last=ANSWERED_FOR,
            spread=SPREAD,
            lamp_on=put(plan.lamp, "1"),
            lamp_off=put(plan.lamp, "0"),
        ),
        "\n",
        fill(c_main.FOREVER, setup="\n".join(setup)),
    ]
    return stamped("".join(pieces), ("/*", " */"))
