"""What a log entry of the builder's own is about, and what each kind asks besides its text."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal, get_args

from ..algebra.quantities import QuantityError, parse

TopicKey = Literal["note", "built", "changed", "learnt", "trial", "failure", "improvement", "retune", "order", "hours"]
LONGEST = 1000


@dataclass(frozen=True, slots=True)
class LogField:
    """One field of a topic: plain words, or a quantity of a kind in a unit."""

    key: str
    label: str
    kind: str = ""
    unit: str = ""


@dataclass(frozen=True, slots=True)
class Topic:
    """A kind of entry: what it is called, what it asks, and what stands open until it is settled (empty: nothing)."""

    key: TopicKey
    label: str
    asks: tuple[LogField, ...] = ()
    open_as: str = ""


UNDO = LogField("undo", "What must be undone")
TOPICS: dict[TopicKey, Topic] = {
    t.key: t
    for t in (
        Topic("note", "Note"),
        Topic("built", "Built"),
        Topic("changed", "Changed"),
        Topic("learnt", "Learnt"),
        Topic(
            "trial",
            "Trial",
            (
                LogField("surface", "Where, on what"),
                LogField("load", "With which load"),
                LogField("swapped", "What was swapped"),
                LogField("result", "What it did"),
            ),
        ),
        Topic(
            "failure",
            "Failure",
            (LogField("cause", "Cause"), LogField("mend", "Temporary mend"), UNDO),
            open_as="To be undone",
        ),
        Topic("improvement", "For the next board", open_as="For the next board"),
        Topic("retune", "To be set again", open_as="To be set again"),
        Topic("order", "Order", (LogField("from", "From whom"), LogField("price", "Price, all of it", "price", "€"))),
        Topic("hours", "Hours", (LogField("hours", "How long", "time", "h"),)),
    )
}
assert set(TOPICS) == set(get_args(TopicKey))


def checked(topic: TopicKey, details: Mapping[str, str]) -> dict[str, str]:
    """What was given of a topic's own fields; what is no such field is left out. QuantityError with a sentence for a
    quantity that cannot be read or lies below nothing."""
    found = {}
    for field in TOPICS[topic].asks:
        text = str(details.get(field.key, "")).strip()[:LONGEST]
        if not text:
            continue
        if field.kind and parse(text, field.kind, field.unit).value < 0:
            raise QuantityError(f"{field.label}: “{text[:30]}” lies below nothing.")
        found[field.key] = text
    return found


def stands_open(topic: TopicKey, details: Mapping[str, str]) -> bool:
    """Whether an entry stands until it is settled: a failure only while something must be undone."""
    return bool(TOPICS[topic].open_as) and (topic != "failure" or bool(details.get(UNDO.key)))


def together(entries: Iterable[tuple[TopicKey, Mapping[str, str]]], topic: TopicKey, key: str) -> float:
    """A quantity of all entries of a topic (SI)."""
    field = next(f for f in TOPICS[topic].asks if f.key == key)
    return sum(parse(d[key], field.kind, field.unit).value for t, d in entries if t == topic and d.get(key))
