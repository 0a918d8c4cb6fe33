"""Tries over the wire: states compared, corrected parts offered, parts of other builds put in."""

from __future__ import annotations

from typing import Any

from fastapi.testclient import TestClient

from zinc_whistle.demo.data import lantern_carousel, sample_parts
from zinc_whistle.demo.seed import CAROUSEL, PUPPETS, seed
from zinc_whistle.store.store import Store


def _build(client: TestClient, id: str) -> dict[str, Any]:
    return dict(client.get(f"/api/builds/{id}").json()["build"])


def _own_part(client: TestClient) -> dict[str, Any]:
    """A part of the builder's own, like the carousel's."""
    held = lantern_carousel().units[0].part
    assert held is not None
    got = client.post("/api/parts", json=held.model_dump(mode="json") | {"id": "new", "name": "My board"})
    assert got.status_code == 201, got.text
    return dict(got.json())


def test_two_tries_are_told_beside_the_build_and_nothing_is_saved(client: TestClient) -> None:
    base = _build(client, CAROUSEL)
    one, two = _build(client, CAROUSEL), _build(client, CAROUSEL)
    one["drives"][0]["load"]["gear_ratio"]["text"] = "99"
    two["units"][0]["part"] = None
    got = client.post("/api/tries", json={"build_id": CAROUSEL, "states": [base, one, two]})
    assert got.status_code == 200, got.text
    view = got.json()
    assert len(view["tightest"]) == 3 and len(view["changes"]) == 2
    assert [c["after"] for c in view["changes"][0]["given"]] == ["99"]
    assert any(s["title"] == "Driver" for s in view["stations"])
    assert _build(client, CAROUSEL) == base


def test_a_single_state_or_four_of_them_are_refused(client: TestClient) -> None:
    base = _build(client, CAROUSEL)
    for states in ([base], [base] * 4):
        got = client.post("/api/tries", json={"states": states})
        assert got.status_code == 422 and got.json()["detail"]


def test_a_corrected_part_is_offered_to_the_build_that_copied_it_and_to_no_other(client: TestClient) -> None:
    part = _own_part(client)
    build = _build(client, CAROUSEL)
    build["units"][0]["part"] = part
    assert client.post("/api/offers", json={"build": build}).json() == []
    better = part | {"peak_a": {"text": "6 A", "origin": "data sheet"}}
    assert client.put(f"/api/parts/{part['id']}", json=better).status_code == 200
    (offer,) = client.post("/api/offers", json={"build": build}).json()
    assert offer["path"] == "units.u1.part" and offer["name"] == "My board"
    assert [(f["had"], f["has"]) for f in offer["fields"]] == [("8 A", "6 A")]
    assert client.post("/api/offers", json={"build": _build(client, CAROUSEL)}).json() == []
    made = client.post("/api/offers/taken", json={"build": build, "paths": [offer["path"]]}).json()
    assert made["units"][0]["part"]["peak_a"]["text"] == "6 A"
    assert client.post("/api/offers", json={"build": made}).json() == []


def test_a_sample_and_a_part_that_is_not_there_are_not_corrected_and_a_wrong_one_is_told(client: TestClient) -> None:
    sample = sample_parts()[0].model_dump(mode="json")
    assert client.put(f"/api/parts/{sample['id']}", json=sample).status_code == 404
    part = _own_part(client)
    refused = client.put(f"/api/parts/{part['id']}", json=part | {"peak_a": {"text": "six"}})
    assert refused.status_code == 422 and refused.json()["detail"]
    kept = next(p for p in client.get("/api/parts").json() if p["id"] == part["id"])
    assert kept["peak_a"]["text"] == "8 A"


