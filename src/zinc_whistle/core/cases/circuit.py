"""The operating cases of one drive with one part in the circuit: named ones to be shown, and all of them to be
searched."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import cast

from ..algebra.corners import Corner
from ..algebra.nodes import Constant, Figure, Leaf, Node, Varied, presence
from ..algebra.rules import AsItIs
from ..laws import chopper as chopper_rules
from ..laws import dc_load as dc_rules
from ..laws import driver as driver_rules
from ..laws import motor as motor_rules
from ..laws import stage as stage_rules
from ..laws import supply as supply_rules
from ..laws.nothing import NO_AMPERES, NO_OHMS, NO_VOLTS
from ..model.driver import ONE_SWITCH, DriverPart
from .axes import COLD, FLAT, FULL, HOT, WINDING
from .operating import Context, DriveContext, LoadContext


@dataclass(frozen=True, slots=True, kw_only=True)
class Anywhere:
    """The cases as templates over supply and winding: what limits are held against, the worst of them searched."""

    stall: Node
    peak: Node
    planned_peak: Node
    delivered: Node
    duty: Node
    source_current: Node
    source_start: Node
    bus_working: Node
    bus_start: Node
    bus_jam: Node
    braking: Node
    known: tuple[tuple[Node, Corner, Node], ...] = ()
    """Corners that have a figure of their own already: template, corner, figure."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DriveCircuit:
    """A drive's operating cases with one part in the circuit. ``delivered`` is the motor's speed or the load's
    volts."""

    stall_full: Figure
    stall_flat: Figure
    peak: Figure
    planned_peak: Figure
    delivered_full: Figure
    delivered_flat: Figure
    duty_full: Node
    duty_nominal: Node
    duty_flat: Node
    averaged_full: Node
    averaged_duty: Node
    """Of a nominal supply, as the mean volts have it: what a model without pulses must be driven with."""
    source_current: Figure
    source_start: Figure
    bus_working: Figure
    bus_start: Figure
    bus_jam: Figure
    driver_drop: Figure
    anywhere: Anywhere

    @property
    def of_motor(self) -> Circuit | None:
        """These cases, if they are a motor's."""
        return None


@dataclass(frozen=True, slots=True, kw_only=True)
class Circuit(DriveCircuit):
    """A motor's operating cases."""

    reversal: Figure
    braking: Figure
    motor_volts: Figure
    inner_resistance: Figure
    any_inner: Node
    """The same with everything cold or hot."""
    lost_volts: Figure
    stall_torque: Figure

    @property
    def of_motor(self) -> Circuit:
        return self


Follower = Callable[[Node], Node]
"""What a switch whose motor hangs on its source gives at most, of the supply's volts."""


def solve(at: DriveContext, part: DriverPart | None, follows: Follower | None = None) -> DriveCircuit:
    """The operating cases of any drive with ``part`` between source and load (no drop where there is none)."""
    if (motor := at.of_motor) is not None:
        return circuit(motor, part, follows)
    return load_circuit(cast(LoadContext, at), part, follows)


@dataclass(frozen=True, slots=True)
class _Ways:
    """What the current meets in the driver: volts that do not go with it, and ohms, cold and hot."""

    fixed: Node
    cold: Node
    hot: Node
    follows: Follower | None = None

    def drop(self, volts: Node) -> Node:
        """Volts lost of ``volts``: a follower keeps all that is above what it gives."""
        return self.fixed if self.follows is None else stage_rules.follower_lost(volts, self.follows(volts))


def _through(part: DriverPart | None, at: DriveContext, follows: Follower | None) -> _Ways:
    if part is None:
        return _Ways(NO_VOLTS, NO_OHMS, NO_OHMS)
    because = [at.unit.chosen("made_of")]
    cold = driver_rules.joined_resistance(part.on_resistance.leaf, at.drive.joined.leaf, because=because)
    return _Ways(part.drop_v.leaf, cold, driver_rules.hot_resistance(cold, part.hot_factor.leaf), follows)


