"""Checks of the encoder: the rate against the way it is read, the calibration against the nominal."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ...algebra.findings import Remedy
from ...algebra.limits import Check, claim, lower, upper
from ...algebra.nodes import Constant, number, presence
from ...algebra.quantities import phrase
from ...cases.encoder import EncoderResult, complete_runs
from ...cases.encoder_sensors import DiscResult, PairResult, TachoResult
from ...cases.operating import Context
from ...laws import encoder as rules
from ...model.encoder import HandRun

STATION = "encoder"
WORTH_A_LOOK = 0.02
ROOM = 0.98
FAIR_PHASE = Constant(
    "30°", math.pi / 6, "angle", "common practice, no source: a third of a quarter off still counts evenly enough"
)


def checks(at: Context, result: EncoderResult) -> list[Check]:
    """The count rate at top speed against the way it is read; the calibration against the nominal."""
    spec, drive = at.drive.encoder, at.drive.id
    if at.drive.has_tacho and result.tacho is not None:
        return _tacho(at, result.tacho)
    if not at.drive.has_encoder:
        return []
    remedy = _bounded(at, result)
    if spec.method == "polling":
        rate = upper(
            "encoder.rate",
            station=STATION,
            title="Count rate, polled",
            stress=result.rate_top,
            bound=result.polling_limit,
            todo="Read it by interrupts, shorten the loop, or take fewer counts per turn.",
            drive=drive,
            where=f"{spec.path}.loop_time",
            destructive=False,
            remedy=remedy,
            because=[spec.chosen("method")],
        )
    else:
        rate = upper(
            "encoder.rate",
            station=STATION,
            title="Count rate, interrupts",
            stress=result.rate_top,
            bound=result.interrupt_limit,
            todo="Take fewer counts per turn, shorten the interrupt, or use a hardware counter.",
            drive=drive,
            where=f"{spec.path}.interrupt_time",
            destructive=False,
            remedy=remedy,
            because=[spec.chosen("method")],
        )
    found: list[Check] = [rate, *_states(at, result), *_outputs(at, result), *_levels(at, result)]
    return [*found, *_calibration(at, result)]


def _tacho(at: Context, tacho: TachoResult) -> list[Check]:
    """Its volts lie within what the converter takes, both ways."""
    spec, drive = at.drive.encoder, at.drive.id
    return [
        upper(
            "encoder.tacho_range",
            station=STATION,
            title="Tacho at the converter",
            stress=tacho.volts,
            bound=at.controller.sense_reference.leaf,
            todo="Divide it further: beyond its reference the converter reads no more, and an input breaks.",
            drive=drive,
            where=f"{spec.path}.divider",
        ),
        claim(
            "encoder.tacho_way",
            station=STATION,
            title="It never goes below nothing at its input",
            holds=at.drive.signals.reversal == "one way" or spec.rectified == "yes",
            todo="Driven back it gives volts below nothing, which break an input: rectify it, and let the program take "
            "the way that it drives.",
            drive=drive,
            where=f"{spec.path}.rectified",
        ),
    ]


def _bounded(at: Context, result: EncoderResult) -> Remedy | None:
    """The duty up to which it is read, as a bound of its program, where a hand or the port sets the speed."""
    duty = result.duty_followed.value
    if duty is None or not 0 < duty < 1 or not at.drive.sets_speed or not at.drive.signals.by_program:
        return None
    text = phrase(math.floor(duty * ROOM * 1000) / 1000, "fraction")
    return Remedy("Bound the duty at which it is read", f"{at.drive.panel.path}.most_duty", text)


def _states(at: Context, result: EncoderResult) -> Iterator[Check]:
    """Every state lasts long enough to be seen; all four come; a sensor sees a tooth or a gap, not both."""
    spec, drive, own = at.drive.encoder, at.drive.id, result.disc
    polled = spec.method == "polling"
    if own is not None or not polled:
        # Even states that are polled are judged by their rate already: a passage for each count and more.
        yield lower(
            "encoder.state",
            station=STATION,
            title="The shortest state is seen, as cut" if own is not None else "The shortest state is seen",
            stress=result.state_time,
            bound=spec.loop_time.leaf if polled else spec.interrupt_time.leaf,
            todo="Move the sensors to a phase nearer to 90°, cut more evenly, or take fewer teeth.",
            drive=drive,
            where=f"{spec.path}.{'spacing' if own is not None else 'teeth'}",
            destructive=False,
            because=[spec.chosen("method"), spec.chosen("kind")],
        )
    if spec.kind == "contacts":
        yield claim(
            "encoder.contacts",
            station=STATION,
            title="Its contacts bear a motor's turns",
            holds=False,
            todo="A knob's contacts bounce and wear: they are for a hand. Take a disc or a bought encoder.",
            drive=drive,
            over="warn",
            where=f"{spec.path}.kind",
            destructive=False,
        )
    if spec.single:
        yield _alone(at)
    if own is None:
        return
    if own.pair is not None:
        yield from _pair(at, own, own.pair)
    yield upper(
        "encoder.aperture",
        station=STATION,
        title="A sensor sees less than a tooth",
        stress=spec.aperture.leaf,
        bound=rules.narrower(spec.tooth.leaf, own.gap),
        todo="Put a mask with a narrow slit before the sensor, or take fewer teeth.",
        drive=drive,
        where=f"{spec.path}.aperture",
        destructive=False,
    )


def _alone(at: Context) -> Check:
    """One sensor alone takes the way for the one in which it is driven: that must be so."""
    spec = at.drive.encoder
    slammed = at.drive.signals.reversal == "slammed"
    creeping = at.load.creeping
    known = creeping is None or creeping.value is not None
    pulled = creeping is not None and creeping.value is not None and creeping.value > 0
    causes = [
        *(["it is driven back while it still turns on: change over through zero"] if slammed else []),
        *(["its load may pull it back while nothing drives it: hold the load"] if pulled else []),
    ]
    return claim(
        "encoder.alone",
        station=STATION,
        title="It turns the way that it is driven",
        holds=False if causes else True if known else None,
        unknown="Not known yet whether the load may pull it back: give its weight at Load.",
        todo=f"One sensor alone counts wrongly here: {'; and '.join(causes)}. Or take two.",
        drive=at.drive.id,
        over="warn",
        where=f"{spec.path}.channels",
        destructive=False,
        remedy=Remedy("Two sensors", f"{spec.path}.channels", "2"),
    )


def _pair(at: Context, own: DiscResult, pair: PairResult) -> Iterator[Check]:
    """All four states come, and nearly alike."""
    spec, drive = at.drive.encoder, at.drive.id
    known = own.tooth.value is not None and pair.apart.value is not None
    yield claim(
        "encoder.states",
        station=STATION,
        title="All four states come",
        holds=own.shortest.value is not None if known else None,
        todo="With this tooth and these sensors one of the four states never comes: counts are lost at every tooth. "
        "One tooth and one gap must each cover both sensors at some time: sensors a quarter pitch apart, tooth and gap "
        "alike.",
        drive=drive,
        where=f"{spec.path}.spacing",
        destructive=False,
        unknown="Not known yet: the diameter at the sensors, the tooth's width, and how far apart the sensors are.",
    )
    yield upper(
        "encoder.phase",
        station=STATION,
        title="The channels are a quarter apart",
        stress=rules.off_quadrature(pair.phase),
        bound=FAIR_PHASE,
        todo="Move one sensor until they are n + ¼ pitches apart (n + ¾ counts the other way): steps come evenly then, "
        "and each has the same time.",
        drive=drive,
        where=f"{spec.path}.spacing",
        over="warn",
        destructive=False,
    )


def _outputs(at: Context, result: EncoderResult) -> Iterator[Check]:
    """A channel with a pull-up has risen well before its shortest state is over."""
    if result.rise is None:
        return
    yield upper(
        "encoder.rise",
        station=STATION,
        title="Its channels rise in time",
        stress=result.rise,
        bound=rules.quarter_of(result.state_time),
        todo="Take a smaller pull-up or a shorter, unshielded line.",
        drive=at.drive.id,
        where=f"{at.drive.encoder.path}.pull_up",
        destructive=False,
        because=[at.drive.encoder.chosen("outputs"), at.drive.encoder.chosen("kind")],
    )


def _levels(at: Context, result: EncoderResult) -> Iterator[Check]:
    """A light barrier's levels reach the thresholds of the input, lit and dark."""
    spec, found = at.drive.encoder, result.levels
    if found is None:
        return
    if spec.reads == "comparator":
        low, high = spec.switch_low.leaf, spec.switch_high.leaf
        yield lower(
            "encoder.hysteresis",
            station=STATION,
            title="The comparator's levels lie apart",
            stress=high,
            bound=low,
            todo="It must switch high above a higher level than it switches low below: the other way round it "
            "chatters.",
            drive=at.drive.id,
            where=f"{spec.path}.switch_high",
            destructive=False,
        )
    yield upper(
        "encoder.lit",
        station=STATION,
        title="Lit, it reads low",
        stress=found.lit,
        bound=found.low,
        todo="More light (a smaller resistor at its lamp) or a larger pull-up; else a comparator with hysteresis.",
        drive=at.drive.id,
        where=f"{spec.path}.pull_up",
        destructive=False,
    )
    yield lower(
        "encoder.dark",
        station=STATION,
        title="Dark, it reads high",
        stress=found.dark,
        bound=found.high,
        todo="A smaller pull-up, a hood against light from elsewhere, a denser disc; else a comparator.",
        drive=at.drive.id,
        where=f"{spec.path}.pull_up",
        destructive=False,
    )


