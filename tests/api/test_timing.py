"""Every answer tells how long it took, by the standard's header; what the log says is the same time."""

from __future__ import annotations

import logging
import re

import pytest
from fastapi.testclient import TestClient

from zinc_whistle.demo.seed import CAROUSEL


def _told(header: str) -> dict[str, float]:
    """Server-Timing by its grammar (W3C Server Timing, 2): metrics with a duration in ms, between commas."""
    metrics = [re.fullmatch(r"([a-z]+);dur=([0-9]+\.[0-9]{2})", metric) for metric in header.split(", ")]
    assert all(metrics), header
    return {m[1]: float(m[2]) for m in metrics if m}


def test_an_assessment_tells_its_parts_and_they_are_no_more_than_the_whole(client: TestClient) -> None:
    build = client.get(f"/api/builds/{CAROUSEL}").json()["build"]
    body = {"build": build, "station": "motor", "drive": "d1", "build_id": CAROUSEL, "what_if": None}
    told = _told(client.post("/api/assess", json=body).headers["server-timing"])
    assert set(told) == {"assess", "views", "json", "total"}
    assert 0 < told["assess"] + told["views"] + told["json"] <= told["total"] + 0.02


def test_a_refusal_tells_its_time_too_and_nothing_of_another_request(client: TestClient) -> None:
    assert set(_told(client.post("/api/assess", json={}).headers["server-timing"])) == {"total"}


def test_the_log_has_a_line_with_method_path_status_size_and_time(
    client: TestClient, caplog: pytest.LogCaptureFixture
) -> None:
    with caplog.at_level(logging.INFO, "zinc_whistle.requests"):
        size = len(client.get("/api/sums", headers={"accept-encoding": "identity"}).content)
    (line,) = [r.getMessage() for r in caplog.records if r.name == "zinc_whistle.requests"]
    assert re.fullmatch(rf"GET /api/sums 200 {size} bytes \d+\.\d ms", line)