def load_circuit(at: LoadContext, part: DriverPart | None, follows: Follower | None = None) -> DriveCircuit:
    """The cases of a resistive load: its current at full and flat, its inrush, and the volts it gets."""
    way, volts, feed = _through(part, at, follows), at.volts, at.feed_resistance
    load = at.load
    round_cold = driver_rules.loop_resistance(
        volts.resistance, at.supply_wire.resistance, way.cold, at.motor_wire.resistance, load.resistance, case="cold"
    )
    steady = [
        driver_rules.stall_in_circuit(v, way.drop(v), NO_VOLTS, round_cold, case=c, title="Current, switched on")
        for v, c in ((volts.full, "supply full"), (volts.flat, "supply flat"))
    ]
    inrush = dc_rules.inrush(steady[0], load.inrush_factor, because=[at.drive.load.chosen("kind")])
    peak = driver_rules.worst_of(inrush, inrush, title="Worst peak current", because=at.links)
    given = [
        dc_rules.volts_across(i, load.resistance, case=c)
        for i, c in zip(steady, ("supply full", "supply flat"), strict=True)
    ]
    drawn = supply_rules.source_current(load.duty, steady[0], case="working")
    bus_working = supply_rules.loaded_voltage(volts.flat, steady[1], feed, case="flat, working")
    bus_start = supply_rules.loaded_voltage(volts.flat, inrush, feed, case="flat, starting")
    on = driver_rules.stall_in_circuit(
        volts.any, way.drop(volts.any), NO_VOLTS, round_cold, title="Current, switched on"
    )
    rush = dc_rules.inrush(on, load.inrush_factor, because=[at.drive.load.chosen("kind")])
    any_peak = driver_rules.worst_of(rush, rush, title="Worst peak current", because=at.links)
    across = dc_rules.volts_across(on, load.resistance)
    anywhere = Anywhere(
        stall=on,
        peak=any_peak,
        planned_peak=any_peak,
        delivered=across,
        duty=load.duty,
        source_current=supply_rules.source_current(load.duty, on, case="working"),
        source_start=rush,
        bus_working=supply_rules.loaded_voltage(volts.any, on, feed, case="working"),
        bus_start=supply_rules.loaded_voltage(volts.any, rush, feed, case="starting"),
        bus_jam=supply_rules.loaded_voltage(volts.any, load.blocked or on, feed, case="on for good"),
        braking=NO_AMPERES,
        known=(
            (on, FULL, steady[0]),
            (on, FLAT, steady[1]),
            (rush, FULL, inrush),
            (any_peak, FULL, peak),
            (across, FULL, given[0]),
            (across, FLAT, given[1]),
        ),
    )
    return DriveCircuit(
        anywhere=anywhere,
        stall_full=steady[0],
        stall_flat=steady[1],
        peak=peak,
        planned_peak=peak,
        delivered_full=given[0],
        delivered_flat=given[1],
        duty_full=load.duty,
        duty_nominal=load.duty,
        duty_flat=load.duty,
        averaged_full=load.duty,
        averaged_duty=load.duty,
        source_current=drawn,
        source_start=inrush,
        bus_working=bus_working,
        bus_start=bus_start,
        bus_jam=supply_rules.loaded_voltage(volts.flat, load.blocked or steady[1], feed, case="flat, on for good"),
        driver_drop=driver_rules.driver_drop(way.drop(volts.nominal), way.hot, load.working_current, case="working"),
    )


