"""The quick sums there are."""

from __future__ import annotations

from ..algebra.nodes import Constant, Leaf
from ..algebra.quantities import QuantityError, parse
from ..algebra.rules import AsItIs
from ..algebra.units import KINDS
from ..cases.timer_plan import full_count, settings
from ..laws import encoder as encoder_rules
from ..laws import motor as motor_rules
from ..laws import signals as timer_rules
from ..laws import wiring as wire_rules
from ..laws.nothing import NO_VOLTS
from ..model.signals import Timer
from . import rules
from .instrument_sums import INSTRUMENT_SUMS
from .kit import Givens, ResultMap, Sum, SumError, SumInput
from .loop_sums import LOOP_SUMS
from .part_sums import PART_SUMS
from .stage_sums import STAGE_SUMS
from .time_sums import TIME_SUMS
from .wire_sums import WIRE_SUMS

PRESCALERS = [1, 8, 64, 256, 1024]


def _wire(g: Givens) -> ResultMap:
    diameter = wire_rules.wire_diameter(g["awg"])
    per_length = wire_rules.resistance_per_length(wire_rules.wire_area(diameter))
    pair = wire_rules.pair_resistance(per_length, g["length_m"])
    return {
        "diameter_mm": (diameter, "mm"),
        "resistance_ohm_per_km": (per_length, "Ω/km"),
        "drop_v": (wire_rules.pair_drop(pair, g["current_a"]), "V"),
    }


def _trace(g: Givens) -> ResultMap:
    area = wire_rules.track_area(g["current_a"], wire_rules.TRACK[g["layer"]], g["rise_k"])
    width = wire_rules.track_width(area, g["copper_oz"])
    return {"width_mm": (width, "mm"), "width_mil": (width, "mil"), "area_mil2": (area, "mil²")}


def _divider(g: Givens) -> ResultMap:
    v, top, bottom = g["supply_v"], g["top_ohm"], g["bottom_ohm"]
    return {
        "out_v": (rules.divider_voltage(v, top, bottom), "V"),
        "current_a": (rules.divider_current(v, top, bottom), "A"),
        "source_ohm": (rules.divider_resistance(top, bottom), "Ω"),
    }


def _led(g: Givens) -> ResultMap:
    if g["led_v"].value >= g["supply_v"].value:
        raise SumError("led_v: the lamp needs more volts than the supply has.")
    exact = rules.led_resistor(g["supply_v"], g["led_v"], g["current_a"])
    preferred = rules.next_preferred(exact, title="Next preferred resistor")
    current = rules.led_current(g["supply_v"], g["led_v"], preferred)
    return {
        "resistance_ohm": (exact, "Ω"),
        "preferred_ohm": (preferred, "Ω"),
        "real_current_a": (current, "A"),
        "power_w": (rules.resistor_heat(current, preferred), "W"),
    }


def _rc(g: Givens) -> ResultMap:
    r, c = g["resistance_ohm"], g["capacitance_f"]
    return {
        "time_constant_s": (rules.time_constant(r, c), "s"),
        "half_time_s": (rules.half_time(r, c), "s"),
        "corner_hz": (rules.corner_frequency(r, c), "Hz"),
    }


def _timer(g: Givens) -> ResultMap:
    centre = g["mode"] == "centre"
    clock, wanted, bits = g["clock_hz"], g["frequency_hz"], int(g["bits"].value)
    if not 4 <= bits <= 32:
        raise SumError("bits: a timer has between 4 and 32 bits.")
    timer = Timer(id="t", name="timer", bits=bits, prescalers=PRESCALERS, free_top=True)
    best = settings(clock.value, wanted.value, [timer], centre)[0]
    number = Constant(str(best.prescaler), float(best.prescaler), "number")
    prescaler = rules.chosen_prescaler(number, clock, wanted, title="Prescaler")
    full = best.top == 2**bits - 1
    top = (timer_rules.centre_top if centre else timer_rules.edge_top)(
        clock, prescaler, wanted, title="Top of the count"
    )
    if full:
        most = Constant(str(best.top), float(best.top), "count")
        top = full_count(most, clock, wanted, title="Top of the count")
    law = timer_rules.centre_frequency if centre else timer_rules.edge_frequency
    real = law(clock, prescaler, top)
    steps = timer_rules.duty_steps(top)
    return {
        "prescaler": (prescaler, "1"),
        "top": (top, "counts"),
        "real_frequency_hz": (real, "Hz"),
        "steps": (steps, "steps"),
        "resolution_bits": (timer_rules.resolution_bits(steps), "bit"),
        "error_percent": (timer_rules.frequency_error(real, wanted), "%"),
    }


def _disc(g: Givens) -> ResultMap:
    decoding = Constant(g["decoding"], float(g["decoding"]), "number")
    counts = encoder_rules.counts_per_turn(g["teeth"], decoding)
    output = encoder_rules.counts_per_output_turn(counts, g["ratio"])
    return {
        "counts_per_turn": (counts, "counts"),
        "degrees_per_count": (encoder_rules.angle_per_count(counts), "°"),
        "counts_per_output_turn": (output, "counts"),
        "output_degrees_per_count": (encoder_rules.angle_per_count(output), "°"),
    }


