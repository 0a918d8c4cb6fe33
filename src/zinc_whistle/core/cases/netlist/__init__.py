"""The netlist: every part of a build that is joined by wire, its pins, and the nets that the wires make.

What stands on it (table, drawing, review, bill, continuity, assembly) reads it and nothing else.
"""

from .assemble import DriveHarness, netlist
from .parts import Net, Netlist, Wire, WiredPart

__all__ = ["DriveHarness", "Net", "Netlist", "Wire", "WiredPart", "netlist"]
