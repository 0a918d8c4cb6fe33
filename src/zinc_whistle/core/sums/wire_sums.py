"""Quick sums of wires and lines: what melts, what warms, a bus's pull-ups, the clamp before a sense pin."""

from __future__ import annotations

from ..algebra.nodes import Leaf
from ..algebra.preferred import series
from ..algebra.units import KINDS
from ..laws import bundles
from ..laws import wiring as rules
from . import rules as sum_rules
from .kit import Givens, ResultMap, Sum, SumError, SumInput, ask


def _melt(g: Givens) -> ResultMap:
    diameter = rules.wire_diameter(g["awg"])
    return {"current_a": (rules.melting_current(diameter), "A"), "diameter_mm": (diameter, "mm")}


def _wire_heat(g: Givens) -> ResultMap:
    count = g["bundle"].value
    if count != int(count):
        raise SumError("bundle: give a whole number of wires.")
    try:
        factor = bundles.together(int(count))
    except ValueError as error:
        raise SumError(f"bundle: {error}") from error
    limit = bundles.INSULATION[g["insulation"]]
    if g["ambient_c"].value >= limit.value:
        raise SumError(f"ambient_c: this insulation bears {limit.symbol}; the air must be below it.")
    area = rules.wire_area(rules.wire_diameter(g["awg"]))
    return {
        "rise_k": (rules.wire_warms(g["current_a"], area, factor), "K"),
        "allowed_a": (rules.may_carry(area, factor, limit, g["ambient_c"]), "A"),
    }


def _bus(g: Givens) -> ResultMap:
    if g["supply_v"].value <= rules.BUS_LOW.value:
        raise SumError(f"supply_v: it must be above {rules.BUS_LOW.symbol}.")
    largest, smallest = (
        rules.largest_pull_up(g["rise_ns"], g["capacitance_pf"]),
        rules.smallest_pull_up(g["supply_v"]),
    )
    assert largest.value is not None and smallest.value is not None
    if largest.value < smallest.value:
        raise SumError(
            f"No pull-up does: it may have {largest.value:.0f} Ω at most for the rise, and {smallest.value:.0f} Ω at "
            "least for the outputs. Less capacitance (shorter leads), or a slower bus."
        )
    return {"r_max_ohm": (largest, "Ω"), "r_min_ohm": (smallest, "Ω")}


def _zener(g: Givens) -> Leaf:
    """The zener that is given, or the highest preferred one that with its tolerance stays below what the pin bears."""
    given: Leaf = g["zener_v"]
    if given.value:
        return given
    most = g["pin_v"].value / (1 + g["tolerance"].value)
    volts = max(
        (v for v in (step * scale for scale in (1.0, 10.0) for step in series("E24")) if v <= most), default=None
    )
    if volts is None:
        raise SumError("pin_v: no usual zener lies below that.")
    return Leaf("zener", "zener", KINDS["voltage"], volts)


def _clamp(g: Givens) -> ResultMap:
    fault, zener = g["fault_v"], _zener(g)
    highest = zener.value * (1 + g["tolerance"].value)
    if highest > g["pin_v"].value:
        raise SumError(f"zener_v: with its tolerance it lets {highest:.3g} V come to a pin that bears less.")
    if zener.value * (1 - g["tolerance"].value) < g["signal_v"].value:
        raise SumError("zener_v: with its tolerance it would clip the signal: take a higher one.")
    if fault.value <= zener.value:
        raise SumError("fault_v: it does not reach the zener, so nothing is to be clamped.")
    least = rules.clamp_resistor(fault, zener, g["zener_w"])
    most = rules.corner_resistor(g["bandwidth_hz"], g["capacitance_nf"])
    resistor = sum_rules.next_preferred(least, title="Next preferred resistor")
    assert most.value is not None and resistor.value is not None
    if resistor.value > most.value:
        raise SumError(
            f"No resistor does both: {resistor.value:.4g} Ω for the zener's heat, {most.value:.4g} Ω at most for the "
            "bandwidth. Take a zener that bears more, or a smaller capacitor."
        )
    chosen = Leaf("resistor", "resistor", KINDS["resistance"], resistor.value)
    return {
        "zener_v": (sum_rules.taken_volts(zener), "V"),
        "r_min_ohm": (least, "Ω"),
        "r_max_ohm": (most, "Ω"),
        "resistor_ohm": (resistor, "Ω"),
        "zener_w": (rules.clamp_heat(fault, zener, chosen), "W"),
        "resistor_w": (rules.clamp_resistor_heat(fault, zener, chosen), "W"),
    }


WIRE_SUMS = (
    Sum("melt", "The current that melts a wire", (SumInput("awg", "gauge", "AWG", "wire size", "30"),), _melt),
    Sum(
        "wire-heat",
        "Wire: how warm it gets, and what it may carry",
        (
            SumInput("awg", "gauge", "AWG", "wire size", "20"),
            ask("current_a", "current", "A", "current", "8"),
            SumInput(
                key="insulation",
                kind="choice",
                unit="",
                label="insulation",
                example="pvc",
                options=tuple(bundles.INSULATION),
                default="pvc",
            ),
            ask("ambient_c", "temperature", "°C", "air", "30", default="30", above=None),
            ask("bundle", "number", "1", "loaded wires that lie together", "2", default="1"),
        ),
        _wire_heat,
    ),
    Sum(
        "bus-pullup",
        "Pull-ups of a two-wire bus",
        (
            ask("supply_v", "voltage", "V", "bus supply", "5"),
            ask("capacitance_pf", "capacitance", "pF", "capacitance of the line", "100"),
            ask("rise_ns", "time", "ns", "longest rise (1000 ns at 100 kHz, 300 ns at 400 kHz)", "1000"),
        ),
        _bus,
    ),
    Sum(
        "sense-clamp",
        "Resistor and zener before a sense pin",
        (
            ask("fault_v", "voltage", "V", "volts in a fault", "12"),
            ask("pin_v", "voltage", "V", "the pin bears", "5.5"),
            ask("signal_v", "voltage", "V", "highest signal", "3.3", default="0", above=None),
            ask(
                "zener_v",
                "voltage",
                "V",
                "zener (0: the highest that protects)",
                "4.7",
                default="0",
                above=None,
            ),
            ask("tolerance", "fraction", "%", "its tolerance", "5", default="5", above=None),
            ask("zener_w", "power", "W", "heat that the zener bears", "250m", default="250m"),
            ask("bandwidth_hz", "frequency", "Hz", "signal's bandwidth", "1k"),
            ask("capacitance_nf", "capacitance", "nF", "capacitor at the pin", "10", default="10"),
        ),
        _clamp,
    ),
)
