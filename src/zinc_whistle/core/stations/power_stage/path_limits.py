"""What else the current of a stage flows through: diode, contacts, fuse, shunt, track, capacitor."""

from __future__ import annotations

from collections.abc import Iterator

from ...algebra.findings import Remedy
from ...algebra.limits import Check
from ...cases import bus, heating
from ...cases.course import start_time
from ...cases.stage import at_stall
from ...laws import bus_ripple as ripple_laws
from ...laws import stage as stage_laws
from ...laws import switch as switch_laws
from ...laws import wiring as wire_rules
from ...model.stage import CONTACT_CIRCUITS, DIODE_CIRCUITS
from .ratings import diode_ratings, held_duties
from .stage_checks import StageChecks


def diode(c: StageChecks) -> Iterator[Check]:
    stage, at, k = c.stage, c.at, c.k
    if stage.circuit not in DIODE_CIRCUITS:
        return
    diode = stage.diode
    if diode is None:
        yield c.so(
            "diode",
            "A flyback diode is chosen",
            None,
            "",
            "diode",
            unknown="Not known yet: choose the flyback diode.",
        )
        return
    off = k(stage_laws.rest_of, held_duties(at, c.anywhere.around.duty, diode.settle_time))
    warming = heating.any_heating(at, heating.of_diode(diode))
    mean = k(stage_laws.diode_mean, warming, off)
    warm = k(
        stage_laws.warmed,
        at.board_air,
        k(stage_laws.diode_heat, diode.forward_v.leaf, warming, off),
        diode.to_air.leaf,
        title="Junction of the diode",
    )
    volts, current, *rest = diode_ratings(
        diode,
        bus=c.anywhere.bus,
        current=mean,
        # A jam may be switched off at any moment of it.
        torn=at_stall(at),
        frequency=at.plan.any_frequency,
        drive=c.drive,
        where=f"{c.path}.diode",
    )
    yield volts
    yield current
    yield c.up(
        "diode_heat",
        title="Diode, rise to its limit",
        stress=k(stage_laws.rise, warm, at.board_air),
        limit=k(stage_laws.rise, diode.junction_limit.leaf, at.board_air),
        todo="Give the diode a heat sink, or take one that drops less.",
        field="diode",
    )
    yield from rest


def relay(c: StageChecks) -> Iterator[Check]:
    stage, at, k = c.stage, c.at, c.k
    if stage.circuit not in CONTACT_CIRCUITS:
        return
    relay = stage.relay
    if relay is None:
        yield c.so("relay", "A relay is chosen", None, "", "relay", unknown="Not known yet: choose the relays.")
        return
    yield c.up(
        "contact",
        title="Contact current, DC",
        # Without a ramp the motor starts from a stall, and the contacts carry that.
        stress=at.starting_current if at.drive.signals.ramped else at_stall(at),
        because=[at.drive.signals.chosen("soft_start"), at.drive.signals.chosen("told_by")],
        limit=relay.contact_a.leaf,
        todo="Take a relay whose DC rating carries the start, or ramp more slowly.",
        field="relay",
    )
    yield c.up(
        "contact_volts",
        title="Contact voltage, DC",
        stress=at.volts.any,
        limit=relay.contact_v.leaf,
        todo="Take a relay rated for this DC voltage: an arc that AC puts out burns on.",
        field="relay",
    )
    motor = getattr(at, "motor", None)
    if motor is not None and stage.diode is not None:
        decay = k(
            switch_laws.current_decay,
            motor.inductance,
            motor.resistance_25,
            at.starting_current,
            stage.diode.forward_v.leaf,
        )
        dwell = k(switch_laws.relay_dwell, decay, relay.release.leaf, relay.bounce.leaf)
        yield c.low(
            "pause",
            title="Pause round a change-over",
            value=stage.relay_pause.leaf,
            limit=dwell,
            todo="Wait longer: the current must die, the contact move and come to rest before power returns.",
            field="relay_pause",
        )


