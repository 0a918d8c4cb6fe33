"""The panel pressed and the program made, over the wire."""

from __future__ import annotations

import io
import itertools
import zipfile
from typing import Any

import pytest
from starlette.testclient import TestClient

from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage


def body(make: Any, **more: Any) -> dict[str, Any]:
    return {"build": make().model_dump(mode="json"), "drive": "d1"} | more


def test_a_panel_is_pressed_call_by_call_and_the_motor_answers(client: TestClient) -> None:
    memory, seen = None, []
    for pressed, ms in (([], 300), (["forward"], 1500), ([], 1500), (["back"], 2500)):
        done = client.post("/api/signals/press", json=body(puppet_stage, memory=memory, pressed=pressed, ms=ms)).json()
        memory = done["memory"]
        seen.append((done["mode"], done["speed_rpm"][-1], done["lines"]["PWM"]))
    assert [s[0] for s in seen] == ["idle", "forward", "idle", "back"]
    assert seen[1][1] > 500 and seen[3][1] < -500
    assert abs(seen[2][1]) < 5 and seen[2][2] == "0"
    assert memory is not None and memory["ms"] == 5800


def test_one_long_call_and_many_short_ones_come_to_the_same(client: TestClient) -> None:
    start = client.post("/api/signals/press", json=body(puppet_stage, ms=300)).json()["memory"]
    whole = client.post("/api/signals/press", json=body(puppet_stage, memory=start, pressed=["forward"], ms=900)).json()
    memory = start
    for _ in range(9):
        part = client.post(
            "/api/signals/press", json=body(puppet_stage, memory=memory, pressed=["forward"], ms=100)
        ).json()
        memory = part["memory"]
    assert memory["mode"] == whole["memory"]["mode"]
    assert memory["level_fine"] == whole["memory"]["level_fine"]
    assert memory["motor"] == pytest.approx(whole["memory"]["motor"], rel=1e-9)


def test_a_knob_must_be_at_zero_and_then_sets_the_duty(client: TestClient) -> None:
    held = client.post("/api/signals/press", json=body(cider_stirrer, knob=800, ms=400)).json()
    assert held["mode"] == "waiting"
    ready = client.post("/api/signals/press", json=body(cider_stirrer, memory=held["memory"], knob=40, ms=400)).json()
    assert ready["mode"] == "idle"
    memory = client.post(
        "/api/signals/press", json=body(cider_stirrer, memory=ready["memory"], knob=40, pressed=["forward"], ms=60)
    ).json()["memory"]
    for _ in range(3):
        turned = client.post("/api/signals/press", json=body(cider_stirrer, memory=memory, knob=520, ms=3000)).json()
        memory = turned["memory"]
    assert turned["mode"] == "forward"
    assert turned["level_pct"][-1] == pytest.approx(50, abs=1)
    off = client.post("/api/signals/press", json=body(cider_stirrer, memory=memory, knob=1023, ms=100)).json()
    assert off["mode"] == "failed", "a knob that reads its very end has lost a wire"


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"pressed": ["dance"]}, "no input"),
        ({"memory": {"mode": "nowhere"}}, "changed since"),
        ({"pressed": ["still"]}, "no input"),
    ],
)
def test_what_cannot_be_pressed_is_refused_in_words(client: TestClient, change: dict[str, Any], sentence: str) -> None:
    meta = client.post("/api/signals/press", json=body(puppet_stage, **change))
    assert meta.status_code == 422
    assert sentence in meta.json()["detail"]


def test_a_servo_has_no_panel(client: TestClient) -> None:
    assert client.post("/api/signals/press", json=body(puppet_stage) | {"drive": "d2"}).status_code == 404


@pytest.mark.parametrize("make", [lantern_carousel, cider_stirrer, puppet_stage])
def test_every_demo_has_its_program(client: TestClient, make: Any) -> None:
    made = client.post(
        "/api/signals/program", json={"build": make().model_dump(mode="json"), "controller": "c1"}
    ).json()
    assert (made["language"], made["file"], made["missing"]) == ("avr", "program.c", [])
    assert "made whole:" in made["source"] and "/* yours:" in made["source"]


def test_what_a_program_still_needs_is_said_and_nothing_is_lost(client: TestClient) -> None:
    build = lantern_carousel().model_dump(mode="json")
    build["units"][0]["part"] = None
    meta = client.post("/api/signals/program", json={"build": build, "controller": "c1"})
    assert meta.status_code == 200
    assert meta.json()["missing"] and "driver" in meta.json()["missing"][0]
    assert (
        "no such controller"
        in client.post("/api/signals/program", json={"build": build, "controller": "c9"}).json()["missing"][0]
    )


def test_a_file_with_broken_marks_is_refused(client: TestClient) -> None:
    sent = {"build": lantern_carousel().model_dump(mode="json"), "controller": "c1", "edited": "/* yours: a */\nx\n"}
    meta = client.post("/api/signals/program", json=sent)
    assert meta.status_code == 422
    assert "has no end" in meta.json()["detail"]


def test_single_pulses_and_the_dump_come_over_the_wire(client: TestClient) -> None:
    asked = body(lantern_carousel, scenario="start at once", averaged=True)
    seen = client.post("/api/simulation/zoom", json=asked | {"at_s": 0.5}).json()
    assert len(seen["time_us"]) == len(seen["current_a"]) == len(seen["path"])
    assert seen["time_us"][-1] == pytest.approx(300, abs=0.1)
    refused = client.post("/api/simulation/zoom", json=asked | {"at_s": 90})
    assert refused.status_code == 422 and "lasts" in refused.json()["detail"]
    dump = client.post("/api/simulation/file", json=asked | {"kind": "vcd"})
    assert dump.text.startswith("$") and "$enddefinitions" in dump.text
    assert 'filename="run.vcd"' in dump.headers["content-disposition"]


