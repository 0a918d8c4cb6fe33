"""Quick sums of the power stage: switches, gates, heat, protection."""

from __future__ import annotations

from ..algebra.bands import bands_of, value_of
from ..algebra.nodes import Constant, Leaf
from ..algebra.rules import Quotient, procedure
from ..algebra.units import KINDS
from ..laws import capacitor as capacitor_rules
from ..laws import load as load_rules
from ..laws import stage as stage_rules
from ..laws import supply as supply_rules
from ..laws import switch as switch_laws
from ..laws import wiring as wire_rules
from .kit import Givens, ResultMap, Sum, SumError, SumInput

MODES = {"slow": Constant("1", 1.0, "number"), "antiphase": Constant("2", 2.0, "number")}
NO_HEAT = Constant("0 W", 0.0, "power")


def _heat(g: Givens) -> ResultMap:
    limit, air, path, ohms, hot = (g[k] for k in ("limit_c", "air_c", "path_k_per_w", "on_ohm", "hot_factor"))
    found: ResultMap = {"allowed_current_a": (switch_laws.allowed_current(limit, air, path, ohms, hot), "A")}
    if hot.value > 1:
        found["runaway_current_a"] = (switch_laws.runaway_current(limit, path, ohms, hot), "A")
    heated = switch_laws.junction(T_a=air, R_th=path, I=g["current_a"], R=ohms, h=hot, T_lim=limit, P_0=NO_HEAT)
    if heated.value is None:
        raise SumError(f"current_a: at this current {heated.reason}.")
    return found | {"junction_c": (heated, "°C")}


def _switching(g: Givens) -> ResultMap:
    return {
        "switching_w": (
            switch_laws.switching_loss(g["bus_v"], g["current_a"], g["rise_s"], g["fall_s"], g["frequency_hz"]),
            "W",
        ),
        "dead_time_w": (
            switch_laws.dead_time_loss(g["diode_v"], g["current_a"], g["dead_time_s"], g["frequency_hz"]),
            "W",
        ),
        "recovery_w": (switch_laws.recovery_loss(g["recovery_c"], g["bus_v"], g["frequency_hz"]), "W"),
        "output_w": (switch_laws.output_loss(g["output_f"], g["bus_v"], g["frequency_hz"]), "W"),
    }


def _gate(g: Givens) -> ResultMap:
    around = switch_laws.gate_resistance(g["driver_ohm"], g["resistor_ohm"], g["internal_ohm"])
    if g["plateau_v"].value >= g["drive_v"].value:
        raise SumError("plateau_v: the drive must be above the plateau, or the switch never turns on.")
    on, off = (
        switch_laws.gate_current_on(g["drive_v"], g["plateau_v"], around),
        switch_laws.gate_current_off(g["plateau_v"], around),
    )
    fall = switch_laws.switching_time(g["switching_c"], off, title="Turn-off time")
    return {
        "gate_on_a": (on, "A"),
        "gate_off_a": (off, "A"),
        "turn_on_s": (switch_laws.switching_time(g["switching_c"], on, title="Turn-on time"), "s"),
        "turn_off_s": (fall, "s"),
        "dead_time_s": (switch_laws.dead_time(fall, g["mismatch_s"]), "s"),
        "gate_w": (switch_laws.gate_power(g["total_c"], g["drive_v"], g["frequency_hz"]), "W"),
    }


def _miller(g: Givens) -> ResultMap:
    return {"lift_v": (switch_laws.miller_lift(g["off_ohm"], g["miller_f"], g["bus_v"], g["rise_s"]), "V")}


def _bootstrap(g: Givens) -> ResultMap:
    charge = switch_laws.bootstrap_charge(g["gate_c"], g["leak_a"], g["on_s"])
    return {
        "charge_c": (charge, "C"),
        "capacitor_f": (switch_laws.bootstrap_capacitor(charge, g["droop_v"]), "F"),
        "duty_max": (switch_laws.bootstrap_duty(g["refresh_s"], g["frequency_hz"]), "1"),
    }


