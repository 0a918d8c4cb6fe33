"""Other devices on a controller: their pins, current, address, and the time that they take of each loop pass."""

from __future__ import annotations

import pytest

from zinc_whistle.core.algebra.findings import Finding
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.cases.wires.terminal import Terminal
from zinc_whistle.core.model.build import Build, bind_build
from zinc_whistle.core.model.signals import Peripheral
from zinc_whistle.core.program.c_source import c_source
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.demo.data import lantern_carousel, puppet_stage


def device(id: str = "v1", **given: str) -> Peripheral:
    made = Peripheral.model_validate({"id": id, "name": given.pop("name", "Display")})
    for name, text in given.items():
        if name in ("bus", "address", "feed"):
            setattr(made, name, text)
        else:
            spot = getattr(made, name)
            spot.text, spot.origin = text, "data sheet"
    return made


def with_devices(build: Build, *devices: Peripheral) -> Build:
    build.controllers[0].devices = list(devices)
    bind_build(build)
    return build


def polled(build: Build) -> Build:
    """A disc of 20 slots, ×2, polled in a loop of 60 µs."""
    encoder = build.drives[0].encoder
    encoder.method, encoder.decoding = "polling", "2"
    encoder.teeth.text, encoder.loop_time.text, encoder.safety.text = "20", "60 µs", "2"
    bind_build(build)
    return build


def load_of(build: Build) -> float | None:
    return assess(build).drives["d1"].scene.supply.regulators[0].load.value


def told(done: Assessment, code: str) -> Finding:
    return next(f for f in done.findings if f.code == code)


def test_a_display_decides_whether_an_encoder_can_be_polled() -> None:
    """20 slots × 2 are 40 counts a turn: some 4,000 rpm make 2,700 counts/s. A pass of 60 µs, two for each count,
    follows 8,333 counts/s; with a display of 15 ms in the pass it is 1 / (2 × 15.06 ms) = 33 counts/s."""
    alone = assess(polled(lantern_carousel()))
    assert told(alone, "encoder.rate").verdict != "exceeded"
    slowed = assess(with_devices(polled(lantern_carousel()), device(loop="15 ms", current="20 mA")))
    found = told(slowed, "encoder.rate")
    assert found.stops
    assert found.limit is not None and found.limit.value == pytest.approx(1 / (2 * 15.06e-3), rel=1e-9)
    quick = assess(with_devices(polled(lantern_carousel()), device(loop="5 µs", current="20 mA")))
    assert told(quick, "encoder.rate").verdict != "exceeded"


def test_its_current_is_the_regulator_s_and_of_another_controller_s_not() -> None:
    before = load_of(lantern_carousel())
    build = with_devices(lantern_carousel(), device(current="30 mA"), device("v2", name="Sound", current="250 mA"))
    after = load_of(build)
    assert before is not None and after == pytest.approx(before + 0.28)
    build.controllers[0].regulator = ""
    bind_build(build)
    assert load_of(build) == pytest.approx(before)


def test_a_sound_module_that_the_regulator_cannot_feed_is_refused() -> None:
    build = lantern_carousel()
    build.supply.regulators[0].limit.text = "0.5 A"
    heavy, light = device(current="600 mA"), device(current="20 mA")
    assert any(f.stops and f.station == "supply" for f in assess(with_devices(build, heavy)).findings)
    assert not any(f.stops and f.station == "supply" for f in assess(with_devices(build, light)).findings)


