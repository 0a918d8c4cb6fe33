"""Nothing of a quantity, where a law needs it as one."""

from __future__ import annotations

from ..algebra.nodes import Constant

NO_VOLTS = Constant("0 V", 0.0, "voltage")
NO_AMPERES = Constant("0 A", 0.0, "current")
NO_WATTS = Constant("0 W", 0.0, "power")
NO_OHMS = Constant("0 Ω", 0.0, "resistance")
NO_SPEED = Constant("0 rpm", 0.0, "speed")
NO_TIME = Constant("0 s", 0.0, "time")
NO_DUTY = Constant("0 %", 0.0, "fraction")
NO_TORQUE = Constant("0 N·m", 0.0, "torque")
