"""Every quick sum: its own example works, its answers do not depend on how a quantity is written, and each wrong input
is refused in a sentence that names the input."""

from __future__ import annotations

import math
from typing import Any

import pytest

from zinc_whistle.core.algebra.quantities import notation, parse
from zinc_whistle.core.algebra.units import KINDS
from zinc_whistle.core.donor import entry
from zinc_whistle.core.exchange import COMPONENTS
from zinc_whistle.core.model.given import bind
from zinc_whistle.core.sums import SUMS, SumError, work_out

EXAMPLES = {name: {a.key: a.example for a in one.asks} for name, one in SUMS.items()}
QUANTITIES = [(name, ask) for name, one in SUMS.items() for ask in one.asks if not ask.options and ask.kind in KINDS]
IDS = [f"{name}-{ask.key}" for name, ask in QUANTITIES]


@pytest.mark.parametrize("name", SUMS)
def test_the_example_of_each_sum_works_out(name: str) -> None:
    answer = work_out(SUMS[name], EXAMPLES[name])
    assert answer.results
    for result in answer.results.values():
        assert result.value is not None and math.isfinite(result.value)
        assert result.source
        assert " = " in result.formula
    assert set(answer.given) == set(EXAMPLES[name])


ASKED_FOR_ALL_THE_SAME = {("tune-simc", "tau_s"): "", ("tune-simc", "yes"): "tau_s"}
"""A lag is left out where a plant integrates, and only there."""


@pytest.mark.parametrize("name", SUMS)
def test_a_missing_input_is_asked_for_with_an_example(name: str) -> None:
    for ask in SUMS[name].asks:
        given = {k: v for k, v in EXAMPLES[name].items() if k != ask.key}
        if ask.default and (name, ask.key) not in ASKED_FOR_ALL_THE_SAME:
            assert work_out(SUMS[name], given).results
            continue
        with pytest.raises(SumError, match=ask.key) as refused:
            work_out(SUMS[name], given)
        assert f"{ask.key}={ask.example}" in str(refused.value)


@pytest.mark.parametrize(("name", "ask"), QUANTITIES, ids=IDS)
def test_nonsense_another_kind_and_what_is_out_of_range_are_refused(name: str, ask: Any) -> None:
    other = "3 kg" if ask.kind != "mass" else "3 V"
    wrong = ["nonsense", other]
    if ask.above is not None:
        wrong.append(notation(ask.above, ask.kind, ask.unit))
        wrong.append(notation(ask.above - 1.0, ask.kind, ask.unit))
    for text in wrong:
        with pytest.raises(SumError) as refused:
            work_out(SUMS[name], EXAMPLES[name] | {ask.key: text})
        assert str(refused.value).startswith(f"{ask.key}: "), text
        assert str(refused.value).endswith("."), "a whole sentence"


@pytest.mark.parametrize(("name", "ask"), QUANTITIES, ids=IDS)
def test_an_answer_does_not_depend_on_how_a_quantity_is_written(name: str, ask: Any) -> None:
    """Each input once as its example, once in the sum's own unit to twelve figures: the same answers."""
    read = parse(EXAMPLES[name][ask.key], ask.kind, ask.unit)
    again = EXAMPLES[name] | {ask.key: notation(read.value, ask.kind, ask.unit)}
    first, second = work_out(SUMS[name], EXAMPLES[name]), work_out(SUMS[name], again)
    for key, result in first.results.items():
        assert second.results[key].value == pytest.approx(result.value, rel=1e-9)


@pytest.mark.parametrize("name", SUMS)
def test_what_is_not_asked_for_is_refused_with_the_nearest(name: str) -> None:
    key = SUMS[name].asks[0].key
    with pytest.raises(SumError, match="does not ask for") as refused:
        work_out(SUMS[name], EXAMPLES[name] | {key + "x": "1"})
    assert f"did you mean {key}?" in str(refused.value)


@pytest.mark.parametrize("name", [n for n, s in SUMS.items() if any(a.options for a in s.asks)])
def test_a_choice_names_what_there_is(name: str) -> None:
    for ask in SUMS[name].asks:
        if not ask.options:
            continue
        for option in ask.options:
            left_out = ASKED_FOR_ALL_THE_SAME.get((name, option))
            given = {k: v for k, v in EXAMPLES[name].items() if k != left_out}
            assert work_out(SUMS[name], given | {ask.key: option}).results
        with pytest.raises(SumError, match="not one of") as refused:
            work_out(SUMS[name], EXAMPLES[name] | {ask.key: "other"})
        assert all(option in str(refused.value) for option in ask.options)


GROWS: list[tuple[str, str, str, float]] = [
    ("wire", "length_m", "drop_v", 1.0),
    ("wire", "current_a", "drop_v", 1.0),
    ("divider", "supply_v", "out_v", 1.0),
    ("rc", "resistance_ohm", "time_constant_s", 1.0),
    ("rc", "capacitance_f", "corner_hz", -1.0),
    ("switching-loss", "bus_v", "switching_w", 1.0),
    ("switching-loss", "frequency_hz", "switching_w", 1.0),
    ("switching-loss", "bus_v", "output_w", 2.0),
    ("gate-drive", "switching_c", "turn_on_s", 1.0),
    ("gate-drive", "frequency_hz", "gate_w", 1.0),
    ("miller", "bus_v", "lift_v", 1.0),
    ("miller", "rise_s", "lift_v", -1.0),
    ("bootstrap", "droop_v", "capacitor_f", -1.0),
    ("parallel", "current_a", "busiest_a", 1.0),
    ("avalanche", "current_a", "energy_j", 2.0),
    ("snubber", "loop_h", "resistor_ohm", 0.5),
    ("terminal-capacitor", "supply_v", "heat_w", 2.0),
    ("bulk-capacitor", "ripple_v", "capacitance_f", -1.0),
    ("fuse-wire", "current_a", "endures_s", -2.0),
    ("fuse-wire", "copper_mm2", "endures_s", 2.0),
    ("shunt", "current_a", "heat_w", 2.0),
    ("shunt", "gain", "counts", 1.0),
    ("overload", "current_a", "bears_s", -2.0),
    ("overload", "capacity", "bears_s", 1.0),
    ("flyback-diode", "current_a", "heat_w", 1.0),
    ("follower", "current_a", "heat_w", 1.0),
    ("timer-ic", "capacitor_f", "frequency_hz", -1.0),
    ("motor-constants", "supply_v", "resistance_ohm", 1.0),
    ("power-screw", "force_n", "raise_nm", 1.0),
]


