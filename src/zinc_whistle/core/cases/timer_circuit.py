"""A timer circuit worked out: its pulses within its parts' tolerances, its knob, and what its output can do."""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.nodes import Figure, Leaf, Node, Varied, presence
from ..laws import stage as stage_laws
from ..laws import timer_circuit as laws
from ..model.build import Build, LoadDrive, MotorDrive
from ..model.given import bind, computed_given
from ..model.signals import Controller, SignalsSpec
from ..model.timer_circuit import TimerCircuit
from .axes import PARTS
from .sources import SupplyWindow, window


@dataclass(frozen=True, slots=True, kw_only=True)
class TimerFigures:
    """What a timer circuit makes: with its parts as they are marked, and within their tolerances from any supply."""

    supply: Node
    any_supply: Node
    frequency: Figure
    any_frequency: Figure
    slowest: Figure
    fastest: Figure
    least: Figure
    any_least: Figure
    greatest: Figure
    any_greatest: Figure
    high: Figure
    any_high: Figure


def supply_of(spec: TimerCircuit, bus: Node, case: str = "") -> Node:
    """What the timer itself is fed with, of a bus at so many volts: as it is, or by a regulator of its own."""
    if spec.regulated_v.value is None:
        return bus
    told = [presence(spec.regulated_v.leaf)]
    return stage_laws.gate_supply_left(
        spec.regulated_v.leaf, bus, spec.dropout.leaf, case=case, because=told, title="Supply of the timer"
    )


def compute(spec: TimerCircuit, volts: SupplyWindow) -> TimerFigures:
    """The figures of a timer circuit on a source."""
    told = [presence(spec.regulated_v.leaf)]

    def supply(bus: Node, case: str = "") -> Node:
        return supply_of(spec, bus, case)

    def pace(bus: Node, track: Node, capacitor: Node, case: str = "", which: str = "") -> Figure:
        slowing = laws.diode_slowing(supply(bus, case), spec.diode_v.leaf, case=case)
        title = f"PWM frequency{which}"
        return laws.steered_frequency(track, capacitor, slowing, case=case, title=title, because=told)

    pot, end, farad = spec.pot.leaf, spec.end_resistor.leaf, spec.capacitor.leaf
    track = laws.whole_track(pot, laws.AS_MARKED, end)
    tracks, farads = [
        tuple(law(part, share(tolerance.leaf), *more) for share in (laws.at_least, laws.at_most))
        for law, part, tolerance, more in (
            (laws.whole_track, pot, spec.pot_tolerance, (end,)),
            (laws.timing_capacitor, farad, spec.capacitor_tolerance, ()),
        )
    ]
    any_track, any_farad = Varied(PARTS, tracks, "Track"), Varied(PARTS, farads, "Timing capacitor")
    any_supply = supply(volts.any)
    return TimerFigures(
        supply=supply(volts.nominal, "supply nominal"),
        any_supply=any_supply,
        frequency=pace(volts.nominal, track, farad, "supply nominal"),
        any_frequency=pace(volts.any, any_track, any_farad),
        slowest=pace(volts.flat, tracks[1], farads[1], "supply flat, parts at their most", ", slowest"),
        fastest=pace(volts.full, tracks[0], farads[0], "supply full, parts at their least", ", fastest"),
        least=laws.least_duty(end, track),
        any_least=laws.least_duty(end, any_track),
        greatest=laws.greatest_duty(end, track),
        any_greatest=laws.greatest_duty(end, any_track),
        high=laws.high_level(supply(volts.flat, "supply flat"), spec.high_drop.leaf, case="supply flat"),
        any_high=laws.high_level(any_supply, spec.high_drop.leaf),
    )


def of_drive(build: Build, drive: MotorDrive | LoadDrive) -> TimerFigures:
    """The same for the timer circuit of a drive, which hangs on what feeds its driver."""
    unit = next((u for u in build.units if u.id == drive.unit), None)
    source = next((s for s in build.supply.sources if unit is not None and s.id == unit.source), None)
    return compute(drive.signals.timer, window(source) if source is not None else _unnamed(drive))


def _unnamed(drive: MotorDrive | LoadDrive) -> SupplyWindow:
    """The volts of a source that nobody has named."""
    kind = drive.signals.timer.v_max.leaf.kind
    lack = Leaf(f"{drive.path}.unit", "the source that feeds the driver", kind, None)
    return SupplyWindow(full=lack, nominal=lack, flat=lack, resistance=lack, any=lack)


def as_controller(spec: SignalsSpec, made: TimerFigures) -> Controller:
    """The timer's output, as whatever it drives sees it: a pin with a level and a current."""
    seen = Controller(id="timer", name="Timer circuit")
    bind(seen, f"{spec.timer.path}.seen")
    # Unloaded or loaded, the drop of its output is the same figure: what a gate gets and what an input hears.
    seen.logic_v = computed_given(made.any_high)
    seen.output_high = computed_given(made.any_high)
    seen.pin_current = spec.timer.current
    return seen
