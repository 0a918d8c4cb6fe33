"""A store in memory with the demo in it: worked out once a process, then copied by SQLite."""

from __future__ import annotations

from functools import cache

from zinc_whistle.demo.seed import seed
from zinc_whistle.store.store import Store


@cache
def _filled() -> bytes:
    store = Store(":memory:")
    seed(store)
    return bytes(store.database._connection.serialize())


def demo_store() -> Store:
    """A store of its own; nobody else sees what is done to it."""
    store = Store(":memory:")
    store.database._connection.deserialize(_filled())
    return store
