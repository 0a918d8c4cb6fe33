"""Quick sums of the power stage: switches, gates, heat, protection."""

from __future__ import annotations

from ..algebra.nodes import Constant
from ..laws import motor as motor_laws
from ..laws import stage as stage_rules
from ..laws import switch as switch_laws
from ..laws.nothing import NO_VOLTS, NO_WATTS
from .kit import Givens, ResultMap, Sum, SumError, SumInput, ask

MODES = {"slow": Constant("1", 1.0, "number"), "antiphase": Constant("2", 2.0, "number")}


def _heat(g: Givens) -> ResultMap:
    limit, air, path, ohms, hot = (g[k] for k in ("limit_c", "air_c", "path_k_per_w", "on_ohm", "hot_factor"))
    found: ResultMap = {"allowed_current_a": (switch_laws.allowed_current(limit, air, path, ohms, hot), "A")}
    if hot.value > 1:
        found["runaway_current_a"] = (switch_laws.runaway_current(limit, path, ohms, hot), "A")
    heated = switch_laws.junction(T_a=air, R_th=path, I=g["current_a"], R=ohms, h=hot, T_lim=limit, P_0=NO_WATTS)
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


def _base(g: Givens) -> ResultMap:
    if g["base_v"].value >= g["pin_v"].value:
        raise SumError("base_v: the pin must be above the base's volts.")
    current = switch_laws.base_current(g["pin_v"], g["base_v"], g["resistor_ohm"])
    return {
        "base_a": (current, "A"),
        "saturates_to_a": (switch_laws.saturated_at(current, switch_laws.FORCED_GAIN), "A"),
    }


def _ringing(g: Givens) -> ResultMap:
    peak = stage_rules.ringing(g["bus_v"], g["loop_h"], g["current_a"], g["output_f"], g["fall_s"])
    return {"peak_v": (peak, "V")}


def _follower(g: Givens) -> ResultMap:
    got = stage_rules.follower_volts(g["drive_v"], g["drop_v"])
    if g["drive_v"].value - g["drop_v"].value >= g["supply_v"].value:
        raise SumError("drive_v: it is driven above the supply; that is no follower.")
    speed = motor_laws.speed_at(got, NO_VOLTS, g["current_a"], g["resistance_ohm"], g["ke_v_s_per_rad"])
    if got.value is not None and got.value < g["current_a"].value * g["resistance_ohm"].value:
        raise SumError("current_a: the motor's resistance takes all the volts that are left; it stands.")
    heat = stage_rules.follower_heat(g["supply_v"], got, g["current_a"])
    return {"motor_v": (got, "V"), "speed_rpm": (speed, "rpm"), "heat_w": (heat, "W")}


def _overload(g: Givens) -> ResultMap:
    if g["start_c"].value >= g["limit_c"].value:
        raise SumError("start_c: it starts at its limit already.")
    bears = stage_rules.overload_time(
        g["capacity"], g["limit_c"], g["start_c"], g["current_a"], g["on_ohm"], g["hot_factor"]
    )
    return {"bears_s": (bears, "s")}


MODE = SumInput(
    key="mode",
    kind="choice",
    unit="",
    label="drive mode",
    example="slow",
    options=("slow", "antiphase"),
    default="slow",
)


