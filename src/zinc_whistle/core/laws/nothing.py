"""Nothing of a quantity, where a law needs it as one."""

from __future__ import annotations

from ..algebra.nodes import Constant

NO_VOLTS = Constant("0 V", 0.0, "voltage")