def _parallel(g: Givens) -> ResultMap:
    if not 0 <= g["spread"].value < 1:
        raise SumError("spread: give a share between 0 and 100 %.")
    share = stage_rules.busiest_share(g["count"], g["spread"])
    return {"busiest_a": (stage_rules.busiest_current(g["current_a"], share), "A"), "share": (share, "1")}


def _sink(g: Givens) -> ResultMap:
    found = switch_laws.heat_sink(g["junction_c"], g["air_c"], g["heat_w"], g["case_k_per_w"], g["pad_k_per_w"])
    if found.value is not None and found.value <= 0:
        raise SumError("heat_w: no heat sink sheds that; the case itself is already too hot. Share the heat.")
    return {"sink_k_per_w": (found, "K/W")}


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


def _base(g: Givens) -> ResultMap:
    if g["base_v"].value >= g["pin_v"].value:
        raise SumError("base_v: the pin must be above the base's volts.")
    current = switch_laws.base_current(g["pin_v"], g["base_v"], g["resistor_ohm"])
    return {"base_a": (current, "A"), "saturates_to_a": (switch_laws.saturated_current(current), "A")}


def _timer_ic(g: Givens) -> ResultMap:
    return {"frequency_hz": (switch_laws.timer_frequency(g["a_ohm"], g["b_ohm"], g["capacitor_f"]), "Hz")}


