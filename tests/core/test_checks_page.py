"""docs/checks.md says what the figures are held against: each row's file is there and names its work."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
PAGE = (ROOT / "docs" / "checks.md").read_text("utf-8")
PRINTED, _, REST = PAGE.partition("## By an independent method")
ROWS = re.findall(r"^\| (.+?) \| .+? \| (tests/\S+) \|$", PRINTED, re.M)


@pytest.mark.parametrize(("work", "file"), ROWS, ids=[w for w, _ in ROWS])
def test_a_printed_work_is_named_where_the_page_says(work: str, file: str) -> None:
    assert work in (ROOT / file).read_text("utf-8")


def test_there_are_as_many_printed_works_as_are_asked_for_and_every_other_row_names_a_file() -> None:
    assert len(ROWS) >= 25
    files = re.findall(r"\| (tests/\S+) \|$", REST, re.M)
    assert len(files) >= 7 and all((ROOT / f).is_file() for f in files)
