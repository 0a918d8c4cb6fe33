"""Supply: sources, the regulators behind them and the fuse."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..spec import Given, Item, ListOwner, choice, given, listing


class Source(Item):
    """A battery or an adaptor, at both ends of its range."""

    name: str = Field("", max_length=80, description="Name")
    kind: Literal["battery", "adaptor"] = choice("Kind", {"battery": "Battery", "adaptor": "Adaptor"}, "battery")
    full_v: Given = given("voltage", "V", "Full, at rest", above=0)
    nominal_v: Given = given("voltage", "V", "Nominal", above=0)
    flat_v: Given = given("voltage", "V", "Flat, at rest", above=0)
    resistance: Given = given("resistance", "Ω", "Internal resistance", low=0)
    capacity: Given = given("capacity", "Ah", "Capacity", above=0, optional=True)
    sinks: Literal["yes", "no"] = choice(
        "Takes current back", {"yes": "Yes (a battery)", "no": "No (most adaptors)"}, "yes"
    )
    fuse: Given = given("current", "A", "Fuse at the source", above=0)


class Regulator(Item):
    """What makes the logic's voltage from a source."""

    name: str = Field("", max_length=80, description="Name")
    kind: Literal["linear", "switching"] = choice(
        "Kind", {"linear": "Linear", "switching": "Switching (step-down)"}, "linear"
    )
    source: str = Field("", max_length=40, description="Source")
    output_v: Given = given("voltage", "V", "Output", default="5 V", above=0)
    dropout: Given = given("voltage", "V", "Dropout", default="2 V", origin="assumed", low=0)
    load: Given = given("current", "A", "Logic current, all told", low=0)
    efficiency: Given = given(
        "fraction",
        "%",
        "Efficiency",
        default="85 %",
        origin="assumed",
        above=0,
        high=1,
        help="Counts for a switching one only.",
    )


class SupplySpec(ListOwner):
    """What feeds the build."""

    sources: list[Source] = listing("Sources", columns=False)
    regulators: list[Regulator] = listing("Regulators", columns=False)
