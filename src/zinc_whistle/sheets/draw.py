"""Makes each station's picture from its results."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np

from ..core.algebra.quantities import phrase
from ..core.assess import (
    Assessment,
    DriveAssessment,
    DrivenAssessment,
    LoadAssessment,
    MotorAssessment,
    ServoAssessment,
)
from ..core.cases.pins import block_of
from ..core.model.components import Component
from ..core.model.motor import MotorPart
from ..core.stations.bench.readings import Reading
from ..core.stations.loop.compute import simulated
from . import draw_driver, draw_load, draw_motor, draw_signals, draw_stage, draw_supply
from . import pictures as p
from .fields import Describer
from .scale import in_unit, one_in, thin
from .views import figure_view, text_of


def wiring(done: DriveAssessment) -> p.WiringPicture:
    """The harness and its table."""
    result = done.wiring
    if isinstance(done, DrivenAssessment):
        at = done.context
        controller = at.controller
        blocks = {
            "source": at.source.name or "Source",
            "fuse": f"Fuse {text_of(at.source.fuse.leaf)}",
            "driver": at.part.name if at.part is not None else "Driver",
            "motor": (done.drive.motor.name if isinstance(done, MotorAssessment) else done.drive.name) or "Motor",
            "controller": controller.name or "Controller",
        }
        if isinstance(done, MotorAssessment) and done.drive.encoder.fitted == "yes":
            blocks["encoder"] = "Encoder"
        if any(block_of(u.signal) == "panel" for u in result.pins):
            blocks["panel"] = "Control panel"
    else:
        assert isinstance(done, ServoAssessment)
        controller = done.controller
        blocks = {
            "source": "Servo rail",
            "servo": done.drive.servo.name or "Servo",
            "controller": controller.name or "Controller",
        }
    wires = [
        p.ConnectionView(
            c.id,
            c.start.block,
            c.start.pin,
            c.end.block,
            c.end.pin,
            c.signal,
            c.colour,
            "" if c.gauge is None else f"AWG {c.gauge:.0f}",
            "" if c.length_m is None else phrase(c.length_m, "length", "m"),
            text_of(c.drop) if c.drop is not None else "",
            c.role,
            c.made,
        )
        for c in result.connections
    ]
    pins = []
    for use in result.pins:
        able = [x for x in controller.pins if use.needs in x.can]
        pins.append(
            p.PinView(
                use.signal,
                use.needs,
                use.pin.label if use.pin else "",
                use.pin.id if use.pin else "",
                use.pin.program if use.pin else "",
                use.fixed,
                use.refusal,
                [x.id for x in able],
                [f"{x.label} (program {x.program})" for x in able],
            )
        )
    return p.WiringPicture(blocks, wires, pins, done.drive.wiring.path)


def encoder(done: MotorAssessment) -> p.EncoderPicture:
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


def loop(done: MotorAssessment) -> p.LoopPicture:
    """The step response, from rest to the working speed."""
    step = simulated(done.loop)
    if step is None:
        return p.LoopPicture([], [], [], [], None, None, None, done.loop.overshoot.reason)
    end = len(step.time_s)
    if step.settling_s is not None:
        end = min(end, max(int(np.searchsorted(step.time_s, 2.5 * step.settling_s)) + 2, 12))
    time, speed, duty, current = thin(step.time_s[:end], step.speed[:end], step.duty[:end], step.current_a[:end])
    return p.LoopPicture(
        [float(f"{t:.6g}") for t in time],
        in_unit(speed, "rpm"),
        in_unit(duty, "%"),
        in_unit(current, "A"),
        one_in(step.target, "rpm"),
        one_in(step.final, "rpm"),
        step.settling_s,
        "",
    )


def bench(done: DriveAssessment, readings: Sequence[Reading], describer: Describer) -> p.BenchPicture:
    """Every step with its last reading."""
    last = {r.step: r for r in readings if r.drive == done.drive.id and not r.withdrawn}
    steps = []
    for step in done.steps:
        reading = last.get(step.id)
        low = "" if step.low is None else phrase(step.low, step.kind, step.unit)
        high = "" if step.high is None else phrase(step.high, step.kind, step.unit)
        gone = done.stale_readings.get(reading.id, []) if reading else []
        steps.append(
            p.StepView(
                step.id,
                step.title,
                step.where,
                step.instrument,
                step.setting,
                figure_view(step.expected, step.unit),
                step.unit,
                low,
                high,
                step.reason,
                step.caution,
                reading.id if reading else "",
                reading.text if reading else "",
                reading.verdict if reading else "",
                reading.taken_at if reading else "",
                [describer.name_of(x) for x in gone],
            )
        )
    return p.BenchPicture(steps, sum(s.verdict == "pass" and not s.stale for s in steps))


_PICTURES: dict[str, Callable[[Any], p.Picture]] = {
    "power_stage": draw_stage.stage,
    "signals": draw_signals.signals,
    "wiring": wiring,
    "encoder": encoder,
    "loop": loop,
}


def picture(
    all: Assessment,
    done: DriveAssessment,
    station: str,
    readings: Sequence[Reading],
    describer: Describer,
    motors: Sequence[MotorPart],
    what_if: Assessment | None,
    components: Sequence[Component] = (),
) -> p.Picture:
    """The picture of one station of one drive."""
    if station == "driver" and isinstance(done, DrivenAssessment):
        return draw_driver.driver(done, components)
    if station == "bench":
        return bench(done, readings, describer)
    if station == "wiring":
        return wiring(done)
    if station == "supply":
        return draw_supply.supply(all, done)
    if isinstance(done, ServoAssessment):
        return draw_load.servo(done) if station in ("load", "signals") else p.PlainPicture()
    if station == "load" and isinstance(done, LoadAssessment):
        return draw_load.dc_load(done)
    if isinstance(done, MotorAssessment) and station == "motor":
        other = what_if.drives.get(done.drive.id) if what_if is not None else None
        return draw_motor.motor(done, motors, other if isinstance(other, MotorAssessment) else None)
    if isinstance(done, MotorAssessment) and station == "load":
        return draw_load.load(done, motors)
    made = _PICTURES.get(station)
    return made(done) if made is not None else p.PlainPicture()
