"""What a solenoid, a pump or a lamp draws."""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.nodes import Constant, Figure, Node, presence
from ..laws import dc_load as rules
from ..laws.nothing import NO_AMPERES
from ..model.dc_load import DcLoadSpec
from ..model.signals import SignalsSpec
from .sources import SupplyWindow

FACTORS = {"solenoid": rules.STEADY, "pump": rules.PUMP_START, "lamp": rules.LAMP_COLD}
ALL = Constant("100 %", 1.0, "fraction")


@dataclass(frozen=True, slots=True)
class DcLoadResult:
    """Currents at the full supply, and the volts that the load needs."""

    resistance: Figure
    on_current: Figure
    working_current: Figure
    peak_current: Figure
    rms_current: Figure
    inrush_factor: Constant
    duty: Node
    volts_needed: Node
    coil_energy: Figure | None
    blocked: Figure | None
    """A pump's current while something holds it; None for what cannot be held."""
    parts: tuple[list[Node], list[Node]]
    """Currents over one cycle, and their times: pulling in, held, off."""


def compute(spec: DcLoadSpec, volts: SupplyWindow, signals: SignalsSpec) -> DcLoadResult:
    """On, hold, inrush and RMS current of a load across the full supply. Only pulses can hold with less than all."""
    because = [spec.chosen("kind"), signals.chosen("told_by")]
    resistance = rules.load_resistance(spec.rated_v.leaf, spec.rated_a.leaf)
    on = rules.on_current(volts.full, resistance, case="supply full")
    solenoid = spec.kind == "solenoid"
    held_less = solenoid and signals.pulsed
    duty: Node = spec.hold_duty.leaf if held_less else ALL
    held = rules.held_current(on, duty, because=because, title="Holding current" if solenoid else "Working current")
    factor = FACTORS[spec.kind]
    needs: Node = spec.needs_v.leaf
    if spec.needs_v.value is None:
        needs = rules.volts_needed(spec.rated_v.leaf, because=[presence(spec.needs_v.leaf)])
    coil = None
    if spec.inductance.value is not None:
        coil = rules.coil_energy(spec.inductance.leaf, on, because=[presence(spec.inductance.leaf)])
    return DcLoadResult(
        resistance=resistance,
        on_current=on,
        working_current=held,
        peak_current=rules.inrush(on, factor, because=because),
        rms_current=rules.rms_current(on, spec.pull_time.leaf, held, spec.on_for.leaf, spec.off_for.leaf),
        inrush_factor=factor,
        duty=duty,
        volts_needed=needs,
        coil_energy=coil,
        blocked=_blocked(spec, on, volts) if spec.kind == "pump" else None,
        parts=([on, held, NO_AMPERES], [spec.pull_time.leaf, spec.on_for.leaf, spec.off_for.leaf]),
    )


def _blocked(spec: DcLoadSpec, on: Figure, volts: SupplyWindow) -> Figure:
    because = [spec.chosen("kind"), presence(spec.blocked_a.leaf)]
    if spec.blocked_a.value is None:
        return rules.inrush(on, rules.PUMP_START, because=because, title="Current, blocked")
    return rules.blocked_current(spec.blocked_a.leaf, volts.full, spec.rated_v.leaf, because=because)
