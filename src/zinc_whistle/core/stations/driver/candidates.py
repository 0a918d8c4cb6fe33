"""Every part held against the drive: each check with its margin, each refusal with its reason, best first."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ...algebra.findings import Finding
from ...algebra.limits import Check, Judge, claim, lower, upper
from ...cases import bus
from ...cases.circuit import DriveCircuit, solve
from ...cases.driving import Driving, Heat, channels_of, heat_of, sense_of
from ...cases.operating import DriveContext
from ...laws import driver as rules
from ...model.driver import ONE_SWITCH, DriverPart
from . import boards, telling
from .telling import STATION


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate(Driving):
    """What drives, with all its checks."""

    checks: tuple[Finding, ...]

    @property
    def refusals(self) -> tuple[Finding, ...]:
        return tuple(c for c in self.checks if c.stops)

    @property
    def open(self) -> tuple[Finding, ...]:
        """What could break something and is not known yet: a part with such a gap does not hold."""
        return tuple(c for c in self.checks if c.destructive and c.verdict == "unknown")

    @property
    def verdict(self) -> Literal["holds", "open", "refused"]:
        """Refused by a stop; open while anything is not known; else it holds."""
        if self.refusals:
            return "refused"
        return "open" if any(c.verdict == "unknown" for c in self.checks) else "holds"

    @property
    def tightest(self) -> Finding | None:
        known = [c for c in self.checks if c.used is not None]
        return max(known, key=lambda c: c.used or 0.0, default=None)

    @property
    def rank(self) -> tuple[int, float, float, float]:
        """No stop; then the least sure destructive margin; then speed; then price. What is not known comes after what
        holds; what is refused comes last, fewest stops first."""
        speed, price = self.circuit.delivered_flat.value or 0.0, self.part.price.value or 0.0
        if self.refusals:
            return 2, float(len(self.refusals)), -round(speed, 0), price
        surety = min((c.surety for c in self.checks if c.destructive and c.verdict != "unknown"), default=0.0)
        return int(bool(self.open)), -round(surety, 1), -round(speed, 0), price


ORDER = (
    "Parts that hold come first, then those of which something is not known, then the refused ones by how much stops "
    "them. Among those that hold it is the surest margin of what could break that counts, then speed on a flat supply, "
    "then price."
)
"""``rank`` in words."""


def limits(at: DriveContext, driving: Driving) -> list[Check]:
    """What is checked of any part or stage in this drive."""
    part, solved, heat = driving.part, driving.circuit, driving.heat
    return [
        *_voltage_checks(at, part, solved),
        *_current_checks(at, driving, at.build.schools.sizing),
        *_heat_and_signal_checks(at, part, solved, heat),
        *telling.checks(at, part),
        *boards.checks(at, part),
        *_ability_checks(at, part),
    ]


def evaluate(at: DriveContext, part: DriverPart, judge: Judge | None = None) -> Candidate:
    """All checks of one part of the shelf in this drive."""
    solved = solve(at, part)
    return held_against(at, Driving(part=part, circuit=solved, heat=heat_of(at, part, solved)), judge)


def held_against(at: DriveContext, driving: Driving, judge: Judge | None = None) -> Candidate:
    """The candidate that a part or a stage makes whose circuit and heat are known."""
    judge = judge or Judge()
    judge.seed(driving.known)
    found = judge.all(limits(at, driving))
    return Candidate(
        part=driving.part, circuit=driving.circuit, heat=driving.heat, result=driving.result, checks=tuple(found)
    )


def verdicts(at: DriveContext, driving: Driving, judge: Judge | None = None) -> dict[str, tuple[Finding, ...]]:
    """What each sizing school says of the part's current rating."""
    own = judge or Judge()
    own.seed(driving.known)
    return {
        school: tuple(own.all(_current_checks(at, driving, school))) for school in ("stall", "run and peak", "limited")
    }


