"""Several encoders together: what steers by its difference goes straight, and one controller bears all of their
interrupts."""

from __future__ import annotations

from ...algebra.limits import Check, upper
from ...algebra.nodes import Constant
from ...cases.encoder import EncoderResult
from ...laws import encoder as rules
from ...model.build import MotorDrive
from ...model.load import Wheels
from ...model.signals import Controller

STATION = "encoder"
STRAIGHT = Constant("20 mm", 0.02, "length", "common practice, no source: to the side in a metre")
BUSY = Constant("50 %", 0.5, "fraction", "common practice, no source: the rest of the time is the program's own")
Side = tuple[MotorDrive, EncoderResult]


def checks(left: Side, right: Side) -> list[Check]:
    """Nothing for what has no wheels or counts on either side."""
    wheels = [_wheels(drive) for drive, _ in (left, right)]
    if wheels[0] is None or wheels[1] is None or not all(d.has_encoder for d, _ in (left, right)):
        return []
    travels = [
        rules.travel_by_wheel(w.diameter.leaf, counts.used_per_output_turn)
        for w, (_, counts) in zip((wheels[0], wheels[1]), (left, right), strict=True)
    ]
    drift = rules.drift_in_a_metre(travels[0], travels[1], wheels[0].track_width.leaf)
    return [
        upper(
            "encoder.straight",
            station=STATION,
            title="Both sides go straight",
            stress=drift,
            bound=STRAIGHT,
            todo=_todo(left[0], right[0], travels[0].value, travels[1].value),
            over="warn",
            where=f"{right[0].encoder.path}.calibrated",
            destructive=False,
        )
    ]


def interrupts(controller: Controller, sides: list[Side]) -> list[Check]:
    """The interrupts of all encoders that one controller reads so, each at its fastest, where there are several."""
    read = [(d, r) for d, r in sides if d.has_encoder and d.encoder.method == "interrupt"]
    if len(read) < 2:
        return []
    loads = [rules.interrupt_load(r.rate_top, d.encoder.interrupt_time.leaf) for d, r in read]
    names = ", ".join(d.name or d.id for d, _ in read)
    return [
        upper(
            f"encoder.{controller.id}.busy",
            station=STATION,
            title=f"Interrupts of all encoders on {controller.name or 'the controller'}",
            stress=rules.interrupts_together(
                loads, because=[x for d, _ in read for x in (d.encoder.chosen("fitted"), d.encoder.chosen("method"))]
            ),
            bound=BUSY,
            todo=f"{names} together leave it no time: fewer counts a turn, shorter interrupts, or a controller each.",
            where=f"{read[0][0].encoder.path}.interrupt_time",
            destructive=False,
        )
    ]


def _wheels(drive: MotorDrive) -> Wheels | None:
    return next((m for m in drive.load.mechanisms if isinstance(m, Wheels)), None)


def _todo(left: MotorDrive, right: MotorDrive, travel_l: float | None, travel_r: float | None) -> str:
    again = "Turn both by hand again, with their wheels loaded"
    if not travel_l or not travel_r:
        return f"{again}."
    further, other = (left, right) if travel_l > travel_r else (right, left)
    share = min(travel_l, travel_r) / max(travel_l, travel_r)
    return (
        f"Told the same counts, {further.name or further.id} goes further than {other.name or other.id}: {again}; if "
        f"it stays so, tell it {share:.4f} of the counts."
    )
