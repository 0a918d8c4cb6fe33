"""The shelf of components: classes, files both ways, what is needed, what contradicts itself."""

from __future__ import annotations

import itertools
import re
from collections import Counter
from collections.abc import Callable
from pathlib import Path

import pytest

from tests.kit import components
from zinc_whistle.core.exchange import COMPONENTS
from zinc_whistle.core.model.components import CLASSES
from zinc_whistle.core.model.given import Given, bind
from zinc_whistle.core.model.transistors import Mosfet
from zinc_whistle.demo.data import controllers, sample_components, sample_parts


def ids() -> Callable[[], str]:
    counter = itertools.count()
    return lambda: f"own{next(counter)}"


def test_at_least_sixty_samples_are_spread_over_the_classes_and_all_are_sound() -> None:
    shelf = list(components().values())
    counts = Counter(c.kind for c in shelf)
    assert set(counts) == set(CLASSES)
    assert min(counts.values()) >= 4
    assert len(shelf) >= 60
    assert len(shelf) + len(sample_parts()) + len(controllers()) >= 80
    assert len({c.name for c in shelf}) == len(shelf)
    for part in sample_components():
        assert part.sample
        assert not COMPONENTS[part.kind].problems(part), part.name


@pytest.mark.parametrize("kind", CLASSES)
@pytest.mark.parametrize("form", ["csv", "json"])
def test_a_class_survives_a_round_trip(kind: str, form: str) -> None:
    own = [c for c in sample_components() if c.kind == kind]
    file = COMPONENTS[kind]
    text = file.to_csv(own) if form == "csv" else file.to_json(own)
    taken = (file.from_csv if form == "csv" else file.from_json)(text, ids())
    assert not taken.bad
    assert [file.as_texts(p) for p in taken.parts] == [file.as_texts(p) for p in own]
    for before, after in zip(own, taken.parts, strict=True):
        bind(before, "a")
        bind(after, "b")
        for name in file.columns:
            if isinstance(getattr(before, name), Given):
                assert getattr(after, name).value == pytest.approx(getattr(before, name).value)


@pytest.mark.parametrize("kind", CLASSES)
def test_each_needed_figure_is_asked_for(kind: str) -> None:
    model = CLASSES[kind][1]
    blank = model(id="new", name="Mine")
    problems = COMPONENTS[kind].problems(blank)
    assert set(problems) == set(model.NEEDED)
    assert "name" in COMPONENTS[kind].problems(model(id="new"))
    for name in model.NEEDED:
        assert "is needed" in problems[name]


@pytest.mark.parametrize(
    ("kind", "texts", "says"),
    [
        ("mosfet", {"threshold": "7 V"}, "above the plateau"),
        ("mosfet", {"on_resistance_at": "25 V"}, "above the gate's absolute limit"),
        ("mosfet", {"plateau": "11 V"}, "above the gate voltage"),
        ("mosfet", {"switching_charge": "900 nC"}, "more than the whole"),
        ("module", {"v_min": "80 V"}, "above the highest"),
        ("gate driver", {"supply_min": "30 V"}, "above the highest"),
    ],
)
def test_what_contradicts_itself_is_named(kind: str, texts: dict[str, str], says: str) -> None:
    part = next(
        c for c in sample_components() if (c.kind == kind and "80 V, 7" in c.name) or c.kind == kind != "mosfet"
    )
    for name, text in texts.items():
        getattr(part, name).text = text
    assert says in " ".join(COMPONENTS[kind].problems(part).values())


@pytest.mark.parametrize(
    ("row", "says"),
    [
        ("Mine,60 kg", "not a voltage"),
        (",60 V", "Give the part a name"),
        ("Mine,-1 V", "must be above"),
        ("Mine,60 V,x,y", "more cells"),
    ],
)
def test_a_bad_row_is_named_by_its_line(row: str, says: str) -> None:
    good = COMPONENTS["mosfet"].to_csv([c for c in sample_components() if isinstance(c, Mosfet)][:1]).splitlines()
    header, body = good[0], good[1]
    name, volts = row.split(",")[:2]
    columns = header.split(",")
    changed = body if says == "more cells" else None
    if changed is None:
        import csv
        import io

        texts = next(csv.DictReader(io.StringIO(header + "\n" + body)))
        texts["name"], texts["v_ds"] = name, volts
        out = io.StringIO()
        writer = csv.DictWriter(out, columns, lineterminator="\n")
        writer.writerow(texts)
        changed = out.getvalue().rstrip()
    else:
        changed += ",x,y"
    taken = COMPONENTS["mosfet"].from_csv("\n".join([header, body, changed, body]) + "\n", ids())
    assert len(taken.parts) == 2
    assert [b.line for b in taken.bad] == [3]
    assert says in taken.bad[0].sentence


def test_every_column_of_every_class_is_documented() -> None:
    page = (Path(__file__).resolve().parents[2] / "docs" / "parts.md").read_text("utf-8")
    documented = set(re.findall(r"`([a-z_]+)`", page.split("# Components as files")[1]))
    for kind, file in COMPONENTS.items():
        assert set(file.columns) <= documented, kind


def test_every_figure_tells_what_it_is() -> None:
    """A label for each; the figures that mislead or are hard to find also say where they stand."""
    for kind, (_, model) in CLASSES.items():
        for name in COMPONENTS[kind].columns:
            meta = model.meta(name)
            if meta.ask is not None:
                assert meta.ask.label
    helped = [n for n in COMPONENTS["mosfet"].needed if Mosfet.meta(n).ask.help]
    assert set(helped) == set(Mosfet.NEEDED)
    assert "case kept at 25 °C" in Mosfet.meta("headline_a").ask.help