@pytest.mark.parametrize(("name", "key", "result", "power"), GROWS, ids=[f"{n}-{k}" for n, k, _, _ in GROWS])
def test_a_result_grows_with_the_power_that_the_law_says(name: str, key: str, result: str, power: float) -> None:
    """Twice the input, 2ⁿ times the answer: the exponents are the textbook laws', written down here by hand."""
    if result not in work_out(SUMS[name], EXAMPLES[name]).results:
        pytest.fail(f"{name} gives {sorted(work_out(SUMS[name], EXAMPLES[name]).results)}")
    ask = next(a for a in SUMS[name].asks if a.key == key)
    once = parse(EXAMPLES[name][key], ask.kind, ask.unit).value
    twice = EXAMPLES[name] | {key: notation(2 * once, ask.kind, ask.unit)}
    before, after = (work_out(SUMS[name], g).results[result].value for g in (EXAMPLES[name], twice))
    assert after / before == pytest.approx(2**power, rel=1e-6)


@pytest.mark.parametrize(
    ("name", "change", "says"),
    [
        ("led-resistor", {"led_v": "14"}, "more volts than the supply"),
        ("gate-drive", {"plateau_v": "13"}, "never turns on"),
        ("avalanche", {"avalanche_v": "10"}, "above the supply"),
        ("parallel", {"spread": "100 %"}, "between 0 and 100"),
        ("bulk-capacitor", {"duty": "100 %"}, "between 0 and 100"),
        ("heat-sink", {"heat_w": "500"}, "already too hot"),
        ("mosfet-heat", {"current_a": "80"}, "runs away"),
        ("motor-constants", {"stall_a": "0.01"}, "larger than the no-load"),
        ("follower", {"drive_v": "30"}, "no follower"),
        ("follower", {"current_a": "9"}, "it stands"),
        ("flyback-diode", {"duty": "140 %"}, "between 0 and 100"),
        ("overload", {"start_c": "200"}, "at its limit already"),
        ("units", {"to": "furlong"}, "cannot be told"),
        ("units", {"value": "3 V"}, "cannot be told"),
        ("colour-bands", {"bands": "pink"}, "bands"),
        ("pwm-timer", {"bits": "3"}, "between 4 and 32"),
    ],
)
def test_what_makes_no_sense_together_is_said(name: str, change: dict[str, str], says: str) -> None:
    with pytest.raises(SumError, match=says):
        work_out(SUMS[name], EXAMPLES[name] | change)


def test_a_transistor_without_a_sheet() -> None:
    """48 mV at 2 A less 1 mΩ of leads: 23 mΩ, 41 mΩ hot; a watt in that is 4.9 A."""
    found = work_out(SUMS["donor-transistor"], EXAMPLES["donor-transistor"]).results
    assert found["on_resistance_ohm"].value == pytest.approx(23e-3)
    assert found["hot_ohm"].value == pytest.approx(41.4e-3)
    assert found["free_air_a"].value == pytest.approx(4.91, abs=0.01)
    with pytest.raises(SumError, match="it must be above the gate volts"):
        work_out(SUMS["donor-transistor"], EXAMPLES["donor-transistor"] | {"gate_v": "2 V"})
    with pytest.raises(SumError, match="leads alone"):
        work_out(SUMS["donor-transistor"], EXAMPLES["donor-transistor"] | {"lead_ohm": "50 mΩ"})


DONOR = EXAMPLES["donor-transistor"] | {"supply_v": "24 V"}


def test_a_donor_is_a_part_with_its_doubts() -> None:
    """48 mV at 2 A less 1 mΩ: 23 mΩ at 10 V. On at 2.6 V cold, so off below 2.1 V hot. What was not read is assumed."""
    made = entry(DONOR)
    assert COMPONENTS["mosfet"].problems(made) == {}
    origins = {n: getattr(made, n).origin for n in ("on_resistance", "threshold_max", "threshold", "v_ds", "v_gs")}
    assert origins == {
        "on_resistance": "measured",
        "threshold_max": "measured",
        "threshold": "assumed",
        "v_ds": "assumed",
        "v_gs": "assumed",
    }
    bind(made, "components.new")
    assert made.on_resistance.value == pytest.approx(23e-3)
    assert (made.threshold.value, made.v_ds.value) == (pytest.approx(2.1), pytest.approx(24.0))


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"supply_v": ""}, "The supply of the board"),
        ({"supply_v": "-3 V"}, "above 0 V"),
        ({"threshold_v": "0.4 V"}, "not off when it grows hot"),
        ({"gate_v": "2 V"}, "it must be above the gate volts"),
        ({"drop_v": ""}, "Not given yet: “volts from drain"),
    ],
)
def test_a_donor_whose_readings_cannot_be(change: dict[str, str], says: str) -> None:
    with pytest.raises(SumError, match=says):
        entry(DONOR | change)