def circuit(at: Context, part: DriverPart | None, follows: Follower | None = None) -> Circuit:
    """The operating cases of a motor's drive with ``part`` between source and motor."""
    way = _through(part, at, follows)
    drop, cold_r, hot_r = way.drop, way.cold, way.hot
    brush, k_e = at.motor.brush_drop, at.motor.motor_constant
    full, nominal, flat, source_r = at.volts.full, at.volts.nominal, at.volts.flat, at.volts.resistance
    feed, leads, wire_r = at.feed_resistance, at.motor_wire.resistance, at.supply_wire.resistance
    total_cold = driver_rules.loop_resistance(source_r, wire_r, cold_r, leads, at.winding_cold, case="cold")
    total_hot = driver_rules.loop_resistance(source_r, wire_r, hot_r, leads, at.winding_hot, case="hot")
    total = Varied(WINDING, (total_cold, total_hot))

    def stalled(volts: Node, ohms: Node, case: str = "", because: Sequence[Leaf] = ()) -> Figure:
        return driver_rules.stall_in_circuit(volts, drop(volts), brush, ohms, case=case, because=because)

    def fastest(volts: Node, ohms: Node, case: str = "") -> Figure:
        return driver_rules.top_speed(V_oc=volts, V_0=drop(volts), V_b=brush, I=working, R=ohms, K_e=k_e, case=case)

    def reversed_at(volts: Node, ohms: Node, top: Node) -> Figure:
        return driver_rules.reversal_in_circuit(
            V_oc=volts, V_0=drop(volts), V_b=brush, R=ohms, K_e=k_e, omega=top, case="reversed at full speed"
        )

    working, starting, speed = at.working_current, at.starting_current, at.working_speed
    stall_full = stalled(full, total_cold, "supply full, cold", at.links)
    stall_flat = stalled(flat, total_cold, "supply flat, cold")
    top_full = fastest(full, total_cold, "supply full, cold")
    top_flat = fastest(flat, total_hot, "supply flat, hot")
    reversal = reversed_at(full, total_cold, top_full)
    brake_loop = driver_rules.loop_resistance(NO_OHMS, NO_OHMS, cold_r, leads, at.winding_cold, case="motor shorted")
    braking = driver_rules.braking_in_circuit(
        k_e, at.braked_from, way.fixed, brush, brake_loop, case="from working speed"
    )
    volts = motor_rules.motor_volts(k_e, speed, working, at.winding_hot, brush, case="working, hot")
    averaged = [
        supply_rules.duty(driver_rules.bridge_volts(volts, drop(v), hot_r, leads, working), v, working, feed, case=c)
        for v, c in ((full, "supply full"), (nominal, "supply nominal"), (flat, "supply flat"))
    ]
    if not at.drive.signals.pulsed:
        averaged = [
            ALL_THE_TIME(ALWAYS, case=d.case, title=d.title, because=_told(at), kind="fraction") for d in averaged
        ]
    duties = [_chopped(at, part, d, speed=speed, current=working, way=way) for d in averaged]
    inner = driver_rules.loop_resistance(
        NO_OHMS, NO_OHMS, hot_r, leads, at.winding_hot, case="hot", title="Resistance after the bridge"
    )
    inner_cold = driver_rules.loop_resistance(
        NO_OHMS, NO_OHMS, cold_r, leads, at.winding_cold, case="cold", title="Resistance after the bridge"
    )
    peak = _worst_peak(at, stall_full, reversal, braking)
    planned = _planned_peak(at, starting, braking, stall_full)
    source_start = _source_at_start(at, starting, stall_flat)
    bus_working = supply_rules.loaded_voltage(flat, working, feed, case="flat, working")
    bus_start = _bus_at_start(at, flat, starting, stall_flat, "flat, starting")
    bus_jam = supply_rules.loaded_voltage(flat, stall_flat, feed, case="flat, jammed")

    any_stall, any_top = stalled(at.volts.any, total, because=at.links), fastest(at.volts.any, total)
    any_reversal = reversed_at(at.volts.any, total, any_top)
    any_peak = _worst_peak(at, any_stall, any_reversal, braking)
    any_planned = _planned_peak(at, starting, braking, any_stall)
    any_averaged, any_duty = _any_duty(at, part, way)
    any_start = _bus_at_start(at, at.volts.any, starting, any_stall, "starting")
    any_working = supply_rules.loaded_voltage(at.volts.any, working, feed, case="working")
    any_jam = supply_rules.loaded_voltage(at.volts.any, any_stall, feed, case="jammed")
    anywhere = Anywhere(
        stall=any_stall,
        peak=any_peak,
        planned_peak=any_planned,
        delivered=any_top,
        duty=any_duty,
        source_current=supply_rules.source_current(any_averaged, at.any_current, case="working"),
        source_start=_source_at_start(at, starting, any_stall),
        bus_working=any_working,
        bus_start=any_start,
        bus_jam=any_jam,
        braking=braking,
        known=(
            (any_stall, FULL | COLD, stall_full),
            (any_stall, FLAT | COLD, stall_flat),
            (any_top, FULL | COLD, top_full),
            (any_top, FLAT | HOT, top_flat),
            (any_reversal, FULL | COLD, reversal),
            (any_peak, FULL | COLD, peak),
            (any_planned, FULL | COLD, planned),
            (any_working, FLAT, bus_working),
            (any_start, FLAT | COLD, bus_start),
            (any_jam, FLAT | COLD, bus_jam),
        ),
    )
    return Circuit(
        anywhere=anywhere,
        stall_full=stall_full,
        stall_flat=stall_flat,
        reversal=reversal,
        braking=braking,
        peak=peak,
        planned_peak=planned,
        delivered_full=top_full,
        delivered_flat=top_flat,
        motor_volts=volts,
        duty_full=duties[0],
        duty_nominal=duties[1],
        duty_flat=duties[2],
        averaged_full=averaged[0],
        averaged_duty=averaged[1],
        source_current=supply_rules.source_current(averaged[1], working, case="working"),
        source_start=source_start,
        bus_working=bus_working,
        bus_start=bus_start,
        bus_jam=bus_jam,
        driver_drop=driver_rules.driver_drop(drop(nominal), hot_r, working, case="working"),
        inner_resistance=inner,
        any_inner=Varied(WINDING, (inner_cold, inner)),
        stall_torque=driver_rules.stall_torque_left(k_e, stall_flat, at.motor.friction_a, case="supply flat, cold"),
        lost_volts=driver_rules.fixed_drops(drop(nominal), brush, because=[at.drive.motor.chosen("known_by")]),
    )


