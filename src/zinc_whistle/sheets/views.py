"""Figures, findings and workings as a reader sees them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from ..core.algebra.doubt import NAMED_GAPS, asked_for, contributions, doubt_of, weakest_origin, why_unknown
from ..core.algebra.findings import Finding, Remedy
from ..core.algebra.nodes import Constant, Figure, Leaf, Node, symbol_text
from ..core.algebra.quantities import phrase, pick_unit, show, show_doubt
from ..core.algebra.rules import Quotient
from ..core.algebra.units import UNITS
from ..core.assess import Assessment, find_node
from ..core.model.given import Origin, Spec


@dataclass(frozen=True, slots=True, kw_only=True)
class GapView:
    """A field that a sentence asks for, by the name that the sentence calls it."""

    title: str
    path: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FigureView:
    """One figure in people's units; ``number`` is empty and ``reason`` says why where it has no value."""

    id: str
    title: str
    symbol: str
    case: str
    number: str
    unit: str
    doubt: str
    origin: str
    reason: str
    value: float | None
    gaps: list[GapView] = field(default_factory=list)
    """The fields that ``reason`` asks for."""


CheckState = Literal["stop", "warn", "tight", "holds", "unknown"]


@dataclass(frozen=True, slots=True, kw_only=True)
class RemedyView:
    """A change that a button can make: what it does, where, the text to put there, and what it changes, for a
    preview."""

    label: str
    path: str
    text: str
    preview: str
    origin: Origin | None
    """What the field's origin is then; None where it is a choice and has none."""


@dataclass(frozen=True, slots=True, kw_only=True)
class FindingView:
    """One check, as it stands."""

    key: str
    code: str
    station: str
    drive: str
    title: str
    todo: str
    state: CheckState
    use: float | None
    use_text: str
    detail: str
    figure: str
    where: str
    gaps: list[GapView] = field(default_factory=list)
    """The fields that ``detail`` asks for."""
    remedy: RemedyView | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class InputView:
    """What a figure follows from: a given, another figure or a constant."""

    id: str
    title: str
    symbol: str
    text: str
    origin: str
    kind: str
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class UsedInView:
    """Where a figure is used next."""

    id: str
    title: str
    kind: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ShareView:
    """One given's share of a figure's doubt."""

    title: str
    path: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WorkingView:
    """The working of one figure."""

    figure: FigureView
    formula: str
    numbers: str
    source: str
    inputs: list[InputView]
    because: list[str]
    doubts: list[ShareView]
    used_in: list[UsedInView]


def figure_view(node: Node, unit: str = "", title: str = "") -> FigureView:
    """A figure or a given for the screen; in ``unit`` or the one in which it reads best."""
    label, id = title or node.title, node.id if isinstance(node, Figure | Leaf) else ""
    case = node.case if isinstance(node, Figure) else ""
    if node.value is None:
        return FigureView(
            id=id,
            title=label,
            symbol=node.symbol,
            case=case,
            number="",
            unit="",
            doubt="",
            origin="",
            reason=why_unknown(node),
            value=None,
            gaps=_gaps(node),
        )
    shown_unit = unit or (node.unit if isinstance(node, Leaf) else "") or _unit_of(node)
    doubt = doubt_of(node)
    number, symbol = show(node.value, node.kind.name, shown_unit, doubt.standard)
    spread = ""
    if doubt.standard:
        spread = ("at least " if doubt.at_least else "") + show_doubt(doubt.standard, shown_unit)
    return FigureView(
        id=id,
        title=label,
        symbol=node.symbol,
        case=case,
        number=number,
        unit=symbol,
        doubt=spread,
        origin=weakest_origin(node),
        reason="",
        value=(node.value - UNITS[shown_unit].offset) / UNITS[shown_unit].factor,
    )


def _gaps(node: Any) -> list[GapView]:
    """The fields that ``why_unknown`` names; what is no field of the build (a shelf part's) leads nowhere."""
    return [GapView(title=title, path=path) for title, path in list(asked_for(node).items())[:NAMED_GAPS] if path]


def _unit_of(node: Any) -> str:
    return pick_unit(node.value, node.kind.name).symbol


def text_of(node: Any) -> str:
    """A node's value in words, or a dash."""
    if isinstance(node, Constant):
        return node.symbol
    if node is None or node.value is None:
        return "—"
    unit = node.unit if isinstance(node, Leaf) else ""
    return phrase(node.value, node.kind.name, unit)