def _calibration(at: Context, result: EncoderResult) -> Iterator[Check]:
    """What was counted by hand agrees with the nominal, and the runs with one another."""
    spec, drive = at.drive.encoder, at.drive.id
    measured = result.by_hand if result.by_hand is not None else spec.calibrated.leaf
    if measured.value is not None:
        off = rules.calibration_error(
            measured, result.counts_per_output_turn, because=[presence(spec.calibrated.leaf), spec.members("runs")]
        )
        yield claim(
            "encoder.calibration",
            station=STATION,
            title="Calibration agrees with the nominal",
            holds=None if off.value is None else abs(off.value) <= WORTH_A_LOOK,
            todo="Count ten turns again, and count the teeth and the gear: they differ by more than 2 %.",
            drive=drive,
            over="warn",
            where=f"{spec.path}.calibrated",
            destructive=False,
            unknown="Not known yet: give the teeth.",
        )
    runs = complete_runs(at)
    if len(runs) < 2 or result.by_hand is None or result.by_hand.value is None:
        return
    mean = result.by_hand.value
    worst = max(runs, key=lambda r: _beyond(r, mean))
    turns, counts = number(worst.turns.leaf), number(worst.counts.leaf)
    yield claim(
        "encoder.runs",
        station=STATION,
        title="The runs by hand agree",
        holds=_beyond(worst, mean) <= 0,
        todo=f"The run of {turns:g} turns gives {counts / turns:.6g} counts a turn where all together give {mean:.6g}: "
        "more than a hand that stops 2° off explains. Count it again; a whole tooth off points to lost counts.",
        drive=drive,
        over="warn",
        where=f"{worst.path}.counts",
        destructive=False,
    )


HAND_STOPS_WITHIN = 2 / 360
"""Turns: a mark is met by hand within some degrees (common practice, no source)."""


def _beyond(run: HandRun, mean: float) -> float:
    """By how many counts a run is further off than a hand that stops a little off, at both ends, and one count."""
    turns, counts = number(run.turns.leaf), number(run.counts.leaf)
    return abs(counts - mean * turns) - (2 * HAND_STOPS_WITHIN * mean + 1)
