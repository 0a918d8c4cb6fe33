"""The program of a handset in MicroPython."""

from __future__ import annotations

import re
from string import Template

from .handset import ANSWERED_FOR, DEBOUNCE_MS, SPREAD, HandsetProgram
from .keep import stamped
from .micropython_protocol import FRAMING
from .micropython_source import NUMBER
from .planned import NotYet
from .protocol import LONGEST, POLYNOMIAL
from .words import python_comment

PROGRAM = '''\
# $build: $name
#
# Written by Zinc Whistle from the design's own numbers. Make it anew after a change of the design: what stands between
# "yours" and "end of yours" is kept.
#
# A stop in a program does not cut power, and a radio may fail: what can hurt somebody needs a switch within reach.
# Local codes come first, those for radio too.
#
# Pins:
$pins
import time

from machine import UART, WDT, Pin

# yours: imports and variables
# end of yours: imports and variables

ADDRESS, NUMBER = $address, $number  # paired: the board's program holds the same
TICK_MS = $tick  # a round of this program
PERIOD_MS = $period  # between two lines
ANSWERED_MS = $answered  # the lamp is lit for so long after an answer
port = UART(0, 38400)


class Button:
    """It counts once it has stayed for the debounce time; pressed it is at ground."""

    def __init__(self, pin):
        self.pin, self.steady, self.since = Pin(pin, Pin.IN, Pin.PULL_UP), False, 0

    def read(self):
        now = self.pin.value() == 0
        self.since = 0 if now == self.steady else self.since + 1
        if self.since >= $debounce:
            self.steady, self.since = now, 0
        return self.steady


class Link:
    line = ""
    sequence = since_sent = 0
    since_answer = ANSWERED_MS


buttons = ($buttons)
lamp = Pin($lamp, Pin.OUT, value=0)


# yours: start, every round
def own_start():
    pass


def own_tick():
    pass


# end of yours: start, every round


$lines


def take(char):
    if char == "\\r":
        return
    if char != "\\n":
        if len(Link.line) <= $longest:
            Link.line += char
        return
    line, Link.line = Link.line, ""
    text = line[:-3]
    if 3 <= len(line) <= $longest and line[-3:] == "~%02X" % crc8(text.encode()):
        # An answer may come late.
        if text in ["ok hand %d %d" % (NUMBER, (Link.sequence - k) & 255) for k in range($last)]:
            Link.since_answer = 0


def listen():
    if port.any():
        for byte in port.read():
            take(chr(byte))


def gap():
    # From a line to the next: up to a quarter less than the period, as by dice, or two handsets meet again and again.
    return PERIOD_MS - crc8(bytes((NUMBER, Link.sequence))) * PERIOD_MS // $spread


def tick():
    bits = 0
    for place, button in enumerate(buttons):
        bits |= button.read() << place
    Link.since_answer = min(Link.since_answer + TICK_MS, ANSWERED_MS)
    Link.since_sent += TICK_MS
    if Link.since_sent >= gap():
        Link.since_sent, Link.sequence = 0, (Link.sequence + 1) & 255
        say("hand %d %d %d %d" % (ADDRESS, NUMBER, Link.sequence, bits))
    lamp.value(1 if Link.since_answer < ANSWERED_MS else 0)
    own_tick()


def main():
    own_start()
    watchdog = WDT(timeout=500)
    due = time.ticks_ms()
    while True:
        listen()
        if time.ticks_diff(time.ticks_ms(), due) >= 0:
            due = time.ticks_add(due, TICK_MS)
            watchdog.feed()
            tick()


if __name__ == "__main__":
    main()
'''


def micropython_handset(plan: HandsetProgram) -> str:
    """The whole program. NotYet where the profile gives a pin no number."""
    pins = [*plan.buttons, ("its lamp", plan.lamp)]
    unknown = [p.label for _, p in pins if not re.fullmatch(NUMBER, p.program)]
    if unknown:
        raise NotYet([f"{plan.name}: the profile gives {', '.join(unknown)} no number."])
    values = {
        "build": python_comment(plan.build),
        "name": python_comment(plan.name),
        "pins": "\n".join(f"#   {python_comment(p.label):<4} Pin({p.program})  {python_comment(n)}" for n, p in pins),
        "address": plan.address,
        "number": plan.number,
        "tick": plan.tick_ms,
        "period": plan.period_ms,
        "answered": ANSWERED_FOR * plan.period_ms,
        "last": ANSWERED_FOR,
        "spread": SPREAD,
        "debounce": max(DEBOUNCE_MS // plan.tick_ms, 1),
        "buttons": "".join(f"Button({p.program}), " for _, p in plan.buttons).rstrip(),
        "lamp": plan.lamp.program,
        "lines": Template(FRAMING).substitute(polynomial=f"0x{POLYNOMIAL:02X}").rstrip("\n"),
        "longest": LONGEST,
    }
    return stamped(Template(PROGRAM).substitute({k: str(v) for k, v in values.items()}), ("#", ""))
