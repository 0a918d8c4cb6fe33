"""What the builder gave: the base of every station's spec, and the Given that every quantity is."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from copy import deepcopy
from dataclasses import dataclass, field
from typing import Any, Literal, Self, TypeVar

from pydantic import BaseModel, ConfigDict, Field, PrivateAttr, field_validator, model_validator

from ..algebra.cells import shown
from ..algebra.nodes import Leaf, choice_leaf
from ..algebra.quantities import LARGEST, Quantity, QuantityError, parse, phrase
from ..algebra.units import KINDS

Origin = Literal["measured", "data sheet", "assumed", "default", "chosen"]
Id = str
"""Permanent: an item keeps its id for life, and no id is used twice."""


class _Copied(BaseModel):
    """Its deep copy knows what it copies: parts, givens and lists of them are made anew; a leaf, which nobody changes,
    is shared. By pydantic's own way, field by field through ``copy``, a build takes five times as long."""

    def __deepcopy__(self, memo: dict[int, Any] | None = None) -> Self:
        made = self.__copy__()
        fields = made.__dict__
        for name, value in fields.items():
            if value.__class__ not in _PLAIN:
                fields[name] = _copied(value, memo)
        return made


_PLAIN = frozenset((type(None), str, float, int, bool))


def _copied(value: Any, memo: dict[int, Any] | None) -> Any:
    if isinstance(value, _Copied):
        return value.__deepcopy__(memo)
    if value.__class__ is list:
        return [item if item.__class__ in _PLAIN else _copied(item, memo) for item in value]
    return deepcopy(value, memo)


class Given(_Copied):
    """A quantity as the builder gave it: the text as typed, and what it was last read as.

    ``value`` and ``doubt`` (a standard uncertainty) are in SI units. A text that cannot be read keeps the last
    good value in use. ``basis`` holds what a measured or tuned value stood on when it was taken.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, validate_assignment=False)

    text: str = Field("", max_length=120)
    value: float | None = None
    origin: Origin = "assumed"
    doubt: float | None = Field(None, ge=0)
    note: str = Field("", max_length=500)
    meter: str = Field("", max_length=40)
    reading: str | None = Field(None, max_length=40)
    basis: dict[str, str] | None = None

    _leaf: Leaf | None = PrivateAttr(default=None)

    @property
    def leaf(self) -> Leaf:
        """The node that figures rest on. RuntimeError before the build is bound."""
        # Straight from pydantic's store: this is read some thousand times an assessment.
        leaf = (self.__pydantic_private__ or {}).get("_leaf")
        if leaf is None:
            raise RuntimeError("the build is not bound to its paths yet")
        return leaf  # type: ignore[no-any-return]


def computed_given(node: Any) -> Given:
    """A given that is no text but a figure (or another given): a part that is computed can pass for one of the
    shelf."""
    made = Given(value=node.value, origin="chosen")
    made._leaf = node
    return made


@dataclass(frozen=True, slots=True)
class Ask:
    """What a field asks for: its kind of quantity, unit, label, allowed range and a line of help."""

    kind: str
    unit: str
    label: str
    above: float | None = None
    low: float | None = None
    high: float | None = None
    whole: bool = False
    help: str = ""
    optional: bool = False
    leads: bool = False
    """Decides what its neighbours mean: in sight even where it stands as it began."""

    def refuse(self, value: float) -> str | None:
        """A sentence if the value is not allowed here, else None."""
        if self.above is not None and value <= self.above:
            return f"{self.label} must be above {self._say(self.above)}; {self._say(value)} is not."
        if self.low is not None and value < self.low:
            return f"{self.label} must be at least {self._say(self.low)}; {self._say(value)} is less."
        if self.high is not None and value > self.high:
            return f"{self.label} must be at most {self._say(self.high)}; {self._say(value)} is more."
        if self.whole and not math.isclose(value, round(value), abs_tol=1e-9):
            return f"{self.label} must be a whole number; {self._say(value)} is not."
        return None

    def read(self, text: str) -> Quantity:
        """What a text says. Raises QuantityError with a sentence, also for what is not allowed here."""
        read = parse(text, self.kind, self.unit)
        refusal = self.refuse(read.value)
        if refusal is not None:
            raise QuantityError(refusal)
        return read

    def _say(self, value: float) -> str:
        return phrase(value, self.kind, self.unit)


def given(
    kind: str,
    unit: str,
    label: str,
    *,
    default: str = "",
    origin: Origin = "default",
    above: float | None = None,
    low: float | None = None,
    high: float | None = None,
    whole: bool = False,
    help: str = "",
    optional: bool = False,
    leads: bool = False,
) -> Any:
    """A field for a quantity. With ``default`` it starts from that text; else it starts empty."""
    ask = Ask(
        kind=kind,
        unit=unit,
        label=label,
        above=above,
        low=low,
        high=high,
        whole=whole,
        help=help,
        optional=optional,
        leads=leads,
    )
    start: Callable[[], Given] = lambda: Given(text=default, origin=origin if default else "assumed")  # noqa: E731
    return _field(start, {"ask": ask}, f"{label}, {unit}" if unit else label)


@dataclass(frozen=True, slots=True)
class Choose:
    """What a field offers to choose from: value to label, in order."""

    label: str
    options: Mapping[str, str]
    help: str = ""
    leads: bool = False
    """Decides what its neighbours mean: in sight even where it stands as it began."""


def choice(label: str, options: Mapping[str, str], default: str, *, help: str = "", leads: bool = False) -> Any:
    """A field for one of a few named things."""
    return _field(lambda: default, {"choose": Choose(label, options, help, leads)}, label)


def listing(label: str, *, help: str = "", columns: bool = True, most: int | None = None) -> Any:
    """A field for a list of items with permanent ids; ``most`` is how many it may hold."""
    return _field(list, {"listing": Listing(label, help, columns)}, label, most)


@dataclass(frozen=True, slots=True)
class Listing:
    """A list that the builder adds to and takes from."""

    label: str
    help: str
    columns: bool


def _field(factory: Callable[[], Any], meta: dict[str, Any], description: str, most: int | None = None) -> Any:
    info = Field(default_factory=factory, description=description, max_length=most)
    info.metadata.append(FieldMeta(**meta))
    return info


@dataclass(frozen=True, slots=True)
class FieldMeta:
    """What a field tells of itself to the screen and to the binder."""

    ask: Ask | None = None
    choose: Choose | None = None
    listing: Listing | None = None


class Spec(_Copied):
    """Base of everything in a build. After ``bind`` its parts know their paths."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    _path: str = PrivateAttr(default="")

    @field_validator("name", "label", check_fields=False)
    @classmethod
    def _seen(cls, value: str) -> str:
        """A name shows all that is in it, wherever it comes from."""
        return shown(value)

    @property
    def path(self) -> str:
        return self._path

    @classmethod
    def meta(cls, name: str) -> FieldMeta:
        """What the field of that name tells of itself."""
        return _metas_of(cls)[name]

    def chosen(self, name: str) -> Leaf:
        """The choice in a field, as something that figures can rest on."""
        value = getattr(self, name)
        meta = self.meta(name)
        label = meta.choose.label if meta.choose else name.replace("_", " ")
        return choice_leaf(f"{self._path}.{name}", label, str(value))

    def members(self, name: str) -> Leaf:
        """Which items a list holds, as something that figures can rest on."""
        items = getattr(self, name)
        return choice_leaf(f"{self._path}.{name}", name.replace("_", " "), " ".join(i.id for i in items))


