"""Work that takes seconds asks now and then whether anybody still waits for it, and says how far it is."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass


class GivenUp(RuntimeError):
    """Nobody waits for this work any more."""


@dataclass(frozen=True, slots=True)
class _Asker:
    gone: Callable[[], bool]
    hears: Callable[[float], None] | None


_asker: ContextVar[_Asker | None] = ContextVar("asker", default=None)


@contextmanager
def while_wanted(gone: Callable[[], bool], hears: Callable[[float], None] | None = None) -> Iterator[None]:
    """Work in here ends with GivenUp soon after ``gone`` says so; ``hears`` is told what share of it is done."""
    token = _asker.set(_Asker(gone, hears))
    try:
        yield
    finally:
        _asker.reset(token)


@contextmanager
def within(begin: float, end: float) -> Iterator[None]:
    """What is told in here as 0 to 1 is told on as ``begin`` to ``end`` of the whole."""
    asker = _asker.get()
    hears = None if asker is None else asker.hears
    if asker is None or hears is None:
        yield
        return
    told = hears
    with while_wanted(asker.gone, lambda share: told(begin + share * (end - begin))):
        yield


def go_on(share: float | None = None) -> None:
    """Asked in every loop that may take long; ``share``: how much of it is done, 0 to 1. Raises GivenUp."""
    asker = _asker.get()
    if asker is None:
        return
    if share is not None and asker.hears is not None:
        asker.hears(share)
    if asker.gone():
        raise GivenUp
