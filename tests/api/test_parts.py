"""The shelf of driver parts over the wire."""

from __future__ import annotations

import csv
import io
from typing import Any

import pytest
from fastapi.testclient import TestClient

from zinc_whistle.core.exchange import DRIVERS

GOOD: dict[str, Any] = {
    name: {"text": text, "origin": "data sheet"}
    for name, text in {
        "v_min": "4 V",
        "v_max": "28 V",
        "continuous_a": "6 A",
        "peak_a": "12 A",
        "peak_time": "0.5 s",
        "thermal_resistance": "30 K/W",
        "pwm_limit": "50 kHz",
        "on_resistance": "80 mΩ",
        "switching_time": "300 ns",
    }.items()
} | {"id": "new", "name": "Mine"}


def names(client: TestClient) -> set[str]:
    return {p["name"] for p in client.get("/api/parts").json()}


def test_a_part_is_checked_added_assessed_and_taken_away(client: TestClient) -> None:
    form = client.post("/api/parts/check", json={"id": "new"}).json()
    assert not form["ready"]
    wrong = {f["path"] for f in form["fields"] if f["error"]}
    assert wrong == {
        "name",
        "v_max",
        "continuous_a",
        "peak_a",
        "on_resistance",
    }
    assert {f["path"] for f in form["fields"]} == set(DRIVERS.columns)
    assert client.post("/api/parts/check", json=GOOD).json()["ready"]
    made = client.post("/api/parts", json=GOOD | {"sample": True})
    assert made.status_code == 201
    assert made.json()["sample"] is False
    build = client.get("/api/builds/lantern-carousel").json()["build"]
    asked = client.post("/api/assess", json={"build": build, "station": "driver", "drive": "d1"}).json()
    mine = next(c for c in asked["sheet"]["picture"]["candidates"] if c["name"] == "Mine")
    assert mine["verdict"] == "holds"
    assert client.delete(f"/api/parts/{made.json()['id']}").status_code == 204
    assert "Mine" not in names(client)


@pytest.mark.parametrize(
    ("field", "text", "says"),
    [("continuous_a", "3 kg", "not a current"), ("v_max", "", "needed"), ("peak_a", "1 A", "below the continuous")],
)
def test_a_part_that_cannot_be_compared_is_refused(client: TestClient, field: str, text: str, says: str) -> None:
    before = names(client)
    refused = client.post("/api/parts", json=GOOD | {field: {"text": text, "origin": "data sheet"}})
    assert refused.status_code == 422
    assert says in refused.json()["detail"]
    assert names(client) == before


def test_samples_cannot_be_taken_away(client: TestClient) -> None:
    refused = client.delete("/api/parts/mos-single-5a")
    assert refused.status_code == 404
    assert "of your own" in refused.json()["detail"]


@pytest.mark.parametrize("kind", ["csv", "json"])
def test_the_shelf_goes_out_and_comes_in_again(client: TestClient, kind: str) -> None:
    out = client.get("/api/parts/export", params={"format": kind})
    assert f'filename="parts.{kind}"' in out.headers["content-disposition"]
    count = len(client.get("/api/parts").json())
    taken = client.post("/api/parts/import", params={"format": kind}, content=out.content).json()
    assert taken == {"kept": count, "good": count, "bad": []}
    assert len(client.get("/api/parts").json()) == 2 * count


def test_bad_rows_keep_everything_out_unless_the_good_ones_are_asked_for(client: TestClient) -> None:
    rows = list(csv.DictReader(io.StringIO(client.get("/api/parts/export").text)))
    rows[1]["continuous_a"] = "3 kg"
    out = io.StringIO()
    writer = csv.DictWriter(out, list(rows[0]))
    writer.writeheader()
    writer.writerows(rows)
    before = len(client.get("/api/parts").json())
    first = client.post("/api/parts/import", content=out.getvalue().encode()).json()
    assert (first["kept"], first["good"]) == (0, len(rows) - 1)
    assert [b["line"] for b in first["bad"]] == [3]
    assert len(client.get("/api/parts").json()) == before
    second = client.post("/api/parts/import", params={"keep_good": True}, content=out.getvalue().encode()).json()
    assert second["kept"] == len(rows) - 1


@pytest.mark.parametrize(
    ("content", "kind", "says"),
    [
        (b"\xff\xfe\x00", "csv", "UTF-8"),
        (b"a,b\n", "csv", "name the columns"),
        (b"nope", "json", "JSON"),
        (b"{}", "json", "list"),
    ],
)
def test_files_that_cannot_be_used_are_refused(client: TestClient, content: bytes, kind: str, says: str) -> None:
    refused = client.post("/api/parts/import", params={"format": kind}, content=content)
    assert refused.status_code == 422
    assert says in refused.json()["detail"]
