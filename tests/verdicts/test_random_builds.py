"""Random builds: a demo or an experienced builder's, with several things about it changed at once, good and bad.

What must hold of every build holds of them: less known is no better, remedies stop nothing else, margins go the right
way. Each is drawn from its number alone; the changes are those of the pairs, so that many of them stand at a limit.
"""

from __future__ import annotations

import random
from collections import defaultdict

import pytest

from tests.kit import given_at
from zinc_whistle.core.algebra.quantities import show
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.given import Given

from .kit import SHELF, owner_of
from .pairs import PAIRS, Pair
from .test_evidence import GOOD, LIVED_WITH, MARGINS, MEANS_ANOTHER, OF_TWO_FIGURES, by_place, taken
from .test_pairs import base

DRAWN = 16
AT_ONCE = 4
EMPTIED = 4

ONE_OF_SEVERAL = ".locked."
"""A wrong one among several readings: without it the others decide, and may be right."""

_OF: dict[str, list[Pair]] = defaultdict(list)
for _pair in PAIRS:
    if not _pair.neighbour:
        _OF[_pair.build].append(_pair)
BASES = sorted(name for name, pairs in _OF.items() if len(pairs) > AT_ONCE)


def drawn(number: int) -> Build:
    """A build by its number: several pairs' changes together, each on its bad or its good side."""
    dice = random.Random(number)
    while True:
        name = dice.choice(BASES)
        build = base(name)
        try:
            for pair in dice.sample(_OF[name], AT_ONCE):
                for path, text in dice.choice((pair.trips, pair.holds)).items():
                    _put(build, path, text)
            return Build.model_validate(build.model_dump())
        except (ValueError, AttributeError, StopIteration):
            continue  # two changes that cannot stand together


def _put(build: Build, path: str, text: str) -> None:
    owner, last = owner_of(build, path)
    held = getattr(owner, last)
    if isinstance(held, list):
        setattr(owner, last, [text] if text else [])
    else:
        setattr(owner, last, Given(text=text, origin="measured") if isinstance(held, Given) else text)


def assessed(number: int) -> Assessment:
    return assess(drawn(number), SHELF)


@pytest.mark.parametrize("number", range(DRAWN))
def test_knowing_less_makes_no_verdict_better(number: int) -> None:
    before = assessed(number)
    dice = random.Random(-number)
    paths = [p for p, g in sorted(before.bound.givens.items()) if g.value is not None]
    paths = [p for p in paths if not any(x in p for x in (*MEANS_ANOTHER, ONE_OF_SEVERAL))]
    was = by_place(before)
    wrong = []
    for path in dice.sample(paths, EMPTIED):
        build = drawn(number)
        given_at(build, path).text = ""
        for place, now in by_place(assess(build, SHELF)).items():
            then = was.get(place) if not place[1].startswith(OF_TWO_FIGURES) else None
            if then is not None and then.verdict not in GOOD and now.verdict in GOOD:
                wrong.append(f"{place}: {then.verdict} became {now.verdict} without {path}")
    assert not wrong, "\n".join(wrong)


@pytest.mark.parametrize("number", range(DRAWN))
def test_a_remedy_mends_what_it_is_offered_for_and_stops_nothing_else(number: int) -> None:
    before = assessed(number)
    then = by_place(before)
    wrong = []
    for failed in before.findings:
        if failed.remedy is None or failed.severity not in ("stop", "warn"):
            continue
        after = by_place(assess(taken(drawn(number), failed.remedy), SHELF))
        again = after.get((failed.drive, failed.code)) if failed.code not in LIVED_WITH else None
        if again is not None and again.verdict not in GOOD:
            wrong.append(f"{failed.remedy.label} leaves {failed.code} {again.verdict}")
        stops = [p for p, f in after.items() if f.severity == "stop" and (p not in then or then[p].severity != "stop")]
        if stops:
            wrong.append(f"{failed.remedy.label} for {failed.code} stops {stops}")
    assert not wrong, "\n".join(wrong)


@pytest.mark.parametrize("number", range(DRAWN))
def test_margins_go_the_right_way_and_all_can_be_read(number: int) -> None:
    done = assessed(number)
    asked = {f.code for f in done.findings}
    compared = 0
    for code, path, worse, better in MARGINS:
        uses = []
        for text in (worse, better) if code in asked else ():
            build = drawn(number)
            try:
                given_at(build, path).text = text
            except (AttributeError, StopIteration, KeyError, ValueError):
                break
            found = [f.used for f in assess(build, SHELF).findings if f.code == code]
            uses.append(found[0] if found else None)
        if len(uses) == 2 and uses[0] is not None and uses[1] is not None:
            compared += 1
            assert uses[1] <= uses[0] * (1 + 1e-9), f"{code} by {path}: {uses}"
    for f in done.findings:
        assert f.used is None or 0 <= f.used < 1e6, f"{f.code}: {f.used}"
        for node in (f.stress, f.limit):
            if node is not None and node.value is not None:
                shown, _ = show(node.value, node.kind.name)
                if shown != "below 0":
                    number_shown = float(shown.replace("\u202f", "").replace(" ", "").replace("−", "-"))
                    assert abs(number_shown) < 1e6, f"{f.code}: {shown}"
    assert compared or not asked & {m[0] for m in MARGINS}
