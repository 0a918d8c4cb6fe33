"""Every part held against the drive: each check with its margin, each refusal with its reason, best first."""

from __future__ import annotations

from dataclasses import dataclass

from ...algebra import findings as f
from ...algebra.findings import Finding
from ...algebra.working import Node
from ...cases.driving import Driving, Heat, channels_of, heat_of
from ...cases.operating import Context, DriveCircuit, DriveContext, LoadContext, solve
from ...laws import driver as rules
from ...laws import supply as supply_rules
from ...model.driver import ONE_SWITCH, DriverPart

STATION = "driver"


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate(Driving):
    """What drives, with all its checks."""

    checks: tuple[Finding, ...]

    @property
    def refusals(self) -> tuple[Finding, ...]:
        return tuple(c for c in self.checks if c.severity == "stop")

    @property
    def tightest(self) -> Finding | None:
        known = [c for c in self.checks if c.used is not None]
        return max(known, key=lambda c: c.used or 0.0, default=None)

    @property
    def rank(self) -> tuple[bool, float, float, float]:
        """No stop; then the least sure destructive margin; then speed; then price. Refused: fewest stops first."""
        speed, price = self.circuit.delivered_flat.value or 0.0, self.part.price.value or 0.0
        if self.refusals:
            return True, float(len(self.refusals)), -round(speed, 0), price
        surety = min((c.surety for c in self.checks if c.destructive and not c.unknown), default=0.0)
        return False, -round(surety, 1), -round(speed, 0), price


def evaluate(at: DriveContext, part: DriverPart) -> Candidate:
    """All checks of one part of the shelf in this drive."""
    return held_against(at, Driving(part=part, circuit=solve(at, part), heat=heat_of(at, part)))


def held_against(at: DriveContext, driving: Driving) -> Candidate:
    """The candidate that a part or a stage makes whose circuit and heat are known."""
    part, solved, heat = driving.part, driving.circuit, driving.heat
    checks = (
        *_voltage_checks(at, part, solved),
        *_current_checks(at, part, solved, at.build.schools.sizing),
        *_heat_and_signal_checks(at, part, solved, heat),
        *_ability_checks(at, part),
    )
    return Candidate(part=part, circuit=solved, heat=heat, result=driving.result, checks=checks)


def verdicts(at: DriveContext, candidate: Candidate) -> dict[str, tuple[Finding, ...]]:
    """What each sizing school says of the part's current rating."""
    return {
        school: _current_checks(at, candidate.part, candidate.circuit, school)
        for school in ("stall", "run and peak", "limited")
    }


def rank(at: DriveContext, parts: list[DriverPart]) -> list[Candidate]:
    """Every part of the shelf, the best first; refused ones last, never hidden."""
    return sorted((evaluate(at, p) for p in parts), key=lambda c: (c.rank, c.part.name))


def _voltage_checks(at: DriveContext, part: DriverPart, solved: DriveCircuit) -> tuple[Finding, ...]:
    drive = at.drive.id
    highest: Node = at.volts.full
    # One switch and a diode cannot lift the bus above what the motor makes: only a bridge sends energy back.
    if at.source.sinks == "no" and part.kind not in ONE_SWITCH and at.unit.bulk_capacitance.value is not None:
        highest = supply_rules.risen_voltage(
            highest, at.stored_energy, at.unit.bulk_capacitance.leaf, because=[at.source.chosen("sinks")]
        )
    found = [
        f.upper(
            "driver.volts_high",
            STATION,
            "Supply, highest",
            at.volts.full,
            part.v_max.leaf,
            "Take a part for a higher voltage, or a supply with less.",
            drive=drive,
        ),
        f.lower(
            "driver.volts_low",
            STATION,
            "Supply, lowest",
            solved.bus_working,
            part.v_min.leaf,
            "Take a part that works from less, or a supply that sags less.",
            drive=drive,
            destructive=False,
        ),
    ]
    if part.v_absolute.value is not None:
        found.insert(
            1,
            f.upper(
                "driver.volts_absolute",
                STATION,
                "Supply after braking",
                highest,
                part.v_absolute.leaf,
                "Give the energy somewhere to go: a source that takes current back, a larger capacitor, or a clamp.",
                drive=drive,
            ),
        )
    return tuple(found)


