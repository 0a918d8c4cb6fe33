"""The test sheet: steps made from the design, each with its expected reading and the instrument's setting."""

from __future__ import annotations

from dataclasses import replace

from ...algebra.nodes import Constant, Leaf, Node
from ...algebra.quantities import phrase
from ...captures.wave import Wave
from ...cases.driving import Driving
from ...cases.encoder import EncoderResult
from ...cases.operating import Context, DriveContext, LoadContext
from ...cases.servo import ServoResult
from ...laws import bench as rules
from ...laws import driver as driver_rules
from ...laws import motor as motor_rules
from ...laws.nothing import NO_OHMS, NO_VOLTS
from ...model.bench import STAGES
from ...model.board import lit
from ...model.servo import ServoSpec
from .cold_steps import cold_steps
from .encoder_steps import encoder_steps
from .input_steps import input_steps
from .load_steps import loaded_steps
from .places import Places
from .scope import scope_setting
from .signal_steps import signal_steps
from .stage_steps import lamp_step, stage_steps
from .step import Step, dc_volts, meter_range, series_setting, step
from .stop_steps import stop_steps
from .telling import ordered

STATION = "bench"
RAIL_SHARE = 0.05
IDLE_SHARE = 0.3
CURRENT_SHARE = 0.15
SPEED_SHARE = 0.05


def steps(at: Context, chosen: Driving | None, counts: EncoderResult) -> tuple[Step, ...]:
    """The test sheet of one drive, in the order in which it is safe to do it."""
    found = [
        *cold_steps(at),
        *_power(at, chosen),
        *stage_steps(at),
        *input_steps(at),
        *signal_steps(at, chosen),
        *lamp_step(at),
        *encoder_steps(at, counts),
        *stop_steps(at, chosen),
        *_motor(at, chosen),
        *loaded_steps(at, chosen),
    ]
    return in_order(found)


def in_order(steps: list[Step]) -> tuple[Step, ...]:
    """The steps by their stages, those of one stage as they were told."""
    order = list(STAGES)
    return tuple(sorted(steps, key=lambda s: order.index(s.stage)))


def _power(at: DriveContext, chosen: Driving | None) -> list[Step]:
    source, places = at.volts, Places(at)
    full, flat = source.full.value, source.flat.value
    setting = dc_volts(full)
    rest = Step(
        id="rail",
        title="Source at rest",
        where="Fuse, out side, to ground" if at.source.fuse.value is not None else "Source, plus to minus",
        instrument="Meter",
        setting=setting,
        expected=source.nominal,
        kind="voltage",
        unit="V",
        low=flat,
        high=full,
        reason="between flat and full",
        caution="Fuse first, at the battery. Check polarity before the driver is joined.",
        stage="power",
        purpose="All else stands on it, and it is the last moment to find plus and minus changed over.",
        means="Below: empty, or a dead cell. Nothing: the fuse. A minus sign: changed over.",
        probes=(places.fed, places.minus),
    )
    found = [rest]
    if at.regulator is not None:
        output = at.regulator.output_v.leaf
        found.append(
            step(
                "logic",
                title="Logic rail",
                where="Controller, supply pin to ground",
                instrument="Meter",
                setting=dc_volts(output.value),
                expected=output,
                unit="V",
                share=RAIL_SHARE,
                reason="regulators are made to about ±5 % (common practice)",
            )
        )
    quiet = _quiet(at)
    if quiet is not None:
        own: Node = (
            chosen.part.quiescent_a.leaf
            if chosen is not None
            else Leaf(f"{at.unit.path}.part", "a driver part", quiet.kind, None)
        )
        idle = rules.idle_current(own, quiet)
        limit = max(1.2 * idle.value, idle.value + 0.02) if idle.value is not None else None
        found.append(
            step(
                "idle",
                title="Idle current, motor stopped",
                where="In series at the fuse"
                if at.source.fuse.value is not None
                else "In series with the source's plus",
                instrument="Meter, current in series",
                setting=(
                    "Bench supply limited to " + phrase(limit, "current") + "; meter on its highest range first"
                    if limit
                    else "Highest range first"
                ),
                expected=idle,
                unit="mA",
                share=IDLE_SHARE,
                reason="own currents are typical values, ±30 %",
                caution="Move the meter's lead back to volts afterwards: left in the current socket it is a short.",
            )
        )
    found = [replace(s, stage="power") for s in found]
    if at.part is not None and (burning := lit(at.part.lamps, "")):
        found.append(
            step(
                "lamps",
                title="Lamps on the driver's board, motor stopped",
                where=f"Lit: {', '.join(burning)}; all others dark",
                instrument="Your eyes",
                setting="Count those that are lit",
                expected=Constant(str(len(burning)), float(len(burning)), "number", "of the board"),
                unit="1",
                share=0.0,
                reason="a dark one has no supply, or is broken; one too many is driven by a line that should rest",
                stage="power",
            )
        )
    return found