_METAS: dict[type[Spec], dict[str, FieldMeta]] = {}


def _metas_of(cls: type[Spec]) -> dict[str, FieldMeta]:
    if cls not in _METAS:
        empty = FieldMeta()
        _METAS[cls] = {
            name: next((m for m in info.metadata if isinstance(m, FieldMeta)), empty)
            for name, info in cls.model_fields.items()
        }
    return _METAS[cls]


S = TypeVar("S", bound="Spec")


class Item(Spec):
    """A member of a list, with its permanent id."""

    id: Id = Field(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9_-]+$")


class Meter(Item):
    """An instrument and its accuracy, ± (share of reading + digits)."""

    name: str = Field("", max_length=80)
    volts_share: Given = given("fraction", "%", "Volts, of reading", low=0, high=0.5)
    volts_digits: Given = given("number", "1", "Volts, digits", low=0, high=100)
    volts_resolution: Given = given("voltage", "V", "Volts, one digit is", above=0)
    amps_share: Given = given("fraction", "%", "Amperes, of reading", low=0, high=0.5)
    amps_digits: Given = given("number", "1", "Amperes, digits", low=0, high=100)
    amps_resolution: Given = given("current", "A", "Amperes, one digit is", above=0)

    def doubts(self, value: float, kind: str) -> tuple[float, float] | None:
        """Standard uncertainty of a reading and the part of it that all readings of this range share (SI).

        The limit (share of reading + digits) is taken as rectangular: limit / √3 (JCGM 100:2008, 4.3.7). The
        share of reading is a gain error, common to every reading on the range; the rest is independent.
        None where the accuracy is not known.
        """
        name = {"voltage": "volts", "current": "amps"}.get(kind)
        if name is None:
            return None
        share, digits, step = (getattr(self, f"{name}_{part}").value for part in ("share", "digits", "resolution"))
        if share is None or digits is None or step is None:
            return None
        gain = share * abs(value)
        return (gain + digits * step) / math.sqrt(3), gain / math.sqrt(3)


@dataclass(slots=True)
class Bound:
    """A build whose parts know their paths: every given by path, and what could not be read."""

    givens: dict[str, Given] = field(default_factory=dict)
    asks: dict[str, Ask] = field(default_factory=dict)
    errors: dict[str, str] = field(default_factory=dict)


