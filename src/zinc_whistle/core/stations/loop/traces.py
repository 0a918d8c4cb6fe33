"""A recorded course of the real loop beside what the design foretells for it, and the gains that it asks for."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ...algebra.quantities import phrase
from ...captures.loop_trace import LoopTrace, read_trace
from ...cases.circuit import Circuit
from ...cases.encoder import EncoderResult
from ...cases.operating import Context
from ...laws.loop_margins import lagging
from ...laws.plant_fit import PlantFit, RelayFound, fit, relay_test
from ...laws.tuning import Gains, Lagging, simc
from ...model.change import Change
from ...simulation.moves.shaft import Turning
from .moves import shaft_of

OFF_BY = 0.15
"""A gain or a lag that differs by more from the design's is told (common practice, no source)."""
WORTH_TELLING_S, WORTH_RPM = 1e-4, 20
RPM = 30 / math.pi


@dataclass(frozen=True, slots=True)
class Suggestion:
    """Gains out of a record: by which rule, and the changes that take them."""

    rule: str
    gain: float
    integral_s: float | None
    changes: tuple[Change, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class TraceFound:
    """The record, the course that the design foretells for the same duty and the fitted one (rad/s), the fitted plant
    beside the design's, a relay test where it was one, gains, and sentences."""

    trace: LoopTrace
    foretold: np.ndarray | None
    fitted: PlantFit
    design: Lagging | None
    relay: RelayFound | None
    gains: tuple[Suggestion, ...]
    says: tuple[str, ...]


def trace_of(text: str, at: Context, solved: Circuit, encoder: EncoderResult, number: int | None) -> TraceFound:
    """A record of this drive looked at. ValueError (CaptureError) with a sentence."""
    trace = read_trace(text, number, encoder.counts_per_motor_turn.value)
    fitted = fit(trace.time_s, trace.duty, trace.speed)
    period = at.drive.loop.period.value
    foretold = design = None
    reason = ""
    designs: tuple[Lagging, ...] = ()
    takes: tuple[float, ...] = ()
    try:
        shaft = shaft_of(at, solved, encoder)
        foretold = _foretold(Turning(shaft), trace)
        cold = (at.winding_cold.value or 0.0) - (at.winding_hot.value or 0.0)
        warm = replace(shaft.motor, resistance_ohm=shaft.motor.resistance_ohm + cold)
        if period:
            design, designs = lagging(shaft.motor, period), (lagging(warm, period), lagging(shaft.motor, period))
        takes = tuple(
            shaft.coulomb_nm * m.resistance_ohm / m.constant**2 + m.lost_v / m.constant for m in (warm, shaft.motor)
        )
    except ValueError as error:
        reason = str(error)
    relay = relay_test(trace.time_s, trace.duty, trace.speed)
    gains = [_suggestion(at, "from the fitted drive (SIMC)", _of_fit(fitted.plant, period))]
    if relay is not None:
        tuned = Gains(0.45 * relay.ultimate_gain, relay.period_s / 1.2)
        gains.append(_suggestion(at, "from the relay test (Ziegler & Nichols, PI)", tuned))
    return TraceFound(
        trace=trace,
        foretold=foretold,
        fitted=fitted,
        design=design,
        relay=relay,
        gains=tuple(gains),
        says=tuple(_says(fitted, designs, takes, relay, reason)),
    )


def _foretold(turning: Turning, trace: LoopTrace) -> np.ndarray:
    turning.speed = float(trace.speed[0])
    found = [turning.speed]
    for duty, time in zip(trace.duty[:-1], np.diff(trace.time_s), strict=True):
        # Short steps: the supply's give and the current's limit are held over each.
        pieces = max(round(time / 2e-3), 1)
        for _ in range(pieces):
            turning.go(float(duty), float(time) / pieces)
        found.append(turning.speed)
    return np.array(found)


def _of_fit(plant: Lagging, period_s: float | None) -> Gains:
    """A record's dead time holds the hold and the counting of its own control; at least a period stands between."""
    return simc(Lagging(plant.gain, plant.lag_s, max(plant.dead_s, period_s or 0.0)))


def _suggestion(at: Context, rule: str, gains: Gains) -> Suggestion:
    path = at.drive.loop.path
    note = f"measured on the loop, {rule}"
    changes = [Change(path=f"{path}.gain", text=phrase(gains.gain, "loop gain"), origin="measured", note=note)]
    if gains.integral_s is not None:
        changes.append(
            Change(path=f"{path}.integral", text=phrase(gains.integral_s, "time"), origin="measured", note=note)
        )
    return Suggestion(rule, gains.gain, gains.integral_s, tuple(changes))


def _says(
    fitted: PlantFit, designs: tuple[Lagging, ...], takes: tuple[float, ...], relay: RelayFound | None, reason: str
) -> list[str]:
    """``designs``: the drive as designed, its winding cold and hot, and the speed that friction and driver take of it
    (rad/s); a record is taken somewhere between."""
    plant = fitted.plant
    late = phrase(plant.dead_s, "time") if plant.dead_s > WORTH_TELLING_S else "none to speak of"
    said = [
        f"At full duty it comes to {(plant.gain - fitted.lost) * RPM:.4g} rpm with a lag of "
        f"{phrase(plant.lag_s or 0.0, 'time')}, dead time {late}; "
        f"{min(fitted.told * 100, 99.9):.1f} % of the course is told, {fitted.rms * RPM:.2g} rpm are left."
    ]
    if not designs:
        said.append(f"The design foretells nothing yet. {reason}".strip())
        return said
    for what, ours, both in (
        ("gain", plant.gain, [d.gain for d in designs]),
        ("lag", plant.lag_s or 0.0, [d.lag_s or 0.0 for d in designs]),
    ):
        nearest = min(max(ours, min(both)), max(both))
        off = ours / nearest - 1 if nearest else 0.0
        if abs(off) > OFF_BY:
            more = "more" if off > 0 else "less"
            cause = _CAUSES[what, off > 0]
            said.append(f"Its {what} is {abs(off) * 100:.0f} % {more} than the design's: {cause}.")
    least, most = min(takes), max(takes)
    if not least - OFF_BY * most <= fitted.lost <= most + OFF_BY * most and abs(fitted.lost - most) * RPM > WORTH_RPM:
        what = "less" if fitted.lost < least else "more"
        said.append(
            f"Friction and driver take {fitted.lost * RPM:.0f} rpm of it where the design counts {most * RPM:.0f}: "
            f"{what} friction, or a load {'smaller' if what == 'less' else 'larger'} than the one at work."
        )
    if plant.dead_s > 2 * designs[-1].dead_s:
        expected = phrase(designs[-1].dead_s, "time")
        said.append(
            f"It answers {phrase(plant.dead_s, 'time')} late where {expected} were expected: "
            "computing, filtering or the report itself takes time."
        )
    if len(said) == 1:
        said.append("That is the drive of the design: its gains hold.")
    if relay is not None:
        said.append(
            f"The duty went to and fro by {relay.half_duty * 100:.3g} %: the speed swung by "
            f"{relay.half_swing * RPM:.3g} rpm in {phrase(relay.period_s, 'time')}, an ultimate gain of "
            f"{phrase(relay.ultimate_gain, 'loop gain')}."
        )
    return said


_CAUSES = {
    ("gain", True): "a higher supply, or a lower motor constant",
    ("gain", False): "a lower supply, a warmer or weaker motor, or more friction",
    ("lag", True): "more inertia, or more ohms in its circuit",
    ("lag", False): "less inertia than the load tells",
}
