"""Load, for what is no motor: servos, and solenoids, pumps and lamps."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..core.assess import LoadAssessment, ServoAssessment
from ..core.cases import course
from ..core.model.servo import Pose
from .fields import Describer, Section
from .inputs import Inputs, Shown, shown
from .scale import one_in
from .views import text_of


@dataclass(frozen=True, slots=True, kw_only=True)
class ServoPicture:
    """A servo's sweep and pulse: angles in degrees, times in ms."""

    style: str
    sweep_deg: float | None
    travel_deg: float | None
    arm_text: str
    force_text: str
    low_ms: float | None
    high_ms: float | None
    frame_ms: float | None
    move_text: str
    dwell_text: str
    texts: dict[str, str]
    kind: Literal["servo"] = "servo"


@dataclass(frozen=True, slots=True, kw_only=True)
class DcLoadPicture:
    """Current of a solenoid, pump or lamp over its cycle (s, A)."""

    load: str
    time_s: list[float]
    current_a: list[float]
    texts: dict[str, str]
    kind: Literal["dc_load"] = "dc_load"


def servo(done: ServoAssessment) -> ServoPicture:
    """The horn's sweep and its pulse."""
    s, r = done.drive.servo, done.servo
    frame = s.frame.value
    return ServoPicture(
        style=s.style,
        sweep_deg=one_in(s.sweep.value, "°"),
        travel_deg=one_in(s.travel.value, "°"),
        arm_text=text_of(s.arm.leaf),
        force_text=text_of(s.force.leaf),
        low_ms=one_in(s.pulse_low.value, "ms"),
        high_ms=one_in(s.pulse_high.value, "ms"),
        frame_ms=1000 / frame if frame else None,
        move_text=text_of(r.transit_time),
        dwell_text=text_of(r.dwell),
        texts={
            "torque": text_of(r.torque_needed),
            "usable": text_of(r.usable_torque),
            "rail": text_of(r.rail),
            "stall": text_of(r.stall_current),
            "step": text_of(r.angle_step),
            "pulse": text_of(r.middle_pulse),
        },
    )


def dc_load(done: LoadAssessment) -> DcLoadPicture:
    """The current over one cycle: inrush or pull-in, then held or running, then off."""
    spec, r = done.drive.load, done.context.load
    found = course.switched(done.context, r)
    return DcLoadPicture(
        load=spec.kind,
        time_s=[float(f"{t:.5g}") for t in found.time_s],
        current_a=[float(f"{a:.5g}") for a in found.current_a],
        texts={
            "on": text_of(spec.on_for.leaf),
            "off": text_of(spec.off_for.leaf),
            "peak": text_of(r.peak_current),
            "held": text_of(r.working_current),
            "needs": text_of(r.volts_needed),
        },
    )


def _dc_load_figures(done: LoadAssessment) -> Shown:
    r = done.context.load
    return shown(
        "at the load",
        (
            r.on_current,
            r.working_current,
            r.peak_current,
            r.rms_current,
            r.resistance,
            r.volts_needed,
            r.coil_energy,
        ),
    )


def _servo_load_figures(done: ServoAssessment) -> Shown:
    r = done.servo
    return shown(
        "on its rail",
        (
            (r.torque_needed, "N·m"),
            (r.stall_torque, "N·m"),
            (r.usable_torque, "N·m"),
            r.transit_time,
            r.dwell,
            (r.loaded_speed, "rpm"),
            r.mean_current,
            r.stall_current,
            (r.moving_share, "%"),
        ),
    )


def _dc_load_sections(done: LoadAssessment, d: Describer) -> list[Section]:
    spec = done.drive.load
    names: tuple[str, ...] = ("kind", "rated_v", "rated_a", "needs_v", "inductance")
    if spec.kind == "pump":
        names = (*names, "blocked_a")
    duty: tuple[str, ...] = ("on_for", "off_for")
    if spec.kind == "solenoid":
        duty = ("pull_time", "hold_duty", *duty)
    return [d.section(spec, "The load", names), d.section(spec, "Duty", duty)]


def _servo_load_sections(done: ServoAssessment, d: Describer) -> list[Section]:
    spec = done.drive.servo
    gear = ("ratio", "gear_efficiency") if spec.through == "gear" else ()
    return [
        d.section(
            spec,
            "The servo",
            (
                "name",
                "style",
                "rated_v",
                "low_v",
                "high_v",
                "stall_torque",
                "sixty_time",
                "idle_a",
                "moving_a",
                "stall_a",
                "travel",
            ),
        ),
        d.section(spec, "What it moves", ("through", *gear, "arm", "force", "sweep", "moves")),
        *([d.table(spec, "poses", Pose)] if spec.style == "positional" else []),
    ]


SERVO_HINT = "Give the rail a name at Supply: torque and speed go with its volts."


def servo_hint(asked: Inputs) -> str:
    """What a servo without a rail lacks."""
    return SERVO_HINT if not asked.done.drive.rail else ""