def finding_view(finding: Finding, build: Any = None) -> FindingView:
    """A finding for the screen; with the build its remedy carries a preview of what it changes."""
    used = finding.used
    state: CheckState = "holds"
    if finding.verdict == "exceeded":
        state = "stop" if finding.stops else "warn"
    elif finding.verdict != "holds":
        state = finding.verdict
    detail = finding.unknown
    if finding.stress is not None and not finding.unknown:
        word = "at least" if _is_lower(finding) else "of"
        detail = f"{text_of(finding.stress)} {word} {text_of(finding.limit)}"
        if _is_lower(finding):
            detail = f"{text_of(finding.stress)}, needs {text_of(finding.limit)}"
        if finding.corner:
            detail += f": {finding.corner}"
    return FindingView(
        key=finding.key,
        code=finding.code,
        station=finding.station,
        drive=finding.drive,
        title=finding.title,
        todo=finding.todo,
        state=state,
        use=used,
        use_text="" if used is None else _percent(used),
        detail=detail,
        figure=finding.utilisation.id if finding.utilisation is not None else "",
        where=finding.where,
        gaps=_gaps(finding.utilisation) if finding.unknown and finding.utilisation is not None else [],
        remedy=remedy_view(finding.remedy, build)
        if finding.remedy and build is not None and state in ("stop", "warn", "unknown")
        else None,
    )


def remedy_view(remedy: Remedy, build: Any) -> RemedyView | None:
    """A remedy with the field's name, what stands there and what would; None if the field is not in the build."""
    owner, name = build, ""
    steps = remedy.path.split(".")
    for step in steps[:-1]:
        owner = (
            next((i for i in owner if i.id == step), None) if isinstance(owner, list) else getattr(owner, step, None)
        )
    name = steps[-1]
    if not isinstance(owner, Spec) or name not in type(owner).model_fields:
        return None
    meta, value = owner.meta(name), getattr(owner, name)
    if meta.choose is not None:
        options = meta.choose.options
        words = f"{meta.choose.label}: {options.get(value, value)} → {options.get(remedy.text, remedy.text)}"
        return RemedyView(label=remedy.label, path=remedy.path, text=remedy.text, preview=words, origin=None)
    if meta.ask is not None:
        return RemedyView(
            label=remedy.label,
            path=remedy.path,
            text=remedy.text,
            preview=f"{meta.ask.label}: {value.text or '—'} → {remedy.text}",
            origin=remedy.origin,
        )
    return None


def _percent(used: float) -> str:
    if used < 0 or used > 9.99:
        return "far over"
    return f"{used * 100:.0f}\u202f%"


def _is_lower(finding: Finding) -> bool:
    law = finding.utilisation.law if finding.utilisation is not None else None
    return isinstance(law, Quotient) and law.names[0] == "limit"


def working_view(assessment: Assessment, id: str) -> WorkingView | None:
    """The working of the figure or given with that id; None if there is none."""
    node = find_node(assessment, id)
    if node is None:
        return None
    figures, findings = assessment.used_in(node)
    links = [UsedInView(id=x.id, title=x.title, kind="figure") for x in figures if x.id]
    links += [
        UsedInView(id=x.utilisation.id, title=x.title, kind="check")
        for x in findings
        if x.utilisation is not None and x.utilisation.id
    ]
    if isinstance(node, Leaf):
        return WorkingView(
            figure=figure_view(node),
            formula="",
            numbers="",
            source=f"given: {node.origin}",
            inputs=[],
            because=[],
            doubts=[],
            used_in=links,
        )
    names = dict(zip(node.law.names, node.inputs, strict=True))
    formula = node.law.formula(symbol_text)
    numbers = (
        node.law.formula(lambda n: _numbers(names[n]) if n in names else symbol_text(n))
        if node.value is not None
        else ""
    )
    shares = [
        ShareView(
            title=leaf.title, path=leaf.id, text=show_doubt(part, _unit_of(node)) + " " + _unit_of(node).strip("1")
        )
        for leaf, part in contributions(node)[:6]
    ]
    because = [f"{leaf.title}: {leaf.choice}" for leaf in node.because if leaf.choice]
    return WorkingView(
        figure=figure_view(node),
        formula=f"{node.law.symbol} = {formula}",
        numbers=numbers,
        source=node.law.source,
        inputs=[view for name, given in names.items() for view in _inputs(id, name, symbol_text(name), given)],
        because=because,
        doubts=shares,
        used_in=links,
    )


def _numbers(given: Any) -> str:
    if isinstance(given, Sequence):
        shown = ", ".join(text_of(item) for item in given[:4])
        return f"({shown}{', …' if len(given) > 4 else ''})"
    text = text_of(given)
    return f"({text})" if text.startswith("−") else text


def _inputs(parent: str, name: str, symbol: str, given: Any) -> list[InputView]:
    if isinstance(given, Sequence):
        return [
            view for i, item in enumerate(given) for view in _inputs(parent, f"{name}:{i}", f"{symbol}_{i + 1}", item)
        ]
    if isinstance(given, Constant):
        return [
            InputView(
                id="",
                title=given.source or "a constant",
                symbol=symbol,
                text=given.symbol,
                origin="chosen",
                kind="constant",
                note=given.source,
            )
        ]
    kind = "given" if isinstance(given, Leaf) else "figure"
    origin = given.origin if isinstance(given, Leaf) else weakest_origin(given)
    return [
        InputView(
            id=given.id or f"{parent}/{name}",
            title=given.title,
            symbol=symbol,
            text=text_of(given),
            origin=origin,
            kind=kind,
            note="",
        )
    ]
