"""Which controller for a build: each profile put in its place, and the whole build worked out with it.

No rule stands here: what speaks against a profile is what the build's own checks and its program say.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from fnmatch import fnmatchcase

from .algebra.findings import Finding
from .assess import Assessment, assess
from .cases.pins import unfit
from .design.accessories import INVERTER, SHIFTER
from .model.build import Build, bind_build
from .model.driver import DriverPart
from .model.signals import IN_ITS_BUILD, Controller
from .program.c_source import c_source
from .program.micropython_source import micropython_source
from .program.plan import plan_program
from .program.planned import NotYet


@dataclass(frozen=True, slots=True)
class Addition:
    """One thing that would have to be added for a profile: what, and its price in € (an estimate)."""

    what: str
    price_eur: float


_ADDED = {
    "supply.*.feed": Addition("a regulator before it", 2.0),
    "driver.logic": Addition("a level shifter", SHIFTER),
    "driver.pin": Addition("a small transistor with three resistors", INVERTER),
    "driver.sense": Addition("a divider of two resistors at the sense pin", 0.1),
}
"""By the check: what stands between a controller and what it does not suit."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ControllerCandidate:
    """A profile in its place: the stops and warnings that not every profile has, and why no program, if none."""

    profile: Controller
    stops: list[Finding]
    warnings: list[Finding]
    no_program: list[str]
    pins_left: int

    @property
    def meets(self) -> bool:
        """Whether it can do all that the build asks."""
        return not self.stops

    @property
    def added(self) -> list[Addition]:
        """What would have to be added, one for each check that asks for it; checks that nothing mends add nothing."""
        asked = [f.code for f in (*self.stops, *self.warnings)]
        return [added for code in asked for which, added in _ADDED.items() if fnmatchcase(code, which)]

    @property
    def total_eur(self) -> float | None:
        """Its price with what would have to be added, in €. None where its price is not known."""
        own = self.profile.price.value
        return None if own is None else own + sum(x.price_eur for x in self.added)


def ranked(
    build: Build, controller_id: str, profiles: Sequence[Controller], shelf: Sequence[DriverPart] = ()
) -> list[ControllerCandidate]:
    """The profiles, those that meet all demands first, then by the fewest conflicts; then warnings, program and price.

    LookupError if the build has no such controller.
    """
    if all(c.id != controller_id for c in build.controllers):
        raise LookupError("This build has no such controller.")
    tried = [(p, _with(build, controller_id, p, shelf)) for p in profiles]
    stops, warnings = ([_of(done, kind) for _, done in tried] for kind in ("stop", "warn"))
    found = [
        ControllerCandidate(
            profile=profile,
            stops=_own(stops, k),
            warnings=_own(warnings, k),
            no_program=_no_program(done, controller_id),
            pins_left=_left(done, controller_id),
        )
        for k, (profile, done) in enumerate(tried)
    ]

    def rank(one: ControllerCandidate) -> tuple[int, bool, int, float]:
        price = one.total_eur
        return len(one.stops), bool(one.no_program), len(one.warnings), math.inf if price is None else price

    return sorted(found, key=rank)


def _with(build: Build, controller_id: str, profile: Controller, shelf: Sequence[DriverPart]) -> Assessment:
    """The build with a profile in a controller's place, worked out; pins that were fixed by hand are found anew."""
    made = build.model_copy(deep=True)
    place = next(i for i, c in enumerate(made.controllers) if c.id == controller_id)
    kept = {n: getattr(made.controllers[place], n) for n in ("id", *IN_ITS_BUILD)}
    made.controllers[place] = profile.model_copy(update=kept, deep=True)
    for drive in made.drives:
        if drive.controller == controller_id:
            drive.wiring.fixed_pins = []
    bind_build(made)
    return assess(made, shelf)


def _of(done: Assessment, severity: str) -> dict[str, Finding]:
    return {f.key: f for f in done.findings if f.severity == severity}


def _own(all_of: list[dict[str, Finding]], k: int) -> list[Finding]:
    """What speaks against one profile and not against every one: the rest is no matter of the controller."""
    shared = set.intersection(*(set(found) for found in all_of)) if len(all_of) > 1 else set()
    return [f for key, f in all_of[k].items() if key not in shared]


def _no_program(done: Assessment, controller_id: str) -> list[str]:
    try:
        plan = plan_program(done, controller_id)
        (c_source if plan.controller.program == "avr" else micropython_source)(plan)
    except NotYet as error:
        return error.missing
    return []


def _left(done: Assessment, controller_id: str) -> int:
    """Pins that are free for what comes later."""
    controller = next(c for c in done.build.controllers if c.id == controller_id)
    used = {
        u.pin.id
        for d in done.drives.values()
        if d.drive.controller == controller_id
        for u in d.wiring.pins
        if u.pin is not None
    }
    return sum(p.id not in used and not unfit(p, "STOP") for p in controller.pins)
