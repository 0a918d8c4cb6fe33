"""One arrangement of rules, worked out in two ways: as figures that remember their working, or on plain arrays.

What one figure shows and what a search over a million combinations or a map finds is then the same by construction.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Protocol

from .nodes import Figure, Law, Leaf, Node
from .rules import Rule, Solved


class Works(Protocol):
    """Applies a law to its inputs."""

    def __call__(self, law: Law, *inputs: Any, title: str = "") -> Any: ...


class Tracing:
    """Figures of one case, each resting on the same choices besides its inputs."""

    def __init__(self, case: str = "", because: Sequence[Leaf] = ()) -> None:
        self.case, self.because = case, tuple(because)

    def __call__(self, law: Law, *inputs: Node, title: str = "") -> Figure:
        return law(*inputs, case=self.case, because=self.because, title=title)


def plain(law: Law, *inputs: Any, title: str = "") -> Any:
    """The law's value on numbers and arrays that broadcast; nan where it has none."""
    if isinstance(law, Solved):
        return law.steady(*inputs)
    assert isinstance(law, Rule)
    return law.bare(*inputs)
