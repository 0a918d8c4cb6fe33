"""Quadrature by table: what each pair of readings of A and B counts."""

from __future__ import annotations

ILLEGAL = 2
"""Both channels changed at once: a count was lost."""
RING = (0b00, 0b10, 0b11, 0b01)
"""A and B through one period forwards, A in the higher bit: neighbours differ in one bit (a Gray code)."""


def alone(decoding: str) -> tuple[int, ...]:
    """Counts of one sensor alone (A in the higher bit, the lower one stays 0), each along the way that is driven: both
    edges, or with a decoding of 1 the rising one."""
    found = [0] * 16
    found[0b0010] = 1
    if decoding != "1":
        found[0b1000] = 1
    return tuple(found)


def table(decoding: str) -> tuple[int, ...]:
    """Counts by (before << 2 | now): 1 forwards, −1 back, 0 nothing to count, ILLEGAL.

    ``decoding`` is 4 (every edge), 2 (edges of A) or 1 (edges of A while B is low).
    """
    place = {state: k for k, state in enumerate(RING)}
    found = []
    for before in range(4):
        for now in range(4):
            step = (place[now] - place[before]) % 4
            count = {0: 0, 1: 1, 3: -1, 2: ILLEGAL}[step]
            by_a, low_b = (before ^ now) == 0b10, not now & 1
            if count != ILLEGAL and ((decoding == "2" and not by_a) or (decoding == "1" and not (by_a and low_b))):
                count = 0
            found.append(count)
    return tuple(found)
