"""A build on one page: true of a whole build, of an empty one, and after a change."""

from __future__ import annotations

import io
import zipfile
from typing import Any

import pytest
from fastapi.testclient import TestClient

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import sample_parts
from zinc_whistle.demo.seed import CAROUSEL, PUPPETS, SNOW, STIRRER


def _shown(client: TestClient, id: str) -> Any:
    got = client.get(f"/api/builds/{id}/show")
    assert got.status_code == 200, got.text
    return got.json()


@pytest.mark.parametrize("id", [CAROUSEL, STIRRER, PUPPETS, SNOW])
def test_every_demo_tells_what_its_own_assessment_says(client: TestClient, id: str) -> None:
    reply = _shown(client, id)
    page = reply["page"]
    build = client.get(f"/api/builds/{id}").json()["build"]
    assert page["name"] == build["name"] and len(page["drives"]) == len(build["drives"])
    done = assess(Build.model_validate(build), sample_parts())
    assert page["stops"] == sum(x.stops for x in done.findings)
    assert (reply["stands"].startswith("No check stops it.")) == (page["stops"] == 0)
    assert all(d["decided"] for d in page["drives"])
    assert page["harness"] is not None


def test_an_empty_build_is_told_nothing_that_is_not_so(client: TestClient) -> None:
    fresh = client.post("/api/builds", json={"name": "Feeder"}).json()["id"]
    reply = _shown(client, fresh)
    assert "cannot be told yet" in reply["stands"] or reply["stands"] == "It has no drive yet."
    assert reply["page"]["measured"] == [] and reply["page"]["pictures"] == []
    assert "0.00" not in reply["cost"]


def test_readings_stand_with_what_was_expected_then_and_tell_when_something_changed(client: TestClient) -> None:
    before = _shown(client, CAROUSEL)["page"]["measured"]
    assert before and all(r["verdict"] for r in before)
    logic = next(r for r in before if "V" in r["text"])
    assert logic["expected"]
    got = client.get(f"/api/builds/{CAROUSEL}").json()
    got["build"]["drives"][0]["motor"]["no_load_a"]["text"] = "0.5 A"
    saved = client.put(f"/api/builds/{CAROUSEL}", json={"version": got["version"], "build": got["build"]})
    assert saved.status_code == 200
    after = _shown(client, CAROUSEL)["page"]["measured"]
    assert sum(r["stale"] for r in after) > sum(r["stale"] for r in before)
    assert [r["expected"] for r in after] == [r["expected"] for r in before]


def test_a_reading_that_was_withdrawn_is_not_shown(client: TestClient) -> None:
    measured = _shown(client, CAROUSEL)["page"]["measured"]
    readings = client.get(f"/api/builds/{CAROUSEL}/log").json()
    own = [e for e in readings if e["kind"] == "reading" and not e["withdrawn"]]
    for e in own:
        client.post(f"/api/builds/{CAROUSEL}/log/reading/{e['id']}/withdraw")
    left = _shown(client, CAROUSEL)["page"]["measured"]
    assert measured and len(left) < len(measured)


def test_the_markdown_holds_the_page_and_what_a_builder_wrote_is_no_mark(client: TestClient) -> None:
    got = client.get(f"/api/builds/{CAROUSEL}").json()
    got["build"]["note"] = "*Twelve* turns | a minute"
    client.put(f"/api/builds/{CAROUSEL}", json={"version": got["version"], "build": got["build"]})
    reply = client.get(f"/api/builds/{CAROUSEL}/show.zip")
    archive = zipfile.ZipFile(io.BytesIO(reply.content))
    text = archive.read("build.md").decode()
    assert r"\*Twelve\* turns \| a minute" in text
    for words in ("# Lantern carousel", "| Stall current, supply full |", "## Measured", "## What it cost"):
        assert words in text
    page = _shown(client, CAROUSEL)["page"]
    assert all(spot.split(" ")[0] in text for spot in page["tight"])


def test_drawings_of_the_screen_come_into_the_markdown_and_nothing_else_does(client: TestClient) -> None:
    svg = '<svg xmlns="http://www.w3.org/2000/svg"/>'
    address = f"/api/builds/{CAROUSEL}/show.zip"
    reply = client.post(address, json={"drawings": [{"name": n, "svg": svg} for n in ("harness", "circuit-1")]})
    archive = zipfile.ZipFile(io.BytesIO(reply.content))
    text = archive.read("build.md").decode()
    assert text.index("(drawings/circuit-1.svg)") < text.index("(drawings/harness.svg)") < text.index("How it stands")
    assert archive.read("drawings/harness.svg").decode() == svg
    for name, body in (
        ("../../harness", svg),
        ("circuit-0", svg),
        ("harness", "<script>"),
        ("harness", "x" * 1_000_001),
    ):
        assert client.post(address, json={"drawings": [{"name": name, "svg": body}]}).status_code == 422
    assert "drawings/" not in zipfile.ZipFile(io.BytesIO(client.get(address).content)).read("build.md").decode()


def test_a_build_that_is_not_there_has_no_page(client: TestClient) -> None:
    assert client.get("/api/builds/gone/show").status_code == 404
    assert client.get("/api/builds/gone/show.zip").status_code == 404
