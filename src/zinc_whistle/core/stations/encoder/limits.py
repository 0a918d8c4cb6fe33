"""Checks of the encoder: the rate against the way it is read, the calibration against the nominal."""

from __future__ import annotations

from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import presence
from ...cases.encoder import EncoderResult
from ...cases.operating import Context
from ...laws import encoder as rules

STATION = "encoder"
WORTH_A_LOOK = 0.02


def checks(at: Context, result: EncoderResult) -> list[Check]:
    """The count rate at top speed against the way it is read; the calibration against the nominal."""
    spec, drive = at.drive.encoder, at.drive.id
    if not at.drive.has_encoder:
        return []
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
            because=[spec.chosen("method")],
        )
    found: list[Check] = [rate]
    if spec.calibrated.value is not None:
        off = rules.calibration_error(
            spec.calibrated.leaf, result.counts_per_output_turn, because=[presence(spec.calibrated.leaf)]
        )
        found.append(
            claim(
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
        )
    return found
