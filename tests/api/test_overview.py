"""All builds at a glance: how each stands, what comes next, what they teach one another."""

from __future__ import annotations

from typing import Any

from fastapi.testclient import TestClient


def overview(client: TestClient) -> Any:
    return client.get("/api/overview").raise_for_status().json()


def card(client: TestClient, build: str) -> Any:
    return next(c for c in overview(client)["cards"] if c["build"] == build)


def test_a_card_says_what_the_build_itself_says(client: TestClient) -> None:
    """Its squares are the stamps of its sheet, its tightest spot is the sheet's first."""
    for build in ("lantern-carousel", "cider-stirrer"):
        body = {"build": client.get(f"/api/builds/{build}").json()["build"], "build_id": build}
        reply = client.post("/api/assess", json=body).json()
        own = card(client, build)
        assert [(s["station"], s["state"]) for s in own["stamps"]] == [
            (s["station"], s["state"]) for s in reply["stamps"] if s["station"] != "log"
        ]
        assert own["tightest"].startswith(reply["spots"][0]["title"])
        uses = [s for s in reply["spots"] if s["use"] is not None]
        assert len(own["margins"]) == min(len(uses), 40)
        assert [m["use"] for m in own["margins"]] == sorted((m["use"] for m in own["margins"]), reverse=True)
        nearest = max(uses, key=lambda s: s["use"])
        assert own["margins"][0] == {"title": nearest["title"], "use": nearest["use"], "state": nearest["state"]}


def test_a_limit_without_room_stands_far_beyond_and_an_empty_build_has_no_bars(client: TestClient) -> None:
    made = client.post("/api/builds", json={"name": "Empty"}).json()["id"]
    assert [m for m in card(client, made)["margins"] if m["use"] > 1] == []
    build = client.get("/api/builds/lantern-carousel").json()["build"]
    build["units"][0]["part"]["continuous_a"]["text"] = "0.01 A"
    other = client.post("/api/builds/import", json=build).json()["id"]
    first = card(client, other)["margins"][0]
    assert first["use"] == 2.0 and first["state"] == "stop"


def test_the_worst_drive_of_a_station_is_shown_and_what_stops_comes_first(client: TestClient) -> None:
    own = card(client, "puppet-stage")
    assert own["drives"] == "1 motor, 2 servos"
    assert {s["station"]: s["state"] for s in own["stamps"]}["power_stage"] == "stops"
    assert own["next"].startswith("Mend: ") and (own["station"], own["drive"]) == ("power_stage", "d1")


def test_what_comes_next_follows_what_is_known_and_measured(client: TestClient) -> None:
    made = client.post("/api/builds", json={"name": "Empty"}).json()["id"]
    assert card(client, made)["next"].startswith("Not known yet: ")
    before = card(client, "cider-stirrer")["next"]
    assert before.startswith("Measure: No short")
    reading = {"drive": "d1", "step": "short", "text": "9 kΩ", "note": ""}
    client.post("/api/builds/cider-stirrer/readings", json=reading).raise_for_status()
    assert card(client, "cider-stirrer")["next"].startswith("Measure: Winding")


def test_motors_loops_and_failures_are_gathered_and_follow_what_changes(client: TestClient) -> None:
    found = overview(client)
    assert {m["build"] for m in found["motors"]} == {"lantern-carousel", "cider-stirrer", "puppet-stage", "snow-fan"}
    carousel = next(m for m in found["motors"] if m["build"] == "lantern-carousel")
    assert carousel["measured"] and carousel["numbers"][0] == "R 1.927 Ω"
    assert not next(m for m in found["motors"] if m["build"] == "puppet-stage")["measured"]
    (loop,) = found["loops"]
    assert loop["gains"][0] == "gain 0.05 %/rpm" and loop["tuned"] and loop["stale"]
    assert found["failures"] == []
    entry = {"topic": "failure", "text": "It smoked", "details": {"cause": "No diode", "undo": "A wire"}}
    client.post("/api/builds/snow-fan/log", json=entry).raise_for_status()
    (failure,) = overview(client)["failures"]
    assert (failure["build"], failure["cause"], failure["open"]) == ("snow-fan", "No diode", True)
    kept = client.get("/api/builds/snow-fan").json()
    kept["build"]["name"] = "Fan of snow"
    client.put("/api/builds/snow-fan", json={"version": kept["version"], "build": kept["build"]}).raise_for_status()
    assert overview(client)["failures"][0]["build_name"] == "Fan of snow"
    client.delete("/api/builds/snow-fan").raise_for_status()
    assert overview(client)["failures"] == []
