"""Quick sums of encoders and loops: phase, commands, hand turns, limits, sensor levels, tuning."""

from __future__ import annotations

import re
from typing import Any

from ..algebra.nodes import Constant, Leaf
from ..algebra.quantities import QuantityError, parse
from ..algebra.units import KINDS
from ..laws import encoder as rules
from ..laws import tuning_rules as tuning
from .kit import Givens, ResultMap, Sum, SumError, SumInput, ask

NONE = "none"


def _optional(g: Givens, key: str, kind: str, unit: str, label: str) -> Leaf | None:
    """A quantity that may be left out."""
    text = str(g[key]).strip()
    if text == NONE:
        return None
    try:
        quantity = parse(text, kind, unit)
    except QuantityError as error:
        raise SumError(f"{key}: {error}") from error
    if quantity.value <= 0:
        raise SumError(f"{key}: {label} must be above 0; “{text}” is not.")
    return Leaf(key, label, KINDS[kind], quantity.value, unit=unit)


def _number(name: str, value: float, kind: str) -> Leaf:
    return Leaf(name, name, KINDS[kind], value)


def _phase(g: Givens) -> ResultMap:
    if g["shift_ms"].value >= g["period_ms"].value:
        raise SumError("shift_ms: it must be shorter than the period.")
    return {
        "phase_deg": (rules.phase(g["shift_ms"], g["period_ms"]), "°"),
        "ideal_shift_ms": (rules.ideal_shift(g["period_ms"]), "ms"),
    }


def _command(g: Givens) -> ResultMap:
    exact = rules.counts_a_period(g["counts_per_turn"], g["turns_per_s"], g["rate_hz"])
    whole = rules.whole_command(exact)
    return {
        "counts_per_period": (exact, "counts"),
        "command": (whole, "counts"),
        "speed_error_pct": (rules.command_error(whole, exact), "%"),
    }


def runs_of(text: str) -> list[tuple[float, float]]:
    """Runs of turns and counts: ``1:2470,5:12391``. SumError for what is none."""
    found = []
    for piece in re.split(r"[,;\s]+", text.strip()):
        turns, colon, counts = piece.partition(":")
        try:
            run = float(turns), float(counts)
        except ValueError:
            run = (0.0, 0.0)
        if not colon or not 0 < run[0] < 1e6 or not 0 < run[1] < 1e12:
            raise SumError(f"runs: “{piece}” is no run; give turns:counts, for example 10:24768.")
        found.append(run)
    return found


def _turns(g: Givens) -> ResultMap:
    runs = runs_of(g["runs"])
    turns = [_number(f"n{k}", n, "number") for k, (n, _) in enumerate(runs, 1)]
    counts = [_number(f"c{k}", c, "count") for k, (_, c) in enumerate(runs, 1)]
    mean = rules.weighted_by_turns(counts, turns)
    made: dict[str, Any] = {
        "counts_per_turn": (mean, "counts"),
        "plain_mean": (rules.plain_mean(counts, turns), "counts"),
        "spread": (rules.spread_of_runs(counts, turns), "counts"),
    }
    nominal = _optional(g, "nominal", "count", "counts", "nominal counts")
    if nominal is not None:
        made["nominal_error_pct"] = (rules.calibration_error(mean, nominal), "%")
    return made


def _limit(g: Givens) -> ResultMap:
    limit = rules.polling_limit(g["loop_us"], g["safety"])
    disc = rules.counts_per_turn(g["teeth"], Constant(g["decoding"], float(g["decoding"]), "number"))
    return {
        "counts_per_s": (limit, "/s"),
        "rpm": (rules.speed_followed(limit, disc), "rpm"),
    }


def _levels(g: Givens) -> ResultMap:
    lit = rules.lit_level(g["supply_v"], g["pull_up_ohm"], g["lit_a"], g["saturation_v"])
    dark = rules.dark_level(g["supply_v"], g["pull_up_ohm"], g["dark_a"], g["stray_a"], g["lit_a"], g["leak"])
    return {
        "lit_v": (lit, "V"),
        "dark_v": (dark, "V"),
        "low_margin_v": (rules.low_margin(g["low_v"], lit), "V"),
        "high_margin_v": (rules.high_margin(dark, g["high_v"]), "V"),
    }


