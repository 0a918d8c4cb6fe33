"""Instruments that speak SCPI, as far as this bench needs it: common commands by IEEE 488.2, short and long words,
several commands on a line, an error queue by the standard's numbers."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass, field

from .world import World

OVERLOAD = 9.9e37
"""What SCPI tells where a value is beyond the range (SCPI-99, volume 1, 7.2.1)."""
NO_ERROR = '0,"No error"'
Handler = Callable[[list[str]], str | None]


class Refused(Exception):
    """A command that is not taken: the standard's number and words."""


@dataclass
class Scpi:
    """A parser with its commands: patterns as in manuals (``MEASure:VOLTage[:DC]?``), capitals are the short form."""

    name: str
    commands: dict[str, Handler] = field(default_factory=dict)
    errors: list[str] = field(default_factory=list)
    most_errors: int = 20

    def __post_init__(self) -> None:
        self._patterns = [(_pattern(p), handler) for p, handler in self.commands.items()]

    def line(self, text: str) -> str | None:
        """The answers of a line, joined by semicolons; None where nothing was asked."""
        answers = []
        for piece in (p.strip() for p in text.split(";")):
            if not piece:
                continue
            answer = self._one(piece.lstrip(":"))
            if answer is not None:
                answers.append(answer)
        return ";".join(answers) if answers else None

    def _one(self, piece: str) -> str | None:
        head, _, rest = piece.partition(" ")
        words = [w.strip() for w in rest.split(",")] if rest.strip() else []
        common = {"*IDN?": self.name, "*OPC?": "1", "*TST?": "0", "*ESR?": "0"}
        if head.upper() in common:
            return common[head.upper()]
        if head.upper() in ("*CLS", "*RST", "*WAI", "*OPC"):
            if head.upper() == "*CLS":
                self.errors.clear()
            elif head.upper() == "*RST" and (reset := self.commands.get("RESET")):
                reset([])
            return None
        if re.fullmatch(r"SYST(EM)?:ERR(OR)?(:NEXT)?\?", head.upper()):
            return self.errors.pop(0) if self.errors else NO_ERROR
        for pattern, handler in self._patterns:
            if pattern.fullmatch(head):
                try:
                    return handler(words)
                except Refused as refused:
                    self._error(str(refused))
                    return None
        self._error('-113,"Undefined header"')
        return None

    def _error(self, text: str) -> None:
        if len(self.errors) >= self.most_errors:
            self.errors[-1] = '-350,"Queue overflow"'
        else:
            self.errors.append(text)


def _pattern(told: str) -> re.Pattern[str]:
    """A manual's way of writing a command as a regular expression."""
    text = ""
    for token in re.findall(r"\[|\]|:|\?|[A-Z]+[a-z]*\d*", told):
        if token == "[":
            text += "(?:"
        elif token == "]":
            text += ")?"
        elif token in ":?":
            text += re.escape(token)
        else:
            short = "".join(c for c in token if not c.islower())
            text += f"(?:{token}|{short})" if short != token else token
    return re.compile(text, re.IGNORECASE)


def number(words: list[str], low: float, high: float) -> float:
    """The one number of a command. Refused where it is none, or out of range."""
    if len(words) != 1:
        raise Refused('-109,"Missing parameter"' if not words else '-108,"Parameter not allowed"')
    try:
        value = float(words[0])
    except ValueError as error:
        raise Refused('-104,"Data type error"') from error
    if not low <= value <= high or not math.isfinite(value):
        raise Refused('-222,"Data out of range"')
    return value


def onoff(words: list[str]) -> bool:
    """ON, OFF, 1 or 0."""
    known = {"ON": True, "1": True, "OFF": False, "0": False}
    if len(words) != 1 or words[0].upper() not in known:
        raise Refused('-224,"Illegal parameter value"')
    return known[words[0].upper()]


def told(value: float) -> str:
    """A number as instruments write it (NR3)."""
    return f"{value:+.6E}"


def supply(world: World, most_v: float = 32.0, most_a: float = 10.0) -> Scpi:
    """A bench supply."""
    knobs = world.supply

    def set_volts(words: list[str]) -> None:
        knobs.volts = number(words, 0, most_v)

    def set_limit(words: list[str]) -> None:
        knobs.limit_a = number(words, 0, most_a)

    def switch(words: list[str]) -> None:
        knobs.on = onoff(words)

    def reset(_: list[str]) -> None:
        knobs.volts, knobs.limit_a, knobs.on = 0.0, 0.1, False

    return Scpi(
        "Stand-in,bench supply,0,1",
        {
            "RESET": reset,
            "[SOURce:]VOLTage[:LEVel]": set_volts,
            "[SOURce:]VOLTage[:LEVel]?": lambda _: told(knobs.volts),
            "[SOURce:]CURRent[:LEVel]": set_limit,
            "[SOURce:]CURRent[:LEVel]?": lambda _: told(knobs.limit_a),
            "OUTPut[:STATe]": switch,
            "OUTPut[:STATe]?": lambda _: "1" if knobs.on else "0",
            "MEASure[:SCALar]:VOLTage[:DC]?": lambda _: told(world.bus_v if knobs.on else 0.0),
            "MEASure[:SCALar]:CURRent[:DC]?": lambda _: told(world.supply_a),
        },
    )


def meter(world: World) -> Scpi:
    """A multimeter; where it hangs is moved by hand."""

    def within(value: float, most: float) -> str:
        return told(value if abs(value) <= most else math.copysign(OVERLOAD, value))

    return Scpi(
        "Stand-in,multimeter,0,1",
        {
            "MEASure[:SCALar]:VOLTage[:DC]?": lambda _: within(world.measured("dc"), 600),
            "MEASure[:SCALar]:VOLTage:AC?": lambda _: within(world.measured("ac"), 600),
            "MEASure[:SCALar]:CURRent[:DC]?": lambda _: within(world.measured("current"), 10),
            "MEASure[:SCALar]:FREQuency?": lambda _: told(world.measured("frequency")),
        },
    )


MOST_POINTS = 100_000


def scope(world: World) -> Scpi:
    """An oscilloscope with its probe at the motor's plus terminal."""
    at = {"range": 20.0, "interval": 1e-6, "points": 2000.0}

    def put(name: str, low: float, high: float) -> Handler:
        def set(words: list[str]) -> None:
            at[name] = number(words, low, high)

        return set

    def read(_: list[str]) -> str:
        return ",".join(f"{v:.4f}" for v in world.seen(int(at["points"]), at["interval"], at["range"]))

    return Scpi(
        "Stand-in,oscilloscope,0,1",
        {
            "[SENSe:]VOLTage[:DC]:RANGe[:UPPer]": put("range", 0.01, 400),
            "[SENSe:]VOLTage[:DC]:RANGe[:UPPer]?": lambda _: told(at["range"]),
            "[SENSe:]SWEep:TINTerval": put("interval", 1e-9, 1.0),
            "[SENSe:]SWEep:TINTerval?": lambda _: told(at["interval"]),
            "[SENSe:]SWEep:POINts": put("points", 10, MOST_POINTS),
            "[SENSe:]SWEep:POINts?": lambda _: f"{at['points']:.0f}",
            "READ?": read,
        },
    )
