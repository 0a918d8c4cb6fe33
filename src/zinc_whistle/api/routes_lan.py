"""Letting a phone in, and ending it."""

from __future__ import annotations

import segno
from fastapi import HTTPException, Request, Response
from pydantic import BaseModel, Field

from . import models
from .lan import COOKIE, SESSION_S, Lan, cookies_of
from .routers import strict_router

router = strict_router("/api/lan", "phone")
OFF = "Phones are not let in: start the service with --lan."


class RoleView(BaseModel):
    """Who asks: the machine's own page or a phone, and whether that is let in."""

    phone: bool
    let_in: bool


class SessionView(BaseModel):
    """A phone that was let in, and for how many minutes more."""

    number: int
    minutes_left: int


class LanView(BaseModel):
    """Whether phones may come, where, and who has. Seconds that the code lets in for; 0 where there is none."""

    on: bool
    address: str
    code_left_s: int
    sessions: list[SessionView]


class CodeView(BaseModel):
    """A code for one phone: as an address with its fragment, and as rows of a square code (1 is dark)."""

    url: str
    code: str
    rows: list[str]


class JoinBody(models.Strict):
    """The code that the machine shows."""

    code: str = Field(max_length=40)


class RevokeBody(models.Strict):
    """Which session ends; none: all."""

    number: int | None = None


def _lan(request: Request) -> Lan:
    lan: Lan | None = request.app.state.lan
    if lan is None:
        raise HTTPException(422, OFF)
    return lan


def _from_phone(request: Request) -> bool:
    lan: Lan | None = request.app.state.lan
    return lan is not None and (request.scope.get("server") or ("",))[0] == lan.address


@router.get("/role")
def role(request: Request) -> RoleView:
    """Who asks."""
    phone = _from_phone(request)
    token = cookies_of(request.headers.get("cookie", "").encode()).get(COOKIE, "")
    return RoleView(phone=phone, let_in=not phone or _lan(request).let_in(token))


@router.get("")
def lan_now(request: Request) -> LanView:
    """What is offered."""
    lan: Lan | None = request.app.state.lan
    if lan is None:
        return LanView(on=False, address="", code_left_s=0, sessions=[])
    now = lan.clock()
    return LanView(
        on=True,
        address=f"http://{lan.host}/",
        code_left_s=round(lan.code_left_s),
        sessions=[SessionView(number=s.number, minutes_left=round((s.ends - now) / 60)) for s in lan.sessions()],
    )


@router.post("/code")
def show_code(request: Request) -> CodeView:
    """A new code; the one before is void."""
    lan = _lan(request)
    code = lan.new_code()
    # Behind the mark: a fragment is never sent, so it stands in no log on the way.
    url = f"http://{lan.host}/#code={code}"
    square = segno.make(url, error="m", micro=False)
    rows = ["".join("1" if dark else "0" for dark in row) for row in square.matrix]
    return CodeView(url=url, code=f"{code[:4]}-{code[4:]}", rows=rows)


@router.post("/join")
def join(request: Request, response: Response, body: JoinBody) -> RoleView:
    """Lets a phone in that shows the code."""
    lan = _lan(request)
    if not _from_phone(request):
        raise HTTPException(422, "This is the machine itself: it needs no code.")
    token = lan.join(body.code)
    response.set_cookie(COOKIE, token, max_age=int(SESSION_S), httponly=True, samesite="strict", path="/")
    return RoleView(phone=True, let_in=True)


@router.post("/leave")
def leave(request: Request, response: Response) -> RoleView:
    """Ends the session of the phone that asks."""
    token = cookies_of(request.headers.get("cookie", "").encode()).get(COOKIE, "")
    _lan(request).revoke(token=token or "none")
    response.delete_cookie(COOKIE, path="/")
    return RoleView(phone=_from_phone(request), let_in=False)


@router.post("/revoke")
def revoke(request: Request, body: RevokeBody) -> LanView:
    """Ends one phone's session, or all."""
    _lan(request).revoke(body.number)
    return lan_now(request)
