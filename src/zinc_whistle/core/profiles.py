"""What keeps a controller's profile from being used."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator

from .model.given import bind
from .model.signals import Ability, Controller, Pin
from .program.c_source import COMPARE, PORT
from .program.micropython_source import NUMBER

ABOUT_A_PIN: tuple[Ability, ...] = ("boot", "lamp", "input only", "absent")
"""What is said of a pin, rather than what it can do."""


def problems(controller: Controller) -> dict[str, str]:
    """What keeps a profile from being used, by the path of what is wrong: a sentence each."""
    bound = bind(controller.model_copy(), "profile")
    found = {path.removeprefix("profile."): sentence for path, sentence in bound.errors.items()}
    if not controller.name.strip():
        found["name"] = "Give the controller a name."
    if not controller.clock.text.strip():
        found["clock"] = "Clock is needed: every timer counts it."
    if not controller.pins:
        found["pins"] = "A controller has at least one pin."
    for path, sentence in (*_timer_problems(controller), *_pin_problems(controller)):
        found.setdefault(path, sentence)
    return found


def _timer_problems(controller: Controller) -> Iterator[tuple[str, str]]:
    names = Counter(t.name.strip().lower() for t in controller.timers)
    for timer in controller.timers:
        path = f"timers.{timer.id}"
        if not timer.name.strip():
            yield path, "Give each timer a name."
        elif names[timer.name.strip().lower()] > 1:
            yield path, f"Two timers are called {timer.name}."
        if len(set(timer.prescalers)) < len(timer.prescalers):
            yield path, f"{timer.name} has a prescaler twice."


def _pin_problems(controller: Controller) -> Iterator[tuple[str, str]]:
    timers = {t.id: t for t in controller.timers}
    used = {
        name: Counter(v.lower() for p in controller.pins if (v := str(getattr(p, name)).strip()))
        for name in ("label", "program", "port", "compare", "channel")
    }
    for pin in controller.pins:
        path, label, can = f"pins.{pin.id}", pin.label.strip(), set(pin.can)
        if not label:
            yield path, "Give each pin the name that is printed beside it."
            continue
        for name, words in (
            ("label", "is printed beside two pins"),
            ("program", f"two pins have the number {pin.program} in the program"),
            ("port", f"two pins are bit {pin.port}"),
            ("compare", f"two pins are compare output {pin.compare}"),
            ("channel", f"two pins are channel {pin.channel} of the converter"),
        ):
            text = str(getattr(pin, name)).strip().lower()
            if text and used[name][text] > 1:
                yield path, f"{label} {words}." if name == "label" else f"{label}: {words}."
        if "pwm" in can and pin.timer not in timers:
            yield path, f"{label} makes pulses: say by which timer."
        if pin.timer and "pwm" not in can:
            yield path, f"{label} hangs on a timer but makes no pulses: tick PWM, or take the timer away."
        if not can - set(ABOUT_A_PIN) and "absent" not in can:
            yield path, f"{label} can do nothing: tick what it can."
        if {"pwm", "input only"} <= can:
            yield path, f"{label} is an input only and cannot make pulses."
        yield from _program_problems(controller, pin, path)


def _program_problems(controller: Controller, pin: Pin, path: str) -> Iterator[tuple[str, str]]:
    if "absent" in pin.can or not controller.program:
        return
    if controller.program == "avr" and not re.fullmatch(PORT, pin.port):
        yield path, f"{pin.label}: a program in C needs its port and bit, as B5."
    elif controller.program == "avr" and "pwm" in pin.can and not re.fullmatch(f"0[AB]|{COMPARE}", pin.compare):
        yield path, f"{pin.label}: a program in C needs the timer's compare output, as 1A."
    elif controller.program == "micropython" and not re.fullmatch(NUMBER, pin.program):
        yield path, f"{pin.label}: a program in MicroPython needs its number."
