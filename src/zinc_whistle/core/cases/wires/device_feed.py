"""What feeds the other devices of a controller: its own rail, or each a regulator or source of the build."""

from __future__ import annotations

from collections.abc import Iterator

from ..operating import DriveContext
from .terminal import Row, Terminal, grounded


def device_feed(at: DriveContext, rail: Terminal, motor_feed: Terminal) -> Iterator[Row]:
    """The supply wires of the devices: one from the controller's rail to all that have no feed of their own, one from
    each other feed. A feed of its own shares its ground with the devices: their signals need one."""
    own = {x.feed for x in at.controller.devices if x.feed}
    if any(not x.feed for x in at.controller.devices):
        yield Row("devices+", rail, Terminal("devices", "V+"), "Devices' supply", "brown")
    for feed in sorted(own):
        names = ", ".join(x.name or "device" for x in at.controller.devices if x.feed == feed)
        block = feed_block(feed)
        there = Terminal("devices", f"V+ {names}")
        if feed == at.source.id:
            # The motor's own source: behind its fuse, as everything of it.
            yield Row(f"{block}+", motor_feed, there, "Devices' supply", "red")
            yield grounded(f"{block}-", Terminal("source", "−"), Terminal("devices", "GND"))
            continue
        yield Row(f"{block}+", Terminal(block, "+"), there, "Devices' supply", "brown")
        yield grounded(f"{block}-", Terminal(block, "−"), Terminal("devices", "GND"))


def feed_block(feed: str) -> str:
    """What a device's own feed is called in the drawing."""
    return f"feed {feed}"


def feed_names(at: DriveContext) -> dict[str, str]:
    """The feeds of devices that have their own, by block, as the builder calls them."""
    supply = at.build.supply
    names = {s.id: s.name for s in supply.sources} | {r.id: r.name for r in supply.regulators}
    return {
        feed_block(x.feed): names.get(x.feed) or "Feed"
        for x in at.controller.devices
        if x.feed not in ("", at.source.id)
    }
