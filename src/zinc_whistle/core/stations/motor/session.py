"""A guided reading session: which reading to take next, how, and how much it would tell; and when to stop."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ...algebra.doubt import contributions, doubt_of, missing
from ...algebra.findings import Finding
from ...algebra.nodes import Figure
from ...algebra.quantities import phrase
from ...cases.motor import Constants
from ...model.motor import MotorSpec

FIRM = 2.0
"""A verdict is firm when the check stays on its side two standard uncertainties away."""
LOW_VOLTS_SHARE = 0.15
"""Locked readings are taken at about this share of the supply, so that the winding stays cool."""


@dataclass(frozen=True, slots=True)
class NextReading:
    """The reading to take next, in words, with its setting and caution, and what it would narrow."""

    title: str
    how: str
    setting: str
    caution: str
    where: str
    narrows: str


@dataclass(frozen=True, slots=True)
class Session:
    """Where the session stands. ``done`` tells why nothing more is needed."""

    next: NextReading | None
    done: str
    weakest: str


LOCKED_CAUTION = "Clamp the motor and hold the shaft mechanically. One second with the current on, then let it cool."


def session(spec: MotorSpec, known: Constants, supply_v: float | None, checks: Sequence[Finding]) -> Session:
    """What to read next; ``checks`` are those of the driver that stands first (or is chosen)."""
    first = _missing(spec, supply_v)
    if first is not None:
        return Session(first, "", "")
    figures = [("resistance", known.resistance_25), ("motor constant", known.motor_constant)]
    weak_name, weak = max(figures, key=lambda pair: _relative(pair[1]))
    weakest = f"{weak_name.capitalize()}, {_doubt(_relative(weak))}"
    open_checks = [x for x in checks if _open(x, spec.path)]
    if checks and not open_checks:
        return Session(
            None,
            _settled(checks),
            weakest,
        )
    return Session(_narrowing(spec, known, weak, supply_v), "", weakest)


def _settled(checks: Sequence[Finding]) -> str:
    unknown = sum(x.verdict == "unknown" for x in checks)
    words = "every check of it that is known" if unknown else "every check of it"
    rest = (
        f" {unknown} of them {'waits' if unknown == 1 else 'wait'} for something else than the motor."
        if unknown
        else ""
    )
    return (
        f"The driver choice no longer depends on the motor's readings: {words} holds or fails two standard "
        f"uncertainties away from its limit.{rest}"
    )


def _doubt(relative: float) -> str:
    """``±4.2 %``: twice a relative standard uncertainty."""
    return f"±{phrase(round(2 * relative, 3), 'fraction')}" if math.isfinite(relative) else "not known"


def _relative(figure: Figure) -> float:
    standard = doubt_of(figure).standard
    return math.inf if not figure.value or standard is None else standard / abs(figure.value)


def _open(check: Finding, path: str) -> bool:
    """Whether a check's verdict could turn within the motor's own doubt, or waits for something of the motor."""
    if check.verdict == "unknown":
        return any(leaf.id.startswith(path) and leaf.value is None for leaf in missing(check.utilisation))
    if check.utilisation is None or check.used is None or check.used <= 0:
        return False
    together = math.hypot(*(part for leaf, part in contributions(check.utilisation) if leaf.id.startswith(path)))
    if together == 0:
        return (
            any(
                leaf.id.startswith(path) and leaf.doubt is None and leaf.origin != "chosen"
                for leaf in check.utilisation.gradient
            )
            and abs(math.log(check.used)) < 0.1
        )
    return abs(math.log(check.used)) * check.used < FIRM * together


def _missing(spec: MotorSpec, supply_v: float | None) -> NextReading | None:
    """What no constant can do without, in the order in which it is easiest."""
    complete = [r for r in spec.locked if r.voltage.value is not None and r.current.value is not None]
    low = phrase((supply_v or 12.0) * LOW_VOLTS_SHARE, "voltage")
    locked = f"Bench supply near {low}, current limit open; volts at the motor terminals, amperes on the 10 A socket"
    if len(complete) < 2:
        return NextReading(
            title="Rotor locked, one shaft angle, two currents",
            how="Read volts and amperes; then once more at twice the current.",
            setting=locked,
            caution=LOCKED_CAUTION,
            where=f"{spec.path}.locked",
            narrows=(
                "One current alone takes the brushes' drop for resistance: the stall current is told too small."
                if complete
                else "Without it resistance and stall current are not known."
            ),
        )
    for name, words, setting in (
        ("no_load_v", "Volts at the terminals, spinning free", "DC volts, the range above the supply"),
        ("no_load_a", "Amperes, spinning free", "In series, highest range first, then the one that shows three digits"),
        ("no_load_speed", "Speed of the free shaft", "A tachometer, the encoder, or a phone's strobe against a mark"),
    ):
        if getattr(spec, name).value is None:
            return NextReading(
                title=words,
                how="Uncouple the motor, let it run a minute, then read.",
                setting=setting,
                caution="Hold the motor down: it jumps as it starts. Keep hair and sleeves away.",
                where=f"{spec.path}.{name}",
                narrows="Without it the motor constant is not known.",
            )
    return None


def _narrowing(spec: MotorSpec, known: Constants, weak: Figure, supply_v: float | None) -> NextReading:
    """The reading that takes most off the weakest constant's doubt."""
    standard = doubt_of(weak).standard
    shares = contributions(weak)
    options: list[tuple[float, NextReading]] = []
    low = phrase((supply_v or 12.0) * LOW_VOLTS_SHARE, "voltage")
    angles = max(known.angles, 1)

    def words(left: float | None) -> str:
        if standard is None or left is None or not weak.value:
            return "Its own doubt is not known yet: this would tell it."
        return (
            f"It would narrow {weak.title[:1].lower()}{weak.title[1:]} from {_doubt(standard / weak.value)} "
            f"to about {_doubt(left / weak.value)}."
        )

    def without(names: tuple[str, ...], keep: float) -> float | None:
        """The doubt that is left when the shares of these givens shrink to ``keep`` of what they are."""
        if not standard:
            return standard
        gone = sum((part / standard) ** 2 for leaf, part in shares if leaf.id.startswith(names))
        return standard * math.sqrt(max(1 - gone * (1 - keep**2), 0.0))

    locked = (f"{spec.path}.locked.spread", f"{spec.path}.locked.")
    after = without(locked, math.sqrt(angles / (angles + 1)))
    options.append(
        (
            after if after is not None else 0.0,
            NextReading(
                title="Rotor locked, another shaft angle",
                how="Turn the shaft by a third of a bar, read two currents as before.",
                setting=f"Bench supply near {low}; volts at the terminals",
                caution=LOCKED_CAUTION,
                where=f"{spec.path}.locked",
                narrows=words(after),
            ),
        )
    )
    for name, title, how, setting in (
        (
            "locked_temperature",
            "Winding temperature, before the locked readings",
            "Leave the motor an hour in the room.",
            "Thermometer on the case: after an hour it is the winding's too",
        ),
        (
            "no_load_speed",
            "Speed of the free shaft, again and finer",
            "Count many turns against a clock.",
            "A longer gate, or the encoder's counts over ten seconds",
        ),
        (
            "no_load_v",
            "Volts spinning free, with a better meter",
            "Read at the terminals.",
            "DC volts, the lowest range that holds it",
        ),
        (
            "no_load_a",
            "Amperes spinning free, with a better meter",
            "Let it run warm first.",
            "In series, the lowest range that holds it",
        ),
        (
            "no_load_temperature",
            "Winding temperature after the free run",
            "Read straight after it stops.",
            "Thermometer on the case",
        ),
    ):
        left = without((f"{spec.path}.{name}",), 0.4)
        if left is not None and standard is not None and left < standard:
            options.append(
                (
                    left,
                    NextReading(
                        title=title,
                        how=how,
                        setting=setting,
                        caution="Hold the motor down: it jumps as it starts.",
                        where=f"{spec.path}.{name}",
                        narrows=words(left),
                    ),
                )
            )
    return min(options, key=lambda o: o[0])[1]
