"""Log: a list of its own; the screen fetches it apart."""

from __future__ import annotations

from dataclasses import replace

from .inputs import StationSheet
from .other_loads import servo_hint

_ANY = StationSheet()
SHEETS = {"motor": _ANY, "load": _ANY, "servo": replace(_ANY, hint=servo_hint)}
