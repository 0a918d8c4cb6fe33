"""The radio link's figures, against what others give and by walking the chain of states."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest

from tests.program.radio_kit import handset, radio_build
from zinc_whistle.core.algebra.findings import Finding
from zinc_whistle.core.assess import assess
from zinc_whistle.core.laws import radio as rules
from zinc_whistle.core.model.build import Build


def walked(loss: float, run: int) -> float:
    """Trials until so many are lost in a row, as the time to absorption of the chain of runs."""
    moves = np.zeros((run, run))
    for k in range(run):
        moves[k, 0] += 1 - loss
        if k + 1 < run:
            moves[k, k + 1] += loss
    return float(np.linalg.solve(np.eye(run) - moves, np.ones(run))[0])


@pytest.mark.parametrize(("loss", "run"), [(0.5, 5), (0.5, 10), (0.1, 3), (0.05, 5), (0.9, 20)])
def test_the_time_to_a_run_is_that_of_the_chain(loss: float, run: int) -> None:
    assert rules.between_false_stops.bare(0.1, loss, run) == pytest.approx(0.1 * walked(loss, run), rel=1e-9)


def test_runs_of_a_fair_coin() -> None:
    """Feller, An Introduction to Probability Theory and Its Applications I, ch. XIII.7: heads five times in a row take
    62 throws on average, ten times 2,046 (from memory; 2 (2^r − 1))."""
    assert rules.between_false_stops.bare(1.0, 0.5, 5) == pytest.approx(62)
    assert rules.between_false_stops.bare(1.0, 0.5, 10) == pytest.approx(2046)


def test_the_channel_of_senders_that_do_not_listen() -> None:
    """Abramson, The ALOHA System, 1970: the most that comes through is 1/(2e) = 18.4 % of the time, where senders fill
    half of it: for very many of them G exp(−2 G) at G = 1/2."""
    many, share = 10_000, 0.5
    length = share / many
    lost = rules.lines_lost.bare(1e-12, many, length, 1.0)
    assert share * (1 - lost) == pytest.approx(1 / (2 * math.e), rel=1e-3)
    assert rules.lines_lost.bare(0.1, 1, 0.05, 0.1) == pytest.approx(0.1), "one alone loses what the air loses"


def test_collisions_thrown_by_dice() -> None:
    """Two that send a line of 20 ms every 100 ms, by chance within it: lost where they overlap."""
    chance, hits, throws = random.Random(7), 0, 20_000
    for _ in range(throws):
        start = chance.uniform(0, 100)
        # The other one's times are a Poisson process of one in 100 ms.
        hits += chance.expovariate(1 / 100) < 40 and start >= 0
    lost = rules.lines_lost.bare(1e-12, 2, 0.02, 0.1)
    assert lost == pytest.approx(hits / throws, abs=0.02)


def test_times_by_hand() -> None:
    """24 + 19 signs of ten bits at 9,600 a second: 44.8 ms. The line alone 25 ms; over two wires at 38,400 another
    12.5 ms. A battery of 2 Ah at 45 + 14 + (30 − 14) × 0.25 = 63 mA lasts 31.7 h."""
    assert rules.exchange_time.bare(9600) == pytest.approx(44.79e-3, rel=1e-3)
    assert rules.press_arrives.bare(0.1, 9600) == pytest.approx(0.1375)
    current = rules.handset_current.bare(45e-3, 14e-3, 30e-3, rules.line_in_air.bare(9600), 0.1)
    assert current == pytest.approx(63e-3)
    assert rules.battery_life.bare(2 * 3600, current) / 3600 == pytest.approx(31.75, rel=1e-3)


def found(build: Build) -> dict[str, Finding]:
    return {f.code: f for f in assess(build).findings if f.code.startswith("radio.")}


def good() -> Build:
    build = radio_build()
    build.radio.period.text, build.radio.tries.text = "100 ms", "7"
    build.radio.air_rate.text, build.radio.loss.text = "115200", "2 %"
    build.radio.v_min.text, build.radio.v_max.text = "3 V", "5.5 V"
    build.radio.sends.text, build.radio.listens.text = "30 mA", "14 mA"
    return build


def test_a_good_link_holds_throughout() -> None:
    assert {f.verdict for f in found(good()).values()} == {"holds"}


@pytest.mark.parametrize(
    ("path", "text", "code", "verdict", "near"),
    [
        # 44.8 ms of each handset in 100 ms are 90 % of the time; at 38,400 a second 22 %.
        ("radio.air_rate", "9600", "radio.channel", "exceeded", "38400"),
        # 10.5 periods of 100 ms are 1.05 s, 9.5 of them 0.95 s.
        ("radio.tries", "10", "radio.silence", "exceeded", "8"),
        # Half of the lines lost: five in a row each 6 s.
        ("radio.loss", "50 %", "radio.false_stops", "exceeded", "2 %"),
        ("radio.address", "", "radio.address", "unknown", "23"),
        ("radio.v_max", "3.6 V", "radio.supply", "exceeded", "5 V"),
        ("radio.v_max", "", "radio.supply", "unknown", "5 V"),
        ("handsets.1.number", "1", "radio.h2.number", "exceeded", "2"),
        # Its V in takes 6.5 V to 15 V; the logic's own pin 4.5 V to 5.5 V.
        ("handsets.0.v_flat", "4.4 V", "radio.h1.battery", "exceeded", "4.6 V"),
        ("handsets.0.v_full", "", "radio.h1.battery", "unknown", "4.8 V"),
    ],
)
def test_what_trips_each_check_and_its_neighbour(path: str, text: str, code: str, verdict: str, near: str) -> None:
    for typed, wanted in ((text, {verdict}), (near, {"holds", "tight"})):
        build = good()
        spot: object = build
        for name in path.split("."):
            spot = spot[int(name)] if isinstance(spot, list) else getattr(spot, name)
        spot.text = typed
        assert found(build)[code].verdict in wanted, typed


def test_buttons_must_press_what_is_there() -> None:
    def todo(*buttons: tuple[str, str], drive: str = "d1") -> str:
        build = good()
        build.handsets[0] = handset(1, "c2", *buttons, drive=drive)
        told = found(build)["radio.h1.buttons"]
        return told.todo if told.verdict == "exceeded" else told.verdict

    assert todo(("Up", "forward")) == "holds"
    assert "no home" in todo(("Home", "home"))
    assert "presses the same" in todo(("A", "back"), ("B", "back"))
    assert "choose its drive" in todo(("A", "back"), drive="")
    assert todo() == "Give it a button."


def test_a_handset_has_a_controller_of_its_own() -> None:
    build = good()
    build.handsets[0].controller = "c1"
    assert "tells a drive" in found(build)["radio.h1.controller"].todo
    build.handsets[0].controller = "c3"
    assert "cannot share" in found(build)["radio.h1.controller"].todo


def test_a_drive_that_only_handsets_command_needs_one() -> None:
    build = good()
    build.handsets = [handset(1, "c2", ("Halt", "stop"))]
    assert found(build)["radio.d1.commanded"].verdict == "exceeded"
    build.handsets = []
    assert found(build)["radio.d1.commanded"].verdict == "exceeded"
    build.driven[0].panel.command = "hold"
    assert found(build) == {}
