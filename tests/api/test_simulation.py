"""Simulated runs over the wire, against the figures of the assessment that they must agree with."""

from __future__ import annotations

import csv
import io
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.core.test_stage import carousel_with
from zinc_whistle.core.assess import assess
from zinc_whistle.core.simulation import scenario as scenario_module
from zinc_whistle.core.simulation.engine import TooManyEvents
from zinc_whistle.core.simulation.scenario import SCENARIOS, simulate
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, sample_parts


def asked(client: TestClient, build: str, **more: Any) -> dict[str, Any]:
    found = client.get(f"/api/builds/{build}").json()["build"]
    return {"build": found, "drive": "d1", "scenario": "start", "averaged": True} | more


@pytest.mark.parametrize("scenario", SCENARIOS)
def test_every_scenario_of_the_carousel_runs(client: TestClient, scenario: str) -> None:
    reply = client.post("/api/simulation/run", json=asked(client, "lantern-carousel", scenario=scenario))
    assert reply.status_code == 200
    run = reply.json()
    lengths = {
        len(run[k]) for k in ("time_s", "current_low_a", "current_high_a", "speed_rpm", "bus_low_v", "bus_high_v")
    }
    assert lengths == {320}
    assert np.all(np.diff(run["time_s"]) > 0)
    assert np.all(np.array(run["current_low_a"]) <= np.array(run["current_high_a"]) + 1e-12)
    assert np.all(np.array(run["bus_low_v"]) <= np.array(run["bus_high_v"]) + 1e-12)
    assert {f["name"]: f["text"] for f in run["measured"]}["Peak current"].endswith("A")
    assert run["notes"]


def test_a_run_reaches_the_speed_and_current_of_the_assessment() -> None:
    """Steady at the working duty: the speed that the load wants and the current that turns it, by the assessment. (The
    duty counts with a hot winding, the run starts with a cold one, and so ends a few per cent faster.)"""
    for make in (lantern_carousel, cider_stirrer):
        drive: Any = assess(make(), sample_parts()).drives["d1"]
        run = simulate(drive.context, drive.circuit, "start at once", averaged=True)
        assert run.measured.last_speed == pytest.approx(drive.load.motor_speed.value, rel=0.08)
        mean = (run.current_low[-1] + run.current_high[-1]) / 2
        assert mean == pytest.approx(drive.load.working_current.value, rel=0.1)


def test_starting_at_once_draws_nearly_the_stall_current_and_a_ramp_far_less() -> None:
    drive: Any = assess(cider_stirrer(), sample_parts()).drives["d1"]
    slammed = simulate(drive.context, drive.circuit, "start at once", averaged=True).measured.peak_a
    stalled = drive.circuit.stall_full.value * drive.circuit.duty_nominal.value
    assert 0.6 * stalled < slammed < drive.circuit.stall_full.value
    ramped = simulate(drive.context, drive.circuit, "start", averaged=True).measured.peak_a
    assert ramped < 0.25 * slammed
    with pytest.raises(ValueError, match="one way only"):
        simulate(drive.context, drive.circuit, "reverse at once")
    both: Any = assess(lantern_carousel(), sample_parts()).drives["d1"]
    once = simulate(both.context, both.circuit, "start at once", averaged=True).measured.peak_a
    reversed_ = simulate(both.context, both.circuit, "reverse at once", averaged=True).measured.peak_a
    assert reversed_ > 1.5 * once, "the back-EMF adds"


def test_every_pulse_shows_the_ripple_that_the_signals_station_computes() -> None:
    drive: Any = assess(lantern_carousel(), sample_parts()).drives["d1"]
    run = simulate(drive.context, drive.circuit, "start at once", averaged=False)
    assert run.measured.ripple_a == pytest.approx(drive.signals.ripple.value, rel=0.15)
    mean = simulate(drive.context, drive.circuit, "start at once", averaged=True)
    assert run.measured.last_speed == pytest.approx(mean.measured.last_speed, rel=0.01)
    assert run.current_high.max() == pytest.approx(run.measured.peak_a), "the bins hide no peak"


def test_a_jam_ends_at_the_stall_current_and_a_coast_stands_still() -> None:
    drive: Any = assess(cider_stirrer(), sample_parts()).drives["d1"]
    jam = simulate(drive.context, drive.circuit, "jam")
    assert jam.events[0][1] == "it jams"
    assert jam.measured.last_speed == 0.0
    coast = simulate(drive.context, drive.circuit, "coast")
    assert coast.measured.last_speed == 0.0
    assert any(words == "it stops" for _, words in coast.events)


TURNING = {"reverse", "reverse at once"}
CANNOT = {cider_stirrer: TURNING, lantern_carousel: set(), puppet_stage: {"regenerate"}}


