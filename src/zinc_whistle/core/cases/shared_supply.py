"""Sources and regulators with everything that hangs on them: what no drive can be judged for alone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..algebra.nodes import Figure, Leaf, Node, Varied, presence
from ..laws import driver as driver_laws
from ..laws import supply as rules
from ..laws.nothing import NO_AMPERES
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
    regulators = tuple(_regulator(build, r, windows, demands) for r in build.supply.regulators)
    sources = tuple(_source(build, s, windows[s.id], demands, regulators) for s in build.supply.sources)
    return SharedSupply(sources, regulators)


def _regulator(
    build: Build, spec: Regulator, windows: dict[str, SupplyWindow], demands: Sequence[Demand]
) -> RegulatorResult:
    """Every load of a regulator summed, and the heat on the hottest day from the fullest supply."""
    boards = [c for c in build.controllers if c.regulator == spec.id]
    small = [c.current for c in spec.consumers] + [d.current for c in boards for d in c.devices]
    own = [spec.load.leaf, *(current.leaf for current in small if current.value is not None)]
    hanging = [d for d in demands if d.feed == spec.id]
    because = [spec.members("consumers"), spec.chosen("kind"), *(c.members("devices") for c in boards)]
    because += [c.chosen("regulator") for c in build.controllers]
    load = rules.currents_together([*own, *(d.mean for d in hanging)], because=because, title="Load of the regulator")
    worst = rules.currents_together(
        [*own, *(d.worst for d in hanging)], because=because, title="Load, everything stalled at once"
    )
    feed = windows.get(spec.source)
    highest: Node = feed.full if feed is not None else _unnamed(spec)
    anything: Node = feed.any if feed is not None else _unnamed(spec)
    lowest: Node = feed.flat if feed is not None else _unnamed(spec)
    if spec.kind == "linear":
        heat = rules.linear_heat(highest, spec.output_v.leaf, load, because=because)
        any_heat = rules.linear_heat(anything, spec.output_v.leaf, load, because=because)
        drawn = rules.linear_input(load, because=because)
    else:
        any_heat = heat = rules.switching_heat(spec.output_v.leaf, load, spec.efficiency.leaf, because=because)
        drawn = rules.switching_input(spec.output_v.leaf, load, spec.efficiency.leaf, lowest, because=because)
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
    logic = [r.input_current for r in regulators if r.id in fed]
    because = [build.supply.chosen("together")]

    def sum_of(currents: list[Node], title: str) -> Figure:
        return rules.currents_together([*currents, *logic] or [NO_AMPERES], title=title, because=because)

    if build.supply.together == "yes":
        starting = sum_of([d.starting for d in own], "Current, all start at once")
        any_starting = sum_of([d.any_starting for d in own], "Current, all start at once")
    else:
        starting = _one_by_one(own, logic, because)
        any_starting = _any_one_by_one(own, logic, because)
    mean = sum_of([d.mean for d in own], "Mean current from the source")
    runtime = None
    if spec.capacity.value is not None:
        runtime = rules.runtime(
            spec.capacity.leaf, mean, spec.rated_hours.leaf, spec.peukert.leaf, because=[presence(spec.capacity.leaf)]
        )
    return SourceResult(
        id=spec.id,
        window=volts,
        working=sum_of([d.working for d in own], "Current, all at work"),
        starting=starting,
        mean=mean,
        runtime=runtime,
        any_working=sum_of([d.any_working for d in own], "Current, all at work"),
        any_starting=any_starting,
    )


def _any_one_by_one(own: Sequence[Demand], logic: list[Figure], because: list[Leaf]) -> Figure:
    """The worst single start while the others work, from any supply."""
    worst: Figure | None = None
    for demand in own:
        others = [o.any_working for o in own if o is not demand]
        case = rules.currents_together(
            [demand.any_starting, *others, *logic], title="Current, the worst start", because=because
        )
        worst = case if worst is None else driver_laws.worst_of(worst, case, title="Current, the worst start")
    return worst if worst is not None else rules.currents_together(logic or [NO_AMPERES], because=because)


def _one_by_one(own: Sequence[Demand], logic: list[Figure], because: list[Leaf]) -> Figure:
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
    return cases[0] if cases else rules.currents_together(logic or [NO_AMPERES], because=because)
