"""Records everything that an assessment says, so that a change of the house can be held against what stood before.

    python -m tests.recorder record OUT.json.gz
    python -m tests.recorder compare OLD.json.gz NEW.json.gz [PATTERN to ignore ...]

Records the three demos and sixty seeded variants of them: every figure by id, every finding, every stamp, every
sheet as
the screen gets it, the generated programs, and the service's document.
"""

from __future__ import annotations

import gzip
import json
import random
import re
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from tests.kit import components, given_at, staged
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.program.c_source import c_source
from zinc_whistle.core.program.micropython_source import micropython_source
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.planned import NotYet
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, sample_motors, sample_parts
from zinc_whistle.sheets.sheet import reply

DEMOS = {"carousel": lantern_carousel, "stirrer": cider_stirrer, "puppets": puppet_stage}
VARIANTS = 60
CIRCUITS = (
    "low side",
    "bipolar low side",
    "high side",
    "half bridge",
    "full bridge",
    "p/n bridge",
    "relay pair",
    "modules",
)
CHOICES = {
    "signals.decay": ["slow", "fast", "locked anti-phase"],
    "signals.soft_start": ["yes", "no"],
    "signals.reversal": ["one way", "through zero", "slammed"],
    "signals.braking": ["coast", "brake"],
    "encoder.fitted": ["yes", "no"],
    "loop.closed": ["yes", "no"],
}
ROOT = Path(__file__).parents[1]
TEXTS = ["", "0", "1", "3", "0.5", "12", "40", "2k", "100 %", "1e9", "nonsense"]


def variants() -> Iterator[tuple[str, Build]]:
    """The demos as they are, and seeded changes of them: texts, choices, circuits, parts left out."""
    for name, make in DEMOS.items():
        yield name, make()
    for seed in range(VARIANTS):
        dice = random.Random(seed)
        name = sorted(DEMOS)[seed % 3]
        build = DEMOS[name]()
        if seed % 4 == 0:
            build = staged(build, CIRCUITS[(seed // 4) % 8], build.units[0].id)
        for path in dice.sample(sorted(assess(build).bound.givens), dice.randint(0, 6)):
            given_at(build, path).text = dice.choice(TEXTS)
        for drive in build.drives:
            for path, options in CHOICES.items():
                owner, _, field = path.partition(".")
                if hasattr(drive, owner) and dice.random() < 0.4:
                    setattr(getattr(drive, owner), field, dice.choice(options))
        build.schools.sizing = dice.choice(["stall", "run and peak", "limited"])
        build.schools.standoff = dice.choice(["bus", "clamp", "twice"])
        for unit in build.units:
            unit.jam_stop = dice.choice(["none", "fuse", "program", "driver limit"])
            if dice.random() < 0.2 and unit.made_of == "part":
                unit.part = None
        yield f"{name}-{seed}", Build.model_validate(build.model_dump())


def recorded(done: Assessment) -> dict[str, Any]:
    """One assessment in plain data."""
    from fastapi.encoders import jsonable_encoder

    from zinc_whistle.sheets.driver import detail_of

    motors, parts = sample_motors(), list(components().values())
    sheets = {
        f"{drive}/{station}": jsonable_encoder(reply(done, station, drive, (), motors))
        for drive, own in done.drives.items()
        for station in ("build", *own.stations)
    }
    findings = {
        x.key: [
            x.station,
            x.title,
            x.todo,
            x.severity,
            x.used,
            x.unknown,
            x.where,
            x.destructive,
            [x.remedy.label, x.remedy.path, x.remedy.text] if x.remedy else None,
        ]
        for x in done.findings
    }
    return {
        "figures": {id: [x.value, x.title, x.case, x.reason] for id, x in done.figures.items()},
        "findings": findings,
        "stamps": {f"{d}/{s}": list(_stamp(done, d, s)) for d in done.drives for s in done.drives[d].stations},
        "sheets": sheets,
        "details": {
            f"{id}/{c.part.id}": jsonable_encoder(detail_of(own, c.part.id, parts))
            for id, drive in done.drives.items()
            if (own := drive.driven) is not None
            for c in own.candidates
        },
        "programs": programs(done),
    }


def _stamp(done: Assessment, drive: str, station: str) -> tuple[str, str]:
    stamp = done.stamp(drive, station)
    return stamp.state, stamp.text


def programs(done: Assessment) -> dict[str, str]:
    """The programs of each controller, or why there is none yet."""
    found = {}
    for controller in done.build.controllers:
        for name, make in (("c", c_source), ("micropython", micropython_source)):
            try:
                found[f"{controller.id}/{name}"] = make(plan_program(done, controller.id))
            except NotYet as error:
                found[f"{controller.id}/{name}"] = str(error)
    return found


def record(out: Path) -> None:
    """Everything, into one compressed file."""
    shelf = sample_parts()
    whole: dict[str, Any] = {"document": json.loads((ROOT / "web" / "openapi.json").read_text())}
    for name, build in variants():
        whole[name] = recorded(assess(build, shelf))
    out.write_bytes(gzip.compress(json.dumps(whole, ensure_ascii=False, sort_keys=True).encode()))


def differences(old: Any, new: Any, path: str = "", within: float = 1e-9) -> Iterator[str]:
    """Every place in which two records differ, a line each."""
    if isinstance(old, dict) and isinstance(new, dict):
        for key in sorted(old.keys() | new.keys()):
            if key not in old or key not in new:
                yield f"{path}/{key}: only {'before' if key in old else 'after'}"
            else:
                yield from differences(old[key], new[key], f"{path}/{key}", within)
    elif isinstance(old, list) and isinstance(new, list) and len(old) == len(new):
        for i, (a, b) in enumerate(zip(old, new, strict=True)):
            yield from differences(a, b, f"{path}/{i}", within)
    elif isinstance(old, float) and isinstance(new, float):
        if abs(old - new) > within * max(abs(old), abs(new)):
            yield f"{path}: {old!r} → {new!r}"
    elif old != new:
        yield f"{path}: {str(old)[:160]!r} → {str(new)[:160]!r}"


def main(words: list[str]) -> int:
    if words[0] == "record":
        record(Path(words[1]))
        return 0
    old, new = (json.loads(gzip.decompress(Path(p).read_bytes())) for p in words[1:3])
    ignored = re.compile("|".join(words[3:]) or "$^")
    found = [line for line in differences(old, new) if not ignored.search(line)]
    print("\n".join(found))
    print(f"{len(found)} differences")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
