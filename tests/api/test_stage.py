"""The shelf of components, design for me and the bill of materials over the wire."""

from __future__ import annotations

import csv
import io
from typing import Any

import pytest
from fastapi.testclient import TestClient

from zinc_whistle.core.model.components import CLASSES

GOOD: dict[str, Any] = {
    name: {"text": text, "origin": "data sheet"}
    for name, text in {
        "v_ds": "80 V",
        "v_gs": "20 V",
        "on_resistance": "6 mΩ",
        "on_resistance_at": "10 V",
        "to_air": "62 K/W",
        "switching_charge": "20 nC",
        "gate_charge": "70 nC",
        "plateau": "4.8 V",
        "threshold": "2 V",
        "package_a": "80 A",
        "price": "0.10 €",
    }.items()
} | {"id": "new", "kind": "mosfet", "name": "Mine"}


def stirrer(client: TestClient) -> dict[str, Any]:
    made: dict[str, Any] = client.get("/api/builds/cider-stirrer").json()["build"]
    return made


def test_the_classes_and_their_counts(client: TestClient) -> None:
    found = client.get("/api/components/classes").json()
    assert [c["kind"] for c in found] == list(CLASSES)
    everything = client.get("/api/components").json()
    assert sum(c["count"] for c in found) == len(everything) >= 60
    assert all(c["own"] == 0 for c in found)
    assert all(p["sample"] for p in everything)


def test_a_component_is_checked_added_designed_with_and_taken_away(client: TestClient) -> None:
    form = client.post("/api/components/check", json={"id": "new", "kind": "mosfet"}).json()
    wrong = {f["path"] for f in form["fields"] if f["error"]}
    assert wrong == {"name", *CLASSES["mosfet"][1].NEEDED}
    assert "kind" not in {f["path"] for f in form["fields"]}
    assert client.post("/api/components/check", json=GOOD).json()["ready"]
    made = client.post("/api/components", json=GOOD | {"sample": True})
    assert made.status_code == 201
    assert made.json()["sample"] is False
    asked = {"build": stirrer(client), "drive": "d1"}
    names = [d["stage"]["switch"]["name"] for d in client.post("/api/stage/design", json=asked).json()["designs"]]
    assert "Mine" in names, "cheaper and better than any sample"
    address = f"/api/components/{made.json()['id']}"
    assert client.delete(address, params={"class": "diode"}).status_code == 404
    assert client.delete(address, params={"class": "mosfet"}).status_code == 204
    assert "Mine" not in {p["name"] for p in client.get("/api/components").json()}


@pytest.mark.parametrize(
    ("field", "text", "says"),
    [("v_ds", "3 kg", "not a voltage"), ("to_air", "", "needed"), ("threshold", "9 V", "above the plateau")],
)
def test_a_component_that_cannot_be_used_is_refused(client: TestClient, field: str, text: str, says: str) -> None:
    refused = client.post("/api/components", json=GOOD | {field: {"text": text, "origin": "data sheet"}})
    assert refused.status_code == 422
    assert says in refused.json()["detail"]
    assert client.get("/api/components/classes").json()[0]["own"] == 0


def test_a_sample_cannot_be_taken_away(client: TestClient) -> None:
    sample = client.get("/api/components").json()[0]
    gone = client.delete(f"/api/components/{sample['id']}", params={"class": sample["kind"]})
    assert gone.status_code == 404
    assert sample["id"] in {p["id"] for p in client.get("/api/components").json()}


@pytest.mark.parametrize("kind", CLASSES)
@pytest.mark.parametrize("form", ["csv", "json"])
def test_a_class_goes_out_and_comes_in_again(client: TestClient, kind: str, form: str) -> None:
    words = {"class": kind, "format": form}
    out = client.get("/api/components/export", params=words)
    assert out.headers["content-type"].startswith("text/csv" if form == "csv" else "application/json")
    count = next(c["count"] for c in client.get("/api/components/classes").json() if c["kind"] == kind)
    back = client.post("/api/components/import", params=words, content=out.content).json()
    assert back == {"kept": count, "good": count, "bad": []}
    after = next(c for c in client.get("/api/components/classes").json() if c["kind"] == kind)
    assert after["count"] == 2 * count
    assert after["own"] == count


def test_bad_rows_keep_everything_out_until_asked(client: TestClient) -> None:
    text = "name,to_air,places\nGood,4 K/W,2\nBad,four,2\nAlso good,3 K/W,1\n"
    words = {"class": "heat sink", "format": "csv"}
    first = client.post("/api/components/import", params=words, content=text).json()
    assert (first["kept"], first["good"], [b["line"] for b in first["bad"]]) == (0, 2, [3])
    second = client.post("/api/components/import", params=words | {"keep_good": "true"}, content=text).json()
    assert second["kept"] == 2
    assert {"Good", "Also good"} <= {p["name"] for p in client.get("/api/components").json()}


@pytest.mark.parametrize(
    ("content", "form", "says"),
    [(b"\xff\xfe\x00", "csv", "UTF-8"), (b"a,b\n1,2\n", "csv", "name the columns"), (b"{", "json", "not JSON")],
)
def test_a_file_that_cannot_be_read_says_why(client: TestClient, content: bytes, form: str, says: str) -> None:
    refused = client.post("/api/components/import", params={"class": "fuse", "format": form}, content=content)
    assert refused.status_code == 422
    assert says in refused.json()["detail"]


