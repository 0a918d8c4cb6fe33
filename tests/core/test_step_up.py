"""A step-up converter: what it draws, what it starts from, and that it lifts only."""

from __future__ import annotations

import pytest

from zinc_whistle.core.algebra.findings import Finding
from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build, bind_build
from zinc_whistle.demo.data import lantern_carousel


def lifted(starts_at: str = "6 V", kind: str = "step-up") -> Build:
    """The carousel's logic behind a converter of 24 V, from its battery of some 11 to 15 V."""
    build = lantern_carousel()
    regulator = build.supply.regulators[0]
    regulator.kind = kind  # type: ignore[assignment]
    regulator.output_v.text, regulator.input_min.text, regulator.efficiency.text = "24 V", starts_at, "80 %"
    regulator.load.text, regulator.consumers = "0.2 A", []
    bind_build(build)
    return build


def found(build: Build, code: str) -> Finding:
    return next(f for f in assess(build).findings if f.code.endswith(code) and f.station == "supply")


def test_it_draws_more_than_it_gives_and_the_lowest_source_decides() -> None:
    """0.2 A at 24 V are 4.8 W, of 80 %: 6 W, from the lowest volts of the source."""
    build = lifted()
    scene = assess(build).drives["d1"].scene
    regulator, source = scene.supply.regulators[0], scene.supply.sources[0]
    lowest = source.window.flat.value
    assert lowest is not None
    assert regulator.input_current.value == pytest.approx(6.0 / lowest)
    assert regulator.heat.value == pytest.approx(1.2)


def test_it_starts_from_its_own_lowest_input_and_not_from_its_output() -> None:
    assert found(lifted(), "input_low").verdict != "exceeded"
    late = found(lifted(starts_at="15 V"), "input_low")
    assert late.stops and "starts from less" in late.todo
    down = found(lifted(kind="switching"), "input_low")
    assert down.stops and "step-up" in down.todo


def test_a_source_above_its_output_comes_through() -> None:
    build = lifted()
    assert found(build, "step_up").verdict != "exceeded"
    build.supply.regulators[0].output_v.text = "5 V"
    bind_build(build)
    through = found(build, "step_up")
    assert through.stops and "only lifts" in through.todo


def test_without_its_lowest_input_nothing_is_believed() -> None:
    assert found(lifted(starts_at=""), "input_low").verdict == "unknown"
