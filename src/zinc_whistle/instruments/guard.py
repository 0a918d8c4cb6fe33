"""Waits until the app is gone, then turns an output off. Run by the app when an output goes on, and ended by it when it
goes off; if the app dies, its end of the line closes, and this does what is left to do."""

from __future__ import annotations

import sys
import time

from .link import InstrumentLink, LinkError

TRIES, APART_S = 20, 0.5
"""An instrument that served one line only may need a moment to notice that the old one is gone."""


def main(address: str, off: str) -> int:
    """0 where nothing was left to do or the output is told to be off."""
    if sys.stdin.readline().strip() == "done":
        return 0
    for _ in range(TRIES):
        try:
            link = InstrumentLink(address)
            link.tell(off)
            link.close()
            return 0
        except LinkError:
            time.sleep(APART_S)
    return 1


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:3]))
