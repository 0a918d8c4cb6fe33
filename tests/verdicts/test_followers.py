"""A motor on the source of its switch gets what the gate leaves: in speed, torque and duty, not in heat only.

Common practice, no source: gate volts less the gate-source voltage at the current; the rest of the supply is lost.
"""

from __future__ import annotations

import pytest

from tests.core.test_stage import carousel_with
from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases.circuit import Circuit
from zinc_whistle.core.model.transistors import Mosfet
from zinc_whistle.demo.data import sample_parts

SHELF = sample_parts()
FULL_V, FLAT_V = 14.6, 10.8
"""The carousel's battery."""


def solved(**more: str) -> tuple[Circuit, float]:
    """The cases of the carousel on an N channel above its motor, and the volts from gate to source."""
    build = carousel_with("high side", **more)
    drive = assess(build, SHELF).drives["d1"].of_motor
    switch = build.units[0].stage.switch
    assert drive is not None and drive.circuit.of_motor is not None and isinstance(switch, Mosfet)
    return drive.circuit.of_motor, float(switch.plateau.value or 0)


def test_a_fixed_gate_supply_sets_the_speed_whatever_the_battery_has() -> None:
    """10 V on the gate: the stall is (10 V less the plateau and the brushes) over the circuit, from a full supply."""
    lifted, _ = solved()
    held, plateau = solved(gate_driver="g-low-4a", gate_v="10 V")
    brushes = float(lifted.lost_volts.value or 0)
    ohms = (FULL_V - brushes) / float(lifted.stall_full.value or 0)
    assert held.stall_full.value == pytest.approx((10 - plateau - brushes) / ohms, rel=1e-6)
    assert held.delivered_full.value < 0.5 * lifted.delivered_full.value
    assert held.stall_torque.value < lifted.stall_torque.value
    assert held.duty_flat.value > 1.7 * lifted.duty_flat.value


def test_a_gate_on_the_battery_loses_the_same_volts_full_and_flat() -> None:
    """Its neighbour: the gate rises with the supply, so that the plateau alone is lost, as over a drop of that size."""
    lifted, _ = solved()
    held, plateau = solved(gate_driver="g-low-4a", gate_fed="bus")
    brushes = float(lifted.lost_volts.value or 0)
    assert held.lost_volts.value == pytest.approx(brushes + plateau, rel=1e-9)
    for volts, one, other in (
        (FULL_V, lifted.stall_full, held.stall_full),
        (FLAT_V, lifted.stall_flat, held.stall_flat),
    ):
        left = (volts - plateau - brushes) / (volts - brushes)
        assert float(other.value or 0) / float(one.value or 0) == pytest.approx(left, rel=1e-6)
