"""Work that takes seconds asks now and then whether anybody still waits for it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar


class GivenUp(RuntimeError):
    """Nobody waits for this work any more."""


_gone: ContextVar[Callable[[], bool] | None] = ContextVar("gone", default=None)


@contextmanager
def while_wanted(gone: Callable[[], bool]) -> Iterator[None]:
    """Work in here ends with GivenUp soon after ``gone`` says so."""
    token = _gone.set(gone)
    try:
        yield
    finally:
        _gone.reset(token)


def go_on() -> None:
    """Asked in every loop that may take long. Raises GivenUp."""
    gone = _gone.get()
    if gone is not None and gone():
        raise GivenUp
