"""Files kept with a build: captures come back as they were, pictures small and without their place; what cannot be
kept is refused in words."""

from __future__ import annotations

import io
import struct
import zipfile
import zlib
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image, TiffImagePlugin

from zinc_whistle.api import photos
from zinc_whistle.api.photos import NoPicture, kept_picture
from zinc_whistle.demo.seed import CAROUSEL


def send(client: TestClient, kind: str, name: str, body: bytes, says: str = "") -> Any:
    return client.post(
        f"/api/files/{CAROUSEL}",
        params={"kind": kind, "name": name, "says": says},
        content=body,
        headers={"content-type": "application/octet-stream"},
    )


def picture(size: tuple[int, int] = (3000, 2000), kind: str = "JPEG", mode: str = "RGB", **more: Any) -> bytes:
    out = io.BytesIO()
    image = Image.new(mode, size, 0)
    image.paste(255 if mode == "L" else (200, 30, 30, 255)[: len(mode)], (0, 0, size[0] // 2, size[1] // 2))
    image.save(out, kind, **more)
    return out.getvalue()


def test_a_capture_comes_back_byte_for_byte(client: TestClient) -> None:
    body = b"time,a,b\r\n" + b"0.1,0,1\r\n" * 5000
    made = send(client, "capture", "../winch <1>.csv", body, "The channels are 59° apart.")
    assert made.status_code == 201
    entry = next(e for e in made.json() if e["kind"] == "capture")
    assert (entry["text"], entry["file"]) == ("The channels are 59° apart.", "winch 1.csv")
    got = client.get(f"/api/files/{CAROUSEL}/{entry['id']}")
    assert got.content == body and got.headers["content-disposition"].startswith("attachment")
    gone = client.post(f"/api/builds/{CAROUSEL}/log/capture/{entry['id']}/withdraw", json={})
    assert next(e for e in gone.json() if e["id"] == entry["id"])["withdrawn"]


def test_a_picture_is_small_upright_and_tells_no_place(client: TestClient) -> None:
    exif = Image.Exif()
    exif[0x0112] = 6  # the camera was held on its side
    exif[0x010F] = "a camera"
    exif.get_ifd(0x8825)[2] = tuple(TiffImagePlugin.IFDRational(x) for x in (48, 12, 30))
    body = picture(exif=exif)
    assert b"a camera" in body
    made = send(client, "photo", "bench.HEIC.jpeg", body, "the first board")
    entry = next(e for e in made.json() if e["kind"] == "photo")
    assert entry["file"] == "bench.HEIC.jpg"
    got = client.get(f"/api/files/{CAROUSEL}/{entry['id']}")
    assert got.headers["content-type"] == "image/jpeg" and got.headers["content-disposition"].startswith("inline")
    with Image.open(io.BytesIO(got.content)) as kept:
        assert kept.size == (1067, 1600) and not kept.getexif() and "exif" not in kept.info
        # The red quarter at the upper left comes to the upper right when the picture is turned upright.
        red = np.asarray(kept)[:, :, 0]
        assert red[100, 900] > 150 > red[100, 100]
    assert b"a camera" not in got.content
    with zipfile.ZipFile(io.BytesIO(client.get(f"/api/builds/{CAROUSEL}/log.zip").content)) as archive:
        assert archive.read(f"pictures/{entry['id']}.jpg") == got.content
        assert f"![the first board](pictures/{entry['id']}.jpg)" in archive.read("log.md").decode()


def test_what_is_seen_through_is_seen_on_white_and_grey_stays_grey() -> None:
    with Image.open(io.BytesIO(kept_picture(picture((80, 80), "PNG", "RGBA")))) as kept:
        assert np.asarray(kept)[64:, 64:].min() > 250
    with Image.open(io.BytesIO(kept_picture(picture((40, 40), "PNG", "L")))) as kept:
        assert kept.size == (40, 40), "a small one is not made larger"


def bomb() -> bytes:
    """A small PNG that says it has 900 million points, all alike."""

    def chunk(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    head = struct.pack(">IIBBBBB", 30_000, 30_000, 8, 0, 0, 0, 0)
    rows = zlib.compress(b"\0" * 1_000_000, 9)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", rows) + chunk(b"IEND", b"")


@pytest.mark.parametrize(
    ("body", "says"),
    [
        (bomb(), "million points|no picture"),
        (b"%PDF-1.4 no picture", "no picture"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>", "no picture"),
        (picture()[:2000], "damaged"),
        (picture(kind="GIF", mode="L"), "no picture"),
    ],
    ids=["bomb", "other", "script", "cut off", "kind"],
)
def test_what_is_no_picture_is_refused(client: TestClient, body: bytes, says: str) -> None:
    with pytest.raises(NoPicture, match=says):
        kept_picture(body)
    assert send(client, "photo", "x.jpg", body).status_code == 422
    assert not [e for e in client.get(f"/api/builds/{CAROUSEL}/log").json() if e["kind"] == "photo"]


def test_a_picture_just_below_the_bound_is_taken_and_one_above_is_not(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(photos, "MOST_PIXELS", 10_000)
    assert kept_picture(picture((100, 100)))
    with pytest.raises(NoPicture, match="points"):
        kept_picture(picture((101, 100)))


def test_what_is_too_large_empty_or_of_no_build_is_refused(client: TestClient) -> None:
    assert send(client, "capture", "x.csv", b"").status_code == 422
    assert send(client, "capture", "x.csv", b"0" * 25_000_001).status_code == 413
    nobody = client.post(
        "/api/files/00000000",
        params={"kind": "capture", "name": "x"},
        content=b"1",
        headers={"content-type": "text/csv"},
    )
    assert nobody.status_code == 404
    assert client.get(f"/api/files/{CAROUSEL}/nothing").status_code == 404
