"""A service over a store in memory, with the demo in it."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from zinc_whistle.api.app import create_app
from zinc_whistle.demo.seed import seed
from zinc_whistle.store.store import Store

ADDRESS = "http://127.0.0.1:8512"


@pytest.fixture
def client() -> Iterator[TestClient]:
    store = Store(":memory:")
    seed(store)
    with TestClient(create_app(store), base_url=ADDRESS, headers={"x-zinc-whistle": "test"}) as made:
        yield made
