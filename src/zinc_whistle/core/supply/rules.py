"""The rules of sources and regulators."""

from __future__ import annotations

from ..expressions import sqrt
from ..kinds import Ampere, Coulomb, Farad, Fraction, Inertia, Joule, Ohm, RadPerSecond, Second, Volt, Watt
from ..working import rule

SAG = "Ohm's law on the source and its wire"


@rule("V_bus", source=SAG, title="Supply under load")
def loaded_voltage(V_oc: Volt, I: Ampere, R_s: Ohm) -> Volt:
    return V_oc - I * R_s


@rule("D", source="D·(V_oc − D·I·R_s) = V_needed, solved for D", title="Duty")
def duty(V_needed: Volt, V_oc: Volt, I: Ampere, R_s: Ohm) -> Fraction:
    """The duty at which the bridge's mean output is what the motor needs; the source gives D·I."""
    return 2 * V_needed / (V_oc + sqrt(V_oc**2 - 4 * I * R_s * V_needed))


@rule("I_in", source="power balance of a PWM drive: the source gives D·I", title="Current from the source")
def source_current(D: Fraction, I: Ampere) -> Ampere:
    return D * I


@rule("V_in", source="output and dropout together", title="Logic supply needs")
def regulator_needs(V_out: Volt, V_drop: Volt) -> Volt:
    return V_out + V_drop


@rule("P_reg", source="the difference in volts burns as heat", title="Heat in the regulator")
def linear_heat(V_in: Volt, V_out: Volt, I: Ampere) -> Watt:
    return (V_in - V_out) * I


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


@rule(
    "t_run",
    source="charge over mean current; a battery gives a little less at high current",
    title="Runs for, on one charge",
)
def runtime(C: Coulomb, I: Ampere, I_logic: Ampere) -> Second:
    return C / (I + I_logic)


@rule("I_mean", source="mean over one cycle of work and rest", title="Mean current from the source")
def mean_current(I: Ampere, t_run: Second, t_rest: Second) -> Ampere:
    return I * t_run / (t_run + t_rest)
