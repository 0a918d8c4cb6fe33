"""What a source gives at both ends of its range: as typed, or from its chemistry and number of cells."""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.nodes import Constant, Leaf, Node, Varied, presence
from ..algebra.rules import Rule
from ..laws import supply as rules
from ..model.supply import Source
from .axes import SUPPLY

_CELL = "class figure a cell, common practice, from memory"


@dataclass(frozen=True, slots=True)
class Cell:
    """A cell of one chemistry: volts full, nominal and flat, and internal resistance."""

    full: Constant
    nominal: Constant
    flat: Constant
    resistance: Constant


def _cell(full: float, nominal: float, flat: float, milliohm: float) -> Cell:
    at_full, at_work, at_end = (Constant(f"{v:g} V", v, "voltage", _CELL) for v in (full, nominal, flat))
    return Cell(at_full, at_work, at_end, Constant(f"{milliohm:g} mΩ", milliohm / 1000, "resistance", _CELL))


CELLS = {
    "lifepo4": _cell(3.65, 3.2, 2.7, 10),
    "li-ion": _cell(4.2, 3.6, 3.0, 30),
    "lead": _cell(2.15, 2.0, 1.75, 8),
    "nimh": _cell(1.4, 1.2, 1.0, 20),
    "alkaline": _cell(1.6, 1.3, 0.9, 200),
    "9 v block": _cell(1.6, 1.3, 0.9, 330),
}
SIX_CELLS = Constant("6", 6.0, "number", "a 9 V block holds six small cells")


@dataclass(frozen=True, slots=True)
class SupplyWindow:
    """Volts at rest, full, nominal and flat, and the internal resistance."""

    full: Node
    nominal: Node
    flat: Node
    resistance: Node
    any: Node
    """Between full and flat: what limits are held against."""


CHARGED = {
    name: Constant(f"{volts:g} V", volts, "voltage", "charging volts a cell, common practice, from memory")
    for name, volts in {"lifepo4": 3.65, "li-ion": 4.2, "lead": 2.4, "nimh": 1.55}.items()
}
"""The highest that a charger of the class holds a cell at; single-use cells have none."""


def charging(source: Source) -> Node | None:
    """The volts of a battery that is charged while it runs; None where no charger stays on."""
    if source.charger != "yes" or source.kind != "battery":
        return None
    told = [source.chosen("charger"), source.chosen("chemistry"), presence(source.charge_v.leaf)]
    cell = CHARGED.get(source.chemistry)
    if source.charge_v.value is not None or cell is None:
        return rules.charged_at(source.charge_v.leaf, because=told)
    return rules.cells_in_series(source.cells.leaf, cell, because=told, title="Charged at")


def window(source: Source) -> SupplyWindow:
    """The source's volts and resistance; what is typed comes before what the chemistry says."""
    # What a battery was made of is forgotten by the adaptor that takes its place.
    cells = source.chemistry if source.kind == "battery" else "own"
    cell = CELLS.get(cells)
    count: Node = SIX_CELLS if cells == "9 v block" else source.cells.leaf

    def of(leaf: Leaf, share: Constant | None, law: Rule, title: str) -> Node:
        if leaf.value is not None or share is None:
            return leaf
        told = [source.chosen("kind"), source.chosen("chemistry"), presence(leaf)]
        return law(count, share, because=told, title=title)

    series, ohms = rules.cells_in_series, rules.cell_resistances
    full = of(source.full_v.leaf, cell.full if cell else None, series, "Full, at rest")
    if (charged := charging(source)) is not None:
        full = rules.higher_of(full, charged, because=[source.chosen("charger")])
    resistance = of(source.resistance.leaf, cell.resistance if cell else None, ohms, "Internal resistance")
    if source.packs.value not in (None, 1):
        resistance = rules.side_by_side(resistance, source.packs.leaf)
    flat = of(source.flat_v.leaf, cell.flat if cell else None, series, "Flat, at rest")
    return SupplyWindow(
        full=full,
        nominal=of(source.nominal_v.leaf, cell.nominal if cell else None, series, "Nominal"),
        flat=flat,
        any=Varied(SUPPLY, (full, flat), "Supply at rest"),
        resistance=resistance,
    )
