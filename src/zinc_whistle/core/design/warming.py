"""Temperatures over time, read off at the bench: where they end, and what that makes of the thermal model."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..algebra.quantities import phrase
from ..cases import frame
from ..cases.driving import Driving
from ..cases.operating import Context
from ..laws import warm_up
from ..laws.motor import IRON_HEAT
from ..stations.bench.warm_steps import motor_heat

Of = Literal["housing", "case"]
TITLES: dict[Of, str] = {"housing": "the motor's housing", "case": "the driver's case"}
TWICE = 2
"""Behind ± stands the half-width of 95 %."""
LEAST_RISE_K = 3.0
"""Less is what a draught makes (common practice, no source): no resistance follows from it."""
DIGITS = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class LearntText:
    """A text at a path of the build; ``measured``: it was, else it is a choice."""

    path: str
    text: str
    measured: bool
    note: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Learnt:
    """Where the rise ends (°C, its standard doubt in K), its time constant (s), and what the build may take over."""

    final_c: float
    doubt_k: float
    tau_s: float
    says: list[str]
    changes: list[LearntText]


def learnt(at: Context, driving: Driving | None, of: Of, text: str, air_c: float) -> Learnt:
    """Readings as ``0:24, 2:31.5``: minutes and degrees, while it works. ValueError with a sentence."""
    times, temperatures = warm_up.read(text)
    found = warm_up.fit(times, temperatures)
    rise = found.final_c - air_c
    says = [
        f"It ends at {found.final_c:.1f} °C, give or take {TWICE * found.doubt_k:.1f} K; it does 63 % of what is left "
        f"in {phrase(found.tau_s, 'time')}.",
    ]
    heat = _heat(at, driving, of)
    if rise < LEAST_RISE_K:
        says.append(f"That is {rise:.1f} K above the air: too little for a resistance to follow from it.")
    elif heat is None or heat <= 0:
        says.append("The heat in it is not known yet: no resistance follows.")
    else:
        share = TWICE * found.doubt_k / rise
        return Learnt(
            final_c=found.final_c,
            doubt_k=found.doubt_k,
            tau_s=found.tau_s,
            says=[
                *says,
                f"{rise:.1f} K above the air, by the {phrase(heat, 'power')} that this design makes in "
                f"{TITLES[of]} at work.",
            ],
            changes=_changes(at, driving, of, rise / heat, share, found.tau_s),
        )
    return Learnt(final_c=found.final_c, doubt_k=found.doubt_k, tau_s=found.tau_s, says=says, changes=[])


def _heat(at: Context, driving: Driving | None, of: Of) -> float | None:
    if of == "housing":
        return motor_heat(at).value
    return driving.heat.total.value if driving is not None else None


def _text(value: float, share: float, unit: str) -> str:
    return f"{value:.{DIGITS}g} ± {max(share * value, 1e-9):.2g} {unit}"


def _changes(
    at: Context, driving: Driving | None, of: Of, resistance: float, share: float, tau_s: float
) -> list[LearntText]:
    note = f"from a rise at the bench, time constant {phrase(tau_s, 'time')}"
    if of == "housing":
        path = at.drive.motor.path
        mass = tau_s / resistance / (IRON_HEAT.value or 1.0)
        made = [] if at.drive.motor.heat_by == "given" else _kept(at)
        return [
            LearntText(path=f"{path}.heat_by", text="given", measured=False),
            *made,
            LearntText(path=f"{path}.housing_to_air", text=_text(resistance, share, "K/W"), measured=True, note=note),
            LearntText(path=f"{path}.housing_mass", text=_text(mass * 1e3, share, "g"), measured=True, note=note),
        ]
    part = driving.part if driving is not None else None
    outside = 1 - (part.package_share.value or 0.0) if part is not None else 0.0
    if outside <= 0 or at.unit.made_of != "part":
        return []
    return [
        LearntText(
            path=f"{at.unit.path}.part.thermal_resistance",
            text=_text(resistance / outside, share, "K/W"),
            measured=True,
            note=note,
        )
    ]


def _kept(at: Context) -> list[LearntText]:
    """What had been estimated by the motor's weight, and was not measured now, as texts that stay."""
    spec = at.drive.motor
    inner, copper = frame.to_housing(spec).value, frame.copper(spec).value
    made = []
    if inner is not None:
        made.append(LearntText(path=f"{spec.path}.winding_to_housing", text=f"{inner:.{DIGITS}g} K/W", measured=False))
    if copper is not None:
        made.append(LearntText(path=f"{spec.path}.winding_copper", text=f"{1e3 * copper:.{DIGITS}g} g", measured=False))
    return made
