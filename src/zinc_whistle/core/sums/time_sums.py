"""Quick sums of what happens in time: when a fuse opens, when a gate is off, what a chopped current does."""

from __future__ import annotations

from ..laws import chopper, fuse
from ..laws import switch as switch_laws
from .kit import Givens, ResultMap, Sum, SumError, SumInput, ask

CLASSES = {"fast": "glass quick", "slow": "glass slow", "blade": "blade"}
"""As builders say it, and the standard whose gates hold."""


def _fuse_time(g: Givens) -> ResultMap:
    curve = CLASSES[g["class"]]
    return {
        "opens_after_least_s": (fuse.EARLIEST[curve](g["current_a"], g["rating_a"]), "s"),
        "opens_after_most_s": (fuse.LATEST[curve](g["current_a"], g["rating_a"]), "s"),
    }


def _dead_time(g: Givens) -> ResultMap:
    if not g["gate_v"].value > g["plateau_v"].value > g["threshold_v"].value:
        raise SumError("plateau_v: it lies between the threshold and the gate's volts.")
    ohms = switch_laws.series_resistance(g["resistor_ohm"], g["sink_ohm"])
    delay = switch_laws.gate_discharge(
        ohms, g["charge_to_plateau_nc"], g["plateau_v"], g["gate_v"], g["plateau_v"], title="Turn-off delay"
    )
    edge = switch_laws.switching_time(
        g["switching_charge_nc"], switch_laws.gate_current_off(g["plateau_v"], ohms), title="Edge"
    )
    below = switch_laws.gate_discharge(
        ohms, g["charge_to_plateau_nc"], g["plateau_v"], g["plateau_v"], g["threshold_v"], title="Down to the threshold"
    )
    off = switch_laws.until_off(edge, below, title="From the plateau to the threshold")
    return {
        "delay_ns": (delay, "ns"),
        "off_ns": (off, "ns"),
        "dead_ns": (switch_laws.until_off(delay, off, title="Dead time, at least"), "ns"),
    }


def _discontinuous(g: Givens) -> ResultMap:
    if not 0 < g["duty"].value <= 1:
        raise SumError("duty: give a share above 0 and at most 100 %.")
    if g["back_emf_v"].value >= g["supply_v"].value:
        raise SumError("back_emf_v: at or above the supply no current flows.")
    names = ("supply_v", "back_emf_v", "resistance_ohm", "inductance_h", "duty", "frequency_hz", "diode_v")
    values = [g[n] for n in names]
    return {
        "mean_a": (chopper.chopped_mean(*values), "A"),
        "rms_a": (chopper.chopped_rms(*values), "A"),
        "peak_a": (chopper.chopped_peak(*values), "A"),
        "conducts_share": (chopper.chopped_share(*values), "%"),
    }


TIME_SUMS = (
    Sum(
        "fuse-time",
        "Fuse: when it opens, at the earliest and at the latest",
        (
            ask("rating_a", "current", "A", "rating of the fuse", "2"),
            ask("current_a", "current", "A", "current through it", "6"),
            SumInput(
                key="class",
                kind="choice",
                unit="",
                label="kind: 5 × 20 mm quick or slow, or a blade",
                example="fast",
                options=tuple(CLASSES),
                default="fast",
            ),
        ),
        _fuse_time,
        unbounded=("opens_after_most_s",),
    ),
    Sum(
        "dead-time",
        "Gate: from the order to off, and the dead time that it asks for",
        (
            ask("gate_v", "voltage", "V", "gate voltage, on", "12"),
            ask("plateau_v", "voltage", "V", "plateau", "5"),
            ask("threshold_v", "voltage", "V", "threshold, at least", "2"),
            ask("charge_to_plateau_nc", "charge", "nC", "charge up to the plateau", "20"),
            ask("switching_charge_nc", "charge", "nC", "switching charge", "15"),
            ask("resistor_ohm", "resistance", "Ω", "turn-off resistor", "10", above=None),
            ask("sink_ohm", "resistance", "Ω", "driver's own, and the gate's inside", "3"),
        ),
        _dead_time,
    ),
    Sum(
        "discontinuous",
        "One switch and a diode: the current, whether it ends in each period or not",
        (
            ask("supply_v", "voltage", "V", "supply", "12"),
            ask("back_emf_v", "voltage", "V", "back-EMF at the speed", "5", above=None),
            ask("resistance_ohm", "resistance", "Ω", "winding and way", "2"),
            ask("inductance_h", "inductance", "H", "winding", "1m"),
            ask("duty", "fraction", "%", "duty", "30"),
            ask("frequency_hz", "frequency", "Hz", "PWM frequency", "500"),
            ask("diode_v", "voltage", "V", "diode's drop", "0.5", default="0.5", above=None),
        ),
        _discontinuous,
    ),
)
