"""Quick sums of what stands round a switch: diode, capacitors, fuse, shunt, timer circuits, relay, resistors."""

from __future__ import annotations

from ..algebra.bands import bands_of, value_of
from ..algebra.nodes import Leaf
from ..algebra.rules import Quotient, procedure
from ..algebra.units import KINDS
from ..laws import capacitor as capacitor_rules
from ..laws import load as load_rules
from ..laws import stage as stage_rules
from ..laws import supply as supply_rules
from ..laws import switch as switch_laws
from ..laws import timer_circuit as timer_laws
from ..laws import wiring as wire_rules
from .kit import Givens, ResultMap, Sum, SumError, SumInput, ask
from .stage_sums import MODE, MODES


def _avalanche(g: Givens) -> ResultMap:
    if g["avalanche_v"].value <= g["supply_v"].value:
        raise SumError("avalanche_v: it must be above the supply.")
    return {
        "energy_j": (
            switch_laws.avalanche_energy(g["inductance_h"], g["current_a"], g["avalanche_v"], g["supply_v"]),
            "J",
        )
    }


def _snubber(g: Givens) -> ResultMap:
    capacitor = switch_laws.snubber_capacitor(switch_laws.FOUR, g["ringing_f"])
    return {
        "resistor_ohm": (switch_laws.snubber_resistor(g["loop_h"], g["ringing_f"]), "Ω"),
        "capacitor_f": (capacitor, "F"),
        "heat_w": (switch_laws.snubber_heat(capacitor, g["bus_v"], g["frequency_hz"]), "W"),
    }


def _terminal(g: Givens) -> ResultMap:
    return {
        "heat_w": (
            switch_laws.terminal_capacitor_heat(MODES[g["mode"]], g["capacitor_f"], g["supply_v"], g["frequency_hz"]),
            "W",
        )
    }


def _bulk(g: Givens) -> ResultMap:
    mode, current, duty = MODES[g["mode"]], g["current_a"], g["duty"]
    if not 0 < duty.value < 1:
        raise SumError("duty: give a share between 0 and 100 %.")
    return {
        "ripple_current_a": (capacitor_rules.ripple_current(mode, current, duty), "A"),
        "capacitance_f": (
            capacitor_rules.capacitance_needed(mode, current, duty, g["frequency_hz"], g["ripple_v"]),
            "F",
        ),
    }


def _plug_in(g: Givens) -> ResultMap:
    damping = supply_rules.lead_damping(g["resistance_ohm"], g["capacitance_f"], g["lead_h"])
    return {"damping": (damping, "1"), "peak_v": (supply_rules.plug_in_peak(g["supply_v"], damping), "V")}


def _fuse_wire(g: Givens) -> ResultMap:
    return {"endures_s": (switch_laws.wire_endures(g["copper_mm2"], g["current_a"]), "s")}


def _shunt(g: Givens) -> ResultMap:
    volts = switch_laws.shunt_volts(g["current_a"], g["shunt_ohm"])
    counts = switch_laws.converter_counts(volts, g["gain"], g["reference_v"], g["bits"])
    return {
        "shunt_v": (volts, "V"),
        "heat_w": (switch_laws.shunt_heat(g["current_a"], g["shunt_ohm"]), "W"),
        "counts": (counts, "1"),
        "step_a": (switch_laws.current_step(g["reference_v"], g["bits"], g["gain"], g["shunt_ohm"]), "A"),
    }


def _donor(g: Givens) -> ResultMap:
    """A transistor without a sheet by two readings: the gate at which a milliampere flows, and volts at a current."""
    if g["gate_v"].value <= g["threshold_v"].value:
        raise SumError("gate_v: it must be above the gate volts of the first reading, or the transistor is not on.")
    ohms = switch_laws.donor_resistance(g["drop_v"], g["current_a"], g["lead_ohm"])
    if ohms.value is None or ohms.value <= 0:
        raise SumError("drop_v: the leads alone drop more than that: measure at the transistor's own legs.")
    return {
        "on_resistance_ohm": (ohms, "Ω"),
        "hot_ohm": (switch_laws.donor_hot(ohms), "Ω"),
        "on_from_v": (stage_rules.on_from(stage_rules.highest_threshold(g["threshold_v"])), "V"),
        "free_air_a": (switch_laws.donor_free_air(ohms), "A"),
    }


