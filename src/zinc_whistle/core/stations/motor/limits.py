"""Checks of the readings themselves."""

from __future__ import annotations

from ...algebra.doubt import doubt_of, why_unknown
from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import Constant, Figure, Node
from ...algebra.quantities import phrase
from ...cases import frame
from ...cases.motor import Constants
from ...cases.motor_kind import BRUSHED, REFUSED, kind_of, looked
from ...cases.motor_kind import KINDS as MOTOR_KINDS
from ...cases.motor_sheet import WORTH_ASKING
from ...laws import motor as motor_laws
from ...model.motor import LOOKS, MotorSpec

STATION = "motor"
LOOSE = 0.1
"""A resistance known to worse than ten per cent (k = 2) decides drivers badly."""


MUCH_MORE = Constant("1.5", 1.5, "ratio", "common practice, no source: brushes and bearings bear half more for a while")


def _salvaged(spec: MotorSpec, volts: Node, drive: str) -> list[Check]:
    """The supply against the volts that the motor's appliance gave it."""
    if spec.salvage.volts.value is None:
        return []
    return [
        upper(
            "motor.appliance_volts",
            station=STATION,
            title="Supply, against half more than its appliance gave it",
            stress=volts,
            bound=motor_laws.volts_by_share(spec.salvage.volts.leaf, MUCH_MORE),
            todo="Its brushes arc and wear, and it turns faster than its bearings were made for: take less supply, or "
            "hold the duty down.",
            drive=drive,
            over="warn",
            where=f"{spec.salvage.path}.volts",
            destructive=False,
        )
    ]


def checks(spec: MotorSpec, known: Constants, volts: Node, drive: str) -> list[Check]:
    """Whether the motor is known, how well, and whether the readings contradict each other."""
    resistance, constant = known.resistance_25, known.motor_constant
    found: list[Check] = [
        claim(
            "motor.known",
            station=STATION,
            title="The motor is known",
            holds=False if known.contradicts else None if constant.value is None else True,
            todo="The figures contradict one another (no-load volts less than what the resistance drops, a stall no "
            "larger than the no-load current): check the readings.",
            drive=drive,
            where=f"{spec.path}.no_load_v",
            unknown=why_unknown(constant),
        ),
    ]
    found += _disagreements(spec, known, drive)
    found += _kind(spec, drive)
    found += _salvaged(spec, volts, drive)
    guessed = frame.estimated(spec)
    if guessed and spec.weight.value is not None:
        found.append(
            claim(
                "motor.estimated",
                station=STATION,
                title=f"Measured, not estimated: {', '.join(name for name, _ in guessed)}",
                holds=False,
                todo=f"Good for a first verdict: each may be wrong by a half and more. First: {guessed[0][1]}.",
                drive=drive,
                over="warn",
                where=f"{spec.path}.weight",
                destructive=False,
            )
        )
    if spec.known_by == "readings" and resistance.value is not None and resistance.value > 0:
        doubt = doubt_of(resistance)
        spread = None if doubt.standard is None else 2 * doubt.standard / resistance.value <= LOOSE
        found.append(
            claim(
                "motor.resistance_sure",
                station=STATION,
                title="Resistance is known to 10 %",
                holds=spread,
                todo="Read more shaft angles, with a larger current, or with a better meter.",
                drive=drive,
                over="warn",
                where=f"{spec.path}.locked",
                destructive=False,
                unknown="Not known yet: say which meter took the readings.",
            )
        )
    if spec.known_by == "readings" and known.angles and not known.by_slope:
        found.append(
            claim(
                "motor.brush_drop",
                station=STATION,
                title="Brush drop told from resistance",
                holds=False,
                todo="One current per angle counts the brush drop as resistance, so stall current comes out low: "
                "read two currents at each angle.",
                drive=drive,
                over="warn",
                where=f"{spec.path}.locked",
                destructive=False,
            )
        )
    return found


def _kind(spec: MotorSpec, drive: str) -> list[Check]:
    """Whether it is a brushed motor at all, once somebody has looked; and mains, where a rectifier says so."""
    seen = kind_of(spec.looks)
    if seen is None:
        return []
    found: list[Check] = []
    if seen.rectified:
        found.append(
            claim(
                "motor.rectifier",
                station=STATION,
                title="Not made for the mains",
                holds=False,
                todo="A rectifier on its terminals: in its appliance it ran from the mains. Its winding is for some "
                "hundred volts, on a battery it is slow and weak. Take the rectifier off; never test it on the mains.",
                drive=drive,
                over="warn",
                where=f"{spec.path}.looks.rectifier",
                destructive=False,
            )
        )
    say, holds = "", True if seen.left == (BRUSHED,) else None
    if not seen.left:
        again = ", ".join(f"“{LOOKS[name].label}”" for name, _ in looked(spec.looks))
        say, holds = f"What was seen goes together in no motor: look again at {again}.", False
    elif BRUSHED not in seen.left:
        kinds = " or ".join(MOTOR_KINDS[k] for k in seen.left)
        why = "; or ".join(REFUSED[k] for k in seen.left)
        say = f"This is {kinds} ({'; '.join(seen.against)}): {why}. Take another motor, or the drive made for this one."
        holds = False
    others = " or ".join(MOTOR_KINDS[k] for k in seen.left if k != BRUSHED)
    look = LOOKS[seen.next_look].label if seen.next_look else ""
    found.append(
        claim(
            "motor.kind",
            station=STATION,
            title="A brushed DC motor",
            holds=holds,
            todo=say,
            drive=drive,
            where=f"{spec.path}.looks.{seen.next_look or 'leads'}",
            unknown=f"It can still be {others}" + (f": look next at “{look}”." if look else "."),
        )
    )
    return found


def _disagreements(spec: MotorSpec, known: Constants, drive: str) -> list[Check]:
    """Figures of a data sheet that contradict each other: the builder is asked which to trust."""
    found: list[Check] = []
    for code, name, ways in (
        ("resistance", "resistance", known.resistance_ways),
        ("constant", "motor constant", known.constant_ways),
    ):
        far = [
            w
            for w in ways
            if w.ratio is not None and w.ratio.value is not None and abs(w.ratio.value - 1) > WORTH_ASKING
        ]
        if len(ways) < 2:
            continue
        trusted = ways[0]
        words = "; ".join(f"{w.words} gives {text(w.figure)}" for w in far)
        found.append(
            claim(
                f"motor.sheet_{code}",
                station=STATION,
                title=f"The sheet's figures agree on the {name}",
                holds=not far,
                todo=(
                    f"{trusted.words.capitalize()} gives {text(trusted.figure)}, but {words}. "
                    "Measure it, or choose which to trust."
                ),
                drive=drive,
                over="warn",
                where=f"{spec.sheet.path}.trust_{code}",
                destructive=False,
            )
        )
    return found


def text(figure: Figure) -> str:
    """A figure's value in words."""
    return "nothing" if figure.value is None else phrase(figure.value, figure.kind.name)