def _any_duty(at: Context, part: DriverPart | None, way: _Ways) -> tuple[Figure, Figure]:
    """The averaged and the real duty at any speed that is asked for, from any supply, with everything cold or hot."""
    k_e, leads, current, brush = at.motor.motor_constant, at.motor_wire.resistance, at.any_current, at.motor.brush_drop
    winding = Varied(WINDING, (at.winding_cold, at.winding_hot))
    volts = motor_rules.motor_volts(k_e, at.any_speed, current, winding, brush, case="working")
    ohms = Varied(WINDING, (way.cold, way.hot)) if way.cold is not way.hot else way.hot
    bridge = driver_rules.bridge_volts(volts, way.drop(at.volts.any), ohms, leads, current)
    averaged = supply_rules.duty(bridge, at.volts.any, current, at.feed_resistance)
    if not at.drive.signals.pulsed:
        always = ALL_THE_TIME(ALWAYS, title=averaged.title, because=_told(at), kind="fraction")
        return always, always
    real = _chopped(
        at,
        part,
        averaged,
        speed=at.any_speed,
        current=current,
        way=way,
        hot=ohms,
        winding=winding,
        frequency=at.plan.any_frequency,
    )
    return averaged, real


def _chopped(
    at: Context,
    part: DriverPart | None,
    averaged: Figure,
    *,
    speed: Node,
    current: Node,
    way: _Ways,
    hot: Node | None = None,
    winding: Node | None = None,
    frequency: Node | None = None,
) -> Figure:
    """The duty of one switch and a diode, whose current may end in each period; of a bridge the averaged one.

    A capacitor evens the source's sag out, as far as it is large enough for the pulse.
    """
    if part is None or part.kind not in ONE_SWITCH or not at.drive.signals.pulsed:
        return averaged
    motor, frequency = at.motor, frequency or at.plan.frequency
    volts, feed, held = averaged.inputs[1], at.feed_resistance, at.unit.bulk_capacitance
    choices = [presence(at.drive.motor.inductance.leaf), presence(held.leaf), at.unit.chosen("made_of")]
    if motor.inductance.value is None or frequency.value is None or averaged.value is None:
        return averaged
    within: Node = feed
    if held.value is not None:
        within = chopper_rules.pulse_resistance(
            feed, chopper_rules.sag_share(feed, held.leaf, averaged, frequency, case=averaged.case)
        )
    return chopper_rules.chopped_duty(
        V=chopper_rules.while_on(
            V_oc=volts, D=averaged, I=current, R_s=feed, R_p=within, V_0=way.drop(volts), case=averaged.case
        ),
        E=motor_rules.motor_volts(motor.motor_constant, speed, NO_AMPERES, at.winding_hot, motor.brush_drop),
        R=driver_rules.loop_resistance(
            NO_OHMS, NO_OHMS, hot or way.hot, at.motor_wire.resistance, winding or at.winding_hot
        ),
        L=motor.inductance,
        I=current,
        f=frequency,
        V_d=diode_drop(at),
        R_s=within,
        case=averaged.case,
        title=averaged.title,
        because=[*averaged.because, *choices],
    )


