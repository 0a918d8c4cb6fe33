"""With the motor and its load: held fast on a volt, current, sag, sense, warmth, and all again."""

from __future__ import annotations

from dataclasses import replace

from ...algebra.nodes import Constant, Node
from ...algebra.quantities import phrase
from ...cases import breakaway
from ...cases.driving import Driving, sense_of
from ...cases.operating import Context
from ...laws import bench as rules
from ...laws import driver as driver_rules
from ...laws import motor as motor_laws
from ...laws.nothing import NO_OHMS
from .places import Places
from .step import Step, dc_volts, meter_range, series_setting, step
from .telling import BY_PORT, ordered
from .warm_steps import warm_steps

LOADED_SHARE = 0.25
STALL_V = Constant("1 V", 1.0, "voltage", "chosen: so low that a stall harms nothing")
STALL_SHARE = 0.15
FASTER_SHARE = 0.02
STEPS_DOWN = ("clear", "duty {n} 250", "duty {n} 200", "duty {n} 150", "duty {n} 100", "duty {n} 50", "duty {n} 0")


def loaded_steps(at: Context, chosen: Driving | None) -> list[Step]:
    """The steps with the load on, in the order in which they are safe."""
    more = (_lowering, _stops_at, _sag, _sense, warm_steps, _again)
    first = [_stall_low(at), ordered(_loaded(at, chosen), at, 1.0)]
    return [*first, *(s for make in more for s in make(at, chosen))]


def _stall_low(at: Context) -> Step:
    """Held fast on a volt: the stall at full volts follows in proportion, and nothing is risked."""
    round_r = driver_rules.loop_resistance(
        NO_OHMS, NO_OHMS, NO_OHMS, at.motor_wire.resistance, at.motor.resistance_25, case="held, 25 °C"
    )
    expected = rules.held_current(STALL_V, at.motor.brush_drop, round_r)
    return step(
        "stall",
        title="Held fast on one volt",
        where="In series with one motor lead, the motor straight on a bench supply",
        instrument="Meter, current in series",
        setting="Bench supply at 1 V"
        + _must_give(expected.value)
        + "; "
        + (meter_range(expected.value, "current") if expected.value else "highest range first"),
        expected=expected,
        unit="A",
        share=STALL_SHARE,
        reason="the winding's resistance, the brushes' drop and the lead",
        caution="Hold the shaft in a clamp, not in your hand.",
        stage="motor",
        purpose="The stall current that driver, fuse and wire are sized by.",
        do="The other school holds it at full volts for a moment: truer for the brushes' drop, but it may throw the "
        "clamp, trip the driver or weaken the magnets. This one risks nothing, and reads the winding.",
        stop="A smell, or the shaft slips.",
        means="Lower: a brush that does not touch, thin leads. Higher: a shorted winding, or another motor.",
        probes=Places(at).motor,
    )


def _must_give(amperes: float | None) -> str:
    """What the bench supply must be able to give: in its limit it reads a stall that is none."""
    return f", its limit above {phrase(1.5 * amperes, 'current')}" if amperes else ""


def _loaded(at: Context, chosen: Driving | None) -> Step:
    start = at.starting_current.value if at.drive.signals.ramped else None
    if start is None and chosen is not None:
        start = chosen.circuit.stall_full.value
    expected = at.load.working_current
    return step(
        "loaded",
        title="Current at work",
        where="In series with one motor lead, its own load on",
        instrument="Meter, current in series",
        setting=series_setting(expected.value, start),
        expected=expected,
        unit="A",
        share=LOADED_SHARE,
        reason="friction of the mechanism, ±25 % until it has been measured",
        caution="Hair, sleeves and fingers away from what turns.",
        stage="load",
        do="Run it as it will be used, some turns until it is even.",
        purpose="Heat, fuse and battery are worked out from it.",
        stop="More than twice the figure, a screech, or smoke.",
        means="Higher: it binds, or the load is heavier than told. Lower: it slips.",
        probes=(Places(at).outputs[0], Places(at).motor[0]),
    )


def _lowering(at: Context, chosen: Driving | None) -> list[Step]:
    """What the load gives back on its way: the motor is pulled and holds against it."""
    if at.load.lowering is None:
        return []
    places = Places(at)
    made = step(
        "lowering",
        title="Current while its load pulls it",
        where="In series with one motor lead, its own load on, on the way on which it is pulled",
        instrument="Meter, current in series",
        setting=series_setting(at.load.lowering.value, at.load.peak_current.value),
        expected=at.load.lowering,
        unit="A",
        share=LOADED_SHARE,
        reason="friction of the mechanism, ±25 % until it has been measured; against the sign of lifting",
        caution="Nothing and nobody below it, and something that catches it: a driver that loses its supply lets go.",
    )
    limit = at.part.v_absolute.value if at.part is not None else None
    return [
        replace(
            made,
            stage="load",
            do="Half the height first, the least load first; note its sign: on this way the motor gives.",
            purpose="It is held against gravity by this current, and what comes back lifts the supply.",
            stop="It gains speed"
            + (f", or the supply nears the {phrase(limit, 'voltage')} that the driver bears." if limit else "."),
            means="Far lower: the gear holds it by its own friction. Higher: a heavier load than told.",
            probes=(places.outputs[0], places.motor[0]),
        )
    ]


