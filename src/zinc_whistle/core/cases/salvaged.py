"""What a salvaged board is: every circuit that could be behind its pads, less those that the trials rule out.

A guess is an input style, which pad is which of its inputs, and at which level each acts. The truth tables tell what a
trial would do under it; what is left after all trials is what the board may be, and the next trial is the one whose
worst outcome leaves fewest.
"""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import get_args

from ..model.driver import DriverPart, InputStyle
from ..model.given import Given, bind
from ..model.salvaged import SalvagedBoard
from .truth import effect_of, truth_table

STYLES: tuple[str, ...] = tuple(s for s in get_args(InputStyle) if s not in ("two gates", "by hand"))
MOST_PADS = 6
"""More pads than that have not one but several drivers behind them."""
Touched = Mapping[str, int]


@dataclass(frozen=True, slots=True)
class Guess:
    """A circuit that may be behind the pads: the pad and the active level of each input, and which way is forward."""

    style: str
    inputs: tuple[str, ...]
    pads: tuple[str, ...]
    active: tuple[int, ...]
    turned: bool


@dataclass(frozen=True, slots=True)
class Seen:
    """What a trial shows: how the motor goes, and whether a relay clicks."""

    effect: str
    clicks: bool


@dataclass(frozen=True, slots=True)
class TrialsFinding:
    """What is left: the guesses, the sentence of each style among them, the next trial, and a part if one is left."""

    guesses: tuple[Guess, ...]
    says: tuple[str, ...]
    next: str
    part: DriverPart | None


def shown(guess: Guess, touched: Touched) -> Seen:
    """What a trial would show if the guess were right; a pad that is left alone rests at its idle level."""
    levels = [
        int(touched[pad] == active) if pad in touched else 0
        for pad, active in zip(guess.pads, guess.active, strict=True)
    ]
    action = effect_of(guess.style, levels)
    clicks = any(level and name.startswith("COIL") for name, level in zip(guess.inputs, levels, strict=True))
    ways = {"forward": "one way", "back": "other way"}
    if guess.turned:
        ways = {"forward": "other way", "back": "one way"}
    # A motor that stands does not show whether it is shorted: at rest brake and off look alike.
    return Seen(ways.get(action, "nothing"), clicks)


def _guesses(pads: Sequence[str]) -> Iterator[Guess]:
    for style in STYLES:
        names = truth_table(style, "slow").names
        if len(names) > len(pads):
            continue
        for chosen in itertools.permutations(pads, len(names)):
            for active in itertools.product((1, 0), repeat=len(names)):
                for turned in (False, True):
                    yield Guess(style, names, chosen, active, turned)


def _agrees(guess: Guess, touched: Touched, effect: str, click: str) -> bool:
    seen = shown(guess, touched)
    if click and (click == "yes") != seen.clicks:
        return False
    return seen.effect == ("nothing" if effect == "stops" else effect)


def find_out(board: SalvagedBoard) -> TrialsFinding:
    """What the worksheet's trials leave. ValueError with a sentence where it cannot be read."""
    return _found(board.model_dump_json())


@lru_cache(maxsize=16)
def _found(worksheet: str) -> TrialsFinding:
    # Some ten thousand guesses: a sheet that is drawn at each key must not look at them anew.
    board = SalvagedBoard.model_validate_json(worksheet)
    bind(board, "salvaged")
    pads = [p.label.strip() for p in board.pads if p.leads == "" and p.label.strip()]
    small = {p.casefold(): p for p in pads}
    if len(small) < len(pads):
        raise ValueError("Two pads have one label: give each its own.")
    if not pads:
        return TrialsFinding((), (), "List the pads, and find by continuity which are supply, ground and motor.", None)
    if len(pads) > MOST_PADS:
        raise ValueError(f"{len(pads)} pads to be tried are more than one driver has: leave out what leads elsewhere.")
    trials = []
    for trial in board.trials:
        touched = trial.touched()
        lost = [p for p in touched if p not in small]
        if lost:
            raise ValueError(f"“{lost[0]}” is none of the pads that are to be tried.")
        if touched:
            trials.append((touched, trial.effect, trial.click))
    left = [g for g in _guesses(tuple(small)) if all(_agrees(g, *t) for t in trials)]
    if trials and not left:
        return TrialsFinding(
            (), ("No circuit that is known here does all that was seen: try the trials again, one by one.",), "", None
        )
    after = _next(left, tuple(small), [t for t, _, _ in trials], small)
    if not after:
        # No trial tells apart what is left: which of two ways is called forward is a matter of the motor's leads.
        left = [g for g in left if not g.turned] or left
    named = _named(left, small)
    settled = trials and not after and len({g.style for g in left}) == 1
    return TrialsFinding(
        tuple(left), tuple(named if trials else ()), after, _part(board, left[0], small) if settled else None
    )