def _current_checks(at: DriveContext, part: DriverPart, solved: DriveCircuit, school: str) -> tuple[Finding, ...]:
    drive, because = at.drive.id, [at.build.schools.chosen("sizing")]
    continuous = rules.joined_current(part.continuous_a.leaf, at.drive.joined.leaf)
    peak = rules.joined_current(part.peak_a.leaf, at.drive.joined.leaf)
    if school == "stall":
        return (
            f.upper(
                "driver.stall",
                STATION,
                "Stall within continuous",
                solved.stall_full,
                continuous,
                "Take a part whose continuous rating covers the stall current, or size by another school.",
                drive=drive,
                because=because,
            ),
            f.upper(
                "driver.peak",
                STATION,
                "Peak current",
                solved.peak,
                peak,
                "Take a part with a higher peak, ramp the start, or reverse through zero.",
                drive=drive,
                because=because,
            ),
        )
    running = rules.with_headroom(at.rms_current)
    if school == "run and peak":
        worst = solved.peak
        todo = "Take a part with a higher peak, reverse through zero, or size by the limited school with a real limit."
    else:
        worst = solved.planned_peak
        todo = "Take a part with a higher peak, lengthen the ramp, or lower the current limit."
    return (
        f.upper(
            "driver.continuous",
            STATION,
            "Running current × 1.25",
            running,
            continuous,
            "Take a part for more continuous current, gear down, or rest longer.",
            drive=drive,
            because=because,
        ),
        f.upper("driver.peak", STATION, "Peak current", worst, peak, todo, drive=drive, because=because),
    )


def _heat_and_signal_checks(
    at: DriveContext, part: DriverPart, solved: DriveCircuit, heat: Heat
) -> tuple[Finding, ...]:
    drive, controller = at.drive.id, at.controller
    found = [
        f.upper(
            "driver.heat",
            STATION,
            "Heat, hottest air",
            at.rms_current,
            heat.allowed_current,
            "Give it a heat sink or more copper, lower the PWM frequency, or take a part with less resistance.",
            drive=drive,
        ),
        f.upper(
            "driver.pwm",
            STATION,
            "PWM frequency",
            at.plan.frequency,
            part.pwm_limit.leaf,
            "Lower the PWM frequency at Signals, or take a faster part.",
            drive=drive,
            where=f"drives.{drive}.signals.pwm_frequency",
        ),
        f.lower(
            "driver.logic",
            STATION,
            "Logic level",
            controller.output_high.leaf,
            part.input_high.leaf,
            "Take a part with logic-level inputs, or put a level shifter between.",
            drive=drive,
            destructive=False,
        ),
        f.upper(
            "driver.pin",
            STATION,
            "Current a pin gives",
            part.input_current.leaf,
            controller.pin_current.leaf,
            "Never drive this from a pin: put a transistor or a driver between.",
            drive=drive,
        ),
    ]
    if isinstance(at, Context):
        found.append(
            f.lower(
                "driver.speed",
                STATION,
                "Speed, battery flat",
                solved.delivered_flat,
                at.load.motor_speed,
                "Take a part that drops less, a higher voltage, or a lower ratio.",
                drive=drive,
                destructive=False,
            )
        )
    else:
        assert isinstance(at, LoadContext)
        found.append(
            f.lower(
                "driver.volts_got",
                STATION,
                "Volts at the load, supply flat",
                solved.delivered_flat,
                at.load.volts_needed,
                "Take a part that drops less, or a higher voltage.",
                drive=drive,
                destructive=False,
            )
        )
    if part.sense_gain.value is not None:
        signal = rules.sense_volts(part.sense_gain.leaf, solved.peak)
        found.append(
            f.upper(
                "driver.sense",
                STATION,
                "Sense signal",
                signal,
                controller.sense_reference.leaf,
                "Divide or clamp the sense signal before the controller's pin.",
                drive=drive,
                over="warn",
            )
        )
    return tuple(found)


def _ability_checks(at: DriveContext, part: DriverPart) -> tuple[Finding, ...]:
    drive, signals = at.drive.id, at.drive.signals
    found = [_channel_check(at, part)]
    if signals.reversal != "one way":
        found.append(
            f.yes_no(
                "driver.reverses",
                STATION,
                "Drives both ways",
                part.reverses == "yes",
                "It drives one way only: take a bridge, or run one way.",
                drive=drive,
                destructive=False,
            )
        )
    if signals.braking == "brake":
        found.append(
            f.yes_no(
                "driver.brakes",
                STATION,
                "Can brake",
                part.brakes == "yes",
                "It cannot short the motor: let it coast, or take a part that brakes.",
                drive=drive,
                destructive=False,
            )
        )
    fitted = part.diodes == "yes" or at.unit.flyback != "none"
    found.append(
        f.yes_no(
            "driver.diodes",
            STATION,
            "Path for the motor's current",
            fitted,
            "The motor's current has no way out when it switches off: fit flyback diodes.",
            drive=drive,
        )
    )
    return tuple(found)


def _channel_check(at: DriveContext, part: DriverPart) -> Finding:
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
    return f.yes_no(
        "driver.channel",
        STATION,
        "A channel of its own",
        known,
        todo,
        drive=at.drive.id,
        where=f"{at.drive.path}.channel",
        destructive=False,
        unknown="Not known yet: give the channel.",
    )
