"""What a station asks for: every field of its specs, described so that the screen only has to lay it out."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Literal, get_args

from annotated_types import MaxLen, MinLen
from pydantic.fields import FieldInfo

from ..core.algebra.quantities import show_doubt
from ..core.assess import Assessment, standing_basis
from ..core.cases import typical
from ..core.model.driver import DriverPart
from ..core.model.given import Given, Item, Origin, Spec


@dataclass(frozen=True, slots=True, kw_only=True)
class Option:
    """One of a few named things."""

    value: str
    label: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Field:
    """One field.

    ``control`` is quantity, choice, text, variant (its options carry a blank each), slot (a place for a part of the
    classes in its options) or copy (a part's figures go into the fields that ``blanks`` names).
    """

    path: str
    label: str
    control: Literal["quantity", "choice", "text", "variant", "slot", "copy"]
    text: str
    unit: str = ""
    help: str = ""
    origin: Origin | Literal[""] = ""
    doubt: str = ""
    error: str = ""
    note: str = ""
    meter: str = ""
    optional: bool = False
    value: float | None = None
    options: list[Option] = field(default_factory=list)
    blanks: dict[str, Any] = field(default_factory=dict)
    typed: Origin | None = None
    """The origin of a text that is typed here: what nobody had thought of becomes an assumption."""
    stale: list[str] = field(default_factory=list)
    basis: dict[str, str] | None = None
    keep: list[str] = field(default_factory=list)
    """Of an item that becomes one of another kind: the fields that stay as they are."""
    most: int = 80
    """How many characters a line of text may have."""
    typical: str = ""
    """What a typical thing of its class has here, where nothing is given yet."""
    aside: bool = False
    """Stands as it began, or is left empty and need not be given: folded until somebody wants it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class FieldRow:
    """One item of a list."""

    id: str
    fields: list[Field]


@dataclass(frozen=True, slots=True, kw_only=True)
class Section:
    """A group of fields, or a list of items of which ``blank`` is a new one (the screen gives it its id)."""

    title: str
    help: str
    fields: list[Field]
    path: str = ""
    rows: list[FieldRow] | None = None
    blank: dict[str, Any] | None = None
    columns: bool = False
    least: int = 0
    """How many items a list must keep."""
    removable: bool = False
    editor: Literal["", "controller"] = ""
    """What opens in a window of its own, for what is no plain field."""


KEPT = ("sources",)
"""Lists that are never empty: nothing runs without a source."""


class Describer:
    """Describes specs of one assessment."""

    def __init__(self, assessment: Assessment) -> None:
        self.build = assessment.build
        self.errors = assessment.bound.errors
        self.titles = {path: ask.label for path, ask in assessment.bound.asks.items()}
        self.stale: dict[str, list[str]] = {}
        self.bases: dict[str, dict[str, str]] = {}
        for drive in assessment.drives.values():
            for path, node in drive.stands_on().items():
                self.bases[path] = standing_basis(node, path)
            for path, gone in drive.stale_givens.items():
                self.stale[path] = [self.name_of(p) for p in gone]

    def name_of(self, path: str) -> str:
        """A path in words: the label of its field."""
        return self.titles.get(path, path.rsplit(".", 1)[-1].replace("_", " "))

    def section(
        self, spec: Spec, title: str, names: Sequence[str] = (), help: str = "", *, idle: Sequence[str] = ()
    ) -> Section:
        """The plain fields of a spec (all, or those named, in that order). What is ``idle`` means nothing as things
        stand, and is left out unless somebody has given something there."""
        wanted = names or list(type(spec).model_fields)
        shown = [name for name in wanted if name not in idle or not _untouched(spec, name)]
        found = [f for name in shown if (f := self.one(spec, name)) is not None]
        return Section(title=title, help=help, fields=found, path=spec.path)

    def one(self, spec: Spec, name: str) -> Field | None:
        """One field, or None for what is not a plain field."""
        meta, value, path = spec.meta(name), getattr(spec, name), f"{spec.path}.{name}".lstrip(".")
        info = type(spec).model_fields[name]
        if meta.ask is not None:
            return replace(self._quantity(value, meta.ask, path), aside=_aside(spec, name))
        if meta.choose is not None:
            options = [Option(value=v, label=label) for v, label in meta.choose.options.items()]
            return Field(
                path=path,
                label=meta.choose.label,
                control="choice",
                text=str(value),
                help=meta.choose.help,
                options=options,
                aside=_aside(spec, name),
            )
        if isinstance(value, str) and info.description and name not in ("format", "id", "kind"):
            most = next((m.max_length for m in info.metadata if isinstance(m, MaxLen)), 80)
            aside = _aside(spec, name)
            return Field(path=path, label=info.description, control="text", text=value, most=most, aside=aside)
        return None

    def _quantity(self, given: Given, ask: Any, path: str) -> Field:
        leaf = given.leaf
        doubt = f"{show_doubt(leaf.doubt, ask.unit)} {ask.unit}".rstrip("1 ") if leaf.doubt else ""
        return Field(
            path=path,
            label=ask.label,
            control="quantity",
            text=given.text,
            unit="" if ask.unit == "1" else ask.unit,
            help=ask.help,
            origin=given.origin,
            typed="assumed" if given.origin == "default" else given.origin,
            doubt=doubt,
            error=self.errors.get(path, ""),
            note=given.note,
            meter=given.meter,
            optional=ask.optional,
            value=given.value,
            stale=self.stale.get(path, []),
            basis=self.bases.get(path),
        )

    def link(self, spec: Spec, name: str, label: str, options: Sequence[Any], none: str = "None yet") -> Field:
        """A field that names another part of the build; ``none`` is what it means to name none."""
        found = [Option(value="", label=none), *(Option(value=o.id, label=o.name or o.id) for o in options)]
        return Field(
            path=f"{spec.path}.{name}".lstrip("."),
            label=label,
            control="choice",
            text=getattr(spec, name),
            options=found,
        )

    def copier(self, spec: Spec, kind: str, label: str, into: Mapping[str, str]) -> Field:
        """A choice of a part whose figures are copied into fields of a spec: the part's field to the spec's path."""
        return Field(
            path=spec.path,
            label=label,
            control="copy",
            text="",
            options=[Option(value=kind, label="")],
            blanks=dict(into),
        )

    def table(
        self,
        spec: Spec,
        name: str,
        model: type[Item],
        *,
        columns: bool | None = None,
        title: str = "",
        without: Sequence[str] = (),
        idle: Callable[[Any], Sequence[str]] = lambda _: (),
    ) -> Section:
        """A list of items, a row each; ``without`` some of their fields, and those that are ``idle`` in an item."""
        meta = spec.meta(name)
        items: list[Item] = getattr(spec, name)
        rows = [
            FieldRow(
                id=item.id,
                fields=[
                    f
                    for f in self.section(item, "", idle=idle(item)).fields
                    if f.path.rpartition(".")[2] not in without
                ],
            )
            for item in items
        ]
        label = title or (meta.listing.label if meta.listing else name)
        wide = meta.listing.columns if meta.listing and columns is None else bool(columns)
        return Section(
            title=label,
            help=meta.listing.help if meta.listing else "",
            fields=[],
            path=f"{spec.path}.{name}".lstrip("."),
            rows=rows,
            blank=model(id="new").model_dump(mode="json"),
            columns=wide,
            least=max(_least(type(spec).model_fields[name]), name in KEPT),
        )

    def item_variant(
        self, spec: Spec, name: str, item: Item, label: str, labels: dict[str, str], keep: Sequence[str] = ()
    ) -> Field:
        """A choice of what kind of item stands in a list; a blank of each kind keeps the item's id, and the screen
        the fields named."""
        blanks = {}
        for model in _models_in(type(spec).model_fields[name].annotation):
            made = model(id=item.id)
            blanks[made.kind] = made.model_dump(mode="json")  # type: ignore[attr-defined]
        return Field(
            path=item.path,
            label=label,
            control="variant",
            text=item.kind,  # type: ignore[attr-defined]
            options=[Option(value=v, label=t) for v, t in labels.items()],
            blanks=blanks,
            keep=list(keep),
        )

    def adder(self, spec: Spec, name: str, label: str) -> Section:
        """A button that adds one more item, of the first kind, to a list."""
        model = _models_in(type(spec).model_fields[name].annotation)[0]
        made = model(id="new")
        if hasattr(made, "name"):
            made.name = label.removeprefix("Add a ").capitalize()
        blank = made.model_dump(mode="json")
        return Section(title=label, help="", fields=[], path=f"{spec.path}.{name}".lstrip("."), rows=None, blank=blank)


ALWAYS_SEEN = ("name", "note")
"""What a thing is called, and what it is for, is the first that is asked of it."""


def _untouched(spec: Spec, name: str) -> bool:
    """Whether a field stands as in a new thing of its kind, or is empty."""
    now, start = getattr(spec, name), type(spec).model_fields[name].get_default(call_default_factory=True)
    if isinstance(now, Given):
        return not now.text.strip() or (now.text, now.origin) == (start.text, start.origin)
    return bool(now == start)


def _aside(spec: Spec, name: str) -> bool:
    """Whether a field that nobody has touched may be left as it is. A figure that is needed and not there is never
    set aside, nor what leads its neighbours."""
    meta = spec.meta(name)
    leads = name in ALWAYS_SEEN or any(x is not None and x.leads for x in (meta.ask, meta.choose))
    needed = meta.ask is not None and not meta.ask.optional and not getattr(spec, name).text.strip()
    return not leads and not needed and _untouched(spec, name)


def set_aside(fields: Sequence[Field], seen: Sequence[str] = ()) -> list[Field]:
    """What came with a thing, all its figures at once: only those ``seen`` stay in sight, and what lacks."""
    return [
        replace(f, aside=f.path.rpartition(".")[2] not in seen and (f.optional or bool(f.text.strip()))) for f in fields
    ]


def _least(info: FieldInfo) -> int:
    """How many items a list must hold at least."""
    return max((m.min_length for m in info.metadata if isinstance(m, MinLen)), default=0)


def _models_in(annotation: Any) -> list[type[Item]]:
    if isinstance(annotation, type):
        return [annotation] if issubclass(annotation, Item) else []
    return [m for part in get_args(annotation) for m in _models_in(part)]


def part_fields(part: Item, wrong: Mapping[str, str]) -> list[Field]:
    """A shelf part's fields as a form, each with its help and what is wrong with it; paths are the field's names."""
    made = []
    driver = isinstance(part, DriverPart)
    guesses = {}
    if isinstance(part, DriverPart):
        guesses = dict(guess for lack in typical.missing(part) if (guess := typical.estimate(part, lack)) is not None)
    for name, info in type(part).model_fields.items():
        if name in ("id", "sample") or (name == "kind" and not driver):
            continue
        meta, value, error = part.meta(name), getattr(part, name), wrong.get(name, "")
        if meta.ask is not None:
            unit = "" if meta.ask.unit == "1" else meta.ask.unit
            made.append(
                Field(
                    path=name,
                    label=meta.ask.label,
                    control="quantity",
                    text=value.text,
                    unit=unit,
                    help=meta.ask.help,
                    origin=value.origin,
                    error=error,
                    optional=meta.ask.optional,
                    typical=guesses.get(name, ""),
                )
            )
        elif meta.choose is not None:
            options = [Option(value=v, label=label) for v, label in meta.choose.options.items()]
            made.append(
                Field(
                    path=name,
                    label=meta.choose.label,
                    control="choice",
                    text=str(value),
                    help=meta.choose.help,
                    error=error,
                    options=options,
                )
            )
        else:
            made.append(Field(path=name, label=info.description or name, control="text", text=value, error=error))
    return made
