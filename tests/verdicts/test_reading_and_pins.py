"""Encoder rates and pins that are not plain: what must trip, its nearest neighbour that must not, the arithmetic."""

from __future__ import annotations

import math

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.wiring import FixedPin
from zinc_whistle.demo.data import lantern_carousel

from .kit import SHELF, altered, said

HELD = {"drives__d1__panel__command": "hold", "drives__d1__panel__speed_by": "fixed"}


def worked(**changes: str):  # type: ignore[no-untyped-def]
    done = assess(altered(lantern_carousel, **changes), SHELF).drives["d1"].of_motor
    assert done is not None
    return done


def test_a_rate_is_judged_at_the_speed_that_is_commanded() -> None:
    """Buttons and a closed loop: the working speed of 1,800 rpm, whatever full duty would give. The port may ask for
    all of it. A loop pass that follows the one and not the other is refused only with the port."""
    closed = worked(**HELD, drives__d1__loop__closed="yes")
    per_turn = closed.encoder.counts_per_motor_turn.value
    assert closed.encoder.rate_top.value == pytest.approx(per_turn * 1800 / 60, rel=1e-6)
    port = worked()
    free = port.encoder.rate_top.value
    assert free > 1.5 * closed.encoder.rate_top.value
    between = math.sqrt(free * closed.encoder.rate_top.value)
    slow = {
        "drives__d1__encoder__method": "polling",
        "drives__d1__encoder__safety": "10",
        "drives__d1__encoder__loop_time": f"{1e6 / (10 * between):.4f} µs",
    }
    held = said(altered(lantern_carousel, **HELD, **slow, drives__d1__loop__closed="yes"), "encoder.rate")
    assert held is not None and held.verdict in ("holds", "tight")
    asked = said(altered(lantern_carousel, **slow), "encoder.rate")
    assert asked is not None and asked.verdict == "exceeded"


def test_an_open_loop_is_judged_by_a_full_supply_with_nothing_on_the_shaft() -> None:
    done = worked(**HELD, drives__d1__loop__closed="no")
    duty, motor = done.circuit.duty_nominal.value, done.motor
    speed = (duty * 14.6 - motor.brush_drop.value) / motor.motor_constant.value
    wanted = done.encoder.counts_per_motor_turn.value * speed / (2 * math.pi)
    assert done.encoder.rate_top.value == pytest.approx(wanted, rel=1e-9)


def test_the_speed_and_duty_that_the_reading_follows_are_told() -> None:
    """At that speed the rate is the limit itself; at that duty, unloaded and full, the motor has that speed."""
    done = worked()
    found, motor = done.encoder, done.motor
    limit = (found.interrupt_limit if done.drive.encoder.method == "interrupt" else found.polling_limit).value
    speed = found.speed_followed.value
    assert found.counts_per_motor_turn.value * speed / (2 * math.pi) == pytest.approx(limit)
    reached = (motor.motor_constant.value * speed + motor.brush_drop.value) / 14.6
    assert found.duty_followed.value == pytest.approx(min(reached, 1.0))


def test_no_contact_hangs_on_the_boards_lamp() -> None:
    """D13 carries the lamp: its resistor and diode pull a contact's pull-up down to some 1.7 V. An output may hang
    there."""
    build = lantern_carousel()
    lamp = next(p for p in build.controllers[0].pins if "lamp" in p.can)
    build.drives[0].wiring.fixed_pins.append(FixedPin(id="x1", signal="STOP", pin=lamp.id))
    found = said(build, "wiring.pins")
    assert found is not None and found.verdict == "exceeded" and "lamp" in found.todo
    build.drives[0].wiring.fixed_pins[-1] = FixedPin(id="x1", signal="DIR", pin=lamp.id)
    found = said(build, "wiring.pins")
    assert found is not None and found.verdict == "holds"


def test_an_input_only_pin_drives_nothing() -> None:
    build = lantern_carousel()
    pin = next(p for p in build.controllers[0].pins if p.label == "D12")
    pin.can = ["digital", "input only"]
    build.drives[0].wiring.fixed_pins.append(FixedPin(id="x1", signal="DIR", pin=pin.id))
    found = said(build, "wiring.pins")
    assert found is not None and found.verdict == "exceeded" and "input only" in found.todo
    build.drives[0].wiring.fixed_pins[-1] = FixedPin(id="x1", signal="STOP", pin=pin.id)
    found = said(build, "wiring.pins")
    assert found is not None and found.verdict == "holds"


def test_a_pin_that_is_read_at_start_up_warns_also_where_the_builder_fixed_it() -> None:
    build = lantern_carousel()
    pin = next(p for p in build.controllers[0].pins if p.label == "D12")
    pin.can = ["digital", "boot"]
    assert said(build, "wiring.boot") is None, "the app leaves it alone"
    build.drives[0].wiring.fixed_pins.append(FixedPin(id="x1", signal="DIR", pin=pin.id))
    found = said(build, "wiring.boot")
    assert found is not None and found.severity == "warn" and "D12" in found.todo
