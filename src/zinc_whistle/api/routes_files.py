"""Files kept with a build: captures and pictures."""

from __future__ import annotations

from pathlib import Path as FilePath
from typing import Annotated, Any, Literal
from urllib.parse import quote

from fastapi import HTTPException, Path, Query, Request, Response

from ..store.journal import Entry
from ..store.kept import KeptFile, NoRoom
from .heavy import heavy, uploaded
from .photos import NoPicture, kept_picture
from .routers import strict_router
from .routes_builds import MISSING, BuildId, StoreOf

router = strict_router("/api/files", "files")
ANY: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}
FileId = Annotated[str, Path(max_length=40)]


@router.post("/{build_id}", status_code=201, responses=MISSING, openapi_extra=ANY)
async def keep_file(
    request: Request,
    build_id: BuildId,
    store: StoreOf,
    kind: Literal["capture", "photo"],
    name: Annotated[str, Query(min_length=1, max_length=120)],
    says: Annotated[str, Query(max_length=5000)] = "",
) -> list[Entry]:
    """Keep a capture as it came, or a picture made small and without the place where it was taken, with what it says;
    the log then. 422 with a sentence."""
    store.builds.get(build_id)
    async with uploaded(request) as file:
        if not file.stat().st_size:
            raise HTTPException(422, "The file is empty.")
        made = await heavy(request, _made_ready, file, kind, name)
    try:
        store.kept.add(build_id, kind, made, says.strip())
    except NoRoom as error:
        raise HTTPException(422, str(error)) from error
    return store.journal.log(build_id)


def _made_ready(file: FilePath, kind: str, name: str) -> KeptFile:
    plain = "".join(c for c in name if c.isprintable() and c not in '/\\<>:"|?*').strip(". ") or kind
    if kind == "capture":
        return KeptFile(plain, "text/plain; charset=utf-8", file.read_bytes())
    try:
        return KeptFile(f"{plain.rsplit('.', 1)[0] or kind}.jpg", "image/jpeg", kept_picture(file.read_bytes()))
    except NoPicture as error:
        raise HTTPException(422, str(error)) from error


@router.get("/{build_id}/{file_id}", response_class=Response, responses=MISSING)
def get_file(build_id: BuildId, file_id: FileId, store: StoreOf) -> Response:
    """A kept file: a picture to be shown, anything else to be saved."""
    file = store.kept.get(build_id, file_id)
    shown = "inline" if file.type == "image/jpeg" else "attachment"
    headers = {"content-disposition": f"{shown}; filename*=UTF-8''{quote(file.name)}"}
    return Response(file.body, media_type=file.type, headers=headers)
