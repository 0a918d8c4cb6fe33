"""One combination of a stage's parts: put in place of the unit's stage, worked out in full, and what it is good for."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..algebra.findings import TIGHT, Finding
from ..algebra.limits import Judge
from ..algebra.preferred import at_least
from ..algebra.quantities import notation
from ..cases.operating import DriveContext
from ..cases.stage import evaluate
from ..cases.timer_plan import plan_for
from ..model.given import Given, bind
from ..model.stage import BRIDGES, StageSpec
from ..model.transistors import Mosfet
from ..stations.driver.candidates import Candidate, held_against
from ..stations.driver.jam import jam_on_driver
from ..stations.power_stage import compute as surroundings
from ..stations.power_stage import limits as stage_limits
from .sweep import Choice


@dataclass(frozen=True, slots=True)
class Design:
    """One complete stage: what it is good for, its price (€, None where a part has none), heat (W), junction (°C),
    tightest use, and its tight spots."""

    label: str
    choice: Choice
    stage: StageSpec
    frequency_hz: float
    price: float | None
    heat_w: float
    junction_c: float
    utilisation: float
    tight: tuple[Finding, ...]
    warned: frozenset[str]
    """The codes of what is warned of."""


def _texted(value: float, kind: str, unit: str) -> Given:
    return Given(text=notation(value, kind, unit), origin="chosen")


def composed(at: DriveContext, choice: Choice) -> DriveContext:
    """The drive's context with a combination in place of the unit's stage and frequency."""
    stage = at.unit.stage.model_copy(deep=True)
    stage.switch = choice.switch  # type: ignore[assignment]
    stage.gate_driver, stage.heat_sink = choice.driver, choice.sink
    if isinstance(choice.switch, Mosfet):
        stage.parallel = _texted(float(choice.parallel), "number", "1")
        stage.gate_resistor = _texted(choice.resistor, "resistance", "Ω")
        stage.off_resistor = Given(text="")
    if stage.circuit in BRIDGES and isinstance(choice.switch, Mosfet):
        stage.dead_time = _texted(choice.dead_time_s, "time", "ns")
        if choice.boot_f > 0:
            stage.boot_capacitor = _texted(at_least(choice.boot_f, "E6"), "capacitance", "nF")
    stage = StageSpec.model_validate(stage.model_dump())
    bind(stage, at.unit.stage.path)
    unit = at.unit.model_copy(update={"stage": stage, "made_of": "stage"})
    signals = at.drive.signals.model_copy(deep=True)
    signals.pwm_frequency = _texted(choice.frequency, "frequency", "kHz")
    bind(signals, at.drive.signals.path)
    drive = at.drive.model_copy(update={"signals": signals})
    # A timer circuit keeps its own pace, and what is on or off has none.
    plan = plan_for(at.controller, signals) if signals.told_by == "pulses" else at.plan
    return replace(at, unit=unit, drive=drive, plan=plan, part=None)


def tried(at: DriveContext) -> tuple[Candidate, list[Finding]]:
    """A stage worked out in full, with every finding of the stations Driver and Power stage."""
    driving = evaluate(at)
    at = replace(at, part=driving.part)
    built = held_against(at, driving)
    assert built.result is not None
    around = surroundings.compute(at, built.circuit, built)
    more = [*stage_limits.checks(at, built.result), *surroundings.checks(at, built, around), *jam_on_driver(at, built)]
    return built, [*built.checks, *Judge().all(more)]


def worked(at: DriveContext, choice: Choice, label: str = "") -> tuple[Design | None, list[Finding]]:
    """A combination worked out in full: the design, or None and the findings that stop it."""
    made = composed(at, choice)
    built, found = tried(made)
    stops = [x for x in found if x.severity == "stop"]
    if stops or built.heat.junction.value is None or built.heat.total.value is None:
        return None, stops
    destructive = [x for x in found if x.destructive and x.used is not None]
    tight = sorted((x for x in found if x.used is not None and x.used >= TIGHT), key=lambda x: -(x.used or 0.0))
    return Design(
        label=label,
        choice=choice,
        stage=made.unit.stage,
        frequency_hz=choice.frequency,
        price=built.part.price.value,
        heat_w=built.heat.total.value,
        junction_c=built.heat.junction.value,
        utilisation=max((x.used or 0.0 for x in destructive), default=0.0),
        tight=tuple(tight),
        warned=frozenset(x.code for x in found if x.severity == "warn"),
    ), []
