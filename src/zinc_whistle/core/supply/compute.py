"""What the source gives at both ends of its range, and whether the logic rides through."""

from __future__ import annotations

from dataclasses import dataclass

from .. import findings as f
from ..findings import Finding
from ..operating import Circuit, Context
from ..working import Constant, Figure, presence
from . import rules

STATION = "supply"
NO_CURRENT = Constant("0 A", 0.0, "current")


@dataclass(frozen=True, slots=True)
class SupplyResult:
    """Volts at the driver in each moment, the logic's need, and how long a charge lasts."""

    bus_working: Figure
    bus_start: Figure
    bus_jam: Figure
    logic_needs: Figure | None
    regulator_heat: Figure | None
    source_current: Figure
    mean_current: Figure
    runtime: Figure | None
    brake_energy: Figure
    after_braking: Figure


def compute(at: Context, solved: Circuit) -> SupplyResult:
    """The supply window, brown-out, runtime and what braking gives back (an upper bound)."""
    regulator, load = at.regulator, at.drive.load
    needs = heat = None
    if regulator is not None:
        needs = rules.regulator_needs(regulator.output_v.leaf, regulator.dropout.leaf)
        if regulator.kind == "linear":
            heat = rules.linear_heat(
                at.source.full_v.leaf,
                regulator.output_v.leaf,
                regulator.load.leaf,
                because=[regulator.chosen("kind")],
            )
        else:
            heat = rules.switching_heat(
                regulator.output_v.leaf,
                regulator.load.leaf,
                regulator.efficiency.leaf,
                because=[regulator.chosen("kind")],
            )
    mean = rules.mean_current(solved.source_current, load.run_for.leaf, load.rest_for.leaf)
    runtime = None
    if at.source.capacity.value is not None:
        logic = regulator.load.leaf if regulator is not None else NO_CURRENT
        runtime = rules.runtime(at.source.capacity.leaf, mean, logic, because=[presence(at.source.capacity.leaf)])
    energy = rules.stored_energy(at.load.reflected_inertia, at.load.motor_speed)
    return SupplyResult(
        bus_working=solved.bus_working,
        bus_start=solved.bus_start,
        bus_jam=solved.bus_jam,
        logic_needs=needs,
        regulator_heat=heat,
        source_current=solved.source_current,
        mean_current=mean,
        runtime=runtime,
        brake_energy=energy,
        after_braking=rules.risen_voltage(at.source.full_v.leaf, energy, at.unit.bulk_capacitance.leaf),
    )


def checks(at: Context, solved: Circuit, result: SupplyResult) -> list[Finding]:
    """Window in order, brown-out at start and in a jam, the fuse against work."""
    drive, source = at.drive.id, at.source
    full, nominal, flat = source.full_v.value, source.nominal_v.value, source.flat_v.value
    known = full is not None and nominal is not None and flat is not None
    found = [
        f.yes_no("supply.window", STATION, "Full, nominal and flat are in order",
                 (full >= nominal >= flat) if known else None,  # type: ignore[operator]
                 "Full must be the highest and flat the lowest of the three.", drive=drive, where=f"{source.path}.full_v",
                 destructive=False, unknown=f"Not known yet: give {_gaps(full, nominal, flat)}."),
        f.upper("supply.fuse", STATION, "Fuse, at work", solved.source_current, source.fuse.leaf,
                "A fuse carries 75 % of its rating for good: take the next size, and check the wire behind it.",
                drive=drive, over="warn", where=f"{source.path}.fuse", destructive=False),
    ]  # fmt: skip
    if result.logic_needs is None:
        found.append(f.yes_no("supply.logic", STATION, "The logic's supply is named", None, "", drive=drive,
                              unknown="Not known yet: add a regulator and name it at the controller (page Build)."))  # fmt: skip
        return found
    todo = "Start softer, fit a larger bulk capacitor, use a regulator that drops less, or feed the logic by itself."
    found += [
        f.lower("supply.brown_out_start", STATION, "Logic supply, at start", result.bus_start, result.logic_needs, todo,
                drive=drive, where=f"{source.path}.resistance", destructive=False),
        f.lower("supply.brown_out_jam", STATION, "Logic supply, in a jam", result.bus_jam, result.logic_needs, todo,
                drive=drive, over="warn", where=f"{source.path}.resistance", destructive=False),
    ]  # fmt: skip
    return found


def _gaps(full: float | None, nominal: float | None, flat: float | None) -> str:
    names = [n for n, v in (("full", full), ("nominal", nominal), ("flat", flat)) if v is None]
    return " and ".join(names) + " voltage"
