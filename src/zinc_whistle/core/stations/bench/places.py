"""Where probes go: the terminals of a drive as its netlist names them."""

from __future__ import annotations

from dataclasses import dataclass

from ...cases.netlist.assemble import CHANNEL_FREE
from ...cases.operating import DriveContext
from ...cases.wires.contacts import ContactWiring, contacts_of
from ...cases.wires.rows import supply_path
from ...cases.wires.terminal import Terminal


@dataclass(frozen=True, slots=True)
class Places:
    """The terminals of one drive."""

    at: DriveContext

    @property
    def _ends(self) -> ContactWiring:
        return contacts_of(self.at.part)

    def driver(self, pin: str) -> Terminal:
        """A terminal of the driver, of the drive's own channel."""
        channel = int(self.at.drive.channel.value or 1)
        own = pin if channel == 1 or pin in CHANNEL_FREE else f"{pin}, channel {channel}"
        return Terminal(f"unit {self.at.unit.id}", own)

    @property
    def turns(self) -> str:
        """What hangs on the driver, in a word."""
        return "motor" if self.at.of_motor is not None else "load"

    @property
    def fuse_out(self) -> str:
        """That the fuse is taken out, where there is one."""
        return ", its fuse out" if self.at.source.fuse.value is not None else ", its plus off"

    @property
    def in_series(self) -> str:
        """Where a meter is put in series with all that is drawn."""
        return "In series at the fuse" if self.at.source.fuse.value is not None else "In series with the source's plus"

    @property
    def supply(self) -> Terminal:
        return self.driver(self._ends.plus)

    @property
    def ground(self) -> Terminal:
        return self.driver(self._ends.minus)

    @property
    def outputs(self) -> tuple[Terminal, Terminal]:
        """Where the motor's two leads begin."""
        return self.driver(self._ends.out_1), self.driver(self._ends.out_2)

    @property
    def motor(self) -> tuple[Terminal, Terminal]:
        id = f"motor {self.at.drive.id}"
        return Terminal(id, "M+"), Terminal(id, "M−")

    @property
    def fed(self) -> Terminal:
        """Where the source's plus comes out: behind switch and fuse, where it has them."""
        source = self.at.source
        behind = [Terminal(f"{block} {source.id}", "out") for _, block, _ in supply_path(source)]
        return behind[-1] if behind else Terminal(f"source {source.id}", "+")

    @property
    def minus(self) -> Terminal:
        return Terminal(f"source {self.at.source.id}", "−")

    def controller(self, pin: str) -> Terminal:
        return Terminal(f"controller {self.at.controller.id}", pin)

    def inner(self, part: str, pin: str) -> Terminal:
        """A pin of a part on the driver's board."""
        return Terminal(f"unit {self.at.unit.id}/{part}", pin)
