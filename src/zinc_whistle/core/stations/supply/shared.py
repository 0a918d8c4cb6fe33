"""Sources and regulators with everything that hangs on them: what no drive can be judged for alone."""

from __future__ import annotations

from dataclasses import dataclass, field

from ...algebra import findings as f
from ...algebra.findings import Finding
from ...algebra.working import Constant, Figure, Node, presence
from ...cases.demand import Demand
from ...cases.sources import Window, window
from ...laws import supply as rules
from ...model.build import Build
from ...model.supply import Regulator, Source

STATION = "supply"
FUSE_SHARE = Constant(
    "75 %", 0.75, "fraction", "common practice, no source: a fuse carries 75 % of its rating for good"
)
USB_BUDGET = Constant("0.5 A", 0.5, "current", "common practice: a plain USB port's budget")
ONE_SERVO = Constant(
    "350 mA", 0.35, "current", "common practice, no source: one micro servo on a controller's regulator"
)
SEPARATE_ABOVE_V = 9.0
"""Common practice, no source: above about 9 V feed motor and logic separately."""


@dataclass(frozen=True, slots=True)
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


@dataclass(frozen=True, slots=True)
class SourceResult:
    """One source with every drive and regulator on it."""

    id: str
    window: Window
    working: Figure
    starting: Figure
    mean: Figure
    runtime: Figure | None


@dataclass(frozen=True, slots=True)
class SharedSupply:
    """The whole supply."""

    sources: tuple[SourceResult, ...]
    regulators: tuple[RegulatorResult, ...]
    findings: tuple[Finding, ...] = ()
    advice: dict[str, list[str]] = field(default_factory=dict)
    """Shared or split, by source: a verdict first, then its reasons."""

    def regulator(self, id: str) -> RegulatorResult | None:
        """The regulator of that id."""
        return next((r for r in self.regulators if r.id == id), None)

    def source(self, id: str) -> SourceResult | None:
        """The source of that id."""
        return next((s for s in self.sources if s.id == id), None)


def compute(build: Build, demands: list[Demand]) -> SharedSupply:
    """Every source and regulator with all demands on it, and what the checks say."""
    windows = {s.id: window(s) for s in build.supply.sources}
    regulators = tuple(_regulator(build, r, windows, demands) for r in build.supply.regulators)
    sources = tuple(_source(build, s, windows[s.id], demands, regulators) for s in build.supply.sources)
    found = [
        *(x for s, r in zip(build.supply.sources, sources, strict=True) for x in _source_checks(build, s, r, demands)),
        *(
            x
            for s, r in zip(build.supply.regulators, regulators, strict=True)
            for x in _regulator_checks(build, s, r, demands)
        ),
    ]
    if build.supply.lead_in == "yes":
        found.append(
            f.yes_no(
                "supply.back_feed",
                STATION,
                "USB and own supply do not feed each other",
                False,
                "With the programming lead in, one supply may feed back into the other: "
                "cut the lead's supply wire, or put "
                "a diode in it.",
                over="warn",
                where="supply.lead_in",
            )
        )
    advice = {s.id: _advice(build, s, windows[s.id], demands) for s in build.supply.sources}
    return SharedSupply(sources, regulators, tuple(found), advice)


