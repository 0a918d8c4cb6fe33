"""What developers and users of the command line rely on: a taken port, a line a request, scripts told apart."""

from __future__ import annotations

import logging
import socket
import sqlite3
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from zinc_whistle.core.stations import IDS, TABLE
from zinc_whistle.demo.data import lantern_carousel, sample_parts
from zinc_whistle.store.database import statements


def test_a_port_in_use_is_told_in_a_sentence_and_another_is_named(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        words = [
            sys.executable,
            "-m",
            "zinc_whistle",
            "serve",
            "--data",
            str(tmp_path / "x.sqlite3"),
            "--port",
            str(port),
        ]
        done = subprocess.run(words, capture_output=True, text=True, timeout=60)
    assert done.returncode == 2
    assert f"Port {port} is in use" in done.stderr
    assert f"--port {port + 1}" in done.stderr
    assert "Traceback" not in done.stderr


def test_each_request_is_a_line_with_its_time_where_that_is_asked_for(
    client: TestClient, caplog: pytest.LogCaptureFixture
) -> None:
    client.get("/api/builds")
    assert not caplog.records
    with caplog.at_level(logging.INFO, "zinc_whistle.requests"):
        client.get("/api/builds")
    line = caplog.records[-1].getMessage()
    assert line.startswith("GET /api/builds 200 ")
    assert line.endswith(" ms")


def test_statements_end_where_sqlite_says_and_nowhere_else() -> None:
    script = """
    CREATE TABLE a (x TEXT DEFAULT 'one; two');
    CREATE TRIGGER t AFTER INSERT ON a BEGIN UPDATE a SET x = ';'; DELETE FROM a WHERE x = 'y;'; END;
    INSERT INTO a VALUES ('z')"""
    found = list(statements(script))
    assert len(found) == 3
    db = sqlite3.connect(":memory:")
    for statement in found:
        db.execute(statement)
    assert db.execute("SELECT x FROM a").fetchall() == [(";",)]


def draft(**more: Any) -> dict[str, Any]:
    build = lantern_carousel().model_dump(mode="json")
    return {"build": build, "station": "motor", "drive": "d1", **more}


def test_the_words_that_the_service_accepts_are_the_tables(client: TestClient) -> None:
    for station in ("build", *IDS):
        assert client.post("/api/assess", json=draft(station=station)).status_code == 200
    refused = client.post("/api/assess", json=draft(station="kitchen"))
    assert refused.status_code == 422
    assert "station" in refused.json()["detail"]
    got = client.post("/api/assess", json=draft()).json()
    assert got["keys"] == {s.id: s.key for s in TABLE}
    assert [s["title"] for s in got["stamps"]] == [s.title for s in TABLE]


def test_taking_a_what_if_over_changes_what_it_drew_and_keeps_no_old_meter(client: TestClient) -> None:
    """The supply was measured by a meter: another one that is only thought of is assumed, a gear ratio is chosen."""
    asked = draft(what_if={"supply_v": "14 V", "gear_ratio": "50", "motor": ""})
    got = client.post("/api/what-if", json=asked)
    assert got.status_code == 200
    assert got.json() == [
        {"path": "drives.d1.load.gear_ratio", "text": "50", "origin": "chosen", "note": ""},
        {"path": "supply.sources.s1.nominal_v", "text": "14 V", "origin": "assumed", "note": ""},
    ]
    drawn = client.post("/api/assess", json=asked).json()["sheet"]["picture"]["other"]
    for change in got.json():
        *way, last = change["path"].split(".")
        at: Any = asked["build"]
        for step in way:
            at = next(i for i in at if i["id"] == step) if isinstance(at, list) else at[step]
        at[last] = {"text": change["text"], "origin": change["origin"]}
    taken = client.post("/api/assess", json={**asked, "what_if": None}).json()["sheet"]["picture"]
    assert drawn["working_torque_mnm"] == pytest.approx(taken["working_torque_mnm"])
    assert drawn["speed_rpm"][0] == pytest.approx(taken["speed_rpm"][0])


def test_a_what_if_of_nothing_is_refused_in_words(client: TestClient) -> None:
    refused = client.post("/api/what-if", json=draft())
    assert refused.status_code == 404
    assert "what-if" in refused.json()["detail"]


def test_a_part_with_a_gap_is_not_counted_among_those_that_hold(client: TestClient) -> None:
    asked = draft(station="driver")
    asked["build"]["drives"][0]["motor"]["locked"] = []
    candidates = client.post("/api/assess", json=asked).json()["sheet"]["picture"]["candidates"]
    assert candidates
    assert "holds" not in {c["verdict"] for c in candidates}
    known = client.post("/api/assess", json=draft(station="driver")).json()["sheet"]["picture"]["candidates"]
    assert "holds" in {c["verdict"] for c in known}
    for c in known:
        if c["verdict"] == "holds":
            assert {k["state"] for k in c["checks"]} <= {"holds", "tight", "warn"}
    assert len(sample_parts()) >= len(known)


def test_a_check_names_its_worst_corner(client: TestClient) -> None:
    findings = client.post("/api/assess", json=draft(station="driver")).json()["sheet"]["findings"]
    peak = next(x for x in findings if x["code"] == "driver.peak")
    assert peak["detail"].endswith("supply full, winding cold")