def test_a_design_taken_over_holds(client: TestClient) -> None:
    build = stirrer(client)
    found = client.post("/api/stage/design", json={"build": build, "drive": "d1", "locks": ["gate_driver"]}).json()
    assert found["hold"] > 0 and found["looked_at"] > found["hold"]
    for made in found["designs"]:
        assert made["stage"]["gate_driver"]["id"] == build["units"][0]["stage"]["gate_driver"]["id"]
        other = build | {"units": [build["units"][0] | {"stage": made["stage"]}]}
        (change,) = made["changes"]
        assert change["path"] == "drives.d1.signals.pwm_frequency"
        other["drives"][0]["signals"]["pwm_frequency"] = {"text": change["text"], "origin": change["origin"]}
        asked = client.post("/api/assess", json={"build": other, "station": "power_stage", "drive": "d1"}).json()
        assert not asked["errors"]
        shown = asked["sheet"]
        assert not [f for f in shown["findings"] if f["state"] == "stop"]
        assert shown["picture"]["bill"]["piece"] == made["price"]
        total = next(f for f in shown["figures"] if f["title"] == "Heat of the stage")
        # The sheet rounds to what is known of it, the list of designs does not.
        number, unit = made["heat"].split(" ")
        assert unit == total["unit"] and float(number) == pytest.approx(float(total["number"]), rel=0.005)


def test_designing_what_is_not_there_is_refused(client: TestClient) -> None:
    asked = {"build": stirrer(client), "drive": "nobody"}
    assert client.post("/api/stage/design", json=asked).status_code == 404
    assert client.post("/api/stage/design", json=asked | {"drive": "d1", "locks": ["colour"]}).status_code == 422
    puppets = client.get("/api/builds/puppet-stage").json()["build"]
    servo = client.post("/api/stage/design", json={"build": puppets, "drive": "d2"})
    assert servo.status_code == 404
    assert "no such drive" in servo.json()["detail"]


def test_the_bill_of_materials_is_a_file(client: TestClient) -> None:
    reply = client.post("/api/stage/materials", json={"build": stirrer(client), "drive": "d1"})
    assert reply.headers["content-type"].startswith("text/csv")
    rows = list(csv.DictReader(io.StringIO(reply.text)))
    assert rows[0]["what"] == "Switch" and rows[0]["number"] == "6"
    assert rows[-1]["what"] == "All 5 pieces"
    carousel = client.get("/api/builds/lantern-carousel").json()["build"]
    assert client.post("/api/stage/materials", json={"build": carousel, "drive": "d1"}).status_code == 404


def test_the_sheet_of_a_stage_with_wrong_texts_keeps_the_last_good_values(client: TestClient) -> None:
    build = stirrer(client)
    stage = build["units"][0]["stage"]
    before = client.post("/api/assess", json={"build": build, "station": "power_stage", "drive": "d1"}).json()
    stage["gate_resistor"]["text"] = "ten"
    stage["parallel"]["text"] = "2.5"
    after = client.post("/api/assess", json={"build": build, "station": "power_stage", "drive": "d1"}).json()
    assert set(after["errors"]) == {"units.u1.stage.gate_resistor", "units.u1.stage.parallel"}
    assert "whole number" in after["errors"]["units.u1.stage.parallel"]
    assert after["sheet"]["picture"]["junction_text"] == before["sheet"]["picture"]["junction_text"]


def test_an_opened_part_tells_what_it_needs_and_what_would_have_to_change(client: TestClient) -> None:
    build = client.get("/api/builds/lantern-carousel").json()["build"]
    sheet = client.post("/api/assess", json={"build": build, "station": "driver", "drive": "d1"}).json()["sheet"]
    refused = next(c for c in sheet["picture"]["candidates"] if c["verdict"] == "refused")
    detail = client.post("/api/stage/part", json={"build": build, "drive": "d1", "part": refused["id"]}).json()
    assert detail["changes"] and all(c.startswith("Would ") for c in detail["changes"])
    assert detail["total"].endswith("€")
    assert [v["followed"] for v in detail["verdicts"]].count(True) == 1
    none = client.post("/api/stage/part", json={"build": build, "drive": "d1", "part": "no-such"})
    assert none.status_code == 404 and "no such part" in none.json()["detail"]


def test_limits_of_ones_own_are_read_kept_and_refused_with_a_sentence(client: TestClient) -> None:
    build = client.get("/api/builds/cider-stirrer").json()["build"]
    asked = {
        "build": build,
        "drive": "d1",
        "locks": ["switch", "gate_driver", "gate_resistor", "frequency", "fuse", "guard"],
    }
    wrong = client.post("/api/stage/design", json=asked | {"wishes": {"price": "a tenner"}})
    assert wrong.status_code == 422 and wrong.json()["detail"].startswith("Price, at most: ")
    free = client.post("/api/stage/design", json=asked).json()
    assert {"cheapest", "coolest"} <= {g for d in free["designs"] for g in d["label"].split(", ")}
    least = min(d["price_eur"] for d in free["designs"])
    kept = client.post("/api/stage/design", json=asked | {"wishes": {"price": f"{least + 0.005:.3f} €"}}).json()
    assert kept["designs"] and all(d["price_eur"] <= least + 0.005 for d in kept["designs"])
    none = client.post("/api/stage/design", json=asked | {"wishes": {"price": "0.02 €"}}).json()
    assert none["designs"] == [] and "within your price of 0.02" in none["reason"]
