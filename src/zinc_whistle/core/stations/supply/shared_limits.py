"""Checks of sources and regulators with everything that hangs on them: what no drive can be judged for alone."""

from __future__ import annotations

from collections.abc import Sequence

from ...algebra.findings import Remedy
from ...algebra.limits import Check, claim, lower, upper
from ...algebra.nodes import Constant, Node, presence
from ...algebra.quantities import phrase
from ...cases.demand import Demand
from ...cases.shared_supply import RegulatorResult, SharedSupply, SourceResult
from ...cases.sources import SupplyWindow, charging, window
from ...laws import supply as rules
from ...model.build import Build
from ...model.supply import Regulator, Source
from . import controller_limits
from .compute import STATION

FUSE_SHARE = Constant(
    "75 %", 0.75, "fraction", "common practice, no source: a fuse carries 75 % of its rating for good"
)
USB_BUDGET = Constant("0.5 A", 0.5, "current", "common practice: a plain USB port's budget")
ONE_SERVO = Constant(
    "350 mA", 0.35, "current", "common practice, no source: one micro servo on a controller's regulator"
)
SEPARATE_ABOVE_V = 9.0
"""Common practice, no source: above about 9 V feed motor and logic separately."""


def checks(build: Build, shared: SharedSupply, demands: Sequence[Demand]) -> list[Check]:
    """What the checks say of every source and every regulator."""
    found: list[Check] = [
        *(x for s, r in zip(build.supply.sources, shared.sources, strict=True) for x in _source_checks(s, r, demands)),
        *(
            x
            for s, r in zip(build.supply.regulators, shared.regulators, strict=True)
            for x in (*_regulator_checks(build, s, r, demands, shared.source(s.source)), *_behind(build, s, r))
        ),
    ]
    found += controller_limits.checks(build)
    if build.supply.lead_in != "no":
        cut = build.supply.lead_in == "blocked"
        found.append(
            claim(
                "supply.back_feed",
                station=STATION,
                title="USB and own supply do not feed each other",
                holds=cut,
                remedy=None if cut else Remedy("Its supply wire is cut, or has a diode", "supply.lead_in", "blocked"),
                todo="With the programming lead in, one supply may feed back into the "
                "other: cut the lead's supply wire, or "
                "put a diode in it.",
                over="warn",
                where="supply.lead_in",
            )
        )
    return found


def advice(build: Build, shared: SharedSupply, demands: Sequence[Demand]) -> dict[str, list[str]]:
    """Shared or split, by source: a verdict first, then its reasons."""
    return {
        s.id: _advice(build, s, r.window, demands) for s, r in zip(build.supply.sources, shared.sources, strict=True)
    }


def _source_checks(spec: Source, result: SourceResult, demands: Sequence[Demand]) -> list[Check]:
    full, nominal, flat = (n.value for n in (result.window.full, result.window.nominal, result.window.flat))
    code = f"supply.{spec.id}"
    found: list[Check] = [
        claim(
            f"{code}.window",
            station=STATION,
            title="Full, nominal and flat are in order",
            holds=(full >= nominal >= flat) if full is not None and nominal is not None and flat is not None else None,
            todo="Full must be the highest and flat the lowest of the three.",
            where=f"{spec.path}.full_v",
            destructive=False,
            unknown=f"Not known yet: give {_gaps(full, nominal, flat)}.",
        ),
    ]
    found += _fuse(spec, result, code)
    found += _charged(spec, result, code)
    if spec.switch_dc.value is not None:
        found.append(
            upper(
                f"{code}.switch",
                station=STATION,
                title="Switch, its DC rating",
                stress=result.any_starting,
                bound=spec.switch_dc.leaf,
                todo="Take a switch for more direct current: an arc in DC does not go out by itself.",
                where=f"{spec.path}.switch_dc",
            )
        )
    if spec.kind != "battery" or spec.limit.value is not None:
        limit: Node = spec.limit.leaf if spec.limit.value is not None or spec.kind != "usb" else USB_BUDGET
        found.append(
            upper(
                f"{code}.limit",
                station=STATION,
                title="Current against what the source gives",
                stress=result.any_starting,
                bound=limit,
                todo="A USB port is no motor supply: give the drive a source of its own."
                if spec.kind == "usb"
                else "Take a stronger supply, start softer, or start the drives one by one.",
                where=f"{spec.path}.limit",
                destructive=False,
                because=[presence(spec.limit.leaf), spec.chosen("kind")],
            )
        )
    return found


