"""Controller profiles: shipped ones and one's own, checked while they are edited; CSV and JSON in and out."""

from __future__ import annotations

from fastapi import APIRouter, HTTPException, Request, Response

from ..core.model.signals import Controller
from ..core.profile_files import PROFILES
from ..core.profiles import problems
from ..demo.data import controllers
from ..store.builds import new_id
from . import models
from .routes_builds import MISSING, BuildId, StoreOf
from .routes_parts import FILE, Format, exported, imported
from .safety import StrictRoute

router = APIRouter(prefix="/api/controllers", route_class=StrictRoute, tags=["controllers"])


@router.get("")
def list_controllers(store: StoreOf) -> list[Controller]:
    """The profiles that ship, then the builder's own."""
    return [*controllers(), *store.parts.controllers()]


@router.post("/check")
def check_controller(profile: Controller) -> list[models.ProfileProblem]:
    """What keeps a profile from being used, with the path of what is wrong; nothing is kept."""
    return [models.ProfileProblem(path=path, sentence=sentence) for path, sentence in problems(profile).items()]


@router.post("", status_code=201)
def keep_controller(profile: Controller, store: StoreOf) -> Controller:
    """Put a profile on the shelf as one of the builder's own. 422 with the first thing that is wrong."""
    wrong = problems(profile)
    if wrong:
        raise HTTPException(422, next(iter(wrong.values())))
    own = profile.model_copy(update={"id": new_id(), "sample": False, "regulator": "", "libraries": []})
    store.parts.put_controllers([own])
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