def _timer_pot(g: Givens) -> ResultMap:
    if g["supply_v"].value <= 3 * g["diode_v"].value:
        raise SumError("supply_v: below three diode drops this circuit does not run.")
    slower = switch_laws.diode_slowing(g["supply_v"], g["diode_v"], title="Slower by the diodes")
    return {
        "frequency_hz": (switch_laws.steered_frequency(g["total_ohm"], g["capacitor_f"], slower), "Hz"),
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


def _ask(
    key: str, kind: str, unit: str, label: str, example: str, *, default: str = "", above: float | None = 0
) -> SumInput:
    return SumInput(key, kind, unit, label, example, default=default, above=above)


def _life(g: Givens) -> ResultMap:
    core = stage_rules.core_temperature(g["air_c"], g["ripple_a"], g["rated_a"])
    return {"core_c": (core, "°C"), "life_h": (stage_rules.capacitor_life(g["life_h"], g["limit_c"], core), "h")}


def _ringing(g: Givens) -> ResultMap:
    peak = stage_rules.ringing(g["bus_v"], g["loop_h"], g["current_a"], g["output_f"], g["fall_s"])
    return {"peak_v": (peak, "V")}


def _follower(g: Givens) -> ResultMap:
    got = stage_rules.follower_volts(g["gate_v"], g["plateau_v"])
    if g["gate_v"].value - g["plateau_v"].value >= g["bus_v"].value:
        raise SumError("gate_v: the gate is driven above the supply; that is no follower.")
    return {"motor_v": (got, "V"), "heat_w": (stage_rules.follower_heat(g["bus_v"], got, g["current_a"]), "W")}


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


def _overload(g: Givens) -> ResultMap:
    if g["start_c"].value >= g["limit_c"].value:
        raise SumError("start_c: it starts at its limit already.")
    bears = stage_rules.overload_time(
        g["capacity"], g["limit_c"], g["start_c"], g["current_a"], g["on_ohm"], g["hot_factor"]
    )
    return {"bears_s": (bears, "s")}


def _track_rise(g: Givens) -> ResultMap:
    section = wire_rules.track_section(g["width_mm"], g["copper_oz"])
    return {"rise_k": (wire_rules.track_warms(g["current_a"], wire_rules.TRACK[g["layer"]], section), "K")}


MODE = SumInput("mode", "choice", "", "drive mode", "slow", ("slow", "antiphase"), "slow")
STAGE_SUMS = (
    Sum(
        "mosfet-heat",
        "MOSFET: the current its heat allows, and its junction",
        (
            _ask("on_ohm", "resistance", "Ω", "on-resistance at 25 °C", "4m"),
            _ask("hot_factor", "ratio", "1", "its factor at the limit", "2.07"),
            _ask("path_k_per_w", "thermal resistance", "K/W", "junction to air", "62"),
            _ask("air_c", "temperature", "°C", "air", "50", above=None),
            _ask("limit_c", "temperature", "°C", "junction limit", "175", default="175", above=25),
            _ask("current_a", "current", "A", "current, RMS", "10"),
        ),
        _heat,
    ),
    Sum(
        "switching-loss",
        "MOSFET: switching, dead-time, recovery and output loss",
        (
            _ask("bus_v", "voltage", "V", "bus", "24"),
            _ask("current_a", "current", "A", "current", "10"),
            _ask("rise_s", "time", "s", "rise time", "50n"),
            _ask("fall_s", "time", "s", "fall time", "40n"),
            _ask("frequency_hz", "frequency", "Hz", "frequency", "20k"),
            _ask("diode_v", "voltage", "V", "body diode", "0.9", default="0.9"),
            _ask("dead_time_s", "time", "s", "dead time", "300n", default="0", above=None),
            _ask("recovery_c", "charge", "C", "recovered charge", "80n", default="0", above=None),
            _ask("output_f", "capacitance", "F", "output capacitance", "500p", default="0", above=None),
        ),
        _switching,
    ),
    Sum(
        "gate-drive",
        "Gate: currents, times, dead time and power",
        (
            _ask("drive_v", "voltage", "V", "drive voltage", "12"),
            _ask("plateau_v", "voltage", "V", "plateau", "5"),
            _ask("switching_c", "charge", "C", "switching charge", "20n"),
            _ask("total_c", "charge", "C", "total gate charge", "90n"),
            _ask("resistor_ohm", "resistance", "Ω", "gate resistor", "10", above=None),
            _ask("driver_ohm", "resistance", "Ω", "driver's own", "2", default="2", above=None),
            _ask("internal_ohm", "resistance", "Ω", "inside the gate", "1.5", default="1.5", above=None),
            _ask("mismatch_s", "time", "s", "driver's mismatch", "50n", default="50n", above=None),
            _ask("frequency_hz", "frequency", "Hz", "frequency", "20k"),
        ),
        _gate,
    ),
    Sum(
        "miller",
        "Gate lifted by a fast edge on the drain",
        (
            _ask("off_ohm", "resistance", "Ω", "turn-off path", "6"),
            _ask("miller_f", "capacitance", "F", "gate-drain capacitance", "150p"),
            _ask("bus_v", "voltage", "V", "bus", "24"),
            _ask("rise_s", "time", "s", "edge", "30n"),
        ),
        _miller,
    ),
    Sum(
        "bootstrap",
        "Bootstrap capacitor and highest duty",
        (
            _ask("gate_c", "charge", "C", "gate charge", "90n"),
            _ask("leak_a", "current", "A", "driver's current", "150u", above=None),
            _ask("on_s", "time", "s", "longest on-time", "1m"),
            _ask("droop_v", "voltage", "V", "droop allowed", "0.5"),
            _ask("refresh_s", "time", "s", "refresh time", "1u"),
            _ask("frequency_hz", "frequency", "Hz", "frequency", "20k"),
        ),
        _bootstrap,
    ),
    Sum(
        "parallel",
        "Switches in parallel: the busiest one",
        (
            _ask("current_a", "current", "A", "current, all together", "30"),
            _ask("count", "number", "1", "switches", "3", above=0.99),
            _ask("spread", "fraction", "%", "spread of on-resistance, ±", "20", above=None),
        ),
        _parallel,
    ),
    Sum(
        "heat-sink",
        "Heat sink for a loss",
        (
            _ask("junction_c", "temperature", "°C", "junction at most", "125", above=None),
            _ask("air_c", "temperature", "°C", "air", "45", above=None),
            _ask("heat_w", "power", "W", "loss", "6"),
            _ask("case_k_per_w", "thermal resistance", "K/W", "junction to case", "1", above=None),
            _ask("pad_k_per_w", "thermal resistance", "K/W", "case to sink", "0.5", default="0.5", above=None),
        ),
        _sink,
    ),
    Sum(
        "avalanche",
        "Energy into a switch that breaks down",
        (
            _ask("inductance_h", "inductance", "H", "inductance", "1m"),
            _ask("current_a", "current", "A", "current", "10"),
            _ask("avalanche_v", "voltage", "V", "breakdown voltage", "50"),
            _ask("supply_v", "voltage", "V", "supply", "12"),
        ),
        _avalanche,
    ),
    Sum(
        "snubber",
        "Resistor and capacitor across a ringing switch",
        (
            _ask("loop_h", "inductance", "H", "loop inductance", "30n"),
            _ask("ringing_f", "capacitance", "F", "capacitance that rings", "600p"),
            _ask("bus_v", "voltage", "V", "bus", "24"),
            _ask("frequency_hz", "frequency", "Hz", "frequency", "20k"),
        ),
        _snubber,
    ),
    Sum(
        "terminal-capacitor",
        "What the capacitor across the motor costs on a PWM bridge",
        (
            _ask("capacitor_f", "capacitance", "F", "capacitor", "100n"),
            _ask("supply_v", "voltage", "V", "supply", "24"),
            _ask("frequency_hz", "frequency", "Hz", "frequency", "20k"),
            MODE,
        ),
        _terminal,
    ),
    Sum(
        "bulk-capacitor",
        "Bulk capacitor beside a PWM driver",
        (
            _ask("current_a", "current", "A", "motor current", "10"),
            _ask("duty", "fraction", "%", "duty", "50", default="50"),
            _ask("frequency_hz", "frequency", "Hz", "frequency", "20k"),
            _ask("ripple_v", "voltage", "V", "ripple allowed", "0.5"),
            MODE,
        ),
        _bulk,
    ),
    Sum(
        "plug-in",
        "Ringing when a supply is plugged in live",
        (
            _ask("supply_v", "voltage", "V", "supply", "24"),
            _ask("lead_h", "inductance", "H", "lead", "1u"),
            _ask("capacitance_f", "capacitance", "F", "input capacitor", "10u"),
            _ask("resistance_ohm", "resistance", "Ω", "resistance in the way", "0.1"),
        ),
        _plug_in,
    ),
    Sum(
        "fuse-wire",
        "How long a wire bears a short",
        (
            SumInput("copper_mm2", "area", "mm²", "copper", "0.5", above=0),
            _ask("current_a", "current", "A", "current", "100"),
        ),
        _fuse_wire,
    ),
    Sum(
        "shunt",
        "Shunt: volts, heat and converter counts",
        (
            _ask("current_a", "current", "A", "current", "10"),
            _ask("shunt_ohm", "resistance", "Ω", "shunt", "5m"),
            _ask("gain", "ratio", "1", "amplifier gain", "20", default="1"),
            _ask("reference_v", "voltage", "V", "converter's full scale", "5", default="5"),
            _ask("bits", "number", "1", "converter's bits", "10", default="10"),
        ),
        _shunt,
    ),
    Sum(
        "base-resistor",
        "Bipolar switch on a pin",
        (
            _ask("pin_v", "voltage", "V", "pin, high", "5"),
            _ask("base_v", "voltage", "V", "base-emitter", "0.7", default="0.7"),
            _ask("resistor_ohm", "resistance", "Ω", "base resistor", "330"),
        ),
        _base,
    ),
    Sum(
        "timer-ic",
        "Timer circuit: frequency",
        (
            _ask("a_ohm", "resistance", "Ω", "upper resistor", "10k"),
            _ask("b_ohm", "resistance", "Ω", "lower resistor", "100k"),
            _ask("capacitor_f", "capacitance", "F", "capacitor", "10n"),
        ),
        _timer_ic,
    ),
    Sum(
        "timer-pot",
        "Timer circuit with a potentiometer and steering diodes",
        (
            _ask("total_ohm", "resistance", "Ω", "potentiometer and end resistors", "102k"),
            _ask("end_ohm", "resistance", "Ω", "one end resistor", "1k"),
            _ask("capacitor_f", "capacitance", "F", "capacitor", "10n"),
            _ask("supply_v", "voltage", "V", "supply", "12"),
            _ask("diode_v", "voltage", "V", "diode", "0.6", default="0.6", above=None),
        ),
        _timer_pot,
    ),
    Sum(
        "relay-dwell",
        "Wait before power after relays changed over",
        (
            _ask("inductance_h", "inductance", "H", "motor inductance", "4m"),
            _ask("resistance_ohm", "resistance", "Ω", "motor resistance", "6"),
            _ask("current_a", "current", "A", "motor current", "1.5"),
            _ask("diode_v", "voltage", "V", "flyback diode", "0.8", default="0.8"),
            _ask("release_s", "time", "s", "relay releases in", "10m"),
            _ask("bounce_s", "time", "s", "contacts bounce for", "15m", default="15m"),
        ),
        _relay,
    ),
    Sum(
        "capacitor-life",
        "Electrolytic capacitor: core and life",
        (
            _ask("ripple_a", "current", "A", "ripple current", "2"),
            _ask("rated_a", "current", "A", "rated ripple current", "2.8"),
            _ask("air_c", "temperature", "°C", "air", "45", above=None),
            _ask("life_h", "time", "h", "life at its limit", "5000"),
            _ask("limit_c", "temperature", "°C", "its limit", "105", default="105", above=None),
        ),
        _life,
    ),
    Sum(
        "turn-off-ringing",
        "Switch: how far the drain rings over the supply",
        (
            _ask("bus_v", "voltage", "V", "bus", "24"),
            _ask("loop_h", "inductance", "H", "loop inductance", "25n"),
            _ask("current_a", "current", "A", "current", "10"),
            _ask("output_f", "capacitance", "F", "output capacitance", "500p"),
            _ask("fall_s", "time", "s", "turn-off time", "50n"),
        ),
        _ringing,
    ),
    Sum(
        "follower",
        "Motor on the source of a MOSFET: what it gets, what burns",
        (
            _ask("bus_v", "voltage", "V", "supply", "12"),
            _ask("gate_v", "voltage", "V", "gate, against ground", "5"),
            _ask("plateau_v", "voltage", "V", "gate to source, at the current", "3"),
            _ask("current_a", "current", "A", "motor current", "2"),
        ),
        _follower,
    ),
    Sum(
        "flyback-diode",
        "Flyback diode: mean current, heat and junction",
        (
            _ask("current_a", "current", "A", "motor current", "3"),
            _ask("duty", "fraction", "%", "duty", "50", above=None),
            _ask("diode_v", "voltage", "V", "diode", "0.5"),
            _ask("path_k_per_w", "thermal resistance", "K/W", "junction to air", "50"),
            _ask("air_c", "temperature", "°C", "air", "40", above=None),
        ),
        _diode,
    ),
    Sum(
        "overload",
        "Switch: how long it bears a jam",
        (
            _ask("capacity", "heat capacity", "J/K", "heat capacity of the package", "0.8"),
            _ask("start_c", "temperature", "°C", "junction at work", "60", above=None),
            _ask("limit_c", "temperature", "°C", "junction limit", "175", default="175", above=None),
            _ask("current_a", "current", "A", "stall current, of one switch", "40"),
            _ask("on_ohm", "resistance", "Ω", "on-resistance at 25 °C", "10m"),
            _ask("hot_factor", "ratio", "1", "its factor at the limit", "2", default="2"),
        ),
        _overload,
    ),
    Sum(
        "track-rise",
        "Track on a board: how warm it gets",
        (
            _ask("current_a", "current", "A", "current", "10"),
            _ask("width_mm", "length", "mm", "width", "7.2"),
            _ask("copper_oz", "copper weight", "oz/ft²", "copper", "1", default="1"),
            SumInput("layer", "choice", "", "layer", "outer", ("outer", "inner"), "outer"),
        ),
        _track_rise,
    ),
    Sum(
        "power-screw",
        "Power screw: torque to raise and lower",
        (
            _ask("force_n", "force", "N", "force", "6400"),
            _ask("mean_diameter_mm", "length", "mm", "mean diameter", "30"),
            _ask("lead_mm", "length", "mm", "lead", "8"),
            _ask("friction", "ratio", "1", "friction", "0.08", above=None),
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
            _ask("resistance_ohm", "resistance", "Ω", "resistor", "47k"),
            _ask("tolerance", "fraction", "%", "tolerance", "5", default="5"),
            SumInput("bands", "choice", "", "number of bands", "4", ("4", "5"), "4"),
        ),
        _band_names,
    ),
)