def _timer_ic(g: Givens) -> ResultMap:
    return {"frequency_hz": (timer_laws.timer_frequency(g["a_ohm"], g["b_ohm"], g["capacitor_f"]), "Hz")}


def _timer_pot(g: Givens) -> ResultMap:
    if g["supply_v"].value <= 3 * g["diode_v"].value:
        raise SumError("supply_v: below three diode drops this circuit does not run.")
    slower = timer_laws.diode_slowing(g["supply_v"], g["diode_v"])
    return {
        "frequency_hz": (timer_laws.steered_frequency(g["total_ohm"], g["capacitor_f"], slower), "Hz"),
        "slower_by": (slower, "1"),
        "duty_least": (SHARE(g["end_ohm"], g["total_ohm"], title="Least duty"), "1"),
    }


SHARE = Quotient("D_min", "Least duty", "R_end", "R", "the part of R that the wiper cannot leave out")


def _relay(g: Givens) -> ResultMap:
    decay = switch_laws.current_decay(g["inductance_h"], g["resistance_ohm"], g["current_a"], g["diode_v"])
    return {"decay_s": (decay, "s"), "dwell_s": (switch_laws.relay_dwell(decay, g["release_s"], g["bounce_s"]), "s")}


def _screw(g: Givens) -> ResultMap:
    force, diameter, lead, friction = (g[k] for k in ("force_n", "mean_diameter_mm", "lead_mm", "friction"))
    up = load_rules.screw_raise(force, diameter, lead, friction)
    return {
        "raise_nm": (up, "N·m"),
        "lower_nm": (load_rules.screw_lower(force, diameter, lead, friction), "N·m"),
        "efficiency": (load_rules.screw_efficiency(force, lead, up), "1"),
    }


@procedure("R", "resistance", says="two or three digits, times the multiplier band", source="IEC 60062")
def from_bands(R: float) -> float:
    """A value read from its bands."""
    return R


def _bands(g: Givens) -> ResultMap:
    words = [w for w in g["bands"].replace(",", " ").replace("-", " ").split() if w]
    try:
        ohms, tolerance = value_of(words)
    except ValueError as error:
        raise SumError(f"bands: {error}.") from error
    leaf = Leaf("bands", " ".join(words), KINDS["resistance"], ohms)
    spread = Leaf("bands", words[-1], KINDS["fraction"], tolerance)
    return {
        "resistance_ohm": (from_bands(leaf, title="Resistor"), "Ω"),
        "tolerance_percent": (from_bands(spread, title="Tolerance", kind="fraction"), "%"),
    }


def _band_names(g: Givens) -> ResultMap:
    try:
        bands = bands_of(g["resistance_ohm"].value, round(g["tolerance"].value, 6), int(g["bands"]) - 2)
    except ValueError as error:
        raise SumError(f"resistance_ohm: {error}.") from error
    return {"resistance_ohm": (from_bands(g["resistance_ohm"], title=", ".join(bands)), "Ω")}


def _life(g: Givens) -> ResultMap:
    core = stage_rules.core_temperature(g["air_c"], g["ripple_a"], g["rated_a"])
    return {"core_c": (core, "°C"), "life_h": (stage_rules.capacitor_life(g["life_h"], g["limit_c"], core), "h")}


def _diode(g: Givens) -> ResultMap:
    if not 0 <= g["duty"].value <= 1:
        raise SumError("duty: give a share between 0 and 100 %.")
    off = stage_rules.rest_of(g["duty"])
    heat = stage_rules.diode_heat(g["diode_v"], g["current_a"], off)
    return {
        "mean_a": (stage_rules.diode_mean(g["current_a"], off), "A"),
        "heat_w": (heat, "W"),
        "junction_c": (stage_rules.warmed(g["air_c"], heat, g["path_k_per_w"]), "°C"),
    }


