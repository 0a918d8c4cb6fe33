"""The builds of the fair over the wire: every station, its stamps, its workings, and the command line's view."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from typer.testing import CliRunner

from zinc_whistle.cli import app
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.stations import IDS as STATIONS
from zinc_whistle.core.stations import of_kind

IDS = ("lantern-carousel", "cider-stirrer", "puppet-stage", "snow-fan")


def build_of(client: TestClient, id: str) -> dict[str, Any]:
    made: dict[str, Any] = client.get(f"/api/builds/{id}").json()["build"]
    return made


def sheet(client: TestClient, id: str, station: str, drive: str) -> dict[str, Any]:
    body = {"build": build_of(client, id), "station": station, "drive": drive, "build_id": id}
    done = client.post("/api/assess", json=body)
    assert done.status_code == 200, done.text
    made: dict[str, Any] = done.json()
    return made


@pytest.mark.parametrize("id", IDS)
def test_every_station_of_every_drive_answers(client: TestClient, id: str) -> None:
    for drive in build_of(client, id)["drives"]:
        known = of_kind(drive["kind"])
        for station in ("build", *STATIONS):
            made = sheet(client, id, station, drive["id"])
            assert made["drive"] == drive["id"]
            assert made["errors"] == {}
            assert [s["station"] for s in made["stamps"]] == list(known)
            expected = station if station in known or station == "build" else known[0]
            assert made["sheet"]["station"] == expected


@pytest.mark.parametrize("id", IDS)
def test_every_shown_figure_has_its_working_over_the_wire(client: TestClient, id: str) -> None:
    build = build_of(client, id)
    drive = build["drives"][0]["id"]
    for station in ("motor", "load", "supply"):
        for figure in sheet(client, id, station, drive)["sheet"]["figures"][:6]:
            if figure["id"] and figure["number"]:
                shown = client.post("/api/working", json={"build": build, "figure": figure["id"]})
                assert shown.status_code == 200, figure["id"]
                assert shown.json()["formula"]
                assert shown.json()["figure"]["title"] == figure["title"]


@pytest.mark.parametrize("id", IDS)
def test_a_demo_survives_export_and_import(client: TestClient, id: str) -> None:
    out = client.get(f"/api/builds/{id}/export").json()
    made = client.post("/api/builds/import", json=out)
    assert made.status_code == 201
    assert client.get(f"/api/builds/{made.json()['id']}/export").json() == out


@pytest.mark.parametrize("id", IDS)
def test_a_demo_is_the_same_after_a_round_through_json(client: TestClient, id: str) -> None:
    build = build_of(client, id)
    again = json.loads(Build.model_validate(build).model_dump_json())
    assert again == build


def test_the_builds_file_schema_knows_every_kind_of_drive(client: TestClient) -> None:
    schema = client.get("/api/build-schema").json()
    text = json.dumps(schema)
    for kind in ("motor", "servo", "load", "turntable", "wheels", "winch", "screw", "rack", "lever", "fan", "direct"):
        assert f'"{kind}"' in text


@pytest.mark.parametrize(
    ("id", "status", "says"),
    [("lantern-carousel", 0, "Carousel"), ("cider-stirrer", 0, "Stirrer"), ("puppet-stage", 1, "STOP")],
)
def test_the_command_line_sees_what_the_screen_sees(
    client: TestClient, tmp_path: Path, id: str, status: int, says: str
) -> None:
    file = tmp_path / "build.json"
    file.write_text(json.dumps(build_of(client, id)), "utf-8")
    words = CliRunner().invoke(app, ["assess", str(file)])
    assert words.exit_code == status
    assert says in words.stdout
    data = json.loads(CliRunner().invoke(app, ["assess", str(file), "--json"]).stdout)
    shown = sheet(client, id, "supply", build_of(client, id)["drives"][0]["id"])
    states = {s["station"]: s["state"] for s in shown["stamps"]}
    first = next(iter(data["stamps"].values()))
    for station in ("load", "supply"):
        assert first[station]["state"] == states[station]
    stops = [f["code"] for f in data["findings"] if f["state"] == "stop"]
    assert stops == (["stage.flyback"] if status else [])


@pytest.mark.parametrize(
    ("path", "text", "says"),
    [
        ("drives.0.load.gear_ratio", "minus four", "does not begin with a number"),
        ("drives.0.load.mechanisms.0.mass", "9 V", "is not a mass"),
        ("drives.0.motor.locked.0.voltage", "0 V", "must be above 0"),
        ("supply.sources.0.cells", "3.5", "whole number"),
        ("supply.sources.0.full_v", "1,234 V", "two ways"),
    ],
)
def test_a_bad_field_answers_with_a_sentence_and_the_rest_goes_on(
    client: TestClient, path: str, text: str, says: str
) -> None:
    build = build_of(client, "lantern-carousel")
    owner: Any = build
    ids: list[str] = []
    for step in path.split("."):
        owner = owner[int(step)] if step.isdigit() else owner[step]
        ids.append(str(owner["id"]) if step.isdigit() else step)
    owner["text"] = text
    made = client.post("/api/assess", json={"build": build, "station": "motor", "drive": "d1"}).json()
    where = ".".join(ids)
    assert says in made["errors"][where]
    assert list(made["errors"]) == [where]
    assert made["sheet"]["figures"]


def test_a_reading_on_a_servo_is_judged_and_logged(client: TestClient) -> None:
    kept = client.post(
        "/api/builds/puppet-stage/readings", json={"drive": "d2", "step": "servo_rail", "text": "5.48 V"}
    )
    assert kept.status_code == 201
    assert kept.json()["verdict"] == "pass"
    wrong = client.post(
        "/api/builds/puppet-stage/readings", json={"drive": "d2", "step": "servo_pulse", "text": "3 ms"}
    )
    assert wrong.json()["verdict"] == "fail"
    assert "should lie between" in wrong.json()["sentence"]
    log = client.get("/api/builds/puppet-stage/log").json()
    assert {e["verdict"] for e in log if e["kind"] == "reading"} == {"pass", "fail"}
    missing = client.post("/api/builds/puppet-stage/readings", json={"drive": "d2", "step": "duty", "text": "50 %"})
    assert missing.status_code == 404


def test_a_rail_that_changes_makes_the_servos_readings_stale(client: TestClient) -> None:
    client.post("/api/builds/puppet-stage/readings", json={"drive": "d2", "step": "servo_rail", "text": "5.48 V"})
    build = build_of(client, "puppet-stage")
    build["supply"]["regulators"][1]["output_v"]["text"] = "6 V"
    body = {"build": build, "station": "bench", "drive": "d2", "build_id": "puppet-stage"}
    made = client.post("/api/assess", json=body).json()
    assert next(s for s in made["stamps"] if s["station"] == "bench")["state"] == "stale"
    other = client.post("/api/assess", json=body | {"drive": "d3"}).json()
    assert next(s for s in other["stamps"] if s["station"] == "bench")["state"] != "stale"