STAGE_SUMS = (
    Sum(
        "mosfet-heat",
        "MOSFET: the current its heat allows, and its junction",
        (
            ask("on_ohm", "resistance", "Ω", "on-resistance at 25 °C", "4m"),
            ask("hot_factor", "ratio", "1", "its factor at the limit", "2.07"),
            ask("path_k_per_w", "thermal resistance", "K/W", "junction to air", "62"),
            ask("air_c", "temperature", "°C", "air", "50", above=None),
            ask("limit_c", "temperature", "°C", "junction limit", "175", default="175", above=25),
            ask("current_a", "current", "A", "current, RMS", "10"),
        ),
        _heat,
    ),
    Sum(
        "switching-loss",
        "MOSFET: switching, dead-time, recovery and output loss",
        (
            ask("bus_v", "voltage", "V", "bus", "24"),
            ask("current_a", "current", "A", "current", "10"),
            ask("rise_s", "time", "s", "rise time", "50n"),
            ask("fall_s", "time", "s", "fall time", "40n"),
            ask("frequency_hz", "frequency", "Hz", "frequency", "20k"),
            ask("diode_v", "voltage", "V", "body diode", "0.9", default="0.9"),
            ask("dead_time_s", "time", "s", "dead time", "300n", default="0", above=None),
            ask("recovery_c", "charge", "C", "recovered charge", "80n", default="0", above=None),
            ask("output_f", "capacitance", "F", "output capacitance", "500p", default="0", above=None),
        ),
        _switching,
    ),
    Sum(
        "gate-drive",
        "Gate: currents, times, dead time and power",
        (
            ask("drive_v", "voltage", "V", "drive voltage", "12"),
            ask("plateau_v", "voltage", "V", "plateau", "5"),
            ask("switching_c", "charge", "C", "switching charge", "20n"),
            ask("total_c", "charge", "C", "total gate charge", "90n"),
            ask("resistor_ohm", "resistance", "Ω", "gate resistor", "10", above=None),
            ask("driver_ohm", "resistance", "Ω", "driver's own", "2", default="2", above=None),
            ask("internal_ohm", "resistance", "Ω", "inside the gate", "1.5", default="1.5", above=None),
            ask("mismatch_s", "time", "s", "driver's mismatch", "50n", default="50n", above=None),
            ask("frequency_hz", "frequency", "Hz", "frequency", "20k"),
        ),
        _gate,
    ),
    Sum(
        "miller",
        "Gate lifted by a fast edge on the drain",
        (
            ask("off_ohm", "resistance", "Ω", "turn-off path", "6"),
            ask("miller_f", "capacitance", "F", "gate-drain capacitance", "150p"),
            ask("bus_v", "voltage", "V", "bus", "24"),
            ask("rise_s", "time", "s", "edge", "30n"),
        ),
        _miller,
    ),
    Sum(
        "bootstrap",
        "Bootstrap capacitor and highest duty",
        (
            ask("gate_c", "charge", "C", "gate charge", "90n"),
            ask("leak_a", "current", "A", "driver's current", "150u", above=None),
            ask("on_s", "time", "s", "longest on-time", "1m"),
            ask("droop_v", "voltage", "V", "droop allowed", "0.5"),
            ask("refresh_s", "time", "s", "refresh time", "1u"),
            ask("frequency_hz", "frequency", "Hz", "frequency", "20k"),
        ),
        _bootstrap,
    ),
    Sum(
        "parallel",
        "Switches in parallel: the busiest one",
        (
            ask("current_a", "current", "A", "current, all together", "30"),
            ask("count", "number", "1", "switches", "3", above=0.99),
            ask("spread", "fraction", "%", "spread of on-resistance, ±", "20", above=None),
        ),
        _parallel,
    ),
    Sum(
        "heat-sink",
        "Heat sink for a loss",
        (
            ask("junction_c", "temperature", "°C", "junction at most", "125", above=None),
            ask("air_c", "temperature", "°C", "air", "45", above=None),
            ask("heat_w", "power", "W", "loss", "6"),
            ask("case_k_per_w", "thermal resistance", "K/W", "junction to case", "1", above=None),
            ask("pad_k_per_w", "thermal resistance", "K/W", "case to sink", "0.5", default="0.5", above=None),
        ),
        _sink,
    ),
    Sum(
        "base-resistor",
        "Bipolar switch on a pin",
        (
            ask("pin_v", "voltage", "V", "pin, high", "5"),
            ask("base_v", "voltage", "V", "base-emitter", "0.7", default="0.7"),
            ask("resistor_ohm", "resistance", "Ω", "base resistor", "330"),
        ),
        _base,
    ),
    Sum(
        "turn-off-ringing",
        "Switch: how far the drain rings over the supply",
        (
            ask("bus_v", "voltage", "V", "bus", "24"),
            ask("loop_h", "inductance", "H", "loop inductance", "25n"),
            ask("current_a", "current", "A", "current", "10"),
            ask("output_f", "capacitance", "F", "output capacitance", "500p"),
            ask("fall_s", "time", "s", "turn-off time", "50n"),
        ),
        _ringing,
    ),
    Sum(
        "follower",
        "Motor on the source of a MOSFET, or an emitter: what it gets, how fast, what burns",
        (
            ask("supply_v", "voltage", "V", "supply", "12"),
            ask("drive_v", "voltage", "V", "gate or base, against ground", "10"),
            ask("drop_v", "voltage", "V", "gate to source at the current; 0.7 V at an emitter", "3"),
            ask("resistance_ohm", "resistance", "Ω", "winding", "1"),
            ask("ke_v_s_per_rad", "motor constant", "V·s/rad", "motor constant", "0.01"),
            ask("current_a", "current", "A", "motor current", "2"),
        ),
        _follower,
    ),
    Sum(
        "overload",
        "Switch: how long it bears a jam",
        (
            ask("capacity", "heat capacity", "J/K", "heat capacity of the package", "0.8"),
            ask("start_c", "temperature", "°C", "junction at work", "60", above=None),
            ask("limit_c", "temperature", "°C", "junction limit", "175", default="175", above=None),
            ask("current_a", "current", "A", "stall current, of one switch", "40"),
            ask("on_ohm", "resistance", "Ω", "on-resistance at 25 °C", "10m"),
            ask("hot_factor", "ratio", "1", "its factor at the limit", "2", default="2"),
        ),
        _overload,
    ),
)
