"""A disk that is full, a file that is held or may not be written: told through the service, and nothing is lost."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import ADDRESS
from zinc_whistle.api.app import create_app
from zinc_whistle.demo.data import blank_build
from zinc_whistle.store.store import Store


@pytest.fixture
def path(tmp_path: Path) -> Path:
    return tmp_path / "builds.sqlite3"


@pytest.fixture
def store(path: Path) -> Iterator[Store]:
    made = Store(path)
    made.builds.add(blank_build("Kept"), "kept")
    yield made
    made.close()


@pytest.fixture
def client(store: Store) -> TestClient:
    return TestClient(create_app(store), base_url=ADDRESS, headers={"x-zinc-whistle": "test"})


def save(client: TestClient, note: str) -> Any:
    stored = client.get("/api/builds/kept").json()
    stored["build"]["note"] = note
    return client.put("/api/builds/kept", json={"version": stored["version"], "build": stored["build"]})


def note(client: TestClient) -> str:
    told: str = client.get("/api/builds/kept").json()["build"]["note"]
    return told


def test_a_full_disk_is_told_and_what_was_saved_stays(client: TestClient, store: Store) -> None:
    """SQLite's own answer: its file may grow no further."""
    assert save(client, "first").status_code == 200
    writes = store.database._connection
    (pages,) = writes.execute("PRAGMA page_count").fetchone()
    writes.execute(f"PRAGMA max_page_count = {pages}")
    refused, saves = None, 0
    while refused is None:
        saves += 1
        got = client.post("/api/builds", json={"name": f"One more {saves}"})
        refused = got if got.status_code != 201 else None
    assert refused.status_code == 503 and "disk is full" in refused.json()["detail"]
    assert note(client) == "first" and len(client.get("/api/builds").json()) == saves
    writes.execute("PRAGMA max_page_count = 100000")
    assert client.post("/api/builds", json={"name": "Again"}).status_code == 201


def test_a_file_held_by_another_program_is_told_and_taken_once_it_is_free(
    client: TestClient, store: Store, path: Path
) -> None:
    store.database._connection.execute("PRAGMA busy_timeout = 50")
    other = sqlite3.connect(path, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    refused = save(client, "late")
    assert refused.status_code == 503 and "held by another program" in refused.json()["detail"]
    assert note(client) == ""
    other.execute("ROLLBACK")
    other.close()
    assert save(client, "late").status_code == 200 and note(client) == "late"


def test_a_file_that_may_not_be_written_is_told(client: TestClient, store: Store) -> None:
    store.database._connection.execute("PRAGMA query_only = ON")
    refused = save(client, "no")
    assert refused.status_code == 503 and "may not be written" in refused.json()["detail"]
    assert note(client) == ""
