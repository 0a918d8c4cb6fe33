"""What warms up: the driver's case and the motor's housing after a long run."""

from __future__ import annotations

from dataclasses import replace

from ...algebra.nodes import Constant, Figure, Node
from ...cases import frame
from ...cases.driving import Driving
from ...cases.operating import Context
from ...laws import bench as rules
from .step import Step, step

WARM_SHARE = 0.25
ALIKE = Constant("0 K", 0.0, "temperature difference", "each carries its part")
APART_K = 10.0
"""Between cases that share a current (common practice, no source)."""
SETTING = "A bead under a drop of paste, or infrared on a dab of matt paint; each minute into the box below"


def motor_heat(at: Context) -> Figure:
    """What stays in the motor at work: copper, brushes and friction."""
    books = at.load.books
    return rules.heat_kept(books.copper, books.brushes, books.friction)


def warm_steps(at: Context, chosen: Driving | None) -> list[Step]:
    """The steps, after a run long enough for what is heavy to be warm through."""
    return [*_case(at, chosen), *_alike(at), *_housing(at)]


def _judged(made: Step, air: Node, purpose: str, means: str) -> Step:
    """Only above is wrong: in cooler air it stays cooler."""
    top, cool = made.expected.value, air.value
    high = None if top is None or cool is None else top + WARM_SHARE * (top - cool)
    return replace(
        made,
        low=None,
        high=high,
        stage="long",
        purpose=purpose,
        stop="Above the figure and still rising.",
        means=means,
    )


def _case(at: Context, chosen: Driving | None) -> list[Step]:
    """The case of a bought driver: its board carries the heat that leaves the junction."""
    if chosen is None or at.unit.made_of != "part":
        return []
    part = chosen.part
    made = step(
        "warm",
        title="Driver's case, twenty minutes at work",
        where="The driver's case, at its middle",
        instrument="Thermometer",
        setting=SETTING,
        expected=rules.case_temperature(
            at.board_hot, chosen.heat.total, part.thermal_resistance.leaf, part.package_share.leaf
        ),
        unit="°C",
        share=0.0,
        reason="in the hottest air that is given; cooler air takes off as much",
        caution="The case is not the junction, and no place for a finger.",
    )
    return [
        _judged(
            made,
            at.board_hot,
            "Heat comes slowly: what holds for a minute may not hold for an evening.",
            "Hotter: less copper or air than told, a higher current, a gate that is half on.",
        )
    ]


def _alike(at: Context) -> list[Step]:
    """Switches side by side: the one that is hotter carries more, and gets hotter still where it is bipolar."""
    count = at.unit.stage.parallel.value
    if at.unit.made_of != "stage" or count is None or count < 2:
        return []
    made = step(
        "alike",
        title="Switches side by side, how far apart in temperature",
        where="The cases of those that share one current: the hottest less the coolest",
        instrument="Thermometer",
        setting="A bead on each, or infrared on dabs of matt paint, one after the other within a minute",
        expected=ALIKE,
        unit="K",
        share=0.0,
        reason=f"sharing evenly they differ by some kelvin; {APART_K:g} K is a different share, or a bad joint",
        caution="Tabs may carry the supply or pulses: an insulated bead, and no finger.",
    )
    return [
        replace(
            made,
            low=None,
            high=APART_K,
            stage="long",
            purpose="Side by side they bear their sum only if each carries its part.",
            stop="One of them still rising while the others stand.",
            means="A leg that is not soldered, unequal tracks, one without its gate resistor or of another batch.",
        )
    ]


def _housing(at: Context) -> list[Step]:
    hot = at.build.ambient.hot.leaf
    made = step(
        "housing",
        title="Motor's housing, half an hour at work",
        where="The motor's housing, over the brushes",
        instrument="Thermometer",
        setting=SETTING,
        expected=rules.housing_temperature(hot, motor_heat(at), frame.to_air(at.drive.motor)),
        unit="°C",
        share=0.0,
        reason="run without a rest, in the hottest air that is given; cooler air takes off as much",
        caution="Too hot to touch burns: a housing of 60 °C does in a few seconds. The winding is hotter still.",
    )
    return [
        _judged(
            made,
            hot,
            "The winding cannot be touched; its housing tells how well it gets rid of its heat.",
            "Hotter: a heavier load, no air round it, or a mount that insulates.",
        )
    ]
