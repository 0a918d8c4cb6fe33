"""The wiring's lists as files."""

from __future__ import annotations

from fastapi import HTTPException, Request, Response

from ..core.assess import DriveAssessment, assess
from ..core.design.bill import bill, to_csv
from ..core.design.board import BoardError
from ..core.design.kit_list import KitError, kit
from ..core.design.netlist_table import netlist_csv
from ..core.pin_ways import pin_ways, reasons
from ..sheets.board_view import BoardView, board_view
from ..sheets.wiring_views import AssemblyView, steps_of
from . import models
from .heavy import heavy
from .routers import strict_router
from .routes_builds import MISSING

router = strict_router("/api/wiring", "wiring")


@router.post("/netlist", responses=MISSING)
def netlist_file(body: models.OfDrive) -> Response:
    """Every pin of every part of a build with its net, current and track width, as CSV."""
    return _file(netlist_csv(_drive(body).wiring.netlist), "netlist.csv")


@router.post("/bill", responses=MISSING)
def bill_file(body: models.OfDrive) -> Response:
    """The bill of materials of a whole build, as CSV."""
    done = _drive(body)
    return _file(to_csv(bill(done.scene.build, done.wiring.netlist)), "bill.csv")


@router.post("/ways")
async def ways_out(request: Request, body: models.OfDrive) -> models.PinWaysView:
    """Changes that give a place to signals that have none, each tried on the whole build."""
    return await heavy(request, _ways, body.model_dump_json())


def _ways(asked: str) -> models.PinWaysView:
    body = models.OfDrive.model_validate_json(asked)
    ways = [
        models.PinWayView(
            label=w.label,
            changes=[models.ChangeView.model_validate(c) for c in w.changes],
            emptied=list(w.emptied),
            left=w.left,
            breaks=list(w.breaks),
        )
        for w in pin_ways(body.build)
    ]
    return models.PinWaysView(why=reasons(assess(body.build)), ways=ways)


@router.post("/board", responses={**MISSING, 422: {"model": models.Problem}})
async def board_of_own(request: Request, body: models.OfBoard) -> BoardView:
    """A board of one's own on perforated board: where each part stands, and how its holes are joined."""
    return await heavy(request, _board, body.model_dump_json())


def _board(asked: str) -> BoardView:
    body = models.OfBoard.model_validate_json(asked)
    all = assess(body.build)
    if (done := all.drives.get(body.drive)) is None:
        raise HTTPException(404, "This build has no such drive.")
    try:
        return board_view(all, done, body.board)
    except BoardError as error:
        raise HTTPException(422, str(error)) from error


@router.post("/kit", responses={422: {"model": models.Problem}})
def kit_steps(body: models.KitList) -> list[AssemblyView]:
    """In which order the parts of a kit go onto its board, from its list of parts."""
    try:
        return steps_of(kit(body.text), set())
    except KitError as error:
        raise HTTPException(422, str(error)) from error


def _drive(body: models.OfDrive) -> DriveAssessment:
    done = assess(body.build).drives.get(body.drive)
    if done is None:
        raise HTTPException(404, "This build has no such drive.")
    return done


def _file(text: str, name: str) -> Response:
    headers = {"content-disposition": f'attachment; filename="{name}"'}
    return Response(text, media_type="text/csv; charset=utf-8", headers=headers)
