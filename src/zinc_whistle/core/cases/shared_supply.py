"""Sources and regulators with everything that hangs on them: what no drive can be judged for alone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..algebra.nodes import Figure, Leaf, Node, Varied, presence
from ..laws import driver as driver_laws
from ..laws import supply as rules
from ..laws.nothing import NO_AMPERES, NO_OHMS
from ..model.build import Build
from ..model.supply import Regulator, Source
from .axes import AIR
from .demand import Demand
from .sources import SupplyWindow, window


@dataclass(frozen=True, slots=True, kw_only=True)
class RegulatorResult:
    """One regulator: what hangs on it, its heat and what its input must keep to."""

    id: str
    load: Figure
    worst: Figure
    input_current: Figure
    warming_input: Figure
    """What it draws as the heat of one before it counts it."""
    worst_input: Figure
    """What it draws with everything on it stalled."""
    needs: Figure
    heat: Figure
    junction: Figure
    heat_allowed: Figure
    sink_needed: Figure
    any_heat: Node
    """Its heat from any supply, and what any air leaves of it."""
    any_heat_allowed: Node


@dataclass(frozen=True, slots=True, kw_only=True)
class SourceResult:
    """One source with every drive and regulator on it."""

    id: str
    window: SupplyWindow
    working: Figure
    starting: Figure
    mean: Figure
    runtime: Figure | None
    with_spares: Figure | None
    lamp_resistor: Figure | None
    lamp_heat: Figure | None
    sun: Figure | None
    """Energy that a solar panel puts in, a day."""
    used: Figure | None
    """Energy that the build takes, a day."""
    any_working: Node
    any_starting: Node


@dataclass(frozen=True, slots=True)
class SharedSupply:
    """The whole supply."""

    sources: tuple[SourceResult, ...]
    regulators: tuple[RegulatorResult, ...]

    def regulator(self, id: str) -> RegulatorResult | None:
        """The regulator of that id."""
        return next((r for r in self.regulators if r.id == id), None)

    def source(self, id: str) -> SourceResult | None:
        """The source of that id."""
        return next((s for s in self.sources if s.id == id), None)


def compute(build: Build, demands: Sequence[Demand]) -> SharedSupply:
    """Every source and regulator with all demands on it."""
    windows = {s.id: window(s) for s in build.supply.sources}
    done: dict[str, RegulatorResult] = {}
    # What hangs on another first: a regulator carries what those behind it draw.
    for spec in sorted(build.supply.regulators, key=lambda r: -len(build.supply.chain(r.id))):
        behind = [done[r.id] for r in build.supply.regulators if r.source == spec.id]
        done[spec.id] = _regulator(build, spec, _feed(build, spec, windows), demands, behind)
    regulators = tuple(done[r.id] for r in build.supply.regulators)
    sources = tuple(_source(build, s, windows[s.id], demands, regulators) for s in build.supply.sources)
    return SharedSupply(sources, regulators)


def _feed(build: Build, spec: Regulator, windows: dict[str, SupplyWindow]) -> SupplyWindow | None:
    """What a regulator is fed with: a source's volts, or those that another regulator holds."""
    before = next((r for r in build.supply.regulators if r.id == spec.source), None)
    if before is None:
        return windows.get(spec.source)
    held = before.output_v.leaf
    return SupplyWindow(full=held, nominal=held, flat=held, resistance=NO_OHMS, any=held)


def _regulator(
    build: Build,
    spec: Regulator,
    feed: SupplyWindow | None,
    demands: Sequence[Demand],
    behind: Sequence[RegulatorResult],
) -> RegulatorResult:
    """Every load of a regulator summed, and the heat on the hottest day from the fullest supply."""
    boards = [c for c in build.controllers if c.regulator == spec.id]
    # The logic's current is all told where somebody read it; else what the controllers' sheets say stands for it.
    told: list[Node] = [c.draws.leaf for c in boards if c.draws.value is not None]
    read = spec.load.value is not None or not told
    small = [c.current for c in spec.consumers] + build.small_on(spec.id)
    small += [lamp.current for lamp in build.lamps_on(spec.id)]
    own = [*([spec.load.leaf] if read else told), *(current.leaf for current in small if current.value is not None)]
    hanging = [d for d in demands if d.feed == spec.id]
    because = [spec.members("consumers"), spec.chosen("kind"), *build.feeds_of_devices()]
    because += [r.chosen("source") for r in build.supply.regulators]
    because.append(presence(spec.load.leaf))
    passed = [r.input_current for r in behind]
    load = rules.currents_together(
        [*own, *(d.mean for d in hanging), *passed], because=because, title="Load of the regulator"
    )
    warming = load
    if hanging or behind:
        warming = rules.currents_together(
            [*own, *(d.warming for d in hanging), *(r.warming_input for r in behind)],
            because=because,
            title="Load, as its heat counts it",
        )
    worst = rules.currents_together(
        [*own, *(d.worst for d in hanging), *(r.worst_input for r in behind)],
        because=because,
        title="Load, everything stalled at once",
    )
    highest: Node = feed.full if feed is not None else _unnamed(spec)
    anything: Node = feed.any if feed is not None else _unnamed(spec)
    lowest: Node = feed.flat if feed is not None else _unnamed(spec)
    if spec.kind == "linear":
        heat = rules.linear_heat(highest, spec.output_v.leaf, warming, because=because)
        any_heat = rules.linear_heat(anything, spec.output_v.leaf, warming, because=because)
        drawn, warm, at_worst = (rules.linear_input(x, because=because) for x in (load, warming, worst))
    else:
        any_heat = heat = rules.switching_heat(spec.output_v.leaf, warming, spec.efficiency.leaf, because=because)
        drawn, warm, at_worst = (
            rules.switching_input(spec.output_v.leaf, x, spec.efficiency.leaf, lowest, because=because)
            for x in (load, warming, worst)
        )
    cooled = spec.sink_resistance.value is not None
    path = spec.sink_resistance.leaf if cooled else spec.bare_resistance.leaf
    air, limit = build.ambient.hot.leaf, spec.junction_limit.leaf
    fitted = [presence(spec.sink_resistance.leaf)]
    any_air = Varied(AIR, (air, build.ambient.cold.leaf), "Air")
    return RegulatorResult(
        id=spec.id,
        load=load,
        worst=worst,
        input_current=drawn,
        warming_input=warm,
        worst_input=at_worst,
        needs=_needs(spec),
        heat=heat,
        junction=rules.regulator_junction(air, heat, path, because=fitted, case="hottest air"),
        heat_allowed=rules.regulator_heat_allowed(limit, air, path, because=fitted, case="hottest air"),
        sink_needed=rules.sink_needed(limit, air, heat, case="hottest air"),
        any_heat=any_heat,
        any_heat_allowed=rules.regulator_heat_allowed(limit, any_air, path, because=fitted),
    )


