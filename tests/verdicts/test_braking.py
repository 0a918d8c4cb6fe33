"""Where braking energy goes: what must trip, its nearest neighbour that must not, and the arithmetic of each."""

from __future__ import annotations

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.simulation.scenario import simulate
from zinc_whistle.demo.data import lantern_carousel

from .kit import SHELF, altered, said

NO_SINK = {"supply__sources__s1__sinks": "no"}
COASTS = {
    "drives__d1__signals__braking": "coast",
    "drives__d1__signals__soft_start": "no",
    "drives__d1__signals__reversal": "one way",
    "drives__d1__signals__decay": "slow",
    "drives__d1__panel__command": "hold",
    "drives__d1__loop__closed": "no",
}


def test_a_bridge_that_brakes_into_a_source_that_takes_nothing_needs_a_capacitor() -> None:
    """The carousel's board is a bridge with a ramp; its bulk capacitor of 220 µF is asked for, and without it the drive
    is refused: nothing takes the energy. On the battery nothing is asked."""
    bare = altered(lantern_carousel, **NO_SINK, units__u1__bulk_capacitance="")
    found = said(bare, "driver.takes_back")
    assert found is not None and found.verdict == "exceeded" and found.severity == "stop"
    volts = said(bare, "driver.volts_absolute")
    assert volts is not None and volts.verdict == "unknown", "the risen bus is not known, and never passes"
    fitted = said(altered(lantern_carousel, **NO_SINK), "driver.takes_back")
    assert fitted is not None and fitted.verdict == "holds"
    assert said(lantern_carousel(), "driver.takes_back") is None


def test_coasting_through_the_diodes_lifts_no_bus() -> None:
    """The EMF stays below the bus that made it: 14.6 V full is the highest, of 28 V; with a ramp of the duty down the
    same drive is a step-up converter, and the bus rises."""
    still = said(altered(lantern_carousel, **NO_SINK, **COASTS), "driver.volts_absolute")
    assert still is not None and still.stress is not None and still.stress.value == pytest.approx(14.6)
    ramped = said(altered(lantern_carousel, **NO_SINK), "driver.volts_absolute")
    assert ramped is not None and ramped.stress is not None and (ramped.stress.value or 0.0) > 14.7


def test_the_energy_is_that_of_the_top_speed_where_the_port_sets_it() -> None:
    """½ J ((V_full − V_brush) / K_e)²: what turns at full duty without load, whatever the working speed is."""
    done = assess(altered(lantern_carousel, **NO_SINK), SHELF).drives["d1"].of_motor
    assert done is not None
    at = done.context
    known = at.load.reflected_inertia.value, at.motor.motor_constant.value, at.motor.brush_drop.value
    inertia, constant, brush = (float(x or 0.0) for x in known)
    assert at.stored_energy.value == pytest.approx(inertia * ((14.6 - brush) / constant) ** 2 / 2, rel=1e-6)
    pressed = altered(lantern_carousel, **NO_SINK, drives__d1__panel__command="hold")
    working = assess(pressed, SHELF).drives["d1"].of_motor
    assert working is not None
    assert (working.context.stored_energy.value or 0.0) < at.stored_energy.value


def test_an_adaptor_takes_nothing_unless_the_builder_says_so() -> None:
    for sinks, asked in (("", True), ("no", True), ("yes", False)):
        build = altered(lantern_carousel, supply__sources__s1__kind="adaptor", supply__sources__s1__sinks=sinks)
        assert (said(build, "driver.takes_back") is not None) == asked, sinks


@pytest.mark.parametrize(
    ("more", "lifts"),
    [
        ({"drives__d1__signals__braking": "brake"}, False),
        ({"drives__d1__signals__reversal": "through zero"}, False),
        ({"drives__d1__signals__reversal": "slammed"}, True),
        ({"drives__d1__panel__speed_by": "knob"}, True),
        ({"drives__d1__panel__command": "serial"}, True),
        ({"drives__d1__loop__closed": "yes"}, True),
        ({"drives__d1__signals__soft_start": "yes"}, True),
    ],
)
def test_what_lifts_a_bus_and_what_does_not(more: dict[str, str], lifts: bool) -> None:
    """A shorted motor keeps its energy in its winding, one that coasts before it turns round too. A duty that is
    lowered while the motor turns, by whatever lowers it, makes winding and bridge a step-up converter."""
    found = said(altered(lantern_carousel, **NO_SINK, **(COASTS | more)), "driver.volts_absolute")
    assert found is not None and found.stress is not None and found.stress.value is not None
    assert (found.stress.value > 14.7) is lifts


def test_the_simulated_bus_stands_still_under_a_shorted_motor() -> None:
    """Every pulse, a source that takes nothing, 220 µF: no rise while the shorted motor comes to rest."""
    build = altered(lantern_carousel, **NO_SINK, drives__d1__signals__braking="brake")
    drive = assess(build, SHELF).drives["d1"].of_motor
    assert drive is not None
    run = simulate(drive.context, drive.circuit, "brake", averaged=False)
    assert run.measured.last_speed == pytest.approx(0.0, abs=0.1)
    assert run.measured.bus_high_v < (drive.context.volts.full.value or 0.0) + 0.05