def _quiet(at: DriveContext) -> Node | None:
    """What is drawn while the motor rests, beside the driver: by the logic, or by a timer circuit; None without
    either."""
    if at.drive.signals.told_by == "timer":
        return at.drive.signals.timer.own_current.leaf
    return at.regulator.load.leaf if at.regulator is not None else None


def _motor(at: Context, chosen: Driving | None) -> list[Step]:
    part = chosen.part if chosen is not None else None
    drop: Node = part.drop_v.leaf if part else NO_VOLTS
    on: Node = part.on_resistance.leaf if part else NO_OHMS
    round_r = driver_rules.loop_resistance(
        at.volts.resistance,
        at.supply_wire.resistance,
        on,
        at.motor_wire.resistance,
        at.motor.resistance_25,
        case="no load, 25 °C",
    )
    k_e, friction, viscous = at.motor.motor_constant, at.motor.friction_a, at.motor.viscous
    speed = rules.free_speed(at.volts.nominal, drop, at.motor.brush_drop, friction, round_r, k_e, viscous)
    current = motor_rules.friction_current(friction, viscous, k_e, speed, case="no load", title="No-load current")
    places = Places(at)
    full = "full duty" if at.drive.signals.pulsed else "switched on"
    counts = at.drive.has_encoder
    # Nothing on the shaft shortens the start; it does not make it smaller.
    soft = at.drive.signals.ramped
    start = at.starting_current.value
    if not soft:
        start = chosen.circuit.stall_full.value if chosen is not None else None
    made = [
        step(
            "no_load_a",
            title=f"No-load current, {full}",
            where="In series with one motor lead",
            instrument="Meter, current in series",
            setting=series_setting(current.value, start),
            expected=current,
            unit="A",
            share=CURRENT_SHARE,
            reason="friction changes with grease and temperature, ±15 %",
            caution="Uncouple the motor and hold it down: it jumps as it starts. Keep hair and sleeves away.",
            purpose="Friction of brushes and bearings: what is left when nothing is moved.",
            means="Higher: a dry bearing, a bent shaft, a gear left on. Far higher and slow: a shorted segment.",
            probes=(places.outputs[0], places.motor[0]),
        ),
        step(
            "no_load_speed",
            title=f"No-load speed, {full}",
            where="Motor shaft, by the encoder's counts" if counts else "Motor shaft, against a mark on it",
            instrument="Program's speed reading" if counts else "Tachometer, or a film of the mark",
            setting=f"{full.capitalize()}, supply near nominal",
            expected=speed,
            unit="rpm",
            share=SPEED_SHARE,
            reason="the supply between nominal and full, ±5 %",
            purpose="The motor's constant, in its own circuit.",
            means="Slower: friction, or less supply than thought. Faster: another motor, or weak magnets.",
        ),
    ]
    return [ordered(x, at, 1.0) for x in made]


