"""An exported build taken in and exported again is the same to the byte, whatever was typed into it."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from tests.verdicts.test_evidence import BUILDS
from tests.verdicts.test_readable import slipped


@pytest.mark.parametrize("name", BUILDS)
def test_export_import_export_is_the_same_to_the_byte(client: TestClient, name: str) -> None:
    build, _ = slipped(name, 7, 4)
    kind = {"content-type": "application/json"}
    first = client.post("/api/builds/import", content=build.model_dump_json().encode(), headers=kind).json()["id"]
    once = client.get(f"/api/builds/{first}/export").content
    second = client.post("/api/builds/import", content=once, headers=kind).json()["id"]
    assert client.get(f"/api/builds/{second}/export").content == once
