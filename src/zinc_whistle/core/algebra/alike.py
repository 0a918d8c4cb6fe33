"""Templates told apart by what they say: the same laws over the same numbers bear the same mark.

An assessment builds its templates anew, and at a keystroke nearly all of them say what those of the one before said.
What took long to find out about a template, its worst corner, is kept by its mark and not searched again.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from typing import Any

from .corners import Frame, Worst, worst
from .nodes import MANY, Axis, Figure, Node, Varied

MOST = 20_000
"""Marks that are kept, some five megabytes; a demo build has about a hundred. Beyond it all are forgotten."""
_MARKS: dict[Hashable, object] = {}
"""Two that are equal all the way down, laws, axes and numbers, have one mark. A mark is never given twice, so what a
request still holds when another one forgets is only ever not found again."""
_WORST: dict[Hashable, Worst] = {}


class Alike:
    """The marks of the nodes of one assessment."""

    def __init__(self) -> None:
        self._met: dict[int, tuple[Node, object]] = {}

    def mark(self, node: Node) -> Hashable:
        """What two nodes share if and only if they come to the same on every frame."""
        if not node.axes:
            return "away" if node.value is None and isinstance(node, Figure) and node.runs_away else node.value
        met = self._met.get(id(node))
        if met is not None:
            return met[1]
        if isinstance(node, Varied):
            said: Hashable = (node.axis, *map(self.mark, node.ends))
        else:
            assert isinstance(node, Figure)
            said = (node.law, *map(self._of_input, node.inputs))
        mark = _MARKS.get(said)
        if mark is None:
            mark = _MARKS.setdefault(said, object())
        self._met[id(node)] = (node, mark)
        return mark

    def _of_input(self, given: Any) -> Hashable:
        return tuple(map(self.mark, given)) if isinstance(given, MANY) else self.mark(given)

    def worst(
        self,
        utilisation: Callable[[Frame], Any],
        of: tuple[Hashable, ...],
        axes: Sequence[Axis],
        frame: Frame,
    ) -> Worst:
        """As ``corners.worst``; ``of`` says by marks what ``utilisation`` is made of."""
        key = (*of, tuple(axes), frame.axes)
        found = _WORST.get(key)
        if found is None:
            if len(_MARKS) > MOST:
                _MARKS.clear()
                _WORST.clear()
            found = _WORST[key] = worst(utilisation, axes, frame)
        return found
