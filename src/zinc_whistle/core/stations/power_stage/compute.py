"""An integrated driver's stage: its losses and heat, its diodes, and the bulk capacitor beside it."""

from __future__ import annotations

from dataclasses import dataclass

from ...algebra.findings import Remedy
from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import Figure, Node
from ...cases import bus
from ...cases.circuit import DriveCircuit
from ...cases.driving import Driving, Heat
from ...cases.operating import DriveContext
from ...laws import bus_ripple as ripple_laws
from ...laws import capacitor as rules
from ...laws import stage as stage_laws
from ...model.driver import ONE_SWITCH, REVERSING_CONTACTS
from .ratings import capacitor_ratings, passed_duties

STATION = "power_stage"


@dataclass(frozen=True, slots=True)
class PowerStageResult:
    """Heat of the part, and what the bulk capacitor bears at the planned peak and half duty."""

    heat: Heat | None
    ripple_current: Figure
    capacitance_needed: Figure
    bus_ripple: Figure
    rating_needed: Figure
    shoot_through: Figure | None
    any_ripple_current: Node
    any_bus_ripple: Node
    any_rating: Node


def compute(at: DriveContext, solved: DriveCircuit, chosen: Driving | None) -> PowerStageResult:
    """Figures of the stage; without a part only the capacitor's."""
    unit, because = at.unit, [at.drive.signals.chosen("decay")]
    factor = bus.step_factor(at)
    current, frequency = at.starting_current, at.plan.frequency
    passed = passed_duties(at, stage_laws.within_period(solved.anywhere.duty))

    def flows(duty: Node) -> Figure:
        """In the capacitor that is fitted; in one that is not, all that the bridge asks for beyond the mean."""
        if unit.bulk_capacitance.value is not None:
            return bus.ripple_in(at, ripple_laws.ripple_in_the_capacitor, current, duty)
        return rules.ripple_current(factor, current, duty, because=because)

    return PowerStageResult(
        any_ripple_current=flows(passed),
        any_bus_ripple=bus.ripple_in(at, ripple_laws.ripple_on_the_supply, current, passed),
        any_rating=rules.rating_needed(at.volts.any),
        heat=chosen.heat if chosen else None,
        ripple_current=flows(rules.WORST_DUTY),
        capacitance_needed=rules.capacitance_needed(
            factor, current, rules.WORST_DUTY, frequency, unit.ripple_allowed.leaf, because=because
        ),
        bus_ripple=bus.ripple_in(at, ripple_laws.ripple_on_the_supply, current, rules.WORST_DUTY),
        rating_needed=rules.rating_needed(at.volts.full),
        shoot_through=rules.shoot_through(at.volts.full, at.feed_resistance, chosen.part.on_resistance.leaf)
        if chosen is not None
        else None,
    )


def checks(at: DriveContext, chosen: Driving | None, result: PowerStageResult) -> list[Check]:
    """The junction's heat is the driver's check; here are the capacitor and the flyback path."""
    drive, unit = at.drive.id, at.unit
    path = unit.path
    ratings = list(
        capacitor_ratings(
            ripple_limit=unit.bulk_ripple.leaf,
            volts_limit=unit.bulk_voltage.leaf,
            ripple=result.any_ripple_current,
            rating=result.any_rating,
            drive=drive,
            path=path,
        )
    )
    found: list[Check] = []
    if at.drive.signals.pulsed:
        found.append(
            upper(
                "stage.ripple",
                station=STATION,
                title="Ripple on the supply",
                stress=result.any_bus_ripple,
                bound=unit.ripple_allowed.leaf,
                todo="Fit a larger bulk capacitor or one with less series resistance.",
                drive=drive,
                over="warn",
                where=f"{path}.bulk_capacitance",
                destructive=False,
            )
        )
        found += ratings
    elif unit.bulk_capacitance.value is not None:
        # Nothing pulses: a capacitor that is fitted bears the volts and no ripple.
        found += [x for x in ratings if x.code == "stage.capacitor_volts"]
    if chosen is not None:
        found.append(_flyback(at, chosen))
    return found


def _flyback(at: DriveContext, chosen: Driving) -> Check:
    """Where the motor's current goes when the switch opens: with reversing contacts the diode belongs before them."""
    fitted, inside = at.unit.diode_at, chosen.part.diodes == "yes"
    signals, contacts = at.drive.signals, chosen.part.kind in REVERSING_CONTACTS
    turns = contacts or chosen.part.kind not in ONE_SWITCH
    both_ways = turns and (signals.reversal != "one way" or signals.decay == "locked anti-phase")
    where = f"{at.unit.path}.flyback"
    if fitted == "motor" and both_ways:
        if contacts:
            title = "Flyback diode before the reversing contacts"
            instead = "Put it on the transistor's side of the contacts, from the switched line to the supply."
            fix = Remedy("Move the diode to the transistor's side", where, "rails")
        elif inside:
            title = "Diode across a motor that is reversed"
            instead = "Take it away: the bridge has diodes of its own."
            fix = Remedy("Take the diode away", where, "none")
        else:
            title = "Diode across a motor that is reversed"
            instead = "Fit one from each motor terminal to each rail instead."
            fix = Remedy("Move the diodes to the rails", where, "rails")
        return claim(
            "stage.flyback",
            station=STATION,
            title=title,
            holds=False,
            todo=f"Across the motor it conducts, as a short, whenever the motor runs the other way. {instead}",
            drive=at.drive.id,
            where=where,
            remedy=fix,
        )
    if chosen.part.kind == "contacts":
        return claim(
            "stage.flyback",
            station=STATION,
            title="Something takes the spark at the contacts",
            holds=inside or fitted != "none",
            todo="A contact that opens a motor's current burns in its own arc, and the spark disturbs everything near: "
            "fit a diode across the motor where it runs one way, a two-way clamp or 100 Ω with 100 nF where it "
            "reverses.",
            drive=at.drive.id,
            over="warn",
            where=where,
        )
    return claim(
        "stage.flyback",
        station=STATION,
        title="Flyback path",
        holds=inside or fitted != "none",
        todo="Fit a fast diode from the switched line to the supply (on a bridge one "
        "from each motor terminal to each rail), "
        "rated for the motor's current.",
        drive=at.drive.id,
        where=where,
        remedy=Remedy("Diodes are fitted, to the rails", where, "rails"),
    )