def test_the_signals_sheet_tells_window_pins_strips_and_panel(client: TestClient) -> None:
    asked = {"build": puppet_stage().model_dump(mode="json"), "station": "signals", "drive": "d1"}
    picture = client.post("/api/assess", json=asked).json()["sheet"]["picture"]
    assert picture["window"]["verdict"].startswith("All is well")
    assert {p["pin"] for p in picture["pulse_pins"]} == {"D3", "D5", "D6", "D9", "D10", "D11"}
    assert [s["title"] for s in picture["strips"]] == ["One PWM period at work", "Changing direction"]
    assert len(picture["panel"]["verdicts"]) == 9 and all(v["holds"] for v in picture["panel"]["verdicts"])
    names = {m["name"] for m in picture["panel"]["modes"]}
    assert all({e["start"], e["end"]} <= names for e in picture["panel"]["edges"])


def test_the_change_of_direction_takes_what_ramp_rest_and_relays_take(client: TestClient) -> None:
    asked = {"build": puppet_stage().model_dump(mode="json"), "station": "signals", "drive": "d1"}
    strip = client.post("/api/assess", json=asked).json()["sheet"]["picture"]["strips"][1]
    pulses = [s["levels"]["PWM"] for s in strip["segments"]]
    quiet = sum(s["length"] for s in strip["segments"] if s["levels"]["PWM"] == "0")
    assert pulses[0] == pulses[-1] == "PWM"
    # Rest of 250 ms, and relays that wait 60 ms for the current and 60 ms for the bounce.
    assert quiet >= 0.25
    order = [tuple(s["levels"][c] for c in ("COIL 1", "COIL 2")) for s in strip["segments"]]
    assert [k for k, _ in itertools.groupby(order)] == [("1", "0"), ("0", "0"), ("0", "1")]


def test_the_archive_over_the_wire(client: TestClient) -> None:
    build = client.get("/api/builds/puppet-stage").json()["build"]
    got = client.post("/api/signals/board", json={"build": build, "controller": "c1"})
    assert got.status_code == 200 and got.headers["content-type"] == "application/zip"
    whole = zipfile.ZipFile(io.BytesIO(got.content))
    assert set(whole.namelist()) == {"program.c", "program.hex", "Makefile", "LOAD.txt", "TYPE.txt", "numbers.json"}
    again = client.post("/api/signals/board", json={"build": build, "controller": "c1"})
    assert again.content == got.content, "the same program, the same archive"
    missing = client.post("/api/signals/board", json={"build": build, "controller": "none"})
    assert missing.status_code == 422 and "no such controller" in missing.json()["detail"]


def test_a_sequence_is_played_and_what_is_missing_is_told(client: TestClient) -> None:
    build = puppet_stage().model_dump(mode="json")
    played = client.post("/api/signals/play", json={"build": build, "sequence": "q1"}).json()
    assert played["ended"] and 14 < played["time_s"][-1] < 17, "the winch is told to need 14 s, and ramps"
    winch = next(t for t in played["tracks"] if t["name"] == "Curtain winch")
    assert max(winch["values"]) == pytest.approx(87, abs=2) and [e["says"][:6] for e in played["events"]] == [
        "step 1",
        "step 2",
        "step 3",
    ]
    assert client.post("/api/signals/play", json={"build": build, "sequence": "none"}).status_code == 404
    build["sequences"][0]["steps"][2]["do"] = "on"
    refused = client.post("/api/signals/play", json={"build": build, "sequence": "q1"})
    assert refused.status_code == 422 and "Step 3: Curtain winch cannot do that." in refused.json()["detail"]


def test_proving_keeps_everything_off_and_tells_what_is_pressed(client: TestClient) -> None:
    asked = body(puppet_stage, pressed=["forward", "limit_front"], ms=300, prove=True)
    done = client.post("/api/signals/press", json=asked).json()
    assert set(done["lines"].values()) == {"0"} and done["says"] == "proves: everything is off"
    told = {p["name"]: p["text"] for p in done["proved"]}
    assert told["Forward"] == told["Front limit"] == "pressed" and told["Stop"] == "not pressed"
    assert not any(lamp["lit"] for lamp in done["lamps"]) and len(done["lamps"]) == 3


def test_a_stop_by_current_opens_in_the_trial_too(client: TestClient) -> None:
    """The stirrer starts at up to 8.5 A and stops above 7.2 A: its ramp passes. With 0.5 A it would not."""

    def mode(limit: str) -> str:
        made = cider_stirrer()
        made.drives[0].panel.trip_a.text = limit
        asked: dict[str, Any] = {"build": made.model_dump(mode="json"), "drive": "d1"}
        done = client.post("/api/signals/press", json=asked | {"ms": 400, "knob": 40}).json()
        for pressed, knob, ms in (([], 40, 400), (["forward"], 40, 100), ([], 900, 3000), ([], 900, 3000)):
            told = {"memory": done["memory"], "pressed": pressed, "knob": knob, "ms": ms}
            done = client.post("/api/signals/press", json=asked | told).json()
        return str(done["mode"])

    assert mode("7.2 A") == "forward"
    assert mode("0.5 A") == "failed"
