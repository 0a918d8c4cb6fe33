"""Makes each station's picture from its results."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from ..core.assess import DriveAssessment
from ..core.bench.readings import Reading
from ..core.build import Schools
from ..core.driver import rules as driver_rules
from ..core.driver.candidates import Candidate, verdicts
from ..core.driver.spec import PART_KINDS
from ..core.load.spec import Turntable
from ..core.loop.compute import simulated
from ..core.motor import rules as motor_rules
from ..core.motor.compute import curve
from ..core.quantities import phrase
from ..core.signals.compute import strip, table
from ..core.units import UNITS
from . import pictures as p
from .fields import Describer
from .views import figure_view, finding_view, text_of

MOST_POINTS = 240


def in_unit(values: Sequence[float], unit: str) -> list[float]:
    """SI values as plain numbers in a unit, to six figures."""
    factor = UNITS[unit].factor
    return [float(f"{v / factor:.6g}") for v in values]


def _one(value: float | None, unit: str) -> float | None:
    return None if value is None else in_unit([value], unit)[0]


def thin(*series: list[Any]) -> list[list[Any]]:
    """At most MOST_POINTS of each list, first and last kept."""
    length = len(series[0])
    if length <= MOST_POINTS:
        return [list(s) for s in series]
    keep = np.unique(np.linspace(0, length - 1, MOST_POINTS).round().astype(int))
    return [[s[i] for i in keep] for s in series]


def motor(done: DriveAssessment) -> p.MotorPicture | p.PlainPicture:
    """Curves at the nominal supply, the working point and the driver's continuous current."""
    at = done.context
    drawn = curve(done.motor, at.source.nominal_v.value, done.at_supply)
    if drawn is None:
        return p.PlainPicture()
    limit_text, limit_torque = "", None
    part, k_e, i_0 = at.unit.part, done.motor.motor_constant.value, done.motor.no_load_a.value
    if part is not None and part.continuous_a.value is not None and k_e is not None and i_0 is not None:
        limit_torque = _one(float(motor_rules.torque_at.bare(k_e, part.continuous_a.value, i_0)), "mN·m")
        limit_text = f"driver, continuous {phrase(part.continuous_a.value, 'current')}"
    rows = [r for r in at.drive.motor.locked if r.voltage.value and r.current.value]
    working = done.load.working_current
    return p.MotorPicture(
        in_unit(drawn.torque_nm, "mN·m"), in_unit(drawn.speed_rad_s, "rpm"), in_unit(drawn.current_a, "A"),
        in_unit(drawn.power_w, "W"), in_unit(drawn.efficiency, "%"),
        _one(done.load.motor_torque.value, "mN·m"), f"working, {text_of(working)}" if working.value else "",
        limit_torque, limit_text,
        [_one(r.angle.value or 0.0, "°") or 0.0 for r in rows],
        [float(motor_rules.row_resistance.bare(r.voltage.value, r.current.value)) for r in rows],
    )  # fmt: skip


def load(done: DriveAssessment) -> p.LoadPicture:
    """The mechanism, and its cycle: ramp, run, rest (long parts cut short to be seen)."""
    spec, result = done.drive.load, done.load
    mechanism = spec.mechanism
    speed = _one(mechanism.speed.value, "rpm")
    ramp, run, rest = result.ramp_time.value, spec.run_for.value, spec.rest_for.value
    time: list[float] = []
    speeds: list[float] = []
    currents: list[float] = []
    start, work = result.starting_current.value, result.working_current.value
    shown = 0.0
    if None not in (ramp, run, rest, speed, start, work):
        assert ramp and run and rest is not None and speed and start and work
        hold, pause = min(run, 3 * ramp), min(rest, ramp)
        points = [(0.0, 0.0, start), (ramp, speed, start), (ramp, speed, work), (ramp + hold, speed, work)]
        if pause > 0:
            points += [(ramp + hold, 0.0, 0.0), (ramp + hold + pause, 0.0, 0.0)]
        time, speeds, currents = ([pt[i] for pt in points] for i in range(3))
        shown = time[-1]
    cycle = f"runs {text_of(spec.run_for.leaf)}, rests {text_of(spec.rest_for.leaf)}"
    table_top = mechanism if isinstance(mechanism, Turntable) else None
    return p.LoadPicture(
        mechanism.kind, table_top.spread if table_top else "", table_top.radius.value if table_top else None,
        text_of(table_top.mass.leaf) if table_top else "", text_of(table_top.radius.leaf) if table_top else "",
        speed, text_of(mechanism.speed.leaf), text_of(mechanism.friction_torque.leaf), text_of(spec.gear_ratio.leaf),
        time, speeds, currents, shown, cycle,
    )  # fmt: skip