def test_it_gets_pins_that_nothing_else_has_and_they_are_in_the_table() -> None:
    build = with_devices(
        lantern_carousel(),
        device(bus="yes", address="0x3c"),
        device("v2", name="Sensor", inputs="2", analogue="1"),
        device("v3", name="Lamps", outputs="3"),
    )
    done = assess(build)
    wiring = done.drives["d1"].wiring
    uses = {u.signal: u for u in wiring.pins}
    labels = [u.pin.label for u in wiring.pins if u.pin is not None]
    assert len(labels) == len(set(labels)) == len(uses)
    for signal, need in (
        ("DEVICE BUS DATA", "bus"),
        ("DEVICE BUS CLOCK", "bus"),
        ("FROM DEVICE Sensor 1", "analogue"),
        ("FROM DEVICE Sensor 2", "digital"),
        *((f"DEVICE Lamps {k}", "digital") for k in (1, 2, 3)),
    ):
        pin = uses[signal].pin
        assert pin is not None and need in pin.can
    wires = {c.signal: c for c in wiring.connections}
    assert wires["DEVICE Lamps 1"].start.block == "controller" and wires["DEVICE Lamps 1"].end.block == "devices"
    assert wires["FROM DEVICE Sensor 1"].start.block == "devices"
    assert "Devices' supply" in wires
    assert told(done, "wiring.pins").verdict == "holds"


def test_where_the_pins_do_not_suffice_it_is_told() -> None:
    done = assess(with_devices(lantern_carousel(), device(name="Matrix", outputs="16")))
    found = told(done, "wiring.pins")
    assert found.stops and "Matrix" in found.todo and "no free pin" in found.todo


def test_the_program_keeps_off_their_pins() -> None:
    build = with_devices(lantern_carousel(), device(name="Lamps", outputs="2"))
    done = assess(build)
    plan = plan_program(done, "c1")
    taken = {u.pin.port for u in done.drives["d1"].wiring.pins if u.pin is not None and u.signal.startswith("DEVICE")}
    assert len(taken) == 2
    assert not taken & {p.port for p in plan.drives[0].pins.values()}
    assert "Lamps" not in c_source(plan)


@pytest.mark.parametrize(
    ("first", "second", "verdict"), [("0x3C", "0x3c", "exceeded"), ("0x3c", "0x3d", "holds"), ("0x3c", "", "unknown")]
)
def test_two_devices_at_one_address_are_refused(first: str, second: str, verdict: str) -> None:
    devices = device(bus="yes", address=first), device("v2", name="Clock", bus="yes", address=second)
    assert told(assess(with_devices(lantern_carousel(), *devices)), "signals.addresses").verdict == verdict


def test_with_several_drives_they_are_told_once_and_with_none_nothing_changes() -> None:
    done = assess(with_devices(puppet_stage(), device(name="Lamps", outputs="1")))
    holding = [d for d, x in done.drives.items() if any(u.signal.startswith("DEVICE") for u in x.wiring.pins)]
    assert holding == ["d1"]
    plain = assess(lantern_carousel())
    assert not [f for f in plain.findings if f.code == "signals.addresses"]
    assert "devices" not in {c.end.block for c in plain.drives["d1"].wiring.connections}


def test_a_device_with_a_feed_of_its_own_loads_that_one_and_is_wired_to_it() -> None:
    build = lantern_carousel()
    source = build.supply.sources[0].id
    before = assess(with_devices(build, device(current="250 mA")))
    moved = assess(with_devices(build, device(outputs="1", current="250 mA", feed=source, v_max="15 V")))
    loads = [a.drives["d1"].scene.supply.regulators[0].load.value for a in (before, moved)]
    assert loads[0] is not None and loads[1] is not None and round(loads[0] - loads[1], 9) == 0.25
    feeds = [c for c in moved.drives["d1"].wiring.connections if c.end == Terminal("devices", "V+ Display")]
    assert [c.start for c in feeds] == [Terminal("fuse", "out")], "the motor's own source: behind its fuse"
    assert not any(c.id == "devices+" for c in moved.drives["d1"].wiring.connections)


@pytest.mark.parametrize(("bears", "verdict"), [("5.5 V", "exceeded"), ("30 V", "holds"), ("", "unknown")])
def test_a_device_bears_the_volts_of_its_own_feed(bears: str, verdict: str) -> None:
    build = lantern_carousel()
    one = device(feed=build.supply.sources[0].id, v_max=bears)
    assert told(assess(with_devices(build, one)), "supply.v1.device").verdict == verdict