def _needs(spec: Regulator) -> Figure:
    """The least that must come in: headroom above the output, or what a step-up starts from."""
    because = [spec.chosen("kind")]
    if spec.kind == "step-up":
        return rules.step_up_needs(spec.input_min.leaf, because=because)
    return rules.regulator_needs(spec.output_v.leaf, spec.dropout.leaf, because=because)


def _unnamed(spec: Regulator) -> Node:
    from ..algebra.nodes import Leaf
    from ..algebra.units import KINDS

    return Leaf(f"{spec.path}.source", "the regulator's source", KINDS["voltage"], None, origin="assumed")


def _source(
    build: Build, spec: Source, volts: SupplyWindow, demands: Sequence[Demand], regulators: tuple[RegulatorResult, ...]
) -> SourceResult:
    own = [d for d in demands if d.feed == spec.id]
    fed = {r.id for r in build.supply.regulators if r.source == spec.id}
    logic: list[Node] = [r.input_current for r in regulators if r.id in fed]
    if spec.lamp_a.value is not None:
        logic.append(spec.lamp_a.leaf)
    # A controller straight on the source: a draw that nobody gave is not known.
    logic += [c.draws.leaf for c in build.controllers if c.regulator == spec.id]
    logic += [t.leaf for t in build.small_on(spec.id) if t.value is not None]
    because = [build.supply.chosen("together"), presence(spec.lamp_a.leaf), *build.feeds_of_devices()]

    def sum_of(currents: list[Node], title: str) -> Figure:
        return rules.currents_together([*currents, *logic] or [NO_AMPERES], title=title, because=because)

    if build.supply.together == "yes":
        starting = sum_of([d.starting for d in own], "Current, all start at once")
        any_starting = sum_of([d.any_starting for d in own], "Current, all start at once")
    else:
        starting = _one_by_one(own, logic, because)
        any_starting = _any_one_by_one(own, logic, because)
    mean = sum_of([d.mean for d in own], "Mean current from the source")
    runtime = with_spares = None
    if spec.capacity.value is not None:
        charge: Node = spec.capacity.leaf
        if spec.packs.value not in (None, 1):
            charge = rules.charge_of_packs(charge, spec.packs.leaf)
        runtime = rules.runtime(
            charge, mean, spec.rated_hours.leaf, spec.peukert.leaf, because=[presence(spec.capacity.leaf)]
        )
        if spec.spare.value:
            with_spares = rules.with_spares(runtime, spec.spare.leaf)
    lamp = spec.lamp_a.leaf if spec.lamp_a.value is not None else None
    sunny = spec.solar_w.value is not None
    return SourceResult(
        id=spec.id,
        window=volts,
        working=sum_of([d.working for d in own], "Current, all at work"),
        starting=starting,
        mean=mean,
        runtime=runtime,
        with_spares=with_spares,
        lamp_resistor=rules.lamp_resistor(volts.nominal, lamp) if lamp is not None else None,
        lamp_heat=rules.lamp_heat(volts.full, lamp) if lamp is not None else None,
        sun=rules.solar_energy(spec.solar_w.leaf, spec.sun_for.leaf) if sunny else None,
        used=rules.used_energy(volts.nominal, mean, spec.used_for.leaf) if sunny else None,
        any_working=sum_of([d.any_working for d in own], "Current, all at work"),
        any_starting=any_starting,
    )


def _any_one_by_one(own: Sequence[Demand], logic: Sequence[Node], because: list[Leaf]) -> Figure:
    """The worst single start while the others work, from any supply."""
    worst: Figure | None = None
    for demand in own:
        others = [o.any_working for o in own if o is not demand]
        case = rules.currents_together(
            [demand.any_starting, *others, *logic], title="Current, the worst start", because=because
        )
        worst = case if worst is None else driver_laws.worst_of(worst, case, title="Current, the worst start")
    return worst if worst is not None else rules.currents_together(list(logic) or [NO_AMPERES], because=because)


def _one_by_one(own: Sequence[Demand], logic: Sequence[Node], because: list[Leaf]) -> Figure:
    """The worst single start while the others work."""
    cases = [
        rules.currents_together(
            [d.starting, *(o.working for o in own if o is not d), *logic],
            title="Current, the worst start",
            because=because,
        )
        for d in own
    ]
    known = [c for c in cases if c.value is not None]
    if known:
        return max(known, key=lambda c: c.value or 0.0)
    return cases[0] if cases else rules.currents_together(list(logic) or [NO_AMPERES], because=because)