def diode_drop(at: DriveContext) -> Node:
    """What the flyback diode drops: the stage's own one, or a silicon one."""
    own = at.unit.stage.diode if at.unit.made_of == "stage" else None
    return own.forward_v.leaf if own is not None and own.forward_v.value is not None else chopper_rules.DIODE_V


ALWAYS = Constant("100 %", 1.0, "fraction", "on is on all the time")
ALL_THE_TIME = AsItIs("switched on or off: on is on all the time")


def _told(at: DriveContext) -> list[Leaf]:
    """The choices that decide how a start begins."""
    return [at.drive.signals.chosen("soft_start"), at.drive.signals.chosen("told_by")]


def _source_at_start(at: Context, starting: Figure, stall: Figure) -> Figure:
    """What the start takes from the source, at most: a ramp ends at the starting current, an unramped start stalls."""
    soft = at.drive.signals.ramped
    return supply_rules.as_drawn(starting if soft else stall, because=_told(at))


def _worst_peak(at: Context, stall: Figure, reversal: Figure, braking: Figure) -> Figure:
    """Stall, or worse: sudden reversal and braking only where the drive does them."""
    signals = at.drive.signals
    because = [signals.chosen("reversal"), signals.chosen("braking"), signals.chosen("told_by")]
    if signals.slams:
        return driver_rules.worst_of(stall, reversal, because=because)
    if signals.braking == "brake":
        return driver_rules.worst_of(stall, braking, because=because)
    return driver_rules.worst_of(stall, stall, because=because)


def _planned_peak(at: Context, starting: Figure, braking: Figure, stall: Figure) -> Figure:
    """The peak when soft start and a limit work as planned."""
    signals = at.drive.signals
    because = [*_told(at), signals.chosen("braking"), presence(at.unit.current_limit.leaf)]
    limit: Node = at.unit.current_limit.leaf if at.unit.current_limit.value is not None else starting
    first = driver_rules.worst_of(starting if signals.ramped else stall, limit, because=because)
    first = driver_rules.worst_of(first, at.load.peak_current, because=because)
    if signals.braking == "brake":
        return driver_rules.worst_of(first, braking, title="Planned peak current", because=because)
    return driver_rules.worst_of(first, first, title="Planned peak current", because=because)


def _bus_at_start(at: Context, volts: Node, starting: Figure, stall: Figure, case: str) -> Figure:
    soft = at.drive.signals.ramped
    return supply_rules.loaded_voltage(
        volts,
        starting if soft else stall,
        at.feed_resistance,
        case=case,
        because=_told(at),
    )