def _regulator(build: Build, spec: Regulator, windows: dict[str, Window], demands: list[Demand]) -> RegulatorResult:
    """Every load of a regulator summed, and the heat on the hottest day from the fullest supply."""
    own = [spec.load.leaf, *(c.current.leaf for c in spec.consumers if c.current.value is not None)]
    hanging = [d for d in demands if d.feed == spec.id]
    because = [spec.members("consumers"), spec.chosen("kind")]
    load = rules.currents_together([*own, *(d.mean for d in hanging)], because=because, title="Load of the regulator")
    worst = rules.currents_together(
        [*own, *(d.worst for d in hanging)], because=because, title="Load, everything stalled at once"
    )
    feed = windows.get(spec.source)
    highest: Node = feed.full if feed is not None else _unnamed(spec)
    lowest: Node = feed.flat if feed is not None else _unnamed(spec)
    if spec.kind == "linear":
        heat = rules.linear_heat(highest, spec.output_v.leaf, load, because=because)
        drawn = rules.linear_input(load, because=because)
    else:
        heat = rules.switching_heat(spec.output_v.leaf, load, spec.efficiency.leaf, because=because)
        drawn = rules.switching_input(spec.output_v.leaf, load, spec.efficiency.leaf, lowest, because=because)
    cooled = spec.sink_resistance.value is not None
    path = spec.sink_resistance.leaf if cooled else spec.bare_resistance.leaf
    air, limit = build.ambient.hot.leaf, spec.junction_limit.leaf
    fitted = [presence(spec.sink_resistance.leaf)]
    return RegulatorResult(
        spec.id,
        load,
        worst,
        drawn,
        rules.regulator_needs(spec.output_v.leaf, spec.dropout.leaf),
        heat,
        rules.regulator_junction(air, heat, path, because=fitted, case="hottest air"),
        rules.regulator_heat_allowed(limit, air, path, because=fitted, case="hottest air"),
        rules.sink_needed(limit, air, heat, case="hottest air"),
    )


def _unnamed(spec: Regulator) -> Node:
    from ...algebra.units import KINDS
    from ...algebra.working import Leaf

    return Leaf(f"{spec.path}.source", "the regulator's source", KINDS["voltage"], None, origin="assumed")


def _source(
    build: Build, spec: Source, volts: Window, demands: list[Demand], regulators: tuple[RegulatorResult, ...]
) -> SourceResult:
    own = [d for d in demands if d.feed == spec.id]
    fed = {r.id for r in build.supply.regulators if r.source == spec.id}
    logic = [r.input_current for r in regulators if r.id in fed]
    because = [build.supply.chosen("together")]

    def sum_of(currents: list[Node], title: str) -> Figure:
        return rules.currents_together([*currents, *logic] or [rules.NO_CURRENT], title=title, because=because)

    if build.supply.together == "yes":
        starting = sum_of([d.starting for d in own], "Current, all start at once")
    else:
        starting = _one_by_one(own, logic, because)
    mean = sum_of([d.mean for d in own], "Mean current from the source")
    runtime = None
    if spec.capacity.value is not None:
        runtime = rules.runtime(
            spec.capacity.leaf, mean, spec.rated_hours.leaf, spec.peukert.leaf, because=[presence(spec.capacity.leaf)]
        )
    return SourceResult(
        spec.id, volts, sum_of([d.working for d in own], "Current, all at work"), starting, mean, runtime
    )


def _one_by_one(own: list[Demand], logic: list[Figure], because: list[Node]) -> Figure:
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
    return cases[0] if cases else rules.currents_together(logic or [rules.NO_CURRENT], because=because)


def _source_checks(build: Build, spec: Source, result: SourceResult, demands: list[Demand]) -> list[Finding]:
    own = [d for d in demands if d.feed == spec.id]
    full, nominal, flat = (n.value for n in (result.window.full, result.window.nominal, result.window.flat))
    known = full is not None and nominal is not None and flat is not None
    code = f"supply.{spec.id}"
    found = [
        f.yes_no(
            f"{code}.window",
            STATION,
            "Full, nominal and flat are in order",
            (full >= nominal >= flat) if known else None,
            "Full must be the highest and flat the lowest of the three.",
            where=f"{spec.path}.full_v",
            destructive=False,
            unknown=f"Not known yet: give {_gaps(full, nominal, flat)}.",
        ),
        f.upper(
            f"{code}.fuse",
            STATION,
            "Fuse, at work",
            result.working,
            rules.fuse_continuous(FUSE_SHARE, spec.fuse.leaf),
            "A fuse carries 75 % of its rating for good: take the next size, and check the wire behind it.",
            over="warn",
            where=f"{spec.path}.fuse",
            destructive=False,
        ),
    ]
    if spec.switch_dc.value is not None:
        found.append(
            f.upper(
                f"{code}.switch",
                STATION,
                "Switch, its DC rating",
                result.starting,
                spec.switch_dc.leaf,
                "Take a switch for more direct current: an arc in DC does not go out by itself.",
                where=f"{spec.path}.switch_dc",
            )
        )
    if spec.kind != "battery":
        limit: Node = spec.limit.leaf if spec.limit.value is not None or spec.kind != "usb" else USB_BUDGET
        found.append(
            f.upper(
                f"{code}.limit",
                STATION,
                "Current against what the source gives",
                result.starting,
                limit,
                "Take a stronger supply, start softer, or start the drives one by one."
                if spec.kind == "adaptor"
                else "A USB port is no motor supply: give the drive a source of its own.",
                where=f"{spec.path}.limit",
                destructive=False,
                because=[presence(spec.limit.leaf), spec.chosen("kind")],
            )
        )
    if spec.chemistry == "9 v block" and own:
        found.append(
            f.yes_no(
                f"{code}.block",
                STATION,
                "The battery can start a motor",
                False,
                "A 9 V block has ohms inside: its volts fall away when the motor starts. Take a pack of larger cells.",
                where=f"{spec.path}.chemistry",
                destructive=False,
            )
        )
    return found