def _stops_at(at: Context, chosen: Driving | None) -> list[Step]:
    """The duty at which it comes to rest, turned down slowly: what friction and load take, and nothing is left."""
    circuit = chosen.circuit.of_motor if chosen is not None else None
    if circuit is None or not at.drive.signals.pulsed or at.drive.closes_loop or at.drive.signals.told_by == "hand":
        return []
    expected = motor_laws.breakaway_duty(
        at.load.slow_current,
        circuit.inner_resistance,
        circuit.lost_volts,
        at.volts.nominal,
        title="Duty at which it stops",
    )
    made = step(
        "stops_at",
        title="Duty at which it stops, turned down slowly",
        where="At the shaft; the duty as it was ordered",
        instrument="Your eyes",
        setting="From a quarter duty down, a hundredth at a time, two seconds at each",
        expected=expected,
        unit="%",
        share=LOADED_SHARE,
        reason="friction is uneven round a turn; where currents end in each period it turns still at less",
    )
    high = made.high
    if high is not None and breakaway.known(at):
        starts = motor_laws.breakaway_duty(
            breakaway.current(at), circuit.inner_resistance, circuit.lost_volts, at.volts.nominal, title="Starts at"
        )
        high = max(high, starts.value or 0.0)
    made = replace(
        made,
        low=None,
        high=high,
        stage="load",
        purpose="The slowest that it can be asked for in open loop; below it the winding only warms.",
        means="Higher: it binds somewhere, a tired source, or friction beyond what was told.",
    )
    if at.drive.signals.by_program and at.drive.panel.command == BY_PORT:
        return [replace(made, type=STEPS_DOWN)]
    return [replace(made, do="Start it at the knob's quarter, then turn the knob down.")] if at.drive.sets_speed else []


def _sag(at: Context, chosen: Driving | None) -> list[Step]:
    if chosen is None:
        return []
    lowest: Node = chosen.circuit.bus_start
    made = step(
        "sag",
        title="Supply while it starts, the lowest",
        where="Driver, supply to ground",
        instrument="Oscilloscope, or a meter with MIN",
        setting="DC coupling, single shot at half the supply; a meter's MIN is too slow for less than 0.2 s",
        expected=lowest,
        unit="V",
        share=0.0,
        reason="the source flat; a full one stays higher",
        extra=0.05 * (at.volts.nominal.value or 0.0),
    )
    places = Places(at)
    return [
        replace(
            made,
            high=at.volts.full.value,
            stage="load",
            purpose="What the controller's supply must ride through.",
            means="Lower: a weak cell, a thin or long lead, a bad contact.",
            probes=(places.supply, places.ground),
        )
    ]


def _sense(at: Context, chosen: Driving | None) -> list[Step]:
    if at.part is None or at.part.sense_gain.value is None or not at.drive.signals.by_program:
        return []
    expected = rules.sensed_at(sense_of(at, at.part), at.load.working_current)
    places = Places(at)
    return [
        step(
            "sense",
            title="Current sense at work",
            where="Driver's sense line to the controller's ground",
            instrument="Meter",
            setting=dc_volts(expected.value),
            expected=expected,
            unit="V",
            share=LOADED_SHARE,
            reason="the current's own ±25 %, and the gain's few per cent",
            stage="load",
            purpose="The program stops a jam by it.",
            means="Nothing: the wire, or the clamp conducts. Twice or half: the resistor, or joined channels.",
            probes=(places.driver("SENSE"), places.ground),
        )
    ]


def _again(at: Context, chosen: Driving | None) -> list[Step]:
    if chosen is None:
        return []
    places = Places(at)
    made = step(
        "again",
        title="Supply at work, on the final source, the programming lead out",
        where="Driver, supply to ground",
        instrument="Meter",
        setting="DC volts; then the steps of direction, stop and limits once more",
        expected=chosen.circuit.bus_working,
        unit="V",
        share=FASTER_SHARE,
        reason="between the flat source at work and the full one at rest",
    )
    return [
        replace(
            made,
            high=at.volts.full.value,
            stage="long",
            purpose="The lead's ground and supply helped until now: it must do without.",
            means="Restarts or a dead port: a ground that was only the lead's.",
            probes=(places.supply, places.ground),
        )
    ]
