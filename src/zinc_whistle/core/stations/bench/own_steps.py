"""Steps that the builder added to the test sheet."""

from __future__ import annotations

from ...model.bench import BenchSpec
from .step import Step

NOT_TOLD = "What it should read is not told: a reading is kept, and not judged."
NOT_JUDGED = "How far it may be from that is not told: a reading is kept, and not judged."


def own_steps(spec: BenchSpec) -> list[Step]:
    """A step each. Judged by the builder's own bounds alone; by none where they are not whole."""
    made = []
    for number, own in enumerate(spec.steps, 1):
        should, beside = own.should.leaf, own.beside.leaf
        whole = should.value is not None and beside.value is not None
        made.append(
            Step(
                id=f"own-{own.id}",
                title=own.name.strip() or f"Step {number} of your own",
                where=own.where.strip() or "Where you know",
                instrument=own.instrument.strip() or "Of your choice",
                setting=own.setting.strip() or "As you know",
                expected=should,
                kind=should.kind.name,
                unit=type(own).meta("should").ask.unit,  # type: ignore[union-attr]
                low=should.value - beside.value if whole else None,  # type: ignore[operator]
                high=should.value + beside.value if whole else None,  # type: ignore[operator]
                reason="as you told it" if whole else NOT_TOLD if should.value is None else NOT_JUDGED,
                caution=own.caution,
                stage=own.stage,
            )
        )
    return made
