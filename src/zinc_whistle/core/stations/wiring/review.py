"""The whole build's wiring held against what no drive can be judged for alone."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import Constant, Node
from ...cases import heating
from ...cases.netlist import Netlist, Wire
from ...cases.operating import wire
from ...cases.scene import Scene
from ...cases.wires.terminal import Terminal
from ...laws import supply as supply_laws
from ...laws import wiring as rules
from ...model.build import Build
from .compute import STATION
from .run_limits import carries


def checks(build: Build, net: Netlist, scenes: Mapping[str, Scene]) -> Iterator[Check]:
    """Returns of signals, wires that several drives share, and the buses."""
    yield _returns(build, net)
    yield from _shared(build, scenes)
    yield from _buses(build, scenes)


def ground_of(net: Netlist, part: str) -> str | None:
    """The ground that a part stands on; None where it has none, or is the supply's own plus side."""
    pins = (Terminal(part, pin) for pin in net.parts[part].pins)
    return next((joined.id for t in pins if (joined := net.net_of.get(t)) is not None and joined.ground), None)


def _returns(build: Build, net: Netlist) -> Check:
    """A signal is a voltage between two wires: both its ends need one ground, except where nothing but light or a
    contact's coil lies between."""
    floats = {f"unit {u.id}" for u in build.units if u.made_of == "part" and u.part and u.part.isolated == "yes"}
    apart = []
    for w in net.leads:
        if w.role != "signal" or not w.fitted or floats & {w.start.block, w.end.block}:
            continue
        one, other = ground_of(net, w.start.block), ground_of(net, w.end.block)
        if one and other and one != other:
            apart.append(_between(net, w))
    return claim(
        "wiring.return",
        station=STATION,
        title="Every signal has its ground at both ends",
        holds=not apart,
        todo=f"Join the grounds of {', and of '.join(dict.fromkeys(apart))}: without it the signal has no way back.",
        where=build.drives[0].wiring.path + ".left_out" if build.drives else "",
    )


def _between(net: Netlist, w: Wire) -> str:
    return f"{net.parts[w.start.block].name} and {net.parts[w.end.block].name}"


def _shared(build: Build, scenes: Mapping[str, Scene]) -> Iterator[Check]:
    """The lead from a source that feeds several drives carries them all: the wire to its first driver, as it is taken
    before the fuse too."""
    driven = [x for s in scenes.values() if (x := s.driven) is not None]
    for source in build.supply.sources:
        own = [s for s in driven if s.at.source.id == source.id]
        if len(own) < MANY:
            continue
        run = own[0].at.unit.supply_run
        size = wire(run)
        lag = heating.of_wire(size)
        currents: list[Node] = [heating.any_heating(s.at, lag, s.circuit.anywhere.duty) for s in own]
        members = [d.chosen("unit") for d in build.driven]
        yield upper(
            f"wiring.{source.id}.shared",
            station=STATION,
            title=f"Lead of {source.name or 'the source'}, all its drives at work",
            stress=supply_laws.currents_together(currents, because=members, title="Current, all its drives at work"),
            bound=carries(own[0].at, run, size),
            todo="Take thicker wire from the source to where it parts, or a wire of its own for each driver.",
            where=f"{run.path}.gauge",
        )


MANY = 2


def _buses(build: Build, scenes: Mapping[str, Scene]) -> Iterator[Check]:
    """Whether any pull-up both lets a bus rise in time and can be pulled down."""
    for controller in build.controllers:
        on_bus = [d for d in controller.devices if d.bus == "yes"]
        at = next((s for s in scenes.values() if s.controller.id == controller.id), None)
        if not on_bus or at is None:
            continue
        run = at.drive.wiring.signal_run
        pins = Constant(str(len(on_bus) + 1), len(on_bus) + 1.0, "number")
        told = [controller.members("devices"), *(d.chosen("bus") for d in on_bus)]
        farad = rules.bus_capacitance(pins, run.length.leaf, because=told)
        yield upper(
            f"wiring.{controller.id}.bus",
            station=STATION,
            title="Pull-ups of the bus: the least against the most",
            stress=rules.smallest_pull_up(controller.logic_v.leaf),
            bound=rules.largest_pull_up(rules.BUS_RISES, farad),
            todo="No pull-up does both: shorten the bus, or part it by a buffer.",
            where=f"{run.path}.length",
            destructive=False,
        )
