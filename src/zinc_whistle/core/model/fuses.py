"""Kinds of fuse, by the standard that says when they open."""

from __future__ import annotations

from typing import Literal

FuseCurve = Literal["", "blade", "glass quick", "glass slow", "ul 248-14"]
FUSE_CURVES: dict[str, str] = {
    "": "Not known yet",
    "blade": "Blade, ISO 8820-3",
    "glass quick": "5 × 20 mm quick, IEC 60127-2",
    "glass slow": "5 × 20 mm time-lag, IEC 60127-2",
    "ul 248-14": "Midget or cartridge, UL 248-14",
}
FUSE_HELP = "Its standard says when it opens. The body tells which: a blade, a glass tube with F or T on its cap."