def _fuse(spec: Source, result: SourceResult, code: str) -> list[Check]:
    """What the fuse carries at work; a battery without one is told what it gives into a short."""
    if spec.fuse.value is None:
        return [_unfused(spec, result, code)] if spec.kind == "battery" else []
    return [
        upper(
            f"{code}.fuse",
            station=STATION,
            title="Fuse, at work",
            stress=result.any_working,
            bound=rules.fuse_continuous(FUSE_SHARE, spec.fuse.leaf),
            todo="A fuse carries 75 % of its rating for good: take the next size, and check the wire behind it.",
            over="warn",
            where=f"{spec.path}.fuse",
            destructive=False,
        )
    ]


def _charged(spec: Source, result: SourceResult, code: str) -> list[Check]:
    """A charger that may stay on has cells that bear it; a panel puts in what a day takes."""
    found: list[Check] = []
    if charging(spec) is not None and spec.chemistry in ("alkaline", "9 v block"):
        found.append(
            claim(
                f"{code}.charger",
                station=STATION,
                title="Cells that may be charged",
                holds=False,
                todo="These cells are for single use: charged, they leak or burst. Take the charger away.",
                where=f"{spec.path}.charger",
                remedy=Remedy("No charger is on", f"{spec.path}.charger", "no"),
            )
        )
    if result.sun is not None and result.used is not None:
        found.append(
            upper(
                f"{code}.solar",
                station=STATION,
                title="Energy of a day against the panel's",
                stress=result.used,
                bound=result.sun,
                todo="It runs down day by day: a larger panel, a place in the sun, or fewer hours of use.",
                over="warn",
                where=f"{spec.path}.used_for",
                destructive=False,
            )
        )
    return found


def _unfused(spec: Source, result: SourceResult, code: str) -> Check:
    full, ohms = result.window.full.value, result.window.resistance.value
    short = f" Shorted, it gives about {phrase(full / ohms, 'current')}." if full and ohms else ""
    return claim(
        f"{code}.fused",
        station=STATION,
        title="A fuse at the source",
        holds=False,
        todo=f"Nothing opens when a wire chafes through: fit a fuse at the battery, no larger than the wire bears."
        f"{short}",
        over="warn",
        where=f"{spec.path}.fuse",
    )


def _of_which(build: Build, spec: Regulator, title: str) -> str:
    """A title that names the regulator where there are several."""
    return f"{title}: {spec.name}" if len(build.supply.regulators) > 1 and spec.name else title


