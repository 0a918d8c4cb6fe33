"""Controller profiles over the wire: checked, kept, taken away, and their files."""

from __future__ import annotations

from typing import Any

from fastapi.testclient import TestClient

from zinc_whistle.demo.data import controllers, profile


def teaching() -> Any:
    return profile("teaching-board").model_dump(mode="json") | {"name": "The school's board"}


def names(client: TestClient) -> list[str]:
    return [c["name"] for c in client.get("/api/controllers").json()]


def test_a_profile_is_checked_kept_and_taken_away(client: TestClient) -> None:
    shipped = [c.name for c in controllers()]
    assert names(client) == shipped
    assert client.post("/api/controllers/check", json=teaching()).json() == []
    kept = client.post("/api/controllers", json=teaching())
    assert kept.status_code == 201 and not kept.json()["sample"]
    assert names(client) == [*shipped, "The school's board"]
    own = kept.json()["id"]
    assert client.delete(f"/api/controllers/{own}").status_code == 204
    assert client.delete(f"/api/controllers/{own}").status_code == 404
    assert client.delete("/api/controllers/teaching-board").status_code == 404, "what ships stays"
    assert names(client) == shipped


def test_what_contradicts_itself_is_told_by_its_place_and_not_kept(client: TestClient) -> None:
    wrong = teaching()
    wrong["pins"][0]["timer"] = ""
    found = client.post("/api/controllers/check", json=wrong).json()
    assert found == [{"path": "pins.r0", "sentence": "0 makes pulses: say by which timer."}]
    refused = client.post("/api/controllers", json=wrong)
    assert refused.status_code == 422 and refused.json()["detail"] == found[0]["sentence"]
    assert len(names(client)) == len(controllers())


def test_the_shelf_goes_out_and_comes_in_as_csv_and_json(client: TestClient) -> None:
    for form in ("csv", "json"):
        out = client.get(f"/api/controllers/export?format={form}")
        assert f"controllers.{form}" in out.headers["content-disposition"]
        before = len(names(client))
        held = client.post(f"/api/controllers/import?format={form}", content=out.content).json()
        assert held == {"kept": before, "good": before, "bad": []}
        assert len(names(client)) == 2 * before


def test_a_bad_profile_keeps_the_others_out_unless_they_are_asked_for(client: TestClient) -> None:
    out = client.get("/api/controllers/export?format=csv").text + "controller,Bad,,,,,,,,,,,,,\n"
    before = len(names(client))
    refused = client.post("/api/controllers/import?format=csv", content=out.encode()).json()
    assert refused["kept"] == 0 and "Clock is needed" in refused["bad"][0]["sentence"]
    kept = client.post("/api/controllers/import?format=csv&keep_good=true", content=out.encode()).json()
    assert kept["kept"] == before and len(names(client)) == 2 * before
    assert client.post("/api/controllers/import?format=json", content=b"\xff").status_code == 422


def test_a_build_with_a_kept_profile_is_worked_out(client: TestClient) -> None:
    build = client.get("/api/builds/lantern-carousel").json()["build"]
    own = client.post("/api/controllers", json=teaching()).json()
    build["controllers"] = [own | {"id": "c1", "regulator": "r1"}]
    build["drives"][0]["wiring"]["fixed_pins"] = []
    told = client.post("/api/assess", json={"build": build, "station": "wiring", "drive": "d1"}).json()
    assert told["sheet"]["station"] == "wiring"
    rows = str(told["sheet"]["picture"])
    assert "SENSE" in rows


def test_profiles_are_ranked_in_their_place_one_s_own_too(client: TestClient) -> None:
    client.post("/api/controllers", json=teaching())
    build = client.get("/api/builds/lantern-carousel").json()["build"]
    found = client.post("/api/controllers/rank", json={"build": build, "controller": "c1"}).json()
    assert len(found) == len(controllers()) + 1
    assert found[0]["meets"] and found[0]["stops"] == []
    own = next(c for c in found if c["name"] == "The school's board")
    assert not own["sample"] and own["language"] == "MicroPython" and own["logic"] == "3 V"
    assert client.post("/api/controllers/rank", json={"build": build, "controller": "c9"}).status_code == 404
