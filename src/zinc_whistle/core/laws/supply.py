"""The rules of sources and regulators."""

from __future__ import annotations

import math

from ..algebra.expressions import larger, sqrt, total
from ..algebra.kinds import (
    Ampere,
    Amperes,
    Celsius,
    Coulomb,
    Farad,
    Fraction,
    Henry,
    HenryPerMetre,
    Inertia,
    Joule,
    KelvinPerWatt,
    Metre,
    MotorConstant,
    Number,
    Ohm,
    RadPerSecond,
    Ratio,
    Second,
    Volt,
    Watt,
)
from ..algebra.nodes import Constant
from ..algebra.rules import procedure, rule
from .nothing import NO_VOLTS

NOTHING = Constant("0", 0.0, "number")
LEAD_INDUCTANCE = Constant("1 µH/m", 1e-6, "inductance per length", "common practice, no source: a pair of wires")

SAG = "Ohm's law on the source and its wire"


@rule("V_bus", source=SAG, title="Supply under load")
def loaded_voltage(V_oc: Volt, I: Ampere, R_s: Ohm) -> Volt:
    return larger(V_oc - I * R_s, NO_VOLTS)


@rule("D", source="D·(V_oc − D·I·R_s) = V_needed, solved for D", title="Duty")
def duty(V_needed: Volt, V_oc: Volt, I: Ampere, R_s: Ohm) -> Fraction:
    """The duty at which the bridge's mean output is what the motor needs; the source gives D·I."""
    return 2 * V_needed / (V_oc + sqrt(V_oc**2 - 4 * I * R_s * V_needed))


@rule("I_in", source="power balance of a PWM drive: the source gives D·I", title="Current from the source")
def source_current(D: Fraction, I: Ampere) -> Ampere:
    return D * I


@rule("I_in", source="all of it comes from the source while it starts", title="Current from the source, starting")
def as_drawn(I: Ampere) -> Ampere:
    return I


@rule("V_in", source="output and dropout together", title="Logic supply needs")
def regulator_needs(V_out: Volt, V_drop: Volt) -> Volt:
    return V_out + V_drop


@rule("V_in", source="its sheet's lowest input", title="Logic supply needs")
def step_up_needs(V_min: Volt) -> Volt:
    return V_min


@rule("P_reg", source="the difference in volts burns as heat", title="Heat in the regulator")
def linear_heat(V_in: Volt, V_out: Volt, I: Ampere) -> Watt:
    """Below its output it no longer holds, and burns what it drops; never less than nothing."""
    return larger(V_in - V_out, NO_VOLTS) * I


@rule("P_reg", source="what efficiency leaves", title="Heat in the regulator")
def switching_heat(V_out: Volt, I: Ampere, eta: Fraction) -> Watt:
    return V_out * I * (1 / eta - 1)


@rule(
    "E",
    source="kinetic energy of all that turns: an upper bound of what comes back",
    title="Energy on braking, at most",
)
def stored_energy(J: Inertia, omega: RadPerSecond) -> Joule:
    return J * omega**2 / 2


@rule("V_rise", source="energy into the bulk capacitor", title="Supply after braking, at most")
def risen_voltage(V: Volt, E: Joule, C: Farad) -> Volt:
    return sqrt(V**2 + 2 * E / C)


@rule("t_run", source="W. Peukert (1897): H (C / (I H))^k", title="Runs for, on one charge")
def runtime(C: Coulomb, I: Ampere, H: Second, k: Ratio) -> Second:
    """With k = 1 it is charge over current; ``H`` is the discharge time for which the capacity holds."""
    return H * (C / (I * H)) ** k  # type: ignore[no-any-return]


@rule("V", source="cells in series add", title="Volts of the pack")
def cells_in_series(n: Number, V_cell: Volt) -> Volt:
    return n * V_cell


@rule("R", source="cells in series add", title="Resistance of the pack")
def cell_resistances(n: Number, R_cell: Ohm) -> Ohm:
    return n * R_cell


@rule("V", source="a charger holds it there", title="Charged at")
def charged_at(V: Volt) -> Volt:
    return V


@rule("V_full", source="the higher of the two", title="Full, or charging")
def higher_of(V_1: Volt, V_2: Volt) -> Volt:
    return larger(V_1, V_2)


@rule("R", source="alike packs side by side share the current", title="Internal resistance")
def side_by_side(R: Ohm, n: Number) -> Ohm:
    return R / n


@rule("C", source="alike packs side by side: their charges add", title="Charge, all packs")
def charge_of_packs(C: Coulomb, n: Number) -> Coulomb:
    return C * n


@rule("t_run", source="one pack after the other", title="Runs for, with the spare packs")
def with_spares(t: Second, n: Number) -> Second:
    return t * (1 + n)


LED_V = Constant("2 V", 2.0, "voltage", "common practice: a red or green LED")
SUN_SHARE = Constant("0.6", 0.6, "fraction", "common practice, no source: what panel, regulator and battery leave")