def _regulator_checks(
    build: Build, spec: Regulator, result: RegulatorResult, demands: Sequence[Demand], feeding: SourceResult | None
) -> list[Check]:
    code = f"supply.{spec.id}"
    found: list[Check] = [
        upper(
            f"{code}.heat",
            station=STATION,
            title=_of_which(build, spec, "Heat in the regulator"),
            stress=result.any_heat,
            bound=result.any_heat_allowed,
            todo="Fit a heat sink, take a switching regulator, or feed it from a lower voltage.",
            where=f"{spec.path}.sink_resistance",
        ),
    ]
    if spec.input_max.value is not None:
        feed = next((s for s in build.supply.sources if s.id == spec.source), None)
        if feed is not None:
            found.append(
                upper(
                    f"{code}.input",
                    station=STATION,
                    title=_of_which(build, spec, "Input of the regulator"),
                    stress=window(feed).any,
                    bound=spec.input_max.leaf,
                    todo="Take a regulator for a higher input.",
                    where=f"{spec.path}.input_max",
                )
            )
    if feeding is not None and spec.kind == "step-up":
        found.append(
            upper(
                f"{code}.step_up",
                station=STATION,
                title="Source below what the step-up makes",
                stress=feeding.window.any,
                bound=spec.output_v.leaf,
                todo="It only lifts: a source above its output comes straight through. Take a step-down, or one that "
                "does both.",
                where=f"{spec.path}.kind",
            )
        )
    if feeding is not None:
        found.append(
            lower(
                f"{code}.input_low",
                station=STATION,
                title=_of_which(build, spec, "Input of the regulator, lowest"),
                stress=rules.sagged_further(
                    feeding.window.any, feeding.any_starting, feeding.window.resistance, title="Source, at its lowest"
                ),
                bound=result.needs,
                todo="Below its lowest input it stops, also when everything starts on a flat source. Take more "
                "volts, or a converter that starts from less."
                if spec.kind == "step-up"
                else "It cannot lift: its output and its headroom must come in, also when everything starts on a flat "
                "source. Take more volts, a regulator that drops less, or a step-up converter.",
                where=f"{spec.path}.source",
                destructive=False,
            )
        )
    servos = [d for d in demands if d.feed == spec.id]
    if servos or spec.limit.value is not None:
        found.append(
            upper(
                f"{code}.limit",
                station=STATION,
                title="Rail with every servo stalled at once" if servos else "Load of the rail",
                stress=result.worst,
                bound=spec.limit.leaf,
                todo=(
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
            upper(
                f"{code}.controller",
                station=STATION,
                title="Servos on the controller's own regulator",
                stress=most,
                bound=ONE_SERVO,
                todo=(
                    "A controller's own regulator feeds one micro servo at the most: "
                    "give the servos a rail of their own."
                ),
                where=f"{spec.path}.source",
            )
        )
    return found


def _behind(build: Build, spec: Regulator, result: RegulatorResult) -> list[Check]:
    """A regulator behind another one: what the first holds is enough for it, and not too much."""
    before = next((r for r in build.supply.regulators if r.id == spec.source), None)
    if before is None:
        return []
    code, volts = f"supply.{spec.id}", before.output_v.leaf
    found: list[Check] = [
        lower(
            f"{code}.input_low",
            station=STATION,
            title="Input of the regulator, lowest",
            stress=volts,
            bound=result.needs,
            todo=f"What {before.name or 'the regulator before it'} makes does not leave it its headroom: feed it from "
            "higher up, or take one that drops less.",
            where=f"{spec.path}.source",
            destructive=False,
        )
    ]
    if spec.kind == "step-up":
        found.append(
            upper(
                f"{code}.step_up",
                station=STATION,
                title="Input below what the step-up makes",
                stress=volts,
                bound=spec.output_v.leaf,
                todo="It only lifts: what lies above its output comes straight through.",
                where=f"{spec.path}.kind",
            )
        )
    if spec.input_max.value is not None:
        found.append(
            upper(
                f"{code}.input",
                station=STATION,
                title="Input of the regulator",
                stress=volts,
                bound=spec.input_max.leaf,
                todo="Take a regulator for a higher input.",
                where=f"{spec.path}.input_max",
            )
        )
    return found


def _gaps(full: float | None, nominal: float | None, flat: float | None) -> str:
    names = [n for n, v in (("full", full), ("nominal", nominal), ("flat", flat)) if v is None]
    return " and ".join(names) + " voltage"


def _advice(build: Build, spec: Source, volts: SupplyWindow, demands: Sequence[Demand]) -> list[str]:
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
            f"A linear regulator from {phrase(full, 'voltage')} burns what it drops; above about 9 V a separate or "
            "switching supply for the logic runs cooler."
        )
    if spec.kind != "battery":
        reasons.append("An adaptor folds back when a motor starts, and takes the logic down with it.")
    if len(own) > 1 and build.supply.together == "yes":
        reasons.append(f"{len(own)} drives may start together on it.")
    if reasons:
        return ["Split is the quieter choice here.", *reasons]
    if full is None or volts.resistance.value is None:
        return ["Shared or split is not known yet: give the source's volts and resistance."]
    return [
        "One shared supply will do here, if the logic's checks at start and in a jam hold.",
        "A battery of these volts suits the logic's regulator, and no drives start together on it.",
    ]