def _hysteresis(g: Givens) -> ResultMap:
    if g["high_v"].value <= g["low_v"].value:
        raise SumError("high_v: it switches high above a higher level than it switches low below.")
    if g["high_v"].value >= g["supply_v"].value:
        raise SumError("high_v: it must lie below the comparator's supply.")
    back = rules.feedback_resistor(g["supply_v"], g["input_ohm"], g["high_v"], g["low_v"])
    return {
        "feedback_ohm": (back, "Ω"),
        "reference_v": (rules.comparator_reference(g["high_v"], g["input_ohm"], back), "V"),
    }


def _simc(g: Givens) -> ResultMap:
    integrating = g["integrating"] == "yes"
    lag = _optional(g, "tau_s", "time", "s", "lag")
    if integrating != (lag is None):
        raise SumError(
            "tau_s: leave it out where the plant integrates."
            if integrating
            else "tau_s: give the lag, for example tau_s=0.5; it is left out only with integrating=yes."
        )
    tau = lag if lag is not None else tuning.NO_LAG
    wanted = _optional(g, "tau_c_s", "time", "s", "closed-loop time constant") or g["theta_s"]
    kc = tuning.simc_gain(g["k"], tau, g["theta_s"], wanted)
    ti = tuning.simc_integral(tau, g["theta_s"], wanted)
    loop = (g["k"], tau, g["theta_s"], kc, ti)
    return {
        "kc": (kc, "1"),
        "ti_s": (ti, "s"),
        "gain_margin": (tuning.gain_margin(*loop), "1"),
        "phase_margin_deg": (tuning.phase_margin(*loop), "°"),
        "ms": (tuning.largest_sensitivity(*loop), "1"),
    }


def _placed(g: Givens) -> ResultMap:
    lag = _optional(g, "tau_s", "time", "s", "lag")
    tau = lag if lag is not None else tuning.NO_LAG
    zeta, omega = g["damping"], g["omega_rad_s"]
    if lag is not None and 2 * zeta.value * omega.value * tau.value <= 1:
        raise SumError("omega_rad_s: the plant is quicker than that by itself; ask for more than 1/(2 ζ τ).")
    return {
        "kc": (tuning.placed_gain(g["k"], tau, zeta, omega), "1"),
        "ti_s": (tuning.placed_integral(tau, zeta, omega), "s"),
    }


def _ultimate(g: Givens) -> ResultMap:
    kind = g["kind"]
    made: dict[str, Any] = {"kc": (tuning.ULTIMATE_GAIN[kind](g["ku"]), "1")}
    if kind in tuning.ULTIMATE_INTEGRAL:
        made["ti_s"] = (tuning.ULTIMATE_INTEGRAL[kind](g["tu_s"]), "s")
    if kind == "pid":
        made["td_s"] = (tuning.ultimate_derivative(g["tu_s"]), "s")
    return made


def _relay(g: Givens) -> ResultMap:
    gain = tuning.relay_gain(g["relay"], g["swing"])
    return {"ku": (gain, "1")} | _ultimate({**g, "ku": gain})


def _text(key: str, label: str, example: str) -> SumInput:
    return SumInput(key, "text", "", label, example, default=NONE)


