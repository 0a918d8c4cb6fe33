"""What follows at each station: its figures in order, by the kind of drive."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from ..core.assess import (
    Assessment,
    DriveAssessment,
    DrivenAssessment,
    LoadAssessment,
    MotorAssessment,
    ServoAssessment,
)
from ..core.cases.stage_result import StageResult
from ..core.model.components import Mosfet
from .views import FigureView, figure_view

Shown = tuple[str, list[FigureView]]


def _figures(subject: str, *wanted: Any) -> Shown:
    made = []
    for item in wanted:
        node, unit = item if isinstance(item, tuple) else (item, "")
        if node is not None and not isinstance(node, float):
            made.append(figure_view(node, unit))
    return subject, made


def _motor(done: MotorAssessment, all: Assessment) -> Shown:
    m, s, low = done.motor, done.at_supply, done.low_speed
    volts = done.context.volts.nominal.value
    subject = f"at {volts:.3g} V, 25 °C" if volts else "at the nominal supply"
    slow = [low.duty, (low.open_output, "rpm"), (low.closed_output, "rpm")]
    subject, figures = _figures(
        subject,
        s.stall_current,
        s.stall_torque,
        (s.no_load_speed, "rpm"),
        m.resistance_25,
        (m.motor_constant, "mN·m/A"),
        m.friction_torque,
        m.viscous if m.two_points else None,
        (s.best_efficiency, "%"),
        s.greatest_power,
        s.survivable_stall,
        m.brush_drop,
        s.best_efficiency_current,
        s.time_constant,
        done.heat.temperature,
        done.heat.allowed,
        m.inductance,
        (m.rotor_inertia, "g·cm²"),
        *(slow if done.drive.motor.breakaway_a.value is not None else []),
    )
    return subject, [replace(view, case="") for view in figures]


def _load(done: MotorAssessment, all: Assessment) -> Shown:
    r = done.load
    extras = [x for m in r.mechanisms for x in m.extras]
    return _figures(
        "at the motor shaft",
        r.working_current,
        r.starting_current,
        r.rms_current,
        r.motor_torque,
        r.starting_torque,
        (r.motor_speed, "rpm"),
        (r.reflected_inertia, "g·cm²"),
        (r.inertia, "kg·m²"),
        r.power,
        r.hardest_current if r.hardest.value != r.torque.value else None,
        r.peak_current,
        r.heat_current,
        r.cycle_energy,
        r.books.electrical,
        r.books.copper,
        r.books.friction,
        r.books.gear,
        r.back_torque,
        *extras,
    )


def _dc_load(done: LoadAssessment, all: Assessment) -> Shown:
    r = done.context.load
    return _figures(
        "at the load",
        r.on_current,
        r.working_current,
        r.peak_current,
        r.rms_current,
        r.resistance,
        r.volts_needed,
        r.coil_energy,
    )


def _servo_load(done: ServoAssessment, all: Assessment) -> Shown:
    r = done.servo
    return _figures(
        "on its rail",
        (r.torque_needed, "N·m"),
        (r.stall_torque, "N·m"),
        (r.usable_torque, "N·m"),
        r.transit_time,
        r.dwell,
        (r.loaded_speed, "rpm"),
        r.mean_current,
        r.stall_current,
        (r.moving_share, "%"),
    )


def _supply(done: DriveAssessment, all: Assessment) -> Shown:
    nodes: list[Any] = []
    if isinstance(done, DrivenAssessment):
        r = done.supply
        own = all.shared.source(done.context.source.id)
        nodes = [
            r.bus_working,
            r.bus_start,
            r.bus_jam,
            r.source_current,
            *([own.working, own.starting] if own else []),
            own.runtime if own else None,
            done.context.feed_resistance,
            r.brake_energy,
            r.after_braking,
            r.returned_energy,
            r.braking_capacitor,
            r.brake_resistor,
            r.brake_power,
            r.plug_in_peak,
        ]
    for regulator in all.shared.regulators:
        nodes += [regulator.load, regulator.worst, regulator.heat, regulator.junction, regulator.needs]
    return _figures("at the driver" if isinstance(done, DrivenAssessment) else "on the rails", *nodes)


def _driver(done: DrivenAssessment, all: Assessment) -> Shown:
    c = done.circuit
    heat = done.chosen.heat if done.chosen else None
    got = (c.delivered_flat, "rpm") if isinstance(done, MotorAssessment) else c.delivered_flat
    volts = done.circuit.motor_volts if isinstance(done, MotorAssessment) else None
    return _figures(
        done.chosen.part.name if done.chosen else "no part chosen yet",
        c.stall_full,
        c.peak,
        done.context.rms_current,
        c.driver_drop,
        volts,
        got,
        done.circuit.stall_torque if isinstance(done, MotorAssessment) else None,
        (c.duty_nominal, "%"),
        heat.junction if heat else None,
        heat.allowed_current if heat else None,
    )


def _stage(done: DrivenAssessment, all: Assessment) -> Shown:
    r, heat = done.stage, done.stage.heat
    first: list[Any] = []
    if heat is not None:
        first = [heat.junction, heat.total, heat.allowed_current, heat.conduction, heat.switching]
    if done.discrete is not None:
        first += _own_stage(done.discrete)
    return _figures("hottest air", *first, r.bus_ripple, r.ripple_current, r.capacitance_needed, r.rating_needed)


def _own_stage(built: StageResult) -> list[Any]:
    """What a discrete stage adds: sharing, gates and times, the heat sink that it would need, its price."""
    switch = built.spec.switch
    found: list[Any] = [built.current, (built.sigma, "%"), (built.duty, "%")]
    if isinstance(switch, Mosfet):
        times = built.times
        found += [built.gate_low, times.on_a, times.off_a, times.on_s, times.off_s, built.gate_power]
    return [*found, *built.extras, built.sink_needed, built.materials.price]


def _signals(done: DrivenAssessment, all: Assessment) -> Shown:
    r = done.signals
    timer = done.context.plan.timer
    subject = f"{timer.name}, ÷{done.context.plan.prescaler}" if timer else "no timer yet"
    return _figures(
        subject,
        r.frequency,
        (r.steps, "steps"),
        (r.bits, "bit"),
        (r.duty, "%"),
        r.ripple,
        (r.top, "counts"),
        r.shortest_ramp,
        done.context.starting_current,
        (r.error, "%"),
        *((r.window.ripple_heat, "%"),) * (r.window.ripple_heat is not None),
        (r.step_speed, "rpm"),
        *(
            ((done.low_speed.steps_left, "steps"),)
            if isinstance(done, MotorAssessment) and done.low_speed.duty.value is not None
            else ()
        ),
        r.reversal_time,
    )


def _servo_signals(done: ServoAssessment, all: Assessment) -> Shown:
    r = done.servo
    return _figures(
        "the pulse",
        r.middle_pulse,
        r.pulse_span,
        (r.steps, "steps"),
        (r.angle_step, "°"),
        r.plan.frequency,
        (r.plan.error, "%"),
    )


def _wiring(done: DriveAssessment, all: Assessment) -> Shown:
    r = done.wiring
    if not isinstance(done, DrivenAssessment):
        return _figures("with the servo stalled", r.motor_drop, (r.motor_density, "A/mm²"))
    at = done.context
    return _figures(
        "at the RMS current",
        r.supply_drop,
        (r.supply_density, "A/mm²"),
        at.supply_wire.resistance,
        r.motor_drop,
        (r.motor_density, "A/mm²"),
        at.motor_wire.resistance,
    )


def _encoder(done: MotorAssessment, all: Assessment) -> Shown:
    r = done.encoder
    if done.drive.encoder.fitted == "no":
        return "none fitted", []
    return _figures(
        "at both shafts",
        (r.counts_per_turn, "counts"),
        (r.counts_per_output_turn, "counts"),
        (r.output_angle_per_count, "°"),
        r.rate_working,
        r.rate_top,
        (r.counts_per_period, "counts"),
        r.polling_limit,
        r.interrupt_limit,
        (r.angle_per_count, "°"),
    )


def _loop(done: MotorAssessment, all: Assessment) -> Shown:
    r = done.loop
    if done.drive.loop.closed == "no":
        return "open, no loop", []
    return _figures(
        "step from rest to the working speed",
        (r.overshoot, "%"),
        r.settling,
        (r.droop, "%"),
        r.peak_current,
        (r.damping, "1"),
        r.load_torque,
    )


_FIGURES: dict[tuple[str, str], Callable[[Any, Assessment], Shown]] = {
    ("motor", "motor"): _motor,
    ("motor", "load"): _load,
    ("load", "load"): _dc_load,
    ("servo", "load"): _servo_load,
    ("servo", "signals"): _servo_signals,
    ("motor", "encoder"): _encoder,
    ("motor", "loop"): _loop,
    **{(kind, "supply"): _supply for kind in ("motor", "load", "servo")},
    **{(kind, "wiring"): _wiring for kind in ("motor", "load", "servo")},
    **{(kind, "driver"): _driver for kind in ("motor", "load")},
    **{(kind, "power_stage"): _stage for kind in ("motor", "load")},
    **{(kind, "signals"): _signals for kind in ("motor", "load")},
}


def figures_of(done: DriveAssessment, station: str, all: Assessment) -> Shown:
    """The subject and the figures of one station of one drive."""
    made = _FIGURES.get((done.drive.kind, station))
    return made(done, all) if made is not None else ("", [])
