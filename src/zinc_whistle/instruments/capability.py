"""What a model of instrument can do and how it is told: data, so that a new model is a file and no code."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable
from pathlib import Path
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator

SHIPPED = Path(__file__).parent / "models"
Kind = Literal["supply", "meter", "oscilloscope"]


class Reads(BaseModel):
    """One thing that it measures: the question, and the unit of the answer."""

    model_config = ConfigDict(extra="forbid")
    title: str = Field(max_length=60)
    ask: str = Field(max_length=120)
    unit: Literal["V", "A", "Hz", "Ω"]


class Capability(BaseModel):
    """A model, or a family of models: ``matches`` is looked for in what it says of itself.

    In commands ``{value}`` stands for a number. ``most_v`` and ``most_a`` are refused beyond, before anything is sent.
    """

    model_config = ConfigDict(extra="forbid")
    name: str = Field(max_length=80)
    kind: Kind
    matches: str = Field(max_length=120)
    reads: dict[str, Reads] = Field(default_factory=dict, max_length=20)
    volts: str = Field("", max_length=120)
    limit: str = Field("", max_length=120)
    on: str = Field("", max_length=120)
    off: str = Field("", max_length=120)
    is_on: str = Field("", max_length=120)
    most_v: float = Field(0.0, ge=0, le=1000)
    most_a: float = Field(0.0, ge=0, le=1000)
    range: str = Field("", max_length=120)
    interval: str = Field("", max_length=120)
    points: str = Field("", max_length=120)
    record: str = Field("", max_length=120)
    most_points: int = Field(0, ge=0, le=10_000_000)
    error: str = Field("SYST:ERR?", max_length=120)

    @field_validator("volts", "limit", "range", "interval", "points")
    @classmethod
    def _takes_a_number(cls, text: str) -> str:
        try:
            text.format(value="1")
        except (LookupError, ValueError) as error:
            raise ValueError("only {value} may stand in braces") from error
        return text

    @field_validator("matches")
    @classmethod
    def _is_a_pattern(cls, text: str) -> str:
        re.compile(text)
        return text


class CapabilityError(ValueError):
    """A file that is no capability table; the message is a sentence for its reader."""


def read_table(path: Path) -> Capability:
    """One file. CapabilityError names it and its first fault."""
    try:
        return Capability.model_validate(json.loads(path.read_text("utf-8")))
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(x) for x in first["loc"])
        raise CapabilityError(f"{path.name}: {where or 'the whole'} is not as it must be ({first['msg']}).") from error
    except (OSError, ValueError, re.error) as error:
        raise CapabilityError(f"{path.name} cannot be read as a table of what an instrument can do.") from error


def tables(own: Path | None = None) -> tuple[list[Capability], list[str]]:
    """All tables, the builder's own first; and what is wrong with those that could not be taken."""
    found, faults = [], []
    folders = [own] if own is not None and own.is_dir() else []
    for path in (p for folder in (*folders, SHIPPED) for p in sorted(folder.glob("*.json"))):
        try:
            found.append(read_table(path))
        except CapabilityError as error:
            faults.append(str(error))
    return found, faults


def matching(told: str, known: Iterable[Capability]) -> Capability | None:
    """The first table that fits what an instrument says of itself."""
    return next((c for c in known if re.search(c.matches, told)), None)
