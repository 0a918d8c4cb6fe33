"""The map of heat and the limit *Heat* are two computations: they must tell the same of where the drive works."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.design.heatmap import of_part, of_stage
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel

from .kit import SHELF

FILES = sorted((Path(__file__).parent / "builds").glob("*.json"))


def built(file: Path) -> Build:
    told = json.loads(file.read_text("utf-8"))
    return Build.model_validate(told.get("build", told))


CASES = [("carousel", lantern_carousel), ("stirrer", cider_stirrer)]
CASES += [(f.stem, lambda f=f: built(f)) for f in FILES]  # type: ignore[misc]


@pytest.mark.parametrize(("name", "make"), CASES, ids=[n for n, _ in CASES])
def test_the_map_allows_what_the_limit_allows(name: str, make) -> None:  # type: ignore[no-untyped-def]
    """Working over allowed current, by the map's line at the working frequency and by the limit's worst case."""
    done = assess(make(), SHELF)
    for drive in done.drives.values():
        own = drive.of_motor
        if own is None or own.chosen is None:
            continue
        seen = of_stage(own.context, own.discrete) if own.discrete is not None else of_part(own.context, own.chosen)
        if seen is None:
            continue
        row = int(np.argmin(np.abs(seen.frequency_hz - seen.working_hz)))
        allowed = seen.limit_a[row]
        used = next(
            (f.utilisation for f in done.findings if f.code == "driver.heat" and f.drive == drive.drive.id), None
        )
        assert used is not None and used.value is not None
        if not np.isfinite(allowed):
            assert used.value < seen.working_a / seen.current_a[-1] * 1.1, "beyond the map's edge"
            continue
        assert 0.92 <= (seen.working_a / allowed) / used.value <= 1.12
