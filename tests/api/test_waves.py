"""Captures of pulses over the wire: what is told of their columns, and what is refused."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

ROWS = "\n".join(f"{k},{k * 0.2:.1f},{400 * (k % 250 < 125)}" for k in range(2000))
FILE = f"n,clock,probe\n{ROWS}\n".encode()


def test_columns_and_units_that_are_told_come_back(client: TestClient) -> None:
    asked = {"a": 1, "clock": 1, "clock_unit": "µs", "unit_a": "mA"}
    found = client.post("/api/captures/wave", params=asked, content=FILE, headers={"content-type": "text/csv"})
    assert found.status_code == 200
    told = found.json()
    assert (told["clock"], told["clock_unit"], told["units"]) == (1, "µs", ["mA"])
    assert any(r["name"] == "Duty" and r["kind"] == "fraction" for r in told["rows"])


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        ({"frequency_hz": 20e3, "low_v": 5, "high_v": 5}, "high level must be above its low one"),
        ({"clock": 9}, "no column 10"),
        ({"unit_a": "rpm"}, ""),
    ],
)
def test_what_makes_no_sense_is_refused(client: TestClient, asked: dict[str, float], says: str) -> None:
    got = client.post("/api/captures/wave", params=asked, content=FILE, headers={"content-type": "text/csv"})
    assert got.status_code == 422 and says in str(got.json()["detail"])
