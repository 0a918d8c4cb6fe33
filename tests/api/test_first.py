"""The first page over the wire."""

from __future__ import annotations

from fastapi.testclient import TestClient

from tests.core.test_first_build import TABLE


def test_questions_verdict_and_build(client: TestClient) -> None:
    asked = client.get("/api/first").json()
    assert [q["id"] for q in asked][:1] == ["moves"] and asked[-1]["id"] == "controller" and asked[-1]["options"]
    told = client.post("/api/first/verdict", json={"answers": TABLE}).json()
    assert told["candidates"] and not told["errors"]
    made = client.post("/api/first/build", json={"name": "Feeder", "answers": TABLE})
    assert made.status_code == 201 and made.json()["build"]["name"] == "Feeder"
    kept = client.get(f"/api/builds/{made.json()['id']}").json()["build"]
    assert kept["drives"][0]["motor"]["no_load_speed"]["text"] == "6000 rpm"


def test_another_controller_is_in_the_build(client: TestClient) -> None:
    other = client.get("/api/first").json()[-1]["options"][-1][0]
    made = client.post("/api/first/build", json={"answers": {"controller": other}}).json()
    usual = client.post("/api/first/build", json={"answers": {}}).json()
    assert made["build"]["controllers"][0]["name"] != usual["build"]["controllers"][0]["name"]


def test_what_cannot_be_read_makes_no_build(client: TestClient) -> None:
    before = len(client.get("/api/builds").json())
    got = client.post("/api/first/build", json={"answers": TABLE | {"held_v": "banana"}})
    assert got.status_code == 422 and "banana" in got.json()["detail"]
    got = client.post("/api/first/build", json={"answers": {"controller": "none such"}})
    assert got.status_code == 422 and "no such controller" in got.json()["detail"]
    assert len(client.get("/api/builds").json()) == before


def test_a_motor_of_the_shelf_begins_a_build(client: TestClient) -> None:
    which = next(q for q in client.get("/api/first").json() if q["id"] == "shelf_motor")
    assert which["when"] == "motor" and which["among"] == ["shelf"] and which["empty"]
    id, name = which["options"][0]
    answers = {"motor": "shelf", "shelf_motor": id}
    made = client.post("/api/first/build", json={"answers": answers})
    assert made.status_code == 201 and name
    shelf = next(m for m in client.get("/api/motors").json() if m["id"] == id)
    assert made.json()["build"]["drives"][0]["motor"]["known_by"] == shelf["motor"]["known_by"]
    got = client.post("/api/first/build", json={"answers": answers | {"shelf_motor": "none"}})
    assert got.status_code == 422 and "no such motor" in got.json()["detail"]
