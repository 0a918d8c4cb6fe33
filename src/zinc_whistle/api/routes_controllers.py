"""Controller profiles: shipped ones and one's own, checked while they are edited; CSV and JSON in and out."""

from __future__ import annotations

from fastapi import HTTPException, Request, Response

from ..core.algebra.findings import Finding
from ..core.algebra.quantities import phrase
from ..core.controller_choice import ControllerCandidate, ranked
from ..core.model.build import Build
from ..core.model.given import bind
from ..core.model.signals import IN_ITS_BUILD, Controller
from ..core.node import with_second
from ..core.profile_files import PROFILES
from ..core.profiles import problems
from ..demo.data import controllers
from ..store.builds import new_id
from . import models
from .heavy import heavy
from .routers import strict_router
from .routes_builds import MISSING, BuildId, StoreOf
from .routes_parts import FILE, Format, exported, imported

router = strict_router("/api/controllers", "controllers")


@router.get("")
def list_controllers(store: StoreOf) -> list[Controller]:
    """The profiles that ship, then the builder's own."""
    return [*controllers(), *store.parts.controllers()]


@router.post("/check")
def check_controller(profile: Controller) -> list[models.ProfileProblem]:
    """What keeps a profile from being used, with the path of what is wrong; nothing is kept."""
    return [models.ProfileProblem(path=path, sentence=sentence) for path, sentence in problems(profile).items()]


@router.post("/rank", responses=MISSING)
async def rank_controllers(
    request: Request, body: models.AskControllers, store: StoreOf
) -> list[models.ControllerChoice]:
    """Each profile put in a controller's place and the whole build worked out with it: the best first."""
    own = [c.model_dump_json() for c in store.parts.controllers()]
    return await heavy(request, _ranked, body.model_dump_json(), own)


def _ranked(asked: str, own: list[str]) -> list[models.ControllerChoice]:
    body = models.AskControllers.model_validate_json(asked)
    profiles = [*controllers(), *(Controller.model_validate_json(c) for c in own)]
    for profile in profiles:
        bind(profile, f"profiles.{profile.id}")
    try:
        found = ranked(body.build, body.controller, profiles)
    except LookupError as error:
        raise HTTPException(404, str(error)) from error
    names = {d.id: d.name or d.id for d in body.build.drives}
    return [_choice(c, names) for c in found]


@router.post("/second", responses=MISSING)
def second_controller(body: models.AskControllers) -> Build:
    """The build with a second controller like the one named, its drives and driver units with it, for one program on
    one serial line; nothing is kept. 422 with a sentence where there cannot be one."""
    try:
        return with_second(body.build, body.controller, new_id)
    except LookupError as error:
        raise HTTPException(404, str(error)) from error
    except ValueError as error:
        raise HTTPException(422, str(error)) from error


def _words(profile: Controller, name: str) -> str:
    """A choice in words; nothing where none is made."""
    choose, value = Controller.meta(name).choose, getattr(profile, name)
    return choose.options[value] if choose is not None and (value or name == "program") else ""


def _choice(found: ControllerCandidate, names: dict[str, str]) -> models.ControllerChoice:
    def said(findings: list[Finding]) -> list[models.Objection]:
        return [models.Objection(title=f.title, drive=names.get(f.drive, ""), todo=f.todo) for f in findings]

    profile = found.profile
    return models.ControllerChoice(
        id=profile.id,
        name=profile.name,
        sample=profile.sample,
        meets=found.meets,
        stops=said(found.stops),
        warnings=said(found.warnings),
        no_program=found.no_program,
        language=_words(profile, "program"),
        logic=profile.logic_v.text,
        price=profile.price.text,
        height=profile.height.text,
        effort=_words(profile, "effort"),
        grid=_words(profile, "grid"),
        draws=profile.draws.text,
        pins_left=found.pins_left,
        added=[f"{x.what}, {phrase(x.price_eur, 'price')}" for x in found.added],
        total=phrase(found.total_eur, "price") if found.added and found.total_eur is not None else "",
    )


def _own_profile(profile: Controller, id: str) -> Controller:
    wrong = problems(profile)
    if wrong:
        raise HTTPException(422, next(iter(wrong.values())))
    blank = Controller(id="new")
    return profile.model_copy(update={"id": id, "sample": False} | {n: getattr(blank, n) for n in IN_ITS_BUILD})


@router.post("", status_code=201)
def keep_controller(profile: Controller, store: StoreOf) -> Controller:
    """Put a profile on the shelf as one of the builder's own. 422 with the first thing that is wrong."""
    own = _own_profile(profile, new_id())
    store.parts.put_controllers([own])
    return own


@router.put("/{controller_id}", responses=MISSING)
def correct_controller(controller_id: BuildId, profile: Controller, store: StoreOf) -> Controller:
    """Correct one of the builder's own profiles. Builds that hold a copy keep it, and are offered what was corrected.
    422 with the first thing that is wrong."""
    own = _own_profile(profile, controller_id)
    store.parts.renew("controller", own)
    return own


@router.delete("/{controller_id}", status_code=204, responses=MISSING)
def take_controller(controller_id: BuildId, store: StoreOf) -> None:
    """Take one of the builder's own profiles from the shelf; those that ship stay, and so do the copies in builds."""
    store.parts.take("controller", controller_id)


@router.get("/export")
def export_controllers(store: StoreOf, form: Format = "csv") -> Response:
    """Every profile, as CSV or JSON."""
    return exported(list_controllers(store), PROFILES, form, "controllers")


@router.post("/import", openapi_extra=FILE)
async def import_controllers(
    request: Request, store: StoreOf, form: Format = "csv", keep_good: bool = False
) -> models.PartsTaken:
    """Take profiles in. If any of them is bad nothing is kept, unless ``keep_good`` asks for the good ones."""
    return await imported(
        request,
        file=PROFILES,
        form=form,
        keep_good=keep_good,
        place="controllers",
        put=store.parts.put_controllers,
    )
