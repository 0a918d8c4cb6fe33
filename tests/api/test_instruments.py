"""The desk over the wire: opened, read, set and turned off; every refusal a sentence."""

from __future__ import annotations

from fastapi.testclient import TestClient

from tests.instruments.conftest import Running, running  # noqa: F401  (a fixture)


def test_a_supply_is_opened_set_read_and_turned_off(client: TestClient, running: Running) -> None:  # noqa: F811
    assert client.get("/api/instruments").json() == {"instruments": [], "faults": []}
    made = client.post("/api/instruments/open", json={"address": running.address["supply"]}).json()
    assert (made["kind"], made["on"], made["most_v"]) == ("supply", False, 32.0)
    at = f"/api/instruments/{made['id']}"
    told = client.post(f"{at}/supply", json={"volts": 12.5, "limit_a": 0.5, "on": True}).json()
    assert told["on"] and running.world.supply.on
    read = client.post(f"{at}/read", json={"what": "volts"}).json()
    assert read["unit"] == "V" and read["text"].endswith("V")
    assert client.post("/api/instruments/off").json() == {"said": []}
    assert not running.world.supply.on and not client.get("/api/instruments").json()["instruments"][0]["on"]
    assert client.post(f"{at}/close").json() == {"said": []}
    assert client.get("/api/instruments").json()["instruments"] == []


def test_refusals_are_sentences(client: TestClient, running: Running) -> None:  # noqa: F811
    def said(path: str, body: object) -> str:
        got = client.post(f"/api/instruments/{path}", json=body)
        assert got.status_code == 422
        return str(got.json()["detail"])

    assert "is no address" in said("open", {"address": "my supply"})
    assert "not open any more" in said("i9/read", {"what": "volts"})
    meter = client.post("/api/instruments/open", json={"address": running.address["meter"]}).json()["id"]
    assert "does not measure that" in said(f"{meter}/read", {"what": "temperature"})
    assert "is no supply" in said(f"{meter}/supply", {"volts": 1, "limit_a": 1, "on": True})
    assert "is no motor board" in said(f"{meter}/say", {"line": "hello"})
    assert "is no oscilloscope" in said(f"{meter}/record", {"most_v": 1, "interval_s": 1, "points": 10})
    assert said(f"{meter}/record", {"most_v": -1, "interval_s": 1, "points": 10})


def test_a_record_is_a_table_that_the_captures_read(client: TestClient, running: Running) -> None:  # noqa: F811
    id = client.post("/api/instruments/open", json={"address": running.address["oscilloscope"]}).json()["id"]
    body = {"most_v": 20, "interval_s": 1e-6, "points": 3000}
    got = client.post(f"/api/instruments/{id}/record", json=body).json()
    rows = got["csv"].splitlines()
    assert rows[0] == "time_s,volts_v" and len(rows) == 3001 and len(got["points"]) <= 1000
    assert got["low_v"] <= got["mean_v"] <= got["high_v"]


def test_a_board_answers_and_the_end_of_the_app_turns_all_off(client: TestClient, running: Running) -> None:  # noqa: F811
    board = client.post("/api/instruments/open", json={"address": running.address["motor board"], "board": True}).json()
    said = client.post(f"/api/instruments/{board['id']}/say", json={"line": "hello"}).json()
    assert said["said"] == ["ok hello 2 1"]
    supply = client.post("/api/instruments/open", json={"address": running.address["supply"]}).json()["id"]
    client.post(f"/api/instruments/{supply}/supply", json={"volts": 5, "limit_a": 0.5, "on": True})
    assert running.world.supply.on
    client.app.state.desk.end()
    assert not running.world.supply.on
