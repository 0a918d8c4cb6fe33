"""Loop: the speed controller."""

from __future__ import annotations

from typing import Literal

from .given import Given, Spec, choice, given


class LoopSpec(Spec):
    """A speed loop at the motor shaft: proportional, or with an integral."""

    closed: Literal["yes", "no"] = choice("Speed loop", {"yes": "Closed", "no": "Open, no loop"}, "yes", leads=True)
    gain: Given = given(
        "loop gain",
        "%/rpm",
        "Proportional gain",
        above=0,
        help="Duty for each rpm of error at the motor shaft.",
    )
    integral: Given = given(
        "time",
        "ms",
        "Integral time",
        above=0,
        high=1000,
        optional=True,
        help="Empty: proportional alone, which ends a little off where the load is another than was fed forward.",
    )
    period: Given = given("time", "ms", "Control period", default="10 ms", origin="chosen", above=0, high=5)
    feed_forward: Literal["yes", "no"] = choice(
        "Feed-forward", {"yes": "Add the duty that the speed needs", "no": "None"}, "yes"
    )
    overshoot_allowed: Given = given(
        "fraction", "%", "Overshoot allowed", default="10 %", origin="chosen", above=0, high=1
    )
    settling_allowed: Given = given("time", "s", "Settling allowed", default="1 s", origin="chosen", above=0)