def supply(done: DriveAssessment) -> p.SupplyPicture:
    """Bands of volts that can be compared by eye."""
    at, result = done.context, done.supply
    bands: list[p.Band] = []

    def band(label: str, low: Any, high: Any, role: Any) -> None:
        if low.value is None or high.value is None:
            return
        text = text_of(low) if low.value == high.value else f"{text_of(low)} to {text_of(high)}"
        bands.append(p.Band(label, low.value, high.value, text, role))

    band(at.source.name or "Source", at.source.flat_v.leaf, at.source.full_v.leaf, "source")
    if at.unit.part is not None:
        band(at.unit.part.name, at.unit.part.v_min.leaf, at.unit.part.v_max.leaf, "window")
    band("At the driver, flat and working", result.bus_working, result.bus_working, "moment")
    band("At the driver, flat and starting", result.bus_start, result.bus_start, "moment")
    band("At the driver, flat and jammed", result.bus_jam, result.bus_jam, "moment")
    if result.logic_needs is not None:
        band("The logic's regulator needs", result.logic_needs, result.logic_needs, "need")
    return p.SupplyPicture(bands)


def driver(done: DriveAssessment) -> p.DriverPicture:
    """The comparison of every candidate."""
    at, chosen = done.context, done.context.unit.part
    views = [_candidate(c, chosen is not None and c.part.id == chosen.id) for c in done.candidates]
    shown: list[p.VerdictView] = []
    if done.chosen is not None:
        labels = Schools.told("sizing").choose
        for school, found in verdicts(at, done.chosen).items():
            worst = max(found, key=lambda x: x.used or 0.0)
            state = finding_view(worst).state
            text = f"{worst.title}: {finding_view(worst).detail}"
            shown.append(p.VerdictView(
                school, labels.options[school] if labels else school, school == at.build.schools.sizing, state, text))  # fmt: skip
    return p.DriverPicture(views, shown)


def _candidate(candidate: Candidate, chosen: bool) -> p.CandidateView:
    part, heat = candidate.part, candidate.heat
    return p.CandidateView(
        part.id, part.name, PART_KINDS[part.kind], part.sample, chosen, bool(candidate.refusals),
        text_of(part.price.leaf), part.effort, part.continuous_condition, text_of(candidate.circuit.driver_drop),
        text_of(candidate.circuit.top_speed_flat),
        text_of(heat.junction) if heat.junction.value is not None else heat.junction.reason or "not known yet",
        [finding_view(c) for c in candidate.checks],
        [f"{v.title}: {v.detail or v.todo}" for v in map(finding_view, candidate.refusals)], part.note,
    )  # fmt: skip


