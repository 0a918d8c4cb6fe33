"""Controller profiles over the wire: checked, kept, taken away, and their files."""

from __future__ import annotations

from typing import Any

from fastapi.testclient import TestClient

from zinc_whistle.core.model.signals import IN_ITS_BUILD
from zinc_whistle.demo.data import controllers, lantern_carousel, profile
from zinc_whistle.sheets.build_page import CONTROLLER


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


def test_a_second_controller_is_made_and_nothing_is_kept(client: TestClient) -> None:
    build = lantern_carousel().model_dump(mode="json")
    made = client.post("/api/controllers/second", json={"build": build, "controller": "c1"}).json()
    assert [c["node"] for c in made["controllers"]] == ["first", "second"] and len(made["drives"]) == 2
    third = client.post("/api/controllers/second", json={"build": made, "controller": "c1"})
    assert third.status_code == 422 and "not more" in third.json()["detail"]
    assert client.post("/api/controllers/second", json={"build": build, "controller": "c9"}).status_code == 404


def test_another_profile_leaves_what_a_controller_has_in_its_build(client: TestClient) -> None:
    kept = client.post("/api/controllers", json=teaching() | {"node": "first", "regulator": "r1"}).json()
    assert (kept["node"], kept["regulator"], kept["devices"]) == ("", "", [])
    assert not set(IN_ITS_BUILD) & set(CONTROLLER)


def test_a_donor_is_read_into_a_form_and_not_kept(client: TestClient) -> None:
    given = {"threshold_v": "2.6", "gate_v": "10", "current_a": "2", "drop_v": "48m", "supply_v": "24"}
    before = len(client.get("/api/components").json())
    made = client.post("/api/components/donor", json={"given": given}).json()
    assert made["on_resistance"]["origin"] == "measured" and made["v_ds"]["origin"] == "assumed"
    assert len(client.get("/api/components").json()) == before
    refused = client.post("/api/components/donor", json={"given": given | {"gate_v": "2 V"}})
    assert refused.status_code == 422 and "above the gate volts" in refused.json()["detail"]
