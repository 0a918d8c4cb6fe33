"""Design for me beyond the best: what cannot be beaten, limits of one's own, and slots that no array stands for."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_design import NARROW, SHELVES, all_of, context, one_way, small
from tests.kit import components, staged
from zinc_whistle.core.design import search
from zinc_whistle.core.design.composing import Design, worked
from zinc_whistle.core.design.exchange import ORDER, exchanged, with_part
from zinc_whistle.core.design.search import DesignsFound, design, space_of
from zinc_whistle.core.design.tradeoff import front, spread
from zinc_whistle.core.design.wishes import WishError, Wishes, wishes_of
from zinc_whistle.core.model.given import bind
from zinc_whistle.core.model.transistors import Mosfet
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel

SCORES = st.lists(st.tuples(*[st.integers(0, 6)] * 3), max_size=40)


@pytest.fixture
def narrow(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(search, "FREQUENCIES", NARROW)
    monkeypatch.setattr(search, "RESISTORS", (4.7, 22.0))
    monkeypatch.setattr(search, "PARALLEL", (1, 2, 3))


def beats(a: Any, b: Any) -> bool:
    return all(x <= y for x, y in zip(a, b, strict=True)) and any(x < y for x, y in zip(a, b, strict=True))


@given(SCORES)
def test_the_front_is_what_the_definition_says(rows: list[tuple[int, ...]]) -> None:
    """Pareto efficiency by its definition, pair by pair; of equals the first."""
    wanted = [i for i, own in enumerate(rows) if own not in rows[:i] and not any(beats(other, own) for other in rows)]
    table = np.array(rows, dtype=float).reshape(-1, 3)
    assert front(list(table.T)).tolist() == wanted


def test_what_has_no_score_is_in_no_front() -> None:
    assert front([[math.nan, 2.0, 1.0], [0.0, 2.0, math.inf]]).tolist() == [1]


def test_what_is_shown_first_lies_far_apart_and_nothing_is_lost() -> None:
    price = np.array([1.0, 1.01, 1.02, 100.0, 10.0])
    heat = 1 / price
    places = front([price, heat])
    order = spread([price, heat], places)
    assert sorted(order) == places.tolist() == [0, 1, 2, 3, 4]
    assert order[:3] == [0, 3, 4]


def scores_of(made: Design) -> tuple[float, ...]:
    assert made.price is not None
    return made.price, made.heat_w, made.utilisation


@pytest.mark.parametrize("circuit", ["half bridge", "low side"])
@pytest.mark.usefixtures("narrow")
def test_no_combination_that_holds_beats_what_lies_between(circuit: str) -> None:
    make, ids = SHELVES[circuit]
    at, shelf = context(make()), small(*ids)
    found = design(at, shelf, ORDER)
    passed = [scores_of(made) for _, _, (made, _) in all_of(at, space_of(at, shelf)) if made is not None]
    edge = [passed[i] for i in front(list(np.array(passed).T))]
    between = [scores_of(d) for d in found.designs if not d.label]
    assert len(edge) > 1, "the shelf of this test has something to trade"
    for made in between:
        assert not any(beats(other, [v * 0.999 for v in made]) for other in passed)
    if len(edge) <= search.BETWEEN:
        shown = np.array([scores_of(d) for d in found.designs])
        for own in edge:
            assert np.isclose(shown, own, rtol=1e-3).all(axis=1).any(), own


def prices_of(found: DesignsFound) -> list[float]:
    return [d.price for d in found.designs if d.price is not None]


@pytest.mark.usefixtures("narrow")
def test_a_price_of_ones_own_is_kept_and_a_cent_less_than_the_cheapest_is_told() -> None:
    make, ids = SHELVES["half bridge"]
    at, shelf = context(make()), small(*ids)
    least = min(prices_of(design(at, shelf, ORDER)))
    found = design(at, shelf, ORDER, wishes=Wishes(price=least))
    assert found.designs and max(prices_of(found)) <= least + 1e-9
    none = design(at, shelf, ORDER, wishes=Wishes(price=least - 0.01))
    assert not none.designs and "your price" in none.reason


@pytest.mark.usefixtures("narrow")
def test_a_junction_of_ones_own_is_kept() -> None:
    make, ids = SHELVES["half bridge"]
    at, shelf = context(make()), small(*ids)
    free = design(at, shelf, ORDER)
    warm = max(d.junction_c for d in free.designs)
    found = design(at, shelf, ORDER, wishes=Wishes(junction=warm - 1))
    assert found.designs and max(d.junction_c for d in found.designs) <= warm - 1
    assert found.hold < free.hold
    cold = design(at, shelf, ORDER, wishes=Wishes(junction=5.0))
    assert not cold.designs and f"{free.hold} are not within your junction of 5.0 °C" in cold.reason


def test_frequency_number_and_height_narrow_what_is_combined() -> None:
    at, shelf = context(cider_stirrer()), list(components().values())
    space = space_of(at, shelf, wishes=Wishes(slowest=20e3, fastest=30e3, parallel=2, height=0.030))
    assert set(space.frequencies) == {20e3, 22e3, 25e3, 28e3} and space.parallel == (1, 2)
    assert [s.name if s else None for s in space.sinks] == [
        None,
        "Clip-on heat sink, 21 K/W",
        "Finned heat sink, 12 K/W, one transistor",
    ]
    untold = [c.model_copy(deep=True) for c in shelf]
    for c in untold:
        if hasattr(c, "height"):
            c.height.value = None
    assert space_of(at, untold, wishes=Wishes(height=1.0)).sinks == (None,), "a height nobody told is not known to fit"
    assert "No PWM frequency" in design(at, shelf, wishes=Wishes(slowest=150e3)).reason
    # What stays as it is must meet a wish, too: 20 kHz and three in parallel stand in the stirrer.
    assert "No PWM frequency" in design(at, shelf, ["frequency"], wishes=Wishes(slowest=25e3)).reason
    assert "in parallel stay" in design(at, shelf, ["parallel"], wishes=Wishes(parallel=2)).reason


@pytest.mark.parametrize(
    ("texts", "said"),
    [
        ({"price": "cheap"}, "Price, at most: "),
        ({"price": "0 €"}, "Price, at most: this must be more than nothing."),
        ({"slowest": "30 kHz", "fastest": "20 kHz"}, "PWM frequency, at most: this lies below the least"),
        ({"parallel": "2.5"}, "In parallel, at most: this is a whole number"),
        ({"height": "3 V"}, "Heat sink's height, at most: "),
    ],
)
def test_a_wish_that_cannot_be_is_told_by_its_name(texts: dict[str, str], said: str) -> None:
    with pytest.raises(WishError) as told:
        wishes_of(texts)
    assert str(told.value).startswith(said)


def test_wishes_are_read_as_people_write_them() -> None:
    read = wishes_of({"price": "12,50", "junction": "100", "height": "3 cm", "slowest": "16k", "fastest": " "})
    assert read == Wishes(price=12.5, junction=100.0, height=0.03, slowest=16e3)


@pytest.mark.usefixtures("narrow")
def test_an_empty_upper_switch_is_chosen_from_the_shelf() -> None:
    at = context(one_way(staged(lantern_carousel(), "p/n bridge", upper=None)))
    found = design(at, list(components().values()))
    assert found.designs
    assert all(isinstance(d.stage.upper, Mosfet) and d.stage.upper.channel == "P" for d in found.designs)


@pytest.mark.usefixtures("narrow")
def test_relay_and_diode_are_exchanged_as_brute_force_would() -> None:
    at = context(one_way(staged(lantern_carousel(), "low side", diode=None)))
    shelf = small("m-n55-22-ll", "m-n60-35-s", "g-low-4a", *(c.id for c in components().values() if c.kind == "diode"))
    found = design(at, shelf)
    assert found.designs
    able = exchanged(at.unit.stage, shelf, [])
    every = [
        made
        for diode in able["diode"]
        for _, _, (made, _) in all_of(with_part(at, "diode", diode), space_of(with_part(at, "diode", diode), shelf))
        if made is not None
    ]
    assert min(prices_of(found)) == pytest.approx(min(d.price for d in every if d.price is not None))
    coolest = next(d for d in found.designs if "coolest" in d.label)
    assert coolest.heat_w == pytest.approx(min(d.heat_w for d in every if d.utilisation <= 1), rel=1e-6)


def test_what_is_locked_or_the_builders_own_choice_is_not_exchanged() -> None:
    stage = context(cider_stirrer()).unit.stage
    shelf = list(components().values())
    assert "upper" not in exchanged(stage, shelf, []) and "diode" not in exchanged(stage, shelf, [])
    bare = stage.model_copy(update={"guard": None, "fuse": None})
    assert exchanged(bare, shelf, []) == {}
    held = [slot for slot in ("guard", "fuse") if getattr(stage, slot) is not None]
    assert list(exchanged(stage, shelf, [])) == held
    assert exchanged(stage, shelf, held) == {}


@pytest.mark.usefixtures("narrow")
def test_a_price_that_nobody_knows_is_neither_nothing_nor_the_cheapest() -> None:
    make, ids = SHELVES["half bridge"]
    at, shelf = context(make()), [c.model_copy(deep=True) for c in small(*ids)]
    cheapest = next(d for d in design(at, shelf, ORDER).designs if "cheapest" in d.label)
    for part in shelf:
        if part.id == getattr(cheapest.stage.switch, "id", ""):
            part.price.text = ""
            bind(part, f"components.{part.id}")
    again = design(at, shelf, ORDER)
    best = next(d for d in again.designs if "cheapest" in d.label)
    assert best.price is not None and best.price > (cheapest.price or 0.0)
    assert getattr(best.stage.switch, "id", "") != getattr(cheapest.stage.switch, "id", "")
    dear = design(at, shelf, ORDER, wishes=Wishes(price=1e6))
    assert all(d.price is not None for d in dear.designs), "a price that nobody knows is not within any"


@pytest.mark.usefixtures("narrow")
def test_no_fuse_is_taken_that_blows_at_every_start_because_it_is_cheap() -> None:
    """The stirrer's working current lies above 0.5 A: the glass fuse of that size is the cheapest, only warned of."""
    make, ids = SHELVES["half bridge"]
    at = context(make())
    fuses = [c.id for c in components().values() if c.kind == "fuse"]
    found = design(at, small(*ids, *fuses), [slot for slot in ORDER if slot != "fuse"])
    assert found.designs and at.unit.stage.fuse is not None
    for made in found.designs:
        assert not [x.code for x in made.tight if "fuse" in x.code and (x.used or 0.0) > 1], made.stage.fuse
    glass = min((components()[i] for i in fuses), key=lambda c: c.price.value or 0.0)
    held, _ = worked(with_part(at, "fuse", glass), found.designs[0].choice)
    assert held is not None and [x.code for x in held.tight if "fuse" in x.code and (x.used or 0.0) > 1]