def stage(done: DriveAssessment) -> p.StagePicture:
    """Heat of the part and its junction over the motor current."""
    chosen, at = done.chosen, done.context
    if chosen is None or done.stage.heat is None:
        return p.StagePicture(False, [], None, None, None, "", [], [], None, None)
    heat, part = done.stage.heat, chosen.part
    losses = []
    own = None if heat.fixed.value is None or heat.switching.value is None else heat.fixed.value - heat.switching.value
    for label, watts in (
        ("Conduction, I²R", heat.conduction.value),
        ("Switching", heat.switching.value),
        ("Fixed drop and own current", own),
    ):
        if watts is not None:
            losses.append(p.Loss(label, watts, phrase(watts, "power")))
    allowed, working = heat.allowed_current.value, at.load.rms_current.value
    currents: list[float] = []
    junctions: list[float | None] = []
    fixed = (
        at.build.ambient.hot,
        part.thermal_resistance,
        part.on_resistance,
        part.hot_factor,
        part.junction_limit,
    )
    values = [g.value for g in fixed]
    if allowed and working is not None and None not in values and at.plan.frequency.value is not None:
        air, r_th, r_on, factor, limit = (float(v or 0.0) for v in values)
        for current in np.linspace(0.0, max(allowed * 1.25, working * 1.2), 61):
            per_ampere = driver_rules.fixed_heat.bare(
                part.drop_v.value or 0.0, current, at.source.full_v.value or 0.0, part.switching_time.value or 0.0,
                at.plan.frequency.value, part.quiescent_a.value or 0.0,
            )  # fmt: skip
            currents.append(float(current))
            try:
                hot = driver_rules.junction_temperature.evaluate([air, r_th, current, r_on, factor, limit, per_ampere])
                junctions.append(round(hot, 2) if hot <= limit + 40 else None)
            except ValueError:
                junctions.append(None)
    return p.StagePicture(
        True, losses, at.build.ambient.hot.value, heat.junction.value, part.junction_limit.value, text_of(heat.junction),
        [float(f"{c:.5g}") for c in currents], junctions, working, allowed,
    )  # fmt: skip


def signals(done: DriveAssessment) -> p.SignalsPicture:
    """One strip of PWM at work, the ramp, the timer settings side by side and the truth table."""
    at, result, plan = done.context, done.signals, done.context.plan
    drawn = strip(at, result)
    truth = table(at)
    ramp, start, work = at.load.ramp_time.value, at.load.starting_current.value, at.load.working_current.value
    duty = result.duty.value
    times: list[float] = []
    duties: list[float] = []
    currents: list[float] = []
    if ramp and start is not None and work is not None and duty is not None:
        soft = at.drive.signals.soft_start == "yes"
        peak = start if soft else (done.circuit.stall_full.value or start)
        head = duty * (peak - work) / peak if soft and peak else 0.0
        times = [0.0, ramp, ramp, 1.6 * ramp]
        duties = [100 * max(head, 0.0), 100 * duty, 100 * duty, 100 * duty]
        currents = [peak, peak if soft else work, work, work]
    timers = []
    for setting in plan.others:
        pins = [x.label for x in at.controller.pins if x.timer == setting.timer.id and "pwm" in x.can]
        timers.append(p.TimerView(
            setting.timer.name, setting.prescaler, setting.top, phrase(setting.frequency_hz, "frequency"),
            f"{setting.error:+.1%}".replace("-", "−"), setting.top + 1, ", ".join(pins), setting is plan.others[0],
        ))  # fmt: skip
    return p.SignalsPicture(
        in_unit(drawn.time_s, "µs") if drawn else [], drawn.level if drawn else [],
        in_unit(drawn.motor_v, "V") if drawn else [], in_unit(drawn.current_a, "A") if drawn else [],
        times, duties, currents, result.current_limit.value, timers,
        list(truth.names) if truth else [],
        [p.TruthRow(list(r.inputs), r.output_1, r.output_2, r.motor) for r in truth.rows] if truth else [],
    )  # fmt: skip


def wiring(done: DriveAssessment) -> p.WiringPicture:
    """The harness and its table."""
    at, result = done.context, done.wiring
    blocks = {
        "source": at.source.name or "Source",
        "fuse": f"Fuse {text_of(at.source.fuse.leaf)}",
        "driver": at.unit.part.name if at.unit.part is not None else "Driver",
        "motor": at.drive.motor.name or "Motor",
        "controller": at.controller.name or "Controller",
    }
    if at.drive.encoder.fitted == "yes":
        blocks["encoder"] = "Encoder"
    wires = [
        p.ConnectionView(
            c.id, c.start.block, c.start.pin, c.end.block, c.end.pin, c.signal, c.colour,
            "" if c.gauge is None else f"AWG {c.gauge:.0f}", "" if c.length_m is None else phrase(c.length_m, "length", "m"),
            text_of(c.drop) if c.drop is not None else "", c.role, c.made,
        )
        for c in result.connections
    ]  # fmt: skip
    pins = []
    for use in result.pins:
        able = [x for x in at.controller.pins if use.needs in x.can]
        pins.append(p.PinView(
            use.signal, use.needs, use.pin.label if use.pin else "", use.pin.id if use.pin else "",
            use.pin.program if use.pin else "", use.fixed, use.refusal,
            [x.id for x in able], [f"{x.label} (program {x.program})" for x in able],
        ))  # fmt: skip
    return p.WiringPicture(blocks, wires, pins, at.drive.wiring.path)


