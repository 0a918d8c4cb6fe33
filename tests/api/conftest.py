"""A service over a store in memory, with the demo in it."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from tests.demo_store import demo_store
from zinc_whistle.api.app import create_app

ADDRESS = "http://127.0.0.1:8512"


@pytest.fixture
def client() -> Iterator[TestClient]:
    with TestClient(create_app(demo_store()), base_url=ADDRESS, headers={"x-zinc-whistle": "test"}) as made:
        yield made