def test_components_motors_and_profiles_are_corrected_too(client: TestClient) -> None:
    fuse = next(c for c in client.get("/api/components").json() if c["kind"] == "fuse")
    own = client.post("/api/components", json=fuse | {"name": "My fuse"}).json()
    own["note"] = "read again"
    assert client.put(f"/api/components/{own['id']}", json=own).json()["note"] == "read again"
    build = _build(client, CAROUSEL)
    motor = build["drives"][0]["motor"]
    kept = client.post("/api/motors", json={"name": "My motor", "motor": motor, "note": ""}).json()
    better = motor | {"no_load_a": motor["no_load_a"] | {"text": "0.28 A"}}
    got = client.put(f"/api/motors/{kept['id']}", json={"name": "My motor", "motor": better, "note": ""})
    assert got.status_code == 200
    (offer,) = client.post("/api/offers", json={"build": build}).json()
    assert offer["path"] == "drives.d1.motor" and len(offer["fields"]) == 1
    profile = client.post("/api/controllers", json=build["controllers"][0] | {"name": "My board"}).json()
    got = client.put(f"/api/controllers/{profile['id']}", json=profile)
    assert got.status_code == 200 and got.json()["id"] == profile["id"]


def test_a_start_with_the_same_samples_supersedes_nothing_and_a_part_taken_away_leaves_nothing() -> None:
    store = Store(":memory:")
    seed(store)
    seed(store)
    assert store.parts.superseded() == {}
    part = sample_parts()[0].model_copy(update={"id": "own", "sample": False})
    store.put_parts([part])
    store.renew_part(part.model_copy(update={"note": "read again"}))
    assert list(store.parts.superseded()["driver"]) == ["own"]
    store.take_part("own")
    assert store.parts.superseded() == {}


def test_of_many_corrections_the_last_twenty_bodies_stay() -> None:
    store = Store(":memory:")
    part = sample_parts()[0].model_copy(update={"id": "own", "sample": False})
    store.put_parts([part])
    for n in range(25):
        store.renew_part(part.model_copy(update={"note": str(n)}))
    kept = store.parts.superseded()["driver"]["own"]
    assert [p.note for p in kept] == [str(n) for n in range(23, 3, -1)]


def test_a_driver_of_another_build_is_put_in_and_nothing_is_saved(client: TestClient) -> None:
    base = _build(client, CAROUSEL)
    all = client.get("/api/sources").json()
    assert {s["what"] for s in all} == {"motor", "driver", "controller", "panel"}
    source = next(s for s in all if s["what"] == "driver" and s["build"] == PUPPETS)
    asked = {"build": base, "drive": "d1", "from_build": PUPPETS, "from_drive": source["drive"], "what": "driver"}
    got = client.post("/api/sources/taken", json=asked)
    assert got.status_code == 200 and got.json()["units"][0]["made_of"] == "stage"
    assert _build(client, CAROUSEL) == base
    servo = client.post("/api/sources/taken", json=asked | {"from_drive": "d2"})
    assert servo.status_code == 404 and servo.json()["detail"]
    assert client.post("/api/sources/taken", json=asked | {"from_build": "gone"}).status_code == 404


def test_a_swapped_gear_leaves_a_list_in_the_log_once_until_it_is_settled(client: TestClient) -> None:
    base, after = _build(client, CAROUSEL), _build(client, CAROUSEL)
    after["drives"][0]["load"]["gear_ratio"]["text"] = "90"
    address = f"/api/builds/{CAROUSEL}/retuning"
    asked = {"before": base, "after": after}
    told = client.post(address, json=asked).json()
    assert told["rows"] and not told["logged"]
    before = len(client.get(f"/api/builds/{CAROUSEL}/log").json())
    assert client.post(address, json=asked | {"log": True}).json()["logged"]
    assert client.post(address, json=asked | {"log": True}).json()["logged"]
    entries = client.get(f"/api/builds/{CAROUSEL}/log").json()
    assert len(entries) == before + 1
    (entry,) = (e for e in entries if e["topic"] == "retune")
    assert entry["open"] and "Proportional gain" in entry["text"] and "Worked out now" in entry["text"]
    client.post(f"/api/builds/{CAROUSEL}/log/{entry['id']}/settle")
    assert not client.post(address, json=asked).json()["logged"]
    # Without a state to compare with, the newest revision counts; a build unlike it in nothing that matters lists none.
    assert client.post(address, json={"after": base, "log": True}).json()["since"] > 0
    assert client.post("/api/builds/gone/retuning", json={"after": base}).status_code == 404
    fresh = client.post("/api/builds", json={"name": "Feeder"}).json()
    none = client.post(f"/api/builds/{fresh['id']}/retuning", json={"after": fresh["build"], "log": True}).json()
    assert none == {"rows": [], "since": 0, "logged": False}
