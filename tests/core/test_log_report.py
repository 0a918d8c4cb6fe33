"""The log as Markdown: oldest first, words as they were written, what was withdrawn struck out."""

from __future__ import annotations

from dataclasses import dataclass, field

from hypothesis import given
from hypothesis import strategies as st

from zinc_whistle.core.model.log_topic import TopicKey
from zinc_whistle.demo.data import lantern_carousel
from zinc_whistle.sheets.log_report import log_markdown


@dataclass(frozen=True)
class Line:
    kind: str
    text: str
    at: str
    verdict: str = ""
    withdrawn: bool = False
    number: int = 0
    id: str = ""
    file: str = ""
    topic: TopicKey = "note"
    details: dict[str, str] = field(default_factory=dict)
    open: bool = False
    settled: bool = False


def test_days_follow_one_another_and_each_entry_says_what_it_is() -> None:
    found = log_markdown(
        lantern_carousel(),
        [
            Line("reading", "Logic rail: 5.02 V", "2026-06-02T09:15:00Z", "pass"),
            Line("reading", "Idle: 300 mA", "2026-06-02T09:20:00Z", "fail", True),
            Line("revision", "before a reading", "2026-06-01T18:00:00Z", number=3),
            Line("note", "Gear *greased*\nagain", "2026-06-01T18:05:00Z"),
            Line(
                "note",
                "Smoke",
                "2026-06-02T11:00:00Z",
                topic="failure",
                details={"cause": "a *short*", "undo": "the wire across"},
                open=True,
            ),
            Line("photo", "the [board]", "2026-06-02T10:00:00Z", number=3, id="p1", file="a.jpg"),
            Line("capture", "59° apart", "2026-06-02T10:01:00Z", number=3, id="c1", file="a.csv"),
        ],
        {"p1": "pictures/p1.jpg"},
    )
    assert found.startswith("# Lantern carousel\n\nBoard 1.1.")
    first, second = (found.index(f"## 2026-06-0{n}") for n in (1, 2))
    assert first < found.index("*revision 3* before a reading") < found.index("greased") < second
    assert "Gear \\*greased\\* again" in found, "what was written is words"
    assert "- 09:15 *reading* Logic rail: 5.02 V: right" in found
    assert "![the \\[board\\]](pictures/p1.jpg)" in found and found.count("![") == 1
    assert "*failure* Smoke; cause: a \\*short\\*; what must be undone: the wire across; **to be undone" in found
    assert "*capture* 59° apart (a.csv, at revision 3)" in found
    assert "~~Idle: 300 mA~~ (withdrawn): **not right**" in found


def test_an_empty_log_says_so() -> None:
    assert "Nothing is written down yet." in log_markdown(lantern_carousel(), [])


@given(st.lists(st.text(max_size=60), max_size=5))
def test_no_text_makes_a_line_of_its_own(texts: list[str]) -> None:
    entries = [Line("note", t, f"2026-06-01T10:{k:02d}:00Z") for k, t in enumerate(texts)]
    found = log_markdown(lantern_carousel(), entries)
    assert sum(line.startswith("- ") for line in found.split("\n")) == len(texts)
    assert found.count("\n## ") == (1 if texts else 0)