def rank(at: DriveContext, parts: Sequence[DriverPart]) -> list[Candidate]:
    """Every part of the shelf, the best first; refused ones last, never hidden."""
    judge = Judge()
    return sorted((evaluate(at, p, judge) for p in parts), key=lambda c: (c.rank, c.part.name))


def _voltage_checks(at: DriveContext, part: DriverPart, solved: DriveCircuit) -> tuple[Check, ...]:
    drive = at.drive.id
    bridge = part.kind not in ONE_SWITCH
    found: list[Check] = [
        upper(
            "driver.volts_high",
            station=STATION,
            title="Supply, highest",
            stress=at.volts.any,
            bound=part.v_max.leaf,
            todo="Take a part for a higher voltage, or a supply with less.",
            drive=drive,
        ),
        lower(
            "driver.volts_low",
            station=STATION,
            title="Supply, lowest",
            stress=solved.anywhere.bus_working,
            bound=part.v_min.leaf,
            todo="Take a part that works from less, or a supply that sags less.",
            drive=drive,
            destructive=False,
        ),
    ]
    if part.v_absolute.value is not None:
        found.insert(
            1,
            upper(
                "driver.volts_absolute",
                station=STATION,
                title="Supply after braking",
                stress=bus.highest_bus(at, bridge, at.volts.any),
                bound=part.v_absolute.leaf,
                todo=(
                    "Give the energy somewhere to go: a source that takes current back, a larger capacitor, or a clamp."
                ),
                drive=drive,
            ),
        )
    if bus.rises(at, bridge):
        found.append(
            claim(
                "driver.takes_back",
                station=STATION,
                title="Something takes the energy back",
                holds=at.unit.bulk_capacitance.value is not None,
                todo="The source takes no current back and no capacitor is named: braking has nowhere to go. Fit a "
                "bulk capacitor, or take a source that takes it.",
                drive=drive,
                where=f"{at.unit.path}.bulk_capacitance",
            )
        )
    return tuple(found)


def _current_checks(at: DriveContext, driving: Driving, school: str) -> tuple[Check, ...]:
    part, solved = driving.part, driving.circuit
    drive, because = at.drive.id, [at.build.schools.chosen("sizing")]
    continuous = rules.joined_current(part.continuous_a.leaf, at.drive.joined.leaf)
    peak = rules.joined_current(part.peak_a.leaf, at.drive.joined.leaf)
    if school == "stall":
        return (
            upper(
                "driver.stall",
                station=STATION,
                title="Stall within continuous",
                stress=solved.anywhere.stall,
                bound=continuous,
                todo="Take a part whose continuous rating covers the stall current, or size by another school.",
                drive=drive,
                because=because,
            ),
            upper(
                "driver.peak",
                station=STATION,
                title="Peak current",
                stress=solved.anywhere.peak,
                bound=peak,
                todo="Take a part with a higher peak, ramp the start, or reverse through zero.",
                drive=drive,
                because=because,
            ),
        )
    running = rules.with_headroom(driving.heat.current)
    if school == "run and peak":
        worst = solved.anywhere.peak
        todo = "Take a part with a higher peak, reverse through zero, or size by the limited school with a real limit."
    else:
        worst = solved.anywhere.planned_peak
        todo = "Take a part with a higher peak, lengthen the ramp, or lower the current limit."
    return (
        upper(
            "driver.continuous",
            station=STATION,
            title="Running current × 1.25",
            stress=running,
            bound=continuous,
            todo="Take a part for more continuous current, gear down, or rest longer.",
            drive=drive,
            because=because,
        ),
        upper(
            "driver.peak",
            station=STATION,
            title="Peak current",
            stress=worst,
            bound=peak,
            todo=todo,
            drive=drive,
            because=because,
        ),
    )