def encoder(done: DriveAssessment) -> p.EncoderPicture:
    """The disc, two of its periods as A and B, and the rates on one scale."""
    spec, result = done.drive.encoder, done.encoder
    teeth = None if spec.teeth.value is None else int(spec.teeth.value)
    degrees: list[float] = []
    a: list[int] = []
    b: list[int] = []
    edges: list[float] = []
    if teeth:
        pitch = 360.0 / teeth
        degrees = [float(f"{x:.6g}") for x in np.linspace(0, 2 * pitch, 161)]
        a = [int((x / pitch) % 1.0 < 0.5) for x in degrees]
        b = [int((x / pitch - 0.25) % 1.0 < 0.5) for x in degrees]
        wanted = {"4": (0.0, 0.25, 0.5, 0.75), "2": (0.0, 0.5), "1": (0.0,)}[spec.decoding]
        edges = [float(f"{(n + e) * pitch:.6g}") for n in range(2) for e in wanted]
    rates = [
        ("Working", result.rate_working, "rate"),
        ("Top speed", result.rate_top, "rate"),
        ("Polling limit", result.polling_limit, "limit" if spec.method == "polling" else "other"),
        ("Interrupt limit", result.interrupt_limit, "limit" if spec.method == "interrupt" else "other"),
    ]
    shown = [
        p.RateView(label, node.value, text_of(node), role)  # type: ignore[arg-type]
        for label, node, role in rates
        if node.value is not None
    ]
    return p.EncoderPicture(teeth, spec.fitted == "yes", text_of(result.counts_per_turn), degrees, a, b, edges, shown)


def loop(done: DriveAssessment) -> p.LoopPicture:
    """The step response, from rest to the working speed."""
    step = simulated(done.loop)
    if step is None:
        return p.LoopPicture([], [], [], [], None, None, None, done.loop.overshoot.reason)
    end = len(step.time_s)
    if step.settling_s is not None:
        end = min(end, max(int(np.searchsorted(step.time_s, 2.5 * step.settling_s)) + 2, 12))
    time, speed, duty, current = thin(step.time_s[:end], step.speed[:end], step.duty[:end], step.current_a[:end])
    return p.LoopPicture(
        [float(f"{t:.6g}") for t in time], in_unit(speed, "rpm"), in_unit(duty, "%"), in_unit(current, "A"),
        _one(step.target, "rpm"), _one(step.final, "rpm"), step.settling_s, "",
    )  # fmt: skip


def bench(done: DriveAssessment, readings: Sequence[Reading], describer: Describer) -> p.BenchPicture:
    """Every step with its last reading."""
    last = {r.step: r for r in readings if r.drive == done.drive.id and not r.withdrawn}
    steps = []
    for step in done.steps:
        reading = last.get(step.id)
        low = "" if step.low is None else phrase(step.low, step.kind, step.unit)
        high = "" if step.high is None else phrase(step.high, step.kind, step.unit)
        gone = done.stale_readings.get(reading.id, []) if reading else []
        steps.append(p.StepView(
            step.id, step.title, step.where, step.instrument, step.setting, figure_view(step.expected, step.unit),
            step.unit, low, high, step.reason, step.caution, reading.id if reading else "",
            reading.text if reading else "", reading.verdict if reading else "", reading.taken_at if reading else "",
            [describer.name_of(x) for x in gone],
        ))  # fmt: skip
    return p.BenchPicture(steps, sum(s.verdict == "pass" and not s.stale for s in steps))


PICTURES = {
    "motor": motor, "load": load, "supply": supply, "driver": driver, "power_stage": stage, "signals": signals,
    "wiring": wiring, "encoder": encoder, "loop": loop,
}  # fmt: skip