@pytest.mark.parametrize("scenario", SCENARIOS)
@pytest.mark.parametrize("make", CANNOT)
def test_every_scenario_runs_with_every_pulse(make: Any, scenario: Any) -> None:
    """It ends at the averaged model's speed, which is driven by the mean volts, or says what the circuit cannot do."""
    drive: Any = assess(make(), sample_parts()).drives["d1"]
    if scenario in CANNOT[make]:
        with pytest.raises(ValueError, match=r"one way only|nothing is fed back"):
            simulate(drive.context, drive.circuit, scenario)
        return
    pulsed = simulate(drive.context, drive.circuit, scenario).measured
    mean = simulate(drive.context, drive.circuit, scenario, averaged=True).measured
    assert np.isfinite([pulsed.peak_a, pulsed.rms_a, pulsed.energy_j]).all()
    assert abs(pulsed.last_speed - mean.last_speed) <= 0.03 * abs(drive.load.motor_speed.value)


def test_a_run_with_too_many_events_is_refused_in_words(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(scenario_module, "PATIENCE", 3)
    drive: Any = assess(lantern_carousel(), sample_parts()).drives["d1"]
    with pytest.raises(TooManyEvents):
        simulate(drive.context, drive.circuit, "start", averaged=False)
    refused = client.post("/api/simulation/run", json=asked(client, "lantern-carousel", averaged=False))
    assert refused.status_code == 422
    assert "averaged model" in refused.json()["detail"]


def test_one_switch_and_a_diode_cannot_brake(client: TestClient) -> None:
    """The winch's relays can; without them, the same switch and diode cannot, and coast."""
    body = asked(client, "puppet-stage", scenario="brake")
    done = client.post("/api/simulation/run", json=body)
    assert done.status_code == 200 and any("before the contacts move" in n for n in done.json()["notes"])
    body["build"]["units"][0]["stage"]["circuit"] = "low side"
    refused = client.post("/api/simulation/run", json=body)
    assert refused.status_code == 422
    assert "neither brake nor reverse" in refused.json()["detail"]
    drive: Any = assess(puppet_stage(), sample_parts()).drives["d1"]
    assert simulate(drive.context, drive.circuit, "coast").measured.last_speed == 0.0


def test_contacts_turn_a_motor_round_that_still_turns() -> None:
    """At once: the pulses rest, the contacts move, and the motor's EMF adds to the supply: more than a start takes."""
    build = carousel_with("relay pair")
    build.drives[0].signals.reversal = "through zero"
    drive: Any = assess(build, sample_parts()).drives["d1"]
    start, slammed, rested = (
        simulate(drive.context, drive.circuit, s).measured for s in ("start at once", "reverse at once", "reverse")
    )
    assert slammed.peak_a > 1.2 * start.peak_a > rested.peak_a
    assert slammed.last_speed == pytest.approx(-start.last_speed, rel=0.01)


def test_what_is_not_known_yet_is_named(client: TestClient) -> None:
    body = asked(client, "lantern-carousel")
    body["build"]["drives"][0]["motor"]["inductance"]["text"] = ""
    body["build"]["drives"][0]["motor"]["electrical_time"]["text"] = ""
    refused = client.post("/api/simulation/run", json=body)
    assert refused.status_code == 422
    assert "inductance" in refused.json()["detail"]
    assert client.post("/api/simulation/run", json=body | {"drive": "none"}).status_code == 404


def test_a_run_goes_out_as_csv(client: TestClient) -> None:
    reply = client.post("/api/simulation/file", json=asked(client, "lantern-carousel", scenario="coast"))
    assert reply.headers["content-type"].startswith("text/csv")
    rows = list(csv.reader(io.StringIO(reply.text)))
    assert rows[0] == ["time (s)", "current (A)", "speed (rpm)", "angle (turns)", "bus (V)"]
    assert float(rows[-1][2]) == 0.0
    times = [float(r[0]) for r in rows[1:]]
    assert times == sorted(times)


@pytest.mark.parametrize("speed", ["1e-200 rpm", "1e-6 rpm", "0.01 rpm"])
def test_a_fan_that_hardly_turns_is_run_all_the_same(client: TestClient, speed: str) -> None:
    """The square of its speed is nothing in a machine's numbers."""
    build = client.get("/api/builds/cider-stirrer").json()["build"]
    for mechanism in build["drives"][0]["load"]["mechanisms"]:
        if "speed" in mechanism:
            mechanism["speed"]["text"] = speed
    asked = {"build": build, "drive": "d1", "scenario": "jam"}
    assert client.post("/api/simulation/run", json=asked).status_code in (200, 422)
