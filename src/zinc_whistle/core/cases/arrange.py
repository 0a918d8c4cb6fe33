"""How the rules of a switch go together: gate, switching, losses, junction, allowed current.

Written over ``Works``, so that the same arrangement makes the figures of one stage, the map over current and
frequency, and the search over thousands of stages. Everything is a node or an array, in SI units.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..algebra.evaluators import Works
from ..algebra.nodes import Constant
from ..laws import driver as driver_rules
from ..laws import stage as stage_laws
from ..laws import switch as switch_laws
from ..laws.nothing import NO_OHMS, NO_WATTS
from ..model.stage import DIODE_CIRCUITS

ONE = Constant("1", 1.0, "number")
WHOLE = Constant("100 %", 1.0, "fraction")
RATIO_ONE = Constant("1", 1.0, "ratio")


@dataclass(frozen=True, slots=True)
class Plan:
    """One place of a circuit: when its switch conducts, and which losses it bears.

    ``conducts`` is on (D), off (1−D) or always; ``hard``: it switches the current; ``dead``: its diode bridges the
    dead time; ``freewheels``: its diode carries the current while the others are off. ``places`` are alike.
    """

    name: str
    conducts: str
    hard: bool = False
    dead: bool = False
    freewheels: bool = False
    upper: bool = False
    places: int = 1


def plans(circuit: str, decay: str) -> tuple[Plan, ...]:
    """The places of a circuit that carry the motor's current while it runs one way."""
    if circuit in DIODE_CIRCUITS:
        return (Plan("Switch", "on", hard=True),)
    if circuit == "half bridge":
        return (Plan("High side", "on", hard=True), Plan("Low side", "off", dead=True))
    if circuit == "modules":
        return (Plan("Chopping module", "always", hard=True, dead=True), Plan("Standing module", "always"))
    p_n = circuit == "p/n bridge"
    if decay == "fast":
        return (
            Plan("Driving, low side", "on", hard=True),
            Plan("Driving, high side", "on", hard=True, upper=p_n),
            Plan("The others' diodes, low side", "never", freewheels=True),
            Plan("The others' diodes, high side", "never", freewheels=True, upper=p_n),
        )
    if decay == "locked anti-phase":
        return (
            Plan("One diagonal, low side", "on", hard=True),
            Plan("One diagonal, high side", "on", hard=True, upper=p_n),
            Plan("Other diagonal, low side", "off", dead=True),
            Plan("Other diagonal, high side", "off", dead=True, upper=p_n),
        )
    if p_n:
        return (
            Plan("Chopping leg, N channel", "on", hard=True),
            Plan("Chopping leg, P channel", "off", dead=True, upper=True),
            Plan("Standing leg, P channel", "always", upper=True),
        )
    return (
        Plan("Chopping leg, high side", "on", hard=True),
        Plan("Chopping leg, low side", "off", dead=True),
        Plan("Standing leg, low side", "always"),
    )


@dataclass(frozen=True, slots=True)
class Device:
    """A switch's figures, as nodes or arrays."""

    on_resistance: Any
    hot_factor: Any
    limit: Any
    to_case: Any
    to_air: Any
    output: Any
    diode_v: Any
    saturation_v: Any = None


@dataclass(frozen=True, slots=True)
class Gate:
    """A switch's gate and what drives it; ``shared`` gates hang on one output."""

    charge: Any
    drain: Any
    total: Any
    plateau: Any
    inside: Any
    drive_v: Any
    on_resistor: Any
    off_resistor: Any
    source_ohm: Any
    sink_ohm: Any
    source_a: Any
    sink_a: Any
    shared: Any
    tied: bool = False


@dataclass(frozen=True, slots=True)
class Surround:
    """What stands round the stage: hottest air, highest supply, heat-counting current, frequency, duty, dead time."""

    air: Any
    bus: Any
    current: Any
    frequency: Any
    duty: Any
    dead_time: Any
    recovery: Any
    """Charge recovered in the switch that turns on, for each of its transistors."""


@dataclass(frozen=True, slots=True)
class Cooling:
    """The way of the heat: free in the air, or on a sink with ``count`` others."""

    sink: Any = None
    pad: Any = None
    count: Any = None
    settles: Any = None
    """Time constant of the sink."""


@dataclass(frozen=True, slots=True)
class Times:
    """Gate currents and switching times."""

    on_a: Any
    off_a: Any
    on_s: Any
    off_s: Any
    edge_s: Any
    """The volts alone, turning on: what lifts the other gate."""
    fall_s: Any
    """The current alone, turning off: what rings."""
    delay_s: Any
    """From the gate driver's order to the beginning of the edge, turning off."""


@dataclass(frozen=True, slots=True)
class PlaceHeat:
    """One place's busiest transistor: its losses, junction, and the motor current that its heat allows."""

    plan: Plan
    current: Any
    way: Any
    conduction: Any
    switching: Any
    linear: Any
    fixed: Any
    heat: Any
    junction: Any
    allowed: Any
    limit: Any
    """What its junction may reach."""


