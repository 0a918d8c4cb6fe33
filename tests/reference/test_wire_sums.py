"""Wires, buses and clamps: the quick sums against printed tables and by hand."""

from __future__ import annotations

import pytest

from zinc_whistle.core.sums import SUMS, SumError, work_out


def got(name: str, **given: str) -> dict[str, float | None]:
    return {k: r.value for k, r in work_out(SUMS[name], given).results.items()}


# Fusing currents of bare copper by Preece's law, from the tables of wire handbooks (from memory; printed in amperes for
# the whole gauges): 10 AWG 333, 20 AWG 58.6, 30 AWG 10.3, 40 AWG 1.77.
@pytest.mark.parametrize(("awg", "amperes"), [("10", 333.0), ("20", 58.6), ("30", 10.3), ("40", 1.8)])
def test_wire_melts_as_the_tables_say(awg: str, amperes: float) -> None:
    assert got("melt", awg=awg)["current_a"] == pytest.approx(amperes, rel=0.015)


# DIN VDE 0298-4, single PVC cores in free air at 30 °C (from memory): 0.75 mm² 15 A, 1 mm² 19 A, 1.5 mm² 24 A,
# 2.5 mm² 32 A, 4 mm² 42 A. Gauges of about that area: 0.75 is 18.2 AWG, so the law is asked between its neighbours.
@pytest.mark.parametrize(
    ("thinner", "thicker", "amperes"), [("19", "18", 15.0), ("17", "16", 19.0), ("16", "15", 24.0), ("14", "13", 32.0)]
)
def test_what_a_wire_may_carry_lies_by_the_table(thinner: str, thicker: str, amperes: float) -> None:
    low, high = (got("wire-heat", awg=x, current_a="1")["allowed_a"] for x in (thinner, thicker))
    assert low is not None and high is not None
    assert low * 0.94 < amperes < high * 1.06


# NBS Handbook 100 (copper wire tables): 20 AWG has 33.31 Ω/km at 20 °C, 10 AWG 3.277, 30 AWG 338.6 (from memory).
@pytest.mark.parametrize(("awg", "ohm_per_km"), [("10", 3.277), ("20", 33.31), ("30", 338.6)])
def test_resistance_is_that_of_the_wire_tables(awg: str, ohm_per_km: float) -> None:
    found = got("wire", awg=awg, length_m="0.5", current_a="1")
    assert found["drop_v"] == pytest.approx(ohm_per_km / 1000, rel=2e-3)


def test_a_wire_warms_with_the_square_and_more_in_a_bundle() -> None:
    """At what it may carry it has just the rise from the air to its limit, alone or among five."""
    for insulation, limit in (("pvc", 70), ("xlpe", 90), ("silicone", 180)):
        for bundle in ("1", "5", "14"):
            given = {"awg": "18", "insulation": insulation, "ambient_c": "35", "bundle": bundle}
            allowed = got("wire-heat", current_a="1", **given)["allowed_a"]
            assert got("wire-heat", current_a=f"{allowed:.9g}", **given)["rise_k"] == pytest.approx(limit - 35)
    alone, five = (got("wire-heat", awg="18", current_a="6", bundle=n)["rise_k"] for n in ("1", "5"))
    assert alone is not None and five == pytest.approx(alone / 0.6**2)


# I²C-bus specification (UM10204), 7.1: R_max = t_r/(0.8473 C_b), R_min = (V − 0.4)/3 mA. 1 µs and 100 pF: 11.8 kΩ; 5 V:
# 1.53 kΩ. Fast mode, 300 ns and 200 pF: 1.77 kΩ; 3.3 V: 967 Ω.
def test_pull_ups_of_a_bus() -> None:
    slow = got("bus-pullup", supply_v="5", capacitance_pf="100", rise_ns="1000")
    assert slow == pytest.approx({"r_max_ohm": 11802, "r_min_ohm": 1533.3}, rel=1e-4)
    fast = got("bus-pullup", supply_v="3.3", capacitance_pf="200", rise_ns="300")
    assert fast == pytest.approx({"r_max_ohm": 1770.3, "r_min_ohm": 966.7}, rel=1e-4)
    with pytest.raises(SumError, match="No pull-up"):
        got("bus-pullup", supply_v="5", capacitance_pf="400", rise_ns="300")


def test_the_clamp_before_a_sense_pin() -> None:
    """12 V against 4.7 V that bears 250 mW: 53.2 mA, so 7.3 V / 53.2 mA = 137.2 Ω, next 150 Ω: 48.7 mA, 229 mW in the
    zener and 355 mW in the resistor. 1 kHz with 10 nF: 15.9 kΩ at most."""
    found = got("sense-clamp", fault_v="12", pin_v="5.5", signal_v="3.3", zener_v="4.7", bandwidth_hz="1k")
    expected = {
        "zener_v": 4.7,
        "r_min_ohm": 137.24,
        "r_max_ohm": 15915.5,
        "resistor_ohm": 150,
        "zener_w": 0.22873,
        "resistor_w": 0.35527,
    }
    assert found == pytest.approx(expected, rel=1e-4)


def test_a_clamp_takes_the_highest_zener_that_protects_its_pin() -> None:
    """5.5 V at the pin and 5 %: 5.1 V may be 5.36, the next of E24, 5.6, already 5.88."""
    assert got("sense-clamp", fault_v="24", pin_v="5.5", bandwidth_hz="1k")["zener_v"] == pytest.approx(5.1)
    assert got("wire-heat", awg="20", current_a="5", insulation="PVC") == got("wire-heat", awg="20", current_a="5")


@pytest.mark.parametrize(
    ("wrong", "says"),
    [
        ({"zener_v": "5.4"}, "a pin that bears less"),
        ({"signal_v": "4.6"}, "clip the signal"),
        ({"fault_v": "4.7"}, "does not reach"),
        ({"bandwidth_hz": "1M", "capacitance_nf": "100"}, "No resistor does both"),
    ],
)
def test_a_clamp_that_cannot_be(wrong: dict[str, str], says: str) -> None:
    given = {"fault_v": "12", "pin_v": "5.5", "signal_v": "3.3", "zener_v": "4.7", "bandwidth_hz": "1k"} | wrong
    with pytest.raises(SumError, match=says):
        got("sense-clamp", **given)


@pytest.mark.parametrize(
    ("name", "given", "says"),
    [
        ("wire-heat", {"awg": "20", "current_a": "5", "bundle": "21"}, "ends at 20"),
        ("wire-heat", {"awg": "20", "current_a": "5", "bundle": "2.5"}, "whole number"),
        ("wire-heat", {"awg": "20", "current_a": "5", "ambient_c": "70"}, "must be below"),
        ("bus-pullup", {"supply_v": "0.4", "capacitance_pf": "100", "rise_ns": "300"}, "must be above"),
        ("melt", {}, "needs awg"),
    ],
)
def test_a_wire_sum_says_what_is_wrong(name: str, given: dict[str, str], says: str) -> None:
    with pytest.raises(SumError, match=says):
        got(name, **given)
