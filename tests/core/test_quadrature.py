"""Captures of two channels against a truth that is known: counts, phase, duty, wrong teeth, lost counts, bounce."""

from __future__ import annotations

import random
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from zinc_whistle.core.captures.encoder_capture import look_at
from zinc_whistle.core.captures.encoder_words import figures
from zinc_whistle.core.captures.quadrature import Changes, analyse, analyse_alone, changes, levels, steps_of
from zinc_whistle.core.captures.table import CaptureError
from zinc_whistle.core.captures.vcd import read_vcd, together
from zinc_whistle.core.laws.decoder import ILLEGAL

TEETH, SPEED, RATE = 12, 3.0, 50_000
"""Turns a second, and samples a second."""


def seen(
    seconds: float = 3.0,
    *,
    phase: float = 90.0,
    tooth: float = 0.5,
    wrong: dict[int, float] | None = None,
    speed: float = SPEED,
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """What two sensors see of a disc that turns; ``wrong`` are teeth (from 1) whose B comes at another phase."""
    time = np.arange(round(seconds * RATE)) / RATE
    place = time * speed * TEETH + 0.03
    which = np.floor(place).astype(int) % TEETH
    shift = np.full(TEETH, phase / 360)
    for k, p in (wrong or {}).items():
        shift[k - 1] = p / 360
    a = place % 1 < tooth
    b = (place % 1 >= shift[which]) & (place % 1 < shift[which] + tooth)
    late = shift + tooth - 1
    b |= (place % 1 < np.roll(late, 1)[which]) & (place >= 1)
    return time, a, b


def test_what_a_good_disc_gives() -> None:
    """12 teeth, 3 turns a second, 3 s: 432 counts of ×4, 90°, half and half, 36 periods a second."""
    time, a, b = seen()
    found = analyse(changes(time, a, b), teeth=TEETH)
    assert abs(found.count - 4 * TEETH * SPEED * 3) <= 1 and found.illegal == 0
    assert found.phase_deg == pytest.approx(90, abs=0.5)
    assert found.a.frequency_hz == pytest.approx(TEETH * SPEED, rel=1e-3)
    assert found.a.duty == pytest.approx(0.5, abs=0.01) and found.b.duty == pytest.approx(0.5, abs=0.01)
    assert found.direction == "forward: A leads" and found.wrong_teeth == () and found.a.bounces == 0


def test_a_phase_of_sixty_degrees_and_a_thin_tooth() -> None:
    found = analyse(changes(*seen(phase=60, tooth=0.4)))
    assert found.phase_deg == pytest.approx(60, abs=0.5) and found.a.duty == pytest.approx(0.4, abs=0.01)


def test_the_wrong_tooth_is_named() -> None:
    """Tooth 5 comes 40° early: no other is named. The capture begins within tooth 1, so that it is the fourth seen;
    after an index at the rise of tooth 3 it is the third."""
    read = changes(*seen(wrong={5: 50.0}))
    found = analyse(read, teeth=TEETH)
    assert [t.place for t in found.wrong_teeth] == [4]
    index = (np.arange(8) * TEETH + 2 - 0.03 - 0.01) / SPEED / TEETH
    assert [t.place for t in analyse(read, teeth=TEETH, index_s=index).wrong_teeth] == [3]
    assert found.wrong_teeth[0].phase_deg == pytest.approx(50, abs=1)


def test_backwards_is_told_and_counted_down() -> None:
    time, a, b = seen()
    found = analyse(changes(time, b, a))
    assert found.direction == "back: B leads" and found.count < -400
    assert found.phase_deg == pytest.approx(90, abs=0.5), "the same disc, the other way round"
    assert analyse(changes(time, b, a), swap=True).count == analyse(changes(time, a, b)).count


def test_lost_counts_are_found_where_they_are() -> None:
    """Three stretches of a third of a pitch in which the sampler slept: both bits change at once."""
    time, a, b = seen()
    keep = np.ones(len(time), dtype=bool)
    for at in (0.5, 1.2, 2.4):
        start = round(at * RATE)
        # To the middle of a state, from the middle of the one before last.
        code = a.astype(int) * 2 + b
        edges = np.flatnonzero(np.diff(code[start:])) + start + 1
        middle = (edges[0] + edges[1]) // 2
        keep[edges[0] - 5 : middle] = False
        keep[middle : edges[1] + 5] = False
    found = analyse(changes(time[keep], a[keep], b[keep]))
    assert found.illegal == 3
    assert found.lost_at == pytest.approx((0.5, 1.2, 2.4), abs=0.02)
    good = analyse(changes(time, a, b))
    assert good.count - found.count == 6, "two counts each"


def test_bounce_is_counted_apart_and_moves_nothing() -> None:
    time, a, b = seen(0.6)
    edges = np.flatnonzero(np.diff(a.astype(int)))[2:8]
    bounced = a.copy()
    for e in edges:
        bounced[e + 3 : e + 5] = ~bounced[e + 3]
    found, clean = analyse(changes(time, bounced, b)), analyse(changes(time, a, b))
    assert found.a.bounces >= 2 * len(edges) and clean.a.bounces == 0
    assert found.count == clean.count and found.illegal == 0


def test_an_index_tells_the_counts_of_a_turn() -> None:
    time, a, b = seen()
    index = np.arange(9) / SPEED + 0.1
    found = analyse(changes(time, a, b), index_s=index)
    assert found.turns == 8 and found.counts_per_turn == pytest.approx(4 * TEETH)


def test_analogue_levels_with_noise_and_hysteresis() -> None:
    """0.4 V and 4.3 V with slow edges and noise of 0.2 V: the levels and the counts of the clean signal."""
    time, a, b = seen(1.0)
    dice = np.random.default_rng(5)
    volts = []
    for bit in (a, b):
        slow = np.convolve(np.where(bit, 4.3, 0.4), np.ones(15) / 15, mode="same")
        slow[:15], slow[-15:] = np.where(bit, 4.3, 0.4)[:15], np.where(bit, 4.3, 0.4)[-15:]
        volts.append(slow + dice.normal(0, 0.2, len(slow)))
    la, lb = (levels(v) for v in volts)
    assert la.low_v == pytest.approx(0.4, abs=0.05) and la.high_v == pytest.approx(4.3, abs=0.05)
    found, clean = analyse(changes(time, la.high, lb.high)), analyse(changes(time, a, b))
    assert abs(found.count - clean.count) <= 1 and found.illegal == 0 and found.a.bounces == 0
    with pytest.raises(CaptureError, match="never changes"):
        levels(np.full(100, 3.3))


NEXT = {0b00: (0b10, 0b01), 0b10: (0b11, 0b00), 0b11: (0b01, 0b10), 0b01: (0b00, 0b11)}
"""Written down apart from the decoder: from each state, A leading and B leading."""


@given(st.integers(0, 10**6), st.integers(1, 300))
def test_random_walks_with_bounce_against_a_table_of_its_own(seed: int, length: int) -> None:
    dice, state, place, illegal = random.Random(seed), 0, 0, 0
    codes = [state]
    for _ in range(length):
        what = dice.choice("fffbbxj")
        if what == "f":
            state, place = NEXT[state][0], place + 1
        elif what == "b":
            state, place = NEXT[state][1], place - 1
        elif what == "j":  # bounce: there and back
            codes.append(NEXT[state][0])
        else:
            state, illegal = state ^ 0b11, illegal + 1
        codes.append(state)
    steps = steps_of(np.array(codes, dtype=np.uint8))
    assert int(np.sum(steps == ILLEGAL)) == illegal
    assert int(np.sum(np.where(steps == ILLEGAL, 0, steps))) == place


def test_a_vcd_file_is_read_as_its_own_changes() -> None:
    text = """$date today $end $timescale 10 us $end $scope module top $end
$var wire 1 ! A $end $var wire 1 " B $end $var wire 8 # bus $end $upscope $end $enddefinitions $end
#0 0! 0" b0 #
#5 1! #10 1" #15 0! #20 0" #25 1! x" #30 1"
"""
    found, end = read_vcd(text)
    assert [s.name for s in found] == ["A", "B"] and end == pytest.approx(300e-6)
    assert found[0].time_s == pytest.approx([0, 50e-6, 150e-6, 250e-6])
    assert found[1].high.tolist() == [False, True, False, True]
    time, a, b = together(*found)
    code = (a.astype(np.uint8) << 1) | b
    assert analyse(Changes(time, code, end)).count == 6
    for wrong in ("", "#0 1!", "$timescale 1 s $end $enddefinitions $end"):
        with pytest.raises(CaptureError):
            read_vcd(wrong)
    with pytest.raises(CaptureError, match="no moment after"):
        read_vcd(text.replace("#10", "#2"))


def test_one_sensor_alone_counts_its_edges_and_names_the_wide_tooth() -> None:
    """12 teeth, 3 turns a second, 3 s: 108 periods, 216 edges, half of each pitch high; tooth 5 is 70 % of its pitch.
    The capture begins within tooth 1, whose rise is past: tooth 5 is the fourth seen."""
    time = np.arange(round(3.0 * RATE)) / RATE
    place = time * SPEED * TEETH + 0.03
    wide = np.where(np.floor(place).astype(int) % TEETH == 4, 0.7, 0.5)
    high = place % 1 < wide
    found = analyse_alone(time, high, teeth=TEETH)
    assert found.single and abs(found.count - 216) <= 2 and found.direction == "not told by one sensor"
    assert found.phase_deg == pytest.approx(180, abs=1)
    (tooth,) = found.wrong_teeth
    assert tooth.place == 4 and tooth.phase_deg == pytest.approx(252, abs=2)
    assert found.a.frequency_hz == pytest.approx(36, rel=1e-3)
    turns = np.array([0.5, 1.0, 1.5]) / SPEED
    with_index = analyse_alone(time, high, teeth=TEETH, index_s=turns * 2)
    assert with_index.counts_per_turn == pytest.approx(24, abs=0.51)


def test_one_column_is_one_sensor(tmp_path: Path) -> None:
    file = tmp_path / "one.csv"
    file.write_text("time,a\n" + "".join(f"{k / 1000},{k // 10 % 2 * 5}\n" for k in range(2000)), "utf-8")
    read = look_at(file, -1, -1, -1, 10)
    assert read.found.single and read.b == -2 and read.expected == 20 and read.found.count == 199
    assert "high" in figures(read.found, read.volts)[3][1] and figures(read.found, [])[0] == ("Counted, ×2", "199")
    both = tmp_path / "two.csv"
    both.write_text(
        "time,a,b\n" + "".join(f"{k / 1000},{k // 10 % 2 * 5},{(k + 5) // 10 % 2 * 5}\n" for k in range(2000)), "utf-8"
    )
    assert not look_at(both, -1, -1, -1, 10).found.single and look_at(both, 1, -2, -1, 10).found.single
