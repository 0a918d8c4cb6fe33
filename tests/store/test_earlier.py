"""Build files as earlier states of the program wrote them: each opens, and nothing that was given is lost."""

from __future__ import annotations

import gzip
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import sample_parts

FILES = sorted((Path(__file__).parent / "earlier").glob("*.json.gz"))


def given(node: Any, path: str = "") -> Iterator[tuple[str, str]]:
    """Every text that was typed, by its path; a list's members by their place."""
    if isinstance(node, dict):
        if node.get("text") and "origin" in node:
            yield path, node["text"]
            return
        for key, value in node.items():
            yield from given(value, f"{path}.{key}")
    elif isinstance(node, list):
        for i, value in enumerate(node):
            yield from given(value, f"{path}.{i}")


@pytest.mark.parametrize("file", FILES, ids=lambda f: f.name.removesuffix(".json.gz"))
def test_a_file_of_an_earlier_state_opens_with_all_that_was_given(file: Path) -> None:
    text = gzip.decompress(file.read_bytes())
    build = Build.model_validate_json(text)
    old, now = sorted(t for _, t in given(json.loads(text))), sorted(t for _, t in given(build.model_dump(mode="json")))
    for typed in old:
        now.remove(typed)  # ValueError: it was lost
    done = assess(build, sample_parts())
    assert not done.bound.errors
    assert all(done.stamp(d, s).state for d, drive in done.drives.items() for s in drive.stations)


def test_there_are_files_of_every_shape() -> None:
    assert len(FILES) == 9