def gate_times(k: Works, gate: Gate) -> Times:
    """How fast the gate's charge is moved, both ways."""
    way = stage_laws.tied_way if gate.tied else stage_laws.gate_way
    on_ohm = k(way, gate.shared, gate.source_ohm, gate.on_resistor, gate.inside, title="Resistance, turning on")
    off_ohm = k(way, gate.shared, gate.sink_ohm, gate.off_resistor, gate.inside, title="Resistance, turning off")
    on_a = k(
        stage_laws.within_output,
        k(switch_laws.gate_current_on, gate.drive_v, gate.plateau, on_ohm),
        gate.source_a,
        gate.shared,
        title="Gate current, turning on",
    )
    off_a = k(
        stage_laws.within_output,
        k(switch_laws.gate_current_off, gate.plateau, off_ohm),
        gate.sink_a,
        gate.shared,
        title="Gate current, turning off",
    )
    return Times(
        on_a=on_a,
        off_a=off_a,
        on_s=k(switch_laws.switching_time, gate.charge, on_a, title="Turn-on time"),
        off_s=k(switch_laws.switching_time, gate.charge, off_a, title="Turn-off time"),
        edge_s=k(switch_laws.switching_time, gate.drain, on_a, title="Edge of the volts, turning on"),
        fall_s=k(
            switch_laws.switching_time,
            k(switch_laws.current_charge, gate.charge, gate.drain),
            off_a,
            title="Fall of the current",
        ),
        delay_s=k(switch_laws.turn_off_delay, off_ohm, gate.total, gate.charge, gate.drive_v, gate.plateau),
    )


def thermal_way(k: Works, device: Device, cooling: Cooling) -> Any:
    """Junction to air: free, or over pad and sink."""
    if cooling.sink is None:
        return device.to_air
    return k(stage_laws.on_sink, device.to_case, cooling.pad, cooling.sink, cooling.count)


def _share(k: Works, plan: Plan, duty: Any) -> Any:
    if plan.conducts == "on":
        return duty
    return k(stage_laws.rest_of, duty) if plan.conducts == "off" else WHOLE


def allowed_current(k: Works, plan: Plan, device: Device, times: Times, way: Any, around: Surround, sigma: Any) -> Any:
    """The motor current that the heat of one place's busiest transistor allows; no junction is solved for it."""
    lost = _losses(k, plan=plan, device=device, times=times, around=around, sigma=sigma)
    return _allowed(k, plan=plan, device=device, way=way, around=around, sigma=sigma, lost=lost)


@dataclass(frozen=True, slots=True)
class _Losses:
    """One place's losses: what goes with the current, and what does not."""

    own: Any
    share: Any
    switching: Any
    linear: Any
    fixed: Any
    ohms: Any


def _allowed(k: Works, plan: Plan, device: Device, way: Any, around: Surround, sigma: Any, lost: _Losses) -> Any:
    left = k(stage_laws.heat_left, device.limit, around.air, way, lost.fixed)
    per_ampere = k(stage_laws.volts_per_ampere, lost.linear, around.current)
    effective = k(stage_laws.heating_resistance, lost.ohms, device.hot_factor, lost.share, sigma)
    return k(
        driver_rules.current_allowed,
        left,
        per_ampere,
        effective,
        title=f"{plan.name}: motor current its heat allows",
    )


def _losses(k: Works, plan: Plan, device: Device, times: Times, around: Surround, sigma: Any) -> _Losses:
    name, f = plan.name, around.frequency
    own = k(stage_laws.busiest_current, around.current, sigma)
    share = _share(k, plan, around.duty)
    idle = plan.conducts == "never"
    switching = (
        k(switch_laws.switching_loss, around.bus, own, times.on_s, times.off_s, f, title=f"{name}: switching")
        if plan.hard
        else NO_WATTS
    )
    dead = k(switch_laws.dead_time_loss, device.diode_v, own, around.dead_time, f) if plan.dead else NO_WATTS
    diode: Any = NO_WATTS
    if plan.freewheels:
        diode = k(stage_laws.diode_heat, device.diode_v, own, k(stage_laws.rest_of, around.duty))
    elif device.saturation_v is not None:
        diode = k(stage_laws.diode_heat, device.saturation_v, own, share, title=f"{name}: saturation")
    linear = k(stage_laws.linear_losses, switching, dead, diode, title=f"{name}: losses in proportion")
    recovered = k(switch_laws.recovery_loss, around.recovery, around.bus, f) if plan.hard else NO_WATTS
    fixed = k(
        stage_laws.fixed_losses,
        recovered,
        k(switch_laws.output_loss, device.output, around.bus, f),
        title=f"{name}: losses at any current",
    )
    ohms = NO_OHMS if idle or device.saturation_v is not None else device.on_resistance
    return _Losses(own, share=share, switching=switching, linear=linear, fixed=fixed, ohms=ohms)


def place_heat(k: Works, plan: Plan, device: Device, times: Times, way: Any, around: Surround, sigma: Any) -> PlaceHeat:
    """Losses and junction of one place's busiest transistor, and what motor current its heat allows."""
    name, lost = plan.name, _losses(k, plan=plan, device=device, times=times, around=around, sigma=sigma)
    apart = k(stage_laws.other_losses, lost.linear, lost.fixed, title=f"{name}: losses apart from the on-resistance")
    counted = k(stage_laws.counted, lost.own, lost.share, title=f"{name}: current as its heat counts it")
    junction = k(
        switch_laws.junction,
        around.air,
        way,
        counted,
        lost.ohms,
        device.hot_factor,
        device.limit,
        apart,
        title=f"{name}: junction",
    )
    conduction = k(
        driver_rules.conduction_loss,
        counted,
        lost.ohms,
        device.hot_factor,
        junction,
        device.limit,
        title=f"{name}: conduction",
    )
    return PlaceHeat(
        plan=plan,
        current=lost.own,
        way=way,
        conduction=conduction,
        switching=lost.switching,
        linear=lost.linear,
        fixed=lost.fixed,
        heat=k(stage_laws.heat_sum, conduction, apart, title=f"{name}: heat of the busiest"),
        junction=junction,
        allowed=_allowed(k, plan=plan, device=device, way=way, around=around, sigma=sigma, lost=lost),
        limit=device.limit,
    )