def _regulator_checks(build: Build, spec: Regulator, result: RegulatorResult, demands: list[Demand]) -> list[Finding]:
    code = f"supply.{spec.id}"
    found = [
        f.upper(
            f"{code}.heat",
            STATION,
            f"Heat in {spec.name or 'the regulator'}",
            result.heat,
            result.heat_allowed,
            "Fit a heat sink, take a switching regulator, or feed it from a lower voltage.",
            where=f"{spec.path}.sink_resistance",
        ),
    ]
    if spec.input_max.value is not None:
        feed = next((s for s in build.supply.sources if s.id == spec.source), None)
        if feed is not None:
            found.append(
                f.upper(
                    f"{code}.input",
                    STATION,
                    "Input of the regulator",
                    window(feed).full,
                    spec.input_max.leaf,
                    "Take a regulator for a higher input.",
                    where=f"{spec.path}.input_max",
                )
            )
    servos = [d for d in demands if d.feed == spec.id]
    if servos or spec.limit.value is not None:
        found.append(
            f.upper(
                f"{code}.limit",
                STATION,
                "Rail with every servo stalled at once" if servos else "Load of the rail",
                result.worst,
                spec.limit.leaf,
                (
                    "Give the servos a stronger rail of their own, or fewer on one: they "
                    "stall together when something jams."
                )
                if servos
                else "Take a stronger regulator, or hang less on it.",
                where=f"{spec.path}.limit",
                destructive=False,
            )
        )
    if servos and any(c.regulator == spec.id for c in build.controllers):
        most = servos[0].worst if len(servos) == 1 else rules.currents_together([d.worst for d in servos])
        found.append(
            f.upper(
                f"{code}.controller",
                STATION,
                "Servos on the controller's own regulator",
                most,
                ONE_SERVO,
                "A controller's own regulator feeds one micro servo at the most: give the servos a rail of their own.",
                where=f"{spec.path}.source",
            )
        )
    return found


def _gaps(full: float | None, nominal: float | None, flat: float | None) -> str:
    names = [n for n, v in (("full", full), ("nominal", nominal), ("flat", flat)) if v is None]
    return " and ".join(names) + " voltage"


def _advice(build: Build, spec: Source, volts: Window, demands: list[Demand]) -> list[str]:
    """Shared or split, with the reasons: a verdict, then why."""
    own = [d for d in demands if d.feed == spec.id]
    logic = [r for r in build.supply.regulators if r.source == spec.id]
    if not own or not logic:
        return []
    reasons = []
    full = volts.full.value
    linear = [r for r in logic if r.kind == "linear"]
    if linear and full is not None and full > SEPARATE_ABOVE_V:
        reasons.append(
            f"A linear regulator from {full:.3g} V burns what it drops; above about 9 V a separate or switching "
            "supply for the logic runs cooler."
        )
    if spec.kind != "battery":
        reasons.append("An adaptor folds back when a motor starts, and takes the logic down with it.")
    if len(own) > 1 and build.supply.together == "yes":
        reasons.append(f"{len(own)} drives may start together on it.")
    verdict = "Split is the quieter choice here." if reasons else "One shared supply will do here."
    if not reasons:
        reasons.append("The source is stiff, and its volts suit the logic's regulator.")
    return [verdict, *reasons]
