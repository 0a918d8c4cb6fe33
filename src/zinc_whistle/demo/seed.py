"""Fills a store with the fair: the builds with their history, in made-up times."""

from __future__ import annotations

import itertools
import sqlite3
from typing import cast

from ..core.assess import Assessment, assess, standing_basis
from ..core.model.build import Build, MotorDrive, bind_build
from ..core.model.reading import Reading
from ..core.stations.bench.readings import judge
from ..store.builds import new_id
from ..store.store import Store
from .data import (
    cider_stirrer,
    lantern_carousel,
    puppet_stage,
    sample_components,
    sample_motors,
    sample_parts,
    snow_fan,
)

CAROUSEL = "lantern-carousel"
STIRRER = "cider-stirrer"
PUPPETS = "puppet-stage"
SNOW = "snow-fan"


class FairClock:
    """A clock that steps through the days before the fair."""

    def __init__(self) -> None:
        self._minutes = itertools.count(0, 17)

    def __call__(self) -> str:
        minute = next(self._minutes)
        day, hour = 18 + minute // 540, 9 + minute % 540 // 60
        return f"2026-11-{day:02d}T{hour:02d}:{minute % 60:02d}:00.000000+00:00"


def stock_shelf(store: Store) -> None:
    """Put the sample parts on the shelf."""
    store.put_parts(sample_parts())
    store.put_motors(sample_motors())
    store.put_components(sample_components())


def seed(store: Store) -> None:
    """Put the sample parts and the demo builds into an empty store."""
    stock_shelf(store)
    if store.builds.any():
        return
    clock, store.builds.clock, store.journal.clock = store.clock, FairClock(), FairClock()
    store.journal.clock = store.builds.clock
    try:
        _snow(store)
        _puppets(store)
        _stirrer(store)
        _carousel(store)
    except sqlite3.IntegrityError:
        pass  # Another start at the same moment is filling the same file.
    finally:
        store.builds.clock = store.journal.clock = clock


def _carousel(store: Store) -> None:
    build = lantern_carousel()
    first = build.model_copy(deep=True)
    first.issue = "1.0"
    _motor(first).load.gear_ratio.text = "131"
    bind_build(first)
    stored = store.builds.add(first, CAROUSEL)
    store.journal.add_note(CAROUSEL, "Motor and battery on the bench. Shaft held in the vice, three angles read.")
    store.builds.cut(CAROUSEL, "Board issue 1.0, gearbox 131 to 1")
    early = assess(first, sample_parts())
    for step, text in (
        ("rail", "13.1 V"),
        ("logic", "5.02 V"),
        ("idle", "121 mA"),
        ("frequency", "20.03 kHz"),
        ("duty", "50 %"),
        ("no_load_a", "0.33 A"),
        ("counts", "62890"),
    ):
        _read(store, early, step, text)
    store.journal.add_note(CAROUSEL, "The first gearbox howled under nine kilograms. The new one is 150 to 1.")
    _stand_on(build)
    store.builds.save(CAROUSEL, build, stored.version)
    store.builds.cut(CAROUSEL, "Board issue 1.1, gearbox 150 to 1")
    later = assess(build, sample_parts())
    for step, text in (
        ("rail", "13.1 V"),
        ("logic", "5.02 V"),
        ("no_load_a", "0.32 A"),
        ("no_load_speed", "5230 rpm"),
    ):
        _read(store, later, step, text)
    store.journal.add_note(CAROUSEL, "Count the ten turns again with the new gearbox before the fair opens.")


def _stirrer(store: Store) -> None:
    store.builds.add(cider_stirrer(), STIRRER)
    store.journal.add_note(
        STIRRER, "Hedge cutter opened: the motor turns freely, its own switch is burnt. Four locked readings."
    )
    store.journal.add_note(STIRRER, "Spin-up captured with the shunt and the two-channel scope, 36 V pack, no gear.")
    store.builds.cut(STIRRER, "Motor, load and pack measured")


def _snow(store: Store) -> None:
    store.builds.add(snow_fan(), SNOW)
    store.journal.add_note(SNOW, "Spring balance at 10 cm of the hub: 1 N at 2,200 rpm.")
    store.builds.cut(SNOW, "On a strip board, with a 1 nF capacitor")


def _puppets(store: Store) -> None:
    store.builds.add(puppet_stage(), PUPPETS)
    store.journal.add_note(PUPPETS, "Curtain weighed: 2.4 kg, sandbag on the other end 1.8 kg.")
    store.builds.cut(PUPPETS, "Winch and shutters on one adaptor")


def _read(store: Store, assessment: Assessment, step_id: str, text: str) -> None:
    step = next(s for s in assessment.drives["d1"].steps if s.id == step_id)
    judged = judge(step, text)
    store.journal.add_reading(
        CAROUSEL,
        step.title,
        Reading(
            id=new_id(),
            drive="d1",
            step=step_id,
            text=text,
            value=judged.quantity.value,
            expected=step.expected.value,
            low=step.low,
            high=step.high,
            verdict=judged.verdict,
            basis=judged.basis,
            taken_at=store.journal.clock(),
        ),
    )


def _stand_on(build: Build) -> None:
    """The tuning was done with the first gearbox, the tick calibration with the present one."""
    drive = assess(build).drives["d1"]
    bases = {path: standing_basis(node, path) for path, node in drive.stands_on().items()}
    _motor(build).encoder.calibrated.basis = bases["drives.d1.encoder.calibrated"]
    old = bases["drives.d1.loop.gain"] | {"drives.d1.load.gear_ratio": "131"}
    _motor(build).loop.gain.basis = old


def _motor(build: Build) -> MotorDrive:
    drive = build.drives[0]
    return cast(MotorDrive, drive)