LOOP_SUMS = (
    Sum(
        "encoder-phase",
        "Phase of two channels from a trace",
        (
            ask("shift_ms", "time", "ms", "from an edge of one to the same edge of the other", "12"),
            ask("period_ms", "time", "ms", "period of one", "72"),
        ),
        _phase,
    ),
    Sum(
        "encoder-command",
        "Counts in a control period, and the whole number that is sent",
        (
            ask("counts_per_turn", "count", "counts", "counts of a turn, calibrated", "2476"),
            ask("turns_per_s", "rate", "/s", "turns a second wanted", "2"),
            ask("rate_hz", "frequency", "Hz", "rate of the control loop", "30"),
        ),
        _command,
    ),
    Sum(
        "hand-turns",
        "Counts of a turn from turns by hand",
        (
            SumInput("runs", "text", "", "turns:counts of each run", "1:2470,5:12391,10:24768"),
            _text("nominal", "nominal counts of a turn, if known", "2480"),
        ),
        _turns,
    ),
    Sum(
        "encoder-limit",
        "The fastest that a polled encoder is read",
        (
            ask("loop_us", "time", "µs", "time of a loop pass, measured", "60"),
            ask("safety", "ratio", "1", "passes per count", "10", default="10"),
            ask("teeth", "teeth", "teeth", "slots, teeth or lines", "20"),
            SumInput("decoding", "number", "", "counts per tooth", "4", options=("1", "2", "4"), default="4"),
        ),
        _limit,
    ),
    Sum(
        "led-level",
        "Levels of a light barrier against an input",
        (
            ask("supply_v", "voltage", "V", "supply of the pull-up", "5"),
            ask("pull_up_ohm", "resistance", "Ω", "pull-up", "10k"),
            ask("lit_a", "current", "A", "current of the sensor lit, at least", "1mA"),
            ask("saturation_v", "voltage", "V", "volts left across it when it is on", "0.3", default="0.3"),
            ask("dark_a", "current", "A", "current in the dark, at most", "1µA", default="1µA", above=None),
            ask("stray_a", "current", "A", "current by light from elsewhere", "20µA", default="0", above=None),
            ask("leak", "fraction", "%", "light that passes the vane", "5", default="0", above=None),
            ask("low_v", "voltage", "V", "the input reads low below", "1.5"),
            ask("high_v", "voltage", "V", "the input reads high above", "3"),
        ),
        _levels,
    ),
    Sum(
        "hysteresis",
        "Comparator with hysteresis: resistors for two levels",
        (
            ask("low_v", "voltage", "V", "switches low below", "1.5"),
            ask("high_v", "voltage", "V", "switches high above", "2.5"),
            ask("supply_v", "voltage", "V", "supply of the comparator, its output from rail to rail", "5"),
            ask("input_ohm", "resistance", "Ω", "resistor before its input", "10k"),
        ),
        _hysteresis,
    ),
    Sum(
        "tune-simc",
        "PI gains from gain, lag and dead time (Skogestad)",
        (
            ask("k", "number", "1", "gain of the plant; its slope a second, where it integrates", "2"),
            _text("tau_s", "lag", "0.5"),
            ask("theta_s", "time", "s", "dead time", "0.05"),
            _text("tau_c_s", "closed-loop time constant wanted; left out, the dead time", "0.05"),
            SumInput("integrating", "text", "", "whether it integrates", "no", options=("no", "yes"), default="no"),
        ),
        _simc,
    ),
    Sum(
        "tune-poles",
        "PI gains that put the poles where they are wanted",
        (
            ask("k", "number", "1", "gain of the plant; its slope a second, where it integrates", "2"),
            _text("tau_s", "lag; left out where it integrates", "0.5"),
            ask("damping", "number", "1", "damping wanted", "0.7", default="0.7"),
            ask("omega_rad_s", "speed", "rad/s", "how fast it shall be", "4"),
        ),
        _placed,
    ),
    Sum(
        "tune-ultimate",
        "Gains from the gain at which it just keeps swinging (Ziegler & Nichols)",
        (
            ask("ku", "number", "1", "that gain", "6"),
            ask("tu_s", "time", "s", "its period", "0.5"),
            SumInput("kind", "text", "", "controller", "pid", options=("p", "pi", "pid"), default="pid"),
        ),
        _ultimate,
    ),
    Sum(
        "tune-relay",
        "Gains from a relay test: the output switched to and fro, and how what is measured then swings",
        (
            ask("relay", "number", "1", "the relay's output, from its middle", "0.5"),
            ask("swing", "number", "1", "how far what is measured swings, from its middle", "0.1"),
            ask("tu_s", "time", "s", "period of the swing", "0.5"),
            SumInput("kind", "text", "", "controller", "pid", options=("p", "pi", "pid"), default="pid"),
        ),
        _relay,
    ),
)