def _heat_and_signal_checks(at: DriveContext, part: DriverPart, solved: DriveCircuit, heat: Heat) -> tuple[Check, ...]:
    drive = at.drive.id
    found: list[Check] = []
    if part.kind != "contacts":
        # What contacts bear is their current for good; they have no junction.
        found.append(
            upper(
                "driver.heat",
                station=STATION,
                title="Heat",
                stress=heat.any_current,
                bound=heat.any_allowed,
                todo="Give it a heat sink or more copper, lower the PWM frequency, or take a part with less "
                "resistance.",
                drive=drive,
            )
        )
    if (motor := at.of_motor) is not None:
        found.append(
            lower(
                "driver.speed",
                station=STATION,
                title="Speed",
                stress=solved.anywhere.delivered,
                bound=motor.load.motor_speed,
                todo="Take a part that drops less, a higher voltage, or a lower ratio.",
                drive=drive,
                destructive=False,
            )
        )
    if (held := at.of_load) is not None:
        found.append(
            lower(
                "driver.volts_got",
                station=STATION,
                title="Volts at the load",
                stress=solved.anywhere.delivered,
                bound=held.load.volts_needed,
                todo="Take a part that drops less, or a higher voltage.",
                drive=drive,
                destructive=False,
            )
        )
    if part.sense_gain.value is not None and at.drive.signals.by_program:
        signal = rules.sense_volts(sense_of(at, part), solved.anywhere.peak)
        found.append(
            upper(
                "driver.sense",
                station=STATION,
                title="Sense signal",
                stress=signal,
                bound=at.controller.sense_reference.leaf,
                todo="Divide or clamp the sense signal before the controller's pin.",
                drive=drive,
                over="warn",
            )
        )
    return tuple(found)


def _ability_checks(at: DriveContext, part: DriverPart) -> tuple[Check, ...]:
    drive, signals = at.drive.id, at.drive.signals
    found: list[Check] = [_channel_check(at, part)]
    if signals.reversal != "one way":
        found.append(
            claim(
                "driver.reverses",
                station=STATION,
                title="Drives both ways",
                holds=part.reverses == "yes",
                todo="It drives one way only: take a bridge, or run one way.",
                drive=drive,
                destructive=False,
            )
        )
    if signals.braking == "brake":
        found.append(
            claim(
                "driver.brakes",
                station=STATION,
                title="Can brake",
                holds=part.brakes == "yes",
                todo="It cannot short the motor: let it coast, or take a part that brakes.",
                drive=drive,
                destructive=False,
            )
        )
    fitted = part.diodes == "yes" or at.unit.diode_at != "none"
    if part.kind == "contacts":  # an arc is its way out, and a warning of the power stage
        return tuple(found)
    found.append(
        claim(
            "driver.diodes",
            station=STATION,
            title="Path for the motor's current",
            holds=fitted,
            todo="The motor's current has no way out when it switches off: fit flyback diodes.",
            drive=drive,
        )
    )
    return tuple(found)


def _channel_check(at: DriveContext, part: DriverPart) -> Check:
    """The drive's channels exist on the part, may be joined, and no other drive has them."""
    own, most = channels_of(at), part.channels.value
    others = {o.drive.name or o.drive.id: channels_of(o) for o in at.sharing}
    other = next((name for name, theirs in others.items() if own and theirs and set(own) & set(theirs)), None)
    todo = "This part has fewer channels: take a lower channel number, a part with more, or a driver unit of its own."
    if other:
        todo = f"“{other}” has that channel: take another one, or another driver unit."
    known = None if own is None or most is None else own.stop - 1 <= most and other is None
    if known and own is not None and len(own) > 1 and part.joins == "no":
        known, todo = False, "Its sheet does not allow joined channels: take one channel, or another part."
    return claim(
        "driver.channel",
        station=STATION,
        title="A channel of its own",
        holds=known,
        todo=todo,
        drive=at.drive.id,
        where=f"{at.drive.path}.channel",
        destructive=False,
        unknown="Not known yet: give the channel.",
    )