def _looks_alike(left: Iterable[Guess]) -> set[tuple[object, ...]]:
    """The guesses that differ in more than the name of a direction."""
    return {(g.style, g.pads, g.active) for g in left}


def _named(left: Sequence[Guess], small: Mapping[str, str]) -> Iterator[str]:
    """What each style that is left would be, the commonest first; where pads are certain, which is which."""
    styles = Counter(g.style for g in left)
    for style, _ in styles.most_common():
        own = [g for g in left if g.style == style]
        certain = []
        for at, name in enumerate(own[0].inputs):
            found = {(g.pads[at], g.active[at]) for g in own}
            if len(found) == 1:
                pad, active = found.pop()
                certain.append(f"{small[pad]} is {name}, active {'high' if active else 'low'}")
        words = "; ".join(certain) if certain else "which pad is which is open"
        yield f"{SAID[style]}: {words}."


SAID = {
    "two inputs": "A bridge with an input for each way",
    "pwm and direction": "A bridge with one input that drives and one for the way",
    "pwm, direction, brake": "A bridge with drive, way and brake",
    "two inputs and enable": "A bridge with two inputs and an enable",
    "coil and pwm": "Two relays and a transistor that drives",
    "one input": "One switch, one way",
    "crossed coil and pwm": "One relay with crossed contacts and a transistor that drives",
    "two coils": "A relay for each end of the motor",
    "one coil": "One relay, on or off",
}


def _next(left: Sequence[Guess], pads: Sequence[str], done: Sequence[Touched], small: Mapping[str, str]) -> str:
    """The trial whose worst outcome leaves fewest; empty where none tells more."""
    if len(_looks_alike(left)) <= 1:
        return ""
    tried = [dict(t) for t in done]
    options: list[dict[str, int]] = [
        dict(zip(some, levels, strict=True))
        for number in (1, 2, 3)
        for some in itertools.combinations(pads, number)
        for levels in itertools.product((1, 0), repeat=number)
    ]
    best: tuple[int, dict[str, int]] | None = None
    sample = left[:: max(len(left) // 400, 1)]
    for option in options:
        if option in tried:
            continue
        worst = max(Counter(shown(g, option) for g in sample).values())
        if worst < len(sample) and (best is None or worst < best[0]):
            best = (worst, option)
    if best is None:
        return ""
    touch = " and ".join(f"{small[p]} to {'the plus' if level else 'the minus'}" for p, level in best[1].items())
    return f"Next, each through 1 kΩ: {touch}. Does it run, which way, does a relay click?"


KIND = {
    "coil and pwm": "relay pair",
    "crossed coil and pwm": "relay pair",
    "two coils": "contacts",
    "one coil": "contacts",
    "one input": "mosfet switch",
}


def _part(board: SalvagedBoard, guess: Guess, small: Mapping[str, str]) -> DriverPart:
    """The board as a part, with what was found and nothing else: its ratings are still to be given."""
    part = DriverPart(id="salvaged", name="Salvaged board", kind="mosfet bridge", effort="ready board")
    part.kind = KIND.get(guess.style, "mosfet bridge")  # type: ignore[assignment]
    part.input_style = guess.style  # type: ignore[assignment]
    one_way = guess.style in ("one input", "one coil")
    part.reverses = "no" if one_way else "yes"
    part.brakes = "no" if one_way or guess.style.startswith("crossed") else "yes"
    if board.volts.value is not None:
        part.v_max = Given(text=board.volts.text, origin="measured", note="what its appliance gave it")
    which = [
        f"{name} is {small[pad]}{'' if active else ' (active low)'}"
        for name, pad, active in zip(guess.inputs, guess.pads, guess.active, strict=True)
    ]
    part.active_low = ", ".join(n for n, active in zip(guess.inputs, guess.active, strict=True) if not active)
    part.note = f"Found by trials: {', '.join(which)}."[:300]
    bind(part, "salvaged")
    return part