def protection(c: StageChecks) -> Iterator[Check]:
    stage, at, k = c.stage, c.at, c.k
    fuse = stage.fuse
    if fuse is None:
        return
    yield c.up(
        "fuse",
        title="Fuse, current for good",
        stress=heating.any_heating(at, heating.FUSE, c.anywhere.pulsed),
        limit=k(stage_laws.fuse_for_good, fuse.rated_a.leaf),
        todo="Take the next larger fuse, if the wire bears it.",
        field="fuse",
        over="warn",
        destructive=False,
    )
    yield c.up(
        "fuse_volts",
        title="Fuse, DC voltage",
        stress=at.volts.any,
        limit=fuse.rated_v.leaf,
        todo="Take a fuse rated for this DC voltage.",
        field="fuse",
    )
    if fuse.melting.value is not None:
        motor = at.of_motor
        if motor is not None:
            ramp = start_time(motor)
            start = k(stage_laws.start_integral, at.starting_current if at.drive.signals.ramped else at_stall(at), ramp)
            yield c.up(
                "fuse_start",
                title="Fuse against the start",
                stress=start,
                limit=k(stage_laws.fuse_bears, fuse.melting.leaf, fuse.rated_a.leaf, ramp),
                todo="Take a slow fuse, or start more quickly at less current.",
                field="fuse",
                over="warn",
                destructive=False,
            )
        yield c.up(
            "fuse_wire",
            title="Wire behind the fuse",
            stress=fuse.melting.leaf,
            limit=k(stage_laws.wire_integral, at.supply_wire.area),
            todo="Take thicker wire or a quicker fuse.",
            field="fuse",
        )


def sense(c: StageChecks) -> Iterator[Check]:
    stage, at, k = c.stage, c.at, c.k
    if stage.shunt.value is None:
        return
    heat = k(switch_laws.shunt_heat, heating.any_heating(at, heating.SHUNT, c.anywhere.pulsed), stage.shunt.leaf)
    yield c.up(
        "shunt_heat",
        title="Heat in the shunt",
        stress=heat,
        limit=stage.shunt_rating.leaf,
        todo="Take a smaller shunt, or one for more power.",
        field="shunt",
    )
    if not at.drive.signals.by_program:  # nothing reads it
        return
    peak = k(stage_laws.sensed, at.starting_current, stage.shunt.leaf, stage.sense_gain.leaf)
    clamped = stage.sense_clamp == "yes"
    yield c.up(
        "sense_range",
        title="Sense signal at the start",
        stress=peak,
        limit=at.controller.sense_reference.leaf,
        todo="Take a smaller shunt or less gain: beyond full scale the converter is blind.",
        field="sense_gain",
        over="warn",
        destructive=False,
    )
    stall = k(stage_laws.sensed, at_stall(at), stage.shunt.leaf, stage.sense_gain.leaf, title="Sense signal, stalled")
    over = stall.value is not None and stall.value > (at.controller.sense_reference.value or 0.0)
    yield c.so(
        "sense_clamp",
        "The sense pin is clamped in every state",
        clamped or not over,
        "A stall would put more than the pin bears on it: a series resistor and a zener to ground.",
        "sense_clamp",
        remedy=Remedy("Fit a resistor and a zener", f"{c.path}.sense_clamp", "yes"),
    )


def copper(c: StageChecks) -> Iterator[Check]:
    stage, at, k = c.stage, c.at, c.k
    if stage.track_width.value is None:
        return
    section = k(wire_rules.track_section, stage.track_width.leaf, stage.copper.leaf)
    warms = k(
        wire_rules.track_warms,
        heating.any_heating(at, heating.TRACK, c.anywhere.pulsed),
        wire_rules.TRACK[stage.track_layer],
        section,
    )
    yield c.up(
        "track",
        title="Track's warmth",
        stress=warms,
        limit=stage.track_rise.leaf,
        todo="Take a wider track, thicker copper, or solder a wire along it. The chart ends at 35 A and 10 mm.",
        field="track_width",
        because=[stage.chosen("track_layer")],
    )


def capacitor(c: StageChecks) -> Iterator[Check]:
    stage, at, k = c.stage, c.at, c.k
    if at.unit.bulk_ripple.value is None or not at.drive.signals.pulsed:
        return
    warming = heating.any_heating(at, heating.CAPACITOR)
    ripple = bus.ripple_in(at, ripple_laws.ripple_in_the_capacitor, warming, c.anywhere.around.duty)
    core = k(stage_laws.core_temperature, at.board_air, ripple, at.unit.bulk_ripple.leaf)
    life = k(stage_laws.capacitor_life, stage.life.leaf, stage.life_at.leaf, core)
    yield c.low(
        "capacitor_life",
        title="Capacitor's life",
        value=life,
        limit=stage.life_wanted.leaf,
        todo="Take a capacitor for more ripple, 105 °C or longer life, or give it cooler air.",
        field="life",
        over="warn",
        destructive=False,
    )
