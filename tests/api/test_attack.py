"""A part of the generated requests (tests/attack.py), and what is left of a build when something in it fails."""

from __future__ import annotations

import random
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.attack import Failures, client, request
from zinc_whistle.api import routes_work
from zinc_whistle.demo.data import lantern_carousel
from zinc_whistle.sheets import sheet as sheets

FOUND = (50156, 51543, 52250, 9163, 302407)
"""Seeds that once made a server error: a capacitor of nothing, a division where nothing varies, a frequency and a limit
of next to nothing."""


@pytest.mark.parametrize("first", range(0, 400, 50))
def test_no_generated_request_makes_a_server_error(first: int) -> None:
    service, failures = client(), Failures()
    for seed in range(first, first + 50):
        sent = request(random.Random(seed))
        assert failures.or_status(sent.to(service)) < 500, f"seed {seed}: {sent.method} {sent.path}"


@pytest.mark.parametrize("seed", FOUND)
def test_what_was_found_once_is_mended(seed: int) -> None:
    service, failures = client(), Failures()
    assert failures.or_status(request(random.Random(seed)).to(service)) < 500


def asked(station: str = "motor") -> dict[str, Any]:
    return {"build": lantern_carousel().model_dump(mode="json"), "station": station, "drive": "d1"}


def test_a_station_that_fails_leaves_its_fields_and_the_others(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    layout = sheets.SHEETS["motor"]["motor"]
    broken = layout.__class__(**{n: getattr(layout, n) for n in layout.__slots__} | {"picture": lambda asked: 1 / 0})
    monkeypatch.setitem(sheets.SHEETS["motor"], "motor", broken)
    told = client.post("/api/assess", json=asked()).json()
    assert told["sheet"]["hint"] == sheets.FAILED
    assert told["sheet"]["sections"] and told["sheet"]["findings"] and told["stamps"]
    assert client.post("/api/assess", json=asked("load")).json()["sheet"]["hint"] != sheets.FAILED


def test_a_build_that_cannot_be_worked_out_opens_all_the_same(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(routes_work, "assess", lambda *a: 1 / 0)
    got = client.post("/api/assess", json=asked())
    assert got.status_code == 200
    told = got.json()
    assert told["sheet"]["station"] == "build" and told["sheet"]["hint"] == sheets.FAILED_WHOLE
    assert [d["id"] for d in told["drives"]] == ["d1"]
    assert client.get("/api/builds").json()


@pytest.mark.parametrize(
    ("build_id", "path", "text", "drive", "station"),
    [
        # Found by generated requests: an overflow where nothing varies, and squares of doubts beyond all numbers.
        ("puppet-stage", ("load", "gear_efficiency"), "1e-300 % ± 8 %", "d1", "power_stage"),
        ("lantern-carousel", ("sense_reference",), "1e-300 V", "d1", "motor"),
        ("lantern-carousel", ("peak_a",), "1e-300 A", "d1", "motor"),
    ],
)
def test_figures_of_next_to_nothing_are_worked_out(
    client: TestClient, build_id: str, path: tuple[str, ...], text: str, drive: str, station: str
) -> None:
    build = client.get(f"/api/builds/{build_id}").json()["build"]
    owner = {"sense_reference": build["controllers"][0], "peak_a": build["units"][0]["part"]}.get(path[-1])
    spot = owner if owner is not None else build["drives"][0]["load"]
    spot[path[-1]]["text"] = text
    told = client.post("/api/assess", json={"build": build, "drive": drive, "station": station}).json()
    assert told["sheet"]["hint"] != sheets.FAILED and told["sheet"]["station"] == station