def _motor(g: Givens) -> ResultMap:
    volts, i_0, i_s = g["supply_v"], g["no_load_a"], g["stall_a"]
    if i_s.value <= i_0.value:
        raise SumError("stall_a: the stall current must be larger than the no-load current.")
    drop = NO_VOLTS
    r = motor_rules.row_resistance(volts, i_s, title="Resistance")
    constant = motor_rules.motor_constant(volts, i_0, r, drop, g["no_load_rpm"])
    stall = motor_rules.stall_current(volts, drop, r)
    return {
        "resistance_ohm": (r, "Ω"),
        "ke_v_s_per_rad": (constant, "V·s/rad"),
        "stall_torque_nm": (motor_rules.stall_torque(constant, stall, i_0), "N·m"),
        "best_efficiency": (motor_rules.best_efficiency(volts, drop, i_0, stall), "1"),
        "best_efficiency_a": (motor_rules.best_efficiency_current(i_0, stall), "A"),
        "greatest_power_w": (motor_rules.greatest_power(r, stall, i_0, constant, motor_rules.NO_VISCOUS), "W"),
    }


SAME = AsItIs("NIST Special Publication 811, appendix B")


def _units(g: Givens) -> ResultMap:
    wanted = g["to"]
    for kind in KINDS.values():
        try:
            target = parse(f"1 {wanted}", kind.name)
            read = parse(g["value"], kind.name)
        except QuantityError:
            continue
        if read.unit in ("", "1") and wanted not in ("", "1"):
            continue
        if read.unit == "°C" and kind.name != "temperature":
            continue
        leaf = Leaf("value", "Value", kind, read.value, unit=read.unit)
        return {"value": (SAME(leaf, kind=kind.name, title=f"In {target.unit}"), target.unit)}
    raise SumError(
        f"to: “{g['value']}” cannot be told in “{wanted}”: the two are not of one kind, or a unit is not known."
    )


SUMS: dict[str, Sum] = {
    s.name: s
    for s in (
        Sum(
            "wire",
            "Wire: diameter, resistance and drop of a pair",
            (
                SumInput("awg", "gauge", "AWG", "wire size", "22"),
                SumInput("length_m", "length", "m", "length, one way", "2", above=0),
                SumInput("current_a", "current", "A", "current", "3", above=0),
            ),
            _wire,
        ),
        Sum(
            "trace",
            "Track on a board: width for a current",
            (
                SumInput("current_a", "current", "A", "current", "10", above=0),
                SumInput("rise_k", "temperature difference", "K", "rise allowed", "10", above=0),
                SumInput("copper_oz", "copper weight", "oz/ft²", "copper", "1", default="1", above=0),
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
            _trace,
        ),
        Sum(
            "divider",
            "Voltage divider",
            (
                SumInput("supply_v", "voltage", "V", "voltage across both", "12"),
                SumInput("top_ohm", "resistance", "Ω", "upper resistor", "10k", above=0),
                SumInput("bottom_ohm", "resistance", "Ω", "lower resistor", "4k7", above=0),
            ),
            _divider,
        ),
        Sum(
            "led-resistor",
            "Resistor for a light-emitting diode",
            (
                SumInput("supply_v", "voltage", "V", "supply", "12", above=0),
                SumInput("led_v", "voltage", "V", "lamp voltage", "2", above=0),
                SumInput("current_a", "current", "A", "lamp current", "10m", above=0),
            ),
            _led,
        ),
        Sum(
            "rc",
            "Resistor and capacitor: time and corner",
            (
                SumInput("resistance_ohm", "resistance", "Ω", "resistor", "10k", above=0),
                SumInput("capacitance_f", "capacitance", "F", "capacitor", "100n", above=0),
            ),
            _rc,
        ),
        Sum(
            "pwm-timer",
            "Timer setting for a PWM frequency",
            (
                SumInput("clock_hz", "frequency", "Hz", "clock", "16M", above=0),
                SumInput("frequency_hz", "frequency", "Hz", "frequency wanted", "20k", above=0),
                SumInput(
                    key="mode",
                    kind="choice",
                    unit="",
                    label="alignment",
                    example="centre",
                    options=("centre", "edge"),
                    default="centre",
                ),
                SumInput("bits", "number", "1", "width of the timer", "16", default="16", above=0),
            ),
            _timer,
        ),
        Sum(
            "encoder-disc",
            "Encoder disc: counts and angles",
            (
                SumInput("teeth", "teeth", "teeth", "teeth or slots", "4", above=0),
                SumInput("ratio", "ratio", "1", "gear ratio after the disc", "13", default="1", above=0),
                SumInput(
                    key="decoding",
                    kind="choice",
                    unit="",
                    label="decoding",
                    example="4",
                    options=("1", "2", "4"),
                    default="4",
                ),
            ),
            _disc,
        ),
        Sum(
            "motor-constants",
            "Motor constants from four numbers",
            (
                SumInput("supply_v", "voltage", "V", "voltage of all readings", "12", above=0),
                SumInput("no_load_a", "current", "A", "no-load current", "0.07", above=0),
                SumInput("no_load_rpm", "speed", "rpm", "no-load speed", "5000", above=0),
                SumInput("stall_a", "current", "A", "stall current", "0.7", above=0),
            ),
            _motor,
        ),
        Sum(
            "units",
            "One unit in another",
            (
                SumInput("value", "text", "", "quantity", "2.5kg·cm"),
                SumInput("to", "text", "", "unit wanted", "N·m"),
            ),
            _units,
        ),
        *STAGE_SUMS,
        *PART_SUMS,
        *TIME_SUMS,
        *LOOP_SUMS,
        *WIRE_SUMS,
        *INSTRUMENT_SUMS,
    )
}
