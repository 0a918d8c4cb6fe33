"""The wiring's lists as files."""

from __future__ import annotations

from fastapi import APIRouter, HTTPException, Response

from ..core.assess import DriveAssessment, assess
from ..core.design.bill import bill, to_csv
from ..core.design.netlist_table import netlist_csv
from . import models
from .routes_builds import MISSING
from .safety import StrictRoute

router = APIRouter(prefix="/api/wiring", route_class=StrictRoute, tags=["wiring"])


@router.post("/netlist", responses=MISSING)
def netlist_file(body: models.OfDrive) -> Response:
    """Every pin of every part of a build with its net, current and track width, as CSV."""
    return _file(netlist_csv(_drive(body).wiring.netlist), "netlist.csv")


@router.post("/bill", responses=MISSING)
def bill_file(body: models.OfDrive) -> Response:
    """The bill of materials of a whole build, as CSV."""
    done = _drive(body)
    return _file(to_csv(bill(done.scene.build, done.wiring.netlist)), "bill.csv")


def _drive(body: models.OfDrive) -> DriveAssessment:
    done = assess(body.build).drives.get(body.drive)
    if done is None:
        raise HTTPException(404, "This build has no such drive.")
    return done


def _file(text: str, name: str) -> Response:
    headers = {"content-disposition": f'attachment; filename="{name}"'}
    return Response(text, media_type="text/csv; charset=utf-8", headers=headers)
