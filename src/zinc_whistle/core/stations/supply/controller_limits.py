"""What feeds a controller, and what its rails give to others, held against its profile."""

from __future__ import annotations

from collections.abc import Iterator

from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import Node, number
from ...algebra.quantities import phrase
from ...cases.controller_feed import suits
from ...cases.sources import window
from ...laws import supply as rules
from ...model.build import Build
from ...model.signals import Controller, Peripheral
from .compute import STATION


def checks(build: Build) -> Iterator[Check]:
    """Of every controller that a drive names: its feed suits one of its inputs, its rails bear what hangs on them."""
    used = {d.controller for d in build.drives}
    for controller in build.controllers:
        if controller.id in used and controller.regulator:
            yield from _feed(build, controller)
            yield from _rail(build, controller)
        if controller.id in used:
            yield from (_device(build, x) for x in controller.devices if x.feed)


def _ends(build: Build, controller: Controller) -> tuple[Node, Node, bool] | None:
    """The highest and lowest volts at the controller's input, and whether that is V in for certain."""
    chain = build.supply.chain(controller.regulator)
    if not chain:
        source = next(s for s in build.supply.sources if s.id == controller.regulator)
        return None if source.kind == "usb" else (window(source).full, window(source).flat, False)
    last = chain[-1]
    if last.place != "board":
        return last.output_v.leaf, last.output_v.leaf, False
    if len(chain) > 1:
        return chain[-2].output_v.leaf, chain[-2].output_v.leaf, True
    source_of = next((s for s in build.supply.sources if s.id == last.source), None)
    return (window(source_of).full, window(source_of).flat, True) if source_of is not None else None


def _feed(build: Build, controller: Controller) -> Iterator[Check]:
    ends = _ends(build, controller)
    if ends is None:
        return
    high, low, at_vin = ends
    least, most = controller.vin_min.value, controller.vin_max.value
    known = high.value is not None and low.value is not None
    fits = suits(controller, number(high), number(low), at_vin=at_vin) if known else None
    span = f"{phrase(least, 'voltage')} to {phrase(most, 'voltage')}" if least and most else "what its V in takes"
    yield claim(
        f"supply.{controller.id}.feed",
        station=STATION,
        title=f"What feeds {controller.name or 'the controller'} suits it",
        holds=fits,
        todo=f"It takes {span} at V in, or the logic's own volts at its rail, full and flat: put a regulator between, "
        "or feed it by USB.",
        where=f"{controller.path}.regulator",
        unknown="Not known yet: give the lowest and highest V in of the controller, and what feeds it.",
    )


def _device(build: Build, device: Peripheral) -> Check:
    """A device with a feed of its own bears its highest volts."""
    regulator = next((r for r in build.supply.regulators if r.id == device.feed), None)
    source = next((s for s in build.supply.sources if s.id == device.feed), None)
    volts = regulator.output_v.leaf if regulator is not None else window(source).any if source is not None else None
    return upper(
        f"supply.{device.id}.device",
        station=STATION,
        title=f"Supply of {device.name or 'the device'}",
        stress=volts if volts is not None else device.v_max.leaf,
        bound=device.v_max.leaf,
        todo="Feed it by a regulator that gives its own volts.",
        where=f"{device.path}.feed",
    )


def _rail(build: Build, controller: Controller) -> Iterator[Check]:
    """What other devices and drivers take from a regulator that sits on the controller's board."""
    regulator = next((r for r in build.supply.regulators if r.id == controller.regulator), None)
    if controller.rail_a.value is None or regulator is None or regulator.place != "board":
        return
    small = [c.current for c in regulator.consumers] + build.small_on(regulator.id)
    hanging: list[Node] = [x.leaf for x in small if x.value is not None]
    if not hanging:
        return
    yield upper(
        f"supply.{controller.id}.rail",
        station=STATION,
        title="What others take from the controller's rails",
        stress=rules.currents_together(
            hanging,
            title="Taken from the rails",
            because=[regulator.members("consumers"), *build.feeds_of_devices()],
        ),
        bound=controller.rail_a.leaf,
        todo="Give the devices a regulator of their own: this one is there for the controller.",
        where=f"{controller.path}.rail_a",
        destructive=False,
    )
