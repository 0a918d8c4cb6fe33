"""What one motor's drive sees of its source, with every other drive on it, and what braking gives back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ...algebra.corners import Corner
from ...algebra.nodes import Figure, Node, presence
from ...cases.axes import COLD, FLAT, FULL
from ...cases.circuit import DriveCircuit
from ...cases.demand import Demand
from ...cases.operating import DriveContext
from ...laws import supply as rules

STATION = "supply"


@dataclass(frozen=True, slots=True)
class SupplyResult:
    """Volts at the driver in each moment with the other drives on, and what braking gives back."""

    bus_working: Figure
    bus_start: Figure
    bus_jam: Figure
    source_current: Figure
    mean_current: Figure | None
    brake_energy: Node
    after_braking: Figure
    returned_energy: Figure | None
    braking_capacitor: Figure | None
    brake_resistor: Figure | None
    brake_power: Figure | None
    lead_damping: Figure
    plug_in_peak: Figure
    any_plug_in: Node
    any_start: Node
    any_jam: Node
    any_known: tuple[tuple[Node, Corner, Node], ...]


def compute(at: DriveContext, solved: DriveCircuit, demands: Sequence[Demand]) -> SupplyResult:
    """The supply window of one drive, and braking (an upper bound)."""
    others = [d for d in demands if d.feed == at.source.id and d.drive != at.drive.id]
    together = at.build.supply.together == "yes"
    because = [at.build.supply.chosen("together"), at.unit.chosen("source")]
    resistance = at.volts.resistance

    def sagged(own: Any, currents: list[Node]) -> Any:
        if not currents:
            return own
        rest = rules.currents_together(currents, title="Current of the other drives", because=because)
        return rules.sagged_further(own, rest, resistance, case=own.case, because=because)

    any_working: list[Node] = [d.any_working for d in others]
    any_starting: list[Node] = [d.any_starting if together else d.any_working for d in others]
    any_start = sagged(solved.anywhere.bus_start, any_starting)
    any_jam = sagged(solved.anywhere.bus_jam, any_working)
    working: list[Node] = [d.working for d in others]
    starting: list[Node] = [d.starting if together else d.working for d in others]
    mean = None
    if (motor := at.of_motor) is not None:
        mean = rules.mean_of_energy(motor.load.cycle_energy, motor.load.cycle_time, at.volts.nominal)
    damping = rules.lead_damping(
        rules.resistances_together(at.feed_resistance, at.unit.bulk_esr.leaf), at.unit.bulk_capacitance.leaf, at.lead
    )
    start, jam = sagged(solved.bus_start, starting), sagged(solved.bus_jam, working)
    plug_in, any_plug_in = rules.plug_in_peak(at.volts.full, damping), rules.plug_in_peak(at.volts.any, damping)
    known: tuple[tuple[Node, Corner, Node], ...] = ((any_plug_in, FULL, plug_in),)
    if not others:
        # With others on the source their working current goes with the supply too: the corner is another figure.
        known += ((any_start, FLAT | COLD, start), (any_jam, FLAT | COLD, jam))
    return SupplyResult(
        any_plug_in=any_plug_in,
        any_start=any_start,
        any_jam=any_jam,
        any_known=known,
        bus_working=sagged(solved.bus_working, working),
        bus_start=start,
        bus_jam=jam,
        source_current=solved.source_current,
        mean_current=mean,
        brake_energy=at.stored_energy,
        after_braking=rules.risen_voltage(at.volts.full, at.stored_energy, at.unit.bulk_capacitance.leaf),
        lead_damping=damping,
        plug_in_peak=plug_in,
        **_remedies(at, solved),
    )


def _remedies(at: DriveContext, solved: DriveCircuit) -> dict[str, Figure | None]:
    """What keeps the bus below the part's limit when the source cannot take the energy back."""
    empty = {"returned_energy": None, "braking_capacitor": None, "brake_resistor": None, "brake_power": None}
    part, clamp, motor, turning = at.part, at.build.supply.clamp_v, at.of_motor, solved.of_motor
    if part is None or motor is None or turning is None:
        return empty  # type: ignore[return-value]
    because = [presence(clamp.leaf)]
    limit: Node = clamp.leaf if clamp.value is not None else part.v_max.leaf
    back = rules.returned_energy(
        motor.load.reflected_inertia,
        motor.load.motor_speed,
        at.working_current,
        motor.winding_hot,
        motor.motor.motor_constant,
    )
    return {
        "returned_energy": back,
        "braking_capacitor": rules.braking_capacitor(back, limit, at.volts.full, because=because),
        "brake_resistor": rules.brake_resistor(limit, turning.braking, because=because),
        "brake_power": rules.brake_power(back, at.build.supply.brake_time.leaf),
    }