def _track_rise(g: Givens) -> ResultMap:
    section = wire_rules.track_section(g["width_mm"], g["copper_oz"])
    return {"rise_k": (wire_rules.track_warms(g["current_a"], wire_rules.TRACK[g["layer"]], section), "K")}


PART_SUMS = (
    Sum(
        "avalanche",
        "Energy into a switch that breaks down",
        (
            ask("inductance_h", "inductance", "H", "inductance", "1m"),
            ask("current_a", "current", "A", "current", "10"),
            ask("avalanche_v", "voltage", "V", "breakdown voltage", "50"),
            ask("supply_v", "voltage", "V", "supply", "12"),
        ),
        _avalanche,
    ),
    Sum(
        "snubber",
        "Resistor and capacitor across a ringing switch",
        (
            ask("loop_h", "inductance", "H", "loop inductance", "30n"),
            ask("ringing_f", "capacitance", "F", "capacitance that rings", "600p"),
            ask("bus_v", "voltage", "V", "bus", "24"),
            ask("frequency_hz", "frequency", "Hz", "frequency", "20k"),
        ),
        _snubber,
    ),
    Sum(
        "terminal-capacitor",
        "What the capacitor across the motor costs on a PWM bridge",
        (
            ask("capacitor_f", "capacitance", "F", "capacitor", "100n"),
            ask("supply_v", "voltage", "V", "supply", "24"),
            ask("frequency_hz", "frequency", "Hz", "frequency", "20k"),
            MODE,
        ),
        _terminal,
    ),
    Sum(
        "bulk-capacitor",
        "Bulk capacitor beside a PWM driver",
        (
            ask("current_a", "current", "A", "motor current", "10"),
            ask("duty", "fraction", "%", "duty", "50", default="50"),
            ask("frequency_hz", "frequency", "Hz", "frequency", "20k"),
            ask("ripple_v", "voltage", "V", "ripple allowed", "0.5"),
            MODE,
        ),
        _bulk,
    ),
    Sum(
        "plug-in",
        "Ringing when a supply is plugged in live",
        (
            ask("supply_v", "voltage", "V", "supply", "24"),
            ask("lead_h", "inductance", "H", "lead", "1u"),
            ask("capacitance_f", "capacitance", "F", "input capacitor", "10u"),
            ask("resistance_ohm", "resistance", "Ω", "resistance in the way", "0.1"),
        ),
        _plug_in,
    ),
    Sum(
        "fuse-wire",
        "How long a wire bears a short",
        (
            SumInput("copper_mm2", "area", "mm²", "copper", "0.5", above=0),
            ask("current_a", "current", "A", "current", "100"),
        ),
        _fuse_wire,
    ),
    Sum(
        "shunt",
        "Shunt: volts, heat and converter counts",
        (
            ask("current_a", "current", "A", "current", "10"),
            ask("shunt_ohm", "resistance", "Ω", "shunt", "5m"),
            ask("gain", "ratio", "1", "amplifier gain", "20", default="1"),
            ask("reference_v", "voltage", "V", "converter's full scale", "5", default="5"),
            ask("bits", "number", "1", "converter's bits", "10", default="10"),
        ),
        _shunt,
    ),
    Sum(
        "donor-transistor",
        "A transistor without a sheet, by two readings",
        (
            ask("threshold_v", "voltage", "V", "gate tied to drain, 1 mA: volts", "2.6"),
            ask("gate_v", "voltage", "V", "then with the gate at", "10"),
            ask("current_a", "current", "A", "and a current of", "2"),
            ask("drop_v", "voltage", "V", "volts from drain to source", "48m"),
            ask("lead_ohm", "resistance", "Ω", "of that, leads and clips", "1m", default="1m"),
        ),
        _donor,
    ),
    Sum(
        "timer-ic",
        "Timer circuit: frequency",
        (
            ask("a_ohm", "resistance", "Ω", "upper resistor", "10k"),
            ask("b_ohm", "resistance", "Ω", "lower resistor", "100k"),
            ask("capacitor_f", "capacitance", "F", "capacitor", "10n"),
        ),
        _timer_ic,
    ),
    Sum(
        "timer-pot",
        "Timer circuit with a potentiometer and steering diodes",
        (
            ask("total_ohm", "resistance", "Ω", "potentiometer and end resistors", "102k"),
            ask("end_ohm", "resistance", "Ω", "one end resistor", "1k"),
            ask("capacitor_f", "capacitance", "F", "capacitor", "10n"),
            ask("supply_v", "voltage", "V", "supply", "12"),
            ask("diode_v", "voltage", "V", "diode", "0.6", default="0.6", above=None),
        ),
        _timer_pot,
    ),
    Sum(
        "relay-dwell",
        "Wait before power after relays changed over",
        (
            ask("inductance_h", "inductance", "H", "motor inductance", "4m"),
            ask("resistance_ohm", "resistance", "Ω", "motor resistance", "6"),
            ask("current_a", "current", "A", "motor current", "1.5"),
            ask("diode_v", "voltage", "V", "flyback diode", "0.8", default="0.8"),
            ask("release_s", "time", "s", "relay releases in", "10m"),
            ask("bounce_s", "time", "s", "contacts bounce for", "15m", default="15m"),
        ),
        _relay,
    ),
    Sum(
        "capacitor-life",
        "Electrolytic capacitor: core and life",
        (
            ask("ripple_a", "current", "A", "ripple current", "2"),
            ask("rated_a", "current", "A", "rated ripple current", "2.8"),
            ask("air_c", "temperature", "°C", "air", "45", above=None),
            ask("life_h", "time", "h", "life at its limit", "5000"),
            ask("limit_c", "temperature", "°C", "its limit", "105", default="105", above=None),
        ),
        _life,
    ),
    Sum(
        "flyback-diode",
        "Flyback diode: mean current, heat and junction",
        (
            ask("current_a", "current", "A", "motor current", "3"),
            ask("duty", "fraction", "%", "duty", "50", above=None),
            ask("diode_v", "voltage", "V", "diode", "0.5"),
            ask("path_k_per_w", "thermal resistance", "K/W", "junction to air", "50"),
            ask("air_c", "temperature", "°C", "air", "40", above=None),
        ),
        _diode,
    ),
    Sum(
        "track-rise",
        "Track on a board: how warm it gets",
        (
            ask("current_a", "current", "A", "current", "10"),
            ask("width_mm", "length", "mm", "width", "7.2"),
            ask("copper_oz", "copper weight", "oz/ft²", "copper", "1", default="1"),
            SumInput(
                key="layer",
                kind="choice",
                unit="",
                label="layer",
                example="outer",
                options=("outer", "inner"),
                default="outer",
            ),
        ),
        _track_rise,
    ),
    Sum(
        "power-screw",
        "Power screw: torque to raise and lower",
        (
            ask("force_n", "force", "N", "force", "6400"),
            ask("mean_diameter_mm", "length", "mm", "mean diameter", "30"),
            ask("lead_mm", "length", "mm", "lead", "8"),
            ask("friction", "ratio", "1", "friction", "0.08", above=None),
        ),
        _screw,
    ),
    Sum(
        "colour-bands",
        "Resistor from its colour bands",
        (SumInput("bands", "text", "", "colours in order", "yellow violet orange gold"),),
        _bands,
    ),
    Sum(
        "bands-of",
        "Colour bands of a resistor",
        (
            ask("resistance_ohm", "resistance", "Ω", "resistor", "47k"),
            ask("tolerance", "fraction", "%", "tolerance", "5", default="5"),
            SumInput(
                key="bands",
                kind="choice",
                unit="",
                label="number of bands",
                example="4",
                options=("4", "5"),
                default="4",
            ),
        ),
        _band_names,
    ),
)
