"""The fields of a stage of one's own: its circuit, its places for parts, and their values."""

from __future__ import annotations

from typing import Any

from ..core.model.stage import BRIDGES, CONTACT_CIRCUITS, SLOTS, StageSpec, slots, switch_kind
from .fields import Describer, Field, Option, Section
from .links import with_links
from .views import text_of

OPTIONAL = ("heat_sink", "fuse", "guard")


TOLD: dict[str, tuple[tuple[str, str], ...]] = {
    "mosfet": (("v_ds", ""), ("on_resistance", ""), ("v_gs", "gate ±")),
    "bjt": (("v_ceo", ""), ("collector_a", ""), ("saturation_v", "saturates at")),
    "module": (("v_max", ""), ("on_resistance", ""), ("peak_a", "limits at")),
    "gate driver": (("source_a", "on"), ("sink_a", "off"), ("supply_max", "at most")),
    "relay": (("contact_a", "DC"), ("contact_v", "at"), ("coil_v", "coil")),
    "diode": (("reverse_v", ""), ("forward_a", ""), ("forward_v", "drops")),
    "heat sink": (("to_air", ""), ("places", "room for")),
    "fuse": (("rated_a", ""), ("rated_v", "DC"), ("melting", "melts at")),
}
"""The figures that stand under a part's name, each with a word before it."""


def slot_field(stage: StageSpec, slot: str) -> Field:
    """A place for a part: its options are the classes that may stand there, with what else they must be."""
    label, classes = SLOTS[slot]
    part = getattr(stage, slot)
    wanted = [switch_kind(stage.circuit)] if slot == "switch" else list(classes)
    return Field(
        path=f"{stage.path}.{slot}",
        label=label,
        control="slot",
        text=part.id if part else "",
        help=_what_hides(part),
        note=part.name if part else "",
        optional=slot in OPTIONAL,
        options=[Option(value=c, label="P" if slot == "upper" else "") for c in wanted],
    )


def _what_hides(part: Any) -> str:
    if part is None:
        return ""
    shown = [f"{word} {text_of(getattr(part, name).leaf)}".strip() for name, word in TOLD[part.kind]]
    if part.kind == "mosfet" and part.headline_a.value is not None:
        shown.append(f"its headline of {text_of(part.headline_a.leaf)} holds for a case at 25 °C")
    return ", ".join(shown) + "."


def own_stage(stage: StageSpec, d: Describer) -> list[Section]:
    """The fields of a discrete stage that its circuit and choices call for."""
    mosfets = switch_kind(stage.circuit) == "mosfet"
    sections = [
        d.section(stage, "Circuit", ("circuit", *(("parallel", "spread", "gates") if mosfets else ()))),
        Section(title="Parts", help="", fields=[slot_field(stage, slot) for slot in slots(stage)], path=stage.path),
    ]
    if mosfets:
        gates: list[str] = ["driven_by"]
        if stage.driven_by == "driver":
            gates += ["gate_v", "gate_fed", *(["gate_dropout"] if stage.gate_fed != "bus" else [])]
        gates += ["gate_resistor", "off_resistor", "pull_down"]
        if stage.circuit in BRIDGES:
            gates.append("dead_time")
        if stage.circuit in ("half bridge", "full bridge", "high side"):
            gates += ["boot_capacitor", "boot_droop"]
        made = d.section(stage, "Gates", gates)
        if stage.driven_by == "driver" and stage.gate_fed == "source":
            made = with_links(made, d.link(stage, "gate_source", "Gate supply, its source", d.build.supply.sources))
        sections.append(made)
    elif stage.circuit == "bipolar low side":
        sections.append(d.section(stage, "Base", ("base_resistor",)))
    clamps = [*(["gate_clamp"] if stage.circuit == "p/n bridge" else []), *(["guard_clamp"] if stage.guard else [])]
    if clamps:
        sections.append(d.section(stage, "Gates that see the supply", (*clamps, "clamp_v")))
    if stage.heat_sink is not None:
        sections.append(d.section(stage, "Heat sink", ("pad",)))
    if stage.circuit in CONTACT_CIRCUITS:
        sections.append(d.section(stage, "Relays", ("relay_pause",)))
    shunt = ("shunt", "shunt_rating", "sense_gain", "sense_clamp") if stage.shunt.value is not None else ("shunt",)
    track = (
        ("track_width", "track_layer", "copper", "track_rise")
        if stage.track_width.value is not None
        else ("track_width",)
    )
    return [
        *sections,
        d.section(stage, "Current sense", shunt),
        d.section(stage, "Board", ("loop", *track)),
        d.section(stage, "Capacitor's life", ("life", "life_at", "life_wanted")),
        d.section(stage, "Price", ("board_price", "delivery", "pieces")),
    ]
