"""Which drives a program tells, and by which number each is called over the line."""

from __future__ import annotations

from ..model.build import Build, Drive


def told_by(build: Build, controller: str) -> list[Drive]:
    """The drives of a controller that its program tells, in the order of their numbers."""
    return [d for d in build.drives if d.controller == controller and (d.driven is None or d.driven.signals.by_program)]


def number_of(build: Build, drive: Drive) -> int | None:
    """A drive's number; in the second of two controllers that run one program it is counted on from the first's. None
    where no program tells it."""
    own = [d.id for d in told_by(build, drive.controller)]
    if drive.id not in own:
        return None
    nodes = {c.id: c.node for c in build.controllers}
    second = nodes.get(drive.controller) == "second"
    return own.index(drive.id) + 1 + (len(own) if second else 0)