def bind(spec: Spec, path: str, meters: Mapping[str, Meter] | None = None, into: Bound | None = None) -> Bound:
    """Read every text, keep the last good value where one cannot be read, and give each part its path.

    Changes the spec: for what was made here, or is to be kept with its values. ``bound_copy`` leaves it as it is.
    """
    bound = into or Bound()
    spec._path = path
    for name, meta in _metas_of(type(spec)).items():
        value = getattr(spec, name)
        here = f"{path}.{name}" if path else name
        if isinstance(value, Given) and meta.ask is not None:
            _bind_given(value, meta.ask, here, meters or {}, bound)
        elif isinstance(value, Spec):
            bind(value, here, meters, bound)
        elif isinstance(value, list):
            for item in value:
                if isinstance(item, Item):
                    bind(item, f"{here}.{item.id}", meters, bound)
    return bound


def bound_copy(spec: S, path: str, meters: Mapping[str, Meter], into: Bound) -> S:
    """The same, of a copy: what it is given stays as it is."""
    made = spec.model_copy()
    made._path = path
    fields = made.__dict__
    for name, meta in _metas_of(type(spec)).items():
        value = fields[name]
        here = f"{path}.{name}" if path else name
        if isinstance(value, Given) and meta.ask is not None:
            fields[name] = _bound_given(value, meta.ask, here, meters, into)
        elif isinstance(value, Spec):
            fields[name] = bound_copy(value, here, meters, into)
        elif isinstance(value, list):
            fields[name] = [
                bound_copy(item, f"{here}.{item.id}", meters, into) if isinstance(item, Item) else item
                for item in value
            ]
    return made


def _bind_given(given: Given, ask: Ask, path: str, meters: Mapping[str, Meter], bound: Bound) -> None:
    leaf = _read(given, ask, path, meters, bound)
    given.value, given.doubt, given._leaf = leaf.value, leaf.doubt if not leaf.gain_group else None, leaf
    bound.givens[path], bound.asks[path] = given, ask


def _bound_given(given: Given, ask: Ask, path: str, meters: Mapping[str, Meter], bound: Bound) -> Given:
    """A bound copy. Straight through pydantic's store: an assessment makes some hundred, and copying each by
    ``model_copy`` and setting its fields one by one took twice the time of all of it."""
    leaf = _read(given, ask, path, meters, bound)
    made = Given.__new__(Given)
    held = dict(given.__dict__, value=leaf.value, doubt=leaf.doubt if not leaf.gain_group else None)
    object.__setattr__(made, "__dict__", held)
    object.__setattr__(made, "__pydantic_fields_set__", given.__pydantic_fields_set__)
    object.__setattr__(made, "__pydantic_extra__", None)
    object.__setattr__(made, "__pydantic_private__", {"_leaf": leaf})
    bound.givens[path], bound.asks[path] = made, ask
    return made


def _read(given: Given, ask: Ask, path: str, meters: Mapping[str, Meter], bound: Bound) -> Leaf:
    """The node that a given is: its text as read, or its last good value where the text cannot be read."""
    typed, value, doubt = ask.unit, given.value, given.doubt
    if given.text.strip():
        try:
            read = ask.read(given.text)
            value, doubt, typed = read.value, read.doubt, read.unit
        except QuantityError as error:
            bound.errors[path] = str(error)
            # What came along as the last good value must be one that could have been typed.
            if value is not None and (abs(value) > LARGEST or ask.refuse(value) is not None):
                value = doubt = None
    else:
        value = doubt = None
    leaf = Leaf(path, ask.label, KINDS[ask.kind], value, origin=given.origin, doubt=doubt, unit=typed)
    if value is not None and doubt is None and given.origin == "measured" and given.meter in meters:
        doubts = meters[given.meter].doubts(value, ask.kind)
        if doubts is not None:
            leaf.doubt, leaf.gain_doubt = doubts
            leaf.gain_group = f"{given.meter}:{ask.kind}"
    return leaf


def unique_ids(items: list[Any], what: str) -> None:
    """ValueError if two items of a list share an id."""
    seen: set[str] = set()
    for item in items:
        if item.id in seen:
            raise ValueError(f"two {what} have the id “{item.id}”: each needs its own")
        seen.add(item.id)


class ListOwner(Spec):
    """A spec whose lists of items must hold unique ids."""

    @model_validator(mode="after")
    def _ids_are_unique(self) -> Self:
        for name in type(self).model_fields:
            value = getattr(self, name)
            if isinstance(value, list) and value and isinstance(value[0], Item):
                unique_ids(value, name.replace("_", " "))
        return self


def walk(spec: Spec) -> Iterator[Spec]:
    """Every spec below and including this one."""
    yield spec
    for name in type(spec).model_fields:
        value = getattr(spec, name)
        for part in value if isinstance(value, list) else [value]:
            if isinstance(part, Spec):
                yield from walk(part)