def load_steps(at: LoadContext, chosen: Driving | None) -> tuple[Step, ...]:
    """The test sheet of a solenoid, a pump or a lamp."""
    current = at.load.working_current
    running = step(
        "on_a",
        title="Current, switched on",
        where="In series with the load",
        instrument="Meter, current in series",
        setting=series_setting(at.load.on_current.value, at.load.peak_current.value),
        expected=current,
        unit="A",
        share=CURRENT_SHARE,
        reason="coils and pumps are made to about ±15 %",
        caution="A meter shows the mean: the inrush is over before it settles.",
    )
    made = [*cold_steps(at), *_power(at, chosen), *stage_steps(at), *input_steps(at), *signal_steps(at, chosen)]
    return in_order([*made, *lamp_step(at), running])


def servo_steps(spec: ServoSpec, result: ServoResult) -> tuple[Step, ...]:
    """The test sheet of a servo: its rail, its pulse, its currents and its time."""
    rail = result.rail
    level = rail.value or 5.0
    pulse = scope_setting(level, spec.frame.value) if spec.frame.value else "Probe ×10, DC coupling"
    made = (
        step(
            "servo_rail",
            title="Servo rail",
            where="Servo plug, middle pin to dark wire",
            instrument="Meter",
            setting="DC volts, " + meter_range(level, "voltage"),
            expected=rail,
            unit="V",
            share=RAIL_SHARE,
            reason="regulators are made to about ±5 % (common practice)",
            caution=(
                "Ground is the dark wire, positive the middle one, signal the light one (common practice): check yours."
            ),
        ),
        step(
            "servo_pulse",
            title="Pulse in the middle, horn off",
            where="Servo plug, light wire",
            instrument="Oscilloscope",
            setting=pulse,
            expected=result.middle_pulse,
            unit="ms",
            share=0.02,
            reason="the controller's clock and one step of its timer",
            caution="Hold at the middle while the horn is fitted.",
            wave=_servo_wave(level, spec, result),
            level=rail,
            pace=spec.frame.leaf,
            type=("duty {n} 500",),
        ),
        *_servo_range(spec),
        step(
            "servo_idle",
            title="Idle current, horn free",
            where="In series with the middle wire",
            instrument="Meter, current in series",
            setting="DC amperes, "
            + (meter_range(spec.idle_a.value, "current") if spec.idle_a.value else "highest range first"),
            expected=spec.idle_a.leaf,
            unit="mA",
            share=1.0,
            reason="a class figure: servos differ by a factor of two",
        ),
        step(
            "servo_time",
            title="Time for the move, under its load",
            where="At the horn, by a stop-watch or a film",
            instrument="Stop-watch",
            setting="Ten moves there and back, time over twenty",
            expected=result.transit_time,
            unit="s",
            share=0.3,
            reason="start and stop are not in the sum, ±30 %",
            caution="Keep fingers out of the linkage: a servo does not feel them.",
        ),
    )
    stages = {
        "servo_rail": "power",
        "servo_pulse": "pulses",
        "servo_range": "motor",
        "servo_idle": "motor",
        "servo_time": "load",
    }
    return tuple(replace(x, stage=stages[x.id]) for x in made)


def _servo_wave(level: float, spec: ServoSpec, result: ServoResult) -> Wave | None:
    """The pulse in the middle, once a frame."""
    pulse, frame = result.middle_pulse.value, spec.frame.value
    return Wave(0.0, level, frame, pulse * frame) if pulse and frame else None


def _servo_range(spec: ServoSpec) -> list[Step]:
    """How far it turns between its two pulses, seen at the horn; nothing for one that turns on and on."""
    if spec.style == "continuous":
        return []
    return [
        step(
            "servo_range",
            title="Angle from one end to the other, horn free",
            where="At the horn, against a protractor",
            instrument="Protractor",
            setting="One end, mark it; the other end, read the angle between",
            expected=spec.travel.leaf,
            unit="°",
            share=0.1,
            reason="servos of one kind differ by a tenth; far off, it is of the other school: 90° or 180°",
            type=("duty {n} 0", "duty {n} 1000"),
            purpose="Every pose of this build is told in degrees.",
            stop="It hums at an end and draws: that end is beyond its stop. Take a pulse nearer to the middle.",
            means="Half or twice: give the angle that you read as its travel, and this step holds.",
        )
    ]