@rule("R_lamp", source="Ohm's law, less the drop of an LED (common practice: 2 V)", title="Arming lamp's resistor")
def lamp_resistor(V: Volt, I: Ampere) -> Ohm:
    return (V - LED_V) / I


@rule("R", source="Ohm's law, less what the lamp drops", title="Resistor of a panel lamp")
def panel_lamp_resistor(V: Volt, V_F: Volt, I: Ampere) -> Ohm:
    return larger(V - V_F, NO_VOLTS) / I


@rule("P_lamp", source="its drop times its current", title="Heat in the lamp's resistor")
def lamp_heat(V: Volt, I: Ampere) -> Watt:
    return (V - LED_V) * I


@rule("E_day", source="rated power for the hours of full sun, less what is lost", title="Energy from the panel, a day")
def solar_energy(P: Watt, t: Second) -> Joule:
    return P * t * SUN_SHARE


@rule("E_day", source="mean current for the hours of use", title="Energy used, a day")
def used_energy(V: Volt, I: Ampere, t: Second) -> Joule:
    return V * I * t


@rule("I", source="currents add", title="Current, all together")
def currents_together(I: Amperes) -> Ampere:
    return total(I)


@rule("I_in", source="power balance: output power over efficiency and input volts", title="Current into the regulator")
def switching_input(V_out: Volt, I: Ampere, eta: Fraction, V_in: Volt) -> Ampere:
    return V_out * I / (eta * V_in)


@rule("I_in", source="a linear regulator passes its current on", title="Current into the regulator")
def linear_input(I: Ampere) -> Ampere:
    return I


@rule("T_j", source="steady state: junction over air = heat × thermal resistance", title="Junction of the regulator")
def regulator_junction(T_a: Celsius, P: Watt, R_th: KelvinPerWatt) -> Celsius:
    return T_a + P * R_th


@rule("P_max", source="the same steady state at the limit", title="Heat the regulator may shed")
def regulator_heat_allowed(T_lim: Celsius, T_a: Celsius, R_th: KelvinPerWatt) -> Watt:
    return (T_lim - T_a) / R_th


@rule("R_th", source="the same steady state, solved for the resistance", title="Heat sink needed, junction to air")
def sink_needed(T_lim: Celsius, T_a: Celsius, P: Watt) -> KelvinPerWatt:
    return (T_lim - T_a) / P


@rule("C_brake", source="½ C (V_lim² − V²) = E", title="Capacitor that takes the braking energy")
def braking_capacitor(E: Joule, V_lim: Volt, V: Volt) -> Farad:
    return 2 * E / (larger(V_lim - V, NO_VOLTS) * (V_lim + V))


@rule(
    "R_brake",
    source="Ohm's law: it must pass the braking current at the clamp's volts",
    title="Brake resistor, at most",
)
def brake_resistor(V_clamp: Volt, I_brake: Ampere) -> Ohm:
    return V_clamp / I_brake


@rule("P_brake", source="energy over the time it comes in", title="Power of the brake resistor, while braking")
def brake_power(E: Joule, t: Second) -> Watt:
    return E / t


@rule(
    "E_back",
    source="constant brake current i: ½ J ω₀² (1 − i R / (K_e ω₀))²",
    title="Energy back at a constant brake current",
)
def returned_energy(J: Inertia, omega: RadPerSecond, i: Ampere, R: Ohm, K_e: MotorConstant) -> Joule:
    return J * omega**2 / 2 * larger(NOTHING, 1 - i * R / (K_e * omega)) ** 2


@procedure(
    "V_peak", "voltage", says="V (1 + e^(−π ζ/√(1 − ζ²))), or V where ζ is one or more", source="step into R-L-C"
)
def plug_in_peak(V: float, zeta: float) -> float:
    """Highest volts at the input when the lead is plugged in live; volts."""
    return V if zeta >= 1 else V * (1 + math.exp(-math.pi * zeta / math.sqrt(1 - zeta**2)))


@rule("L", source="a pair of wires", title="Inductance of the lead")
def lead_inductance(l_m: HenryPerMetre, length: Metre) -> Henry:
    return l_m * length


@rule("R", source="series resistances add", title="Resistance in the lead's way")
def resistances_together(R_1: Ohm, R_2: Ohm) -> Ohm:
    return R_1 + R_2


@rule("I_fuse", source="common practice, no source: 75 % of the rating", title="What the fuse carries for good")
def fuse_continuous(k: Fraction, I: Ampere) -> Ampere:
    return k * I


@rule("V_bus", source=SAG + ", and the other drives", title="Supply under load")
def sagged_further(V: Volt, I_others: Ampere, R_s: Ohm) -> Volt:
    return V - I_others * R_s


@rule("I_mean", source="energy of one cycle over its time and the volts", title="Mean current from the source")
def mean_of_energy(E: Joule, t: Second, V: Volt) -> Ampere:
    return E / (t * V)


@rule("ζ", source="series R-L-C: R/2 · √(C/L)", title="Damping of the lead and capacitor")
def lead_damping(R: Ohm, C: Farad, L: Henry) -> Number:
    return R / 2 * sqrt(C / L)
