"""Who is let in: this machine, this port, and the page that the service gave itself."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from .test_service import GOOD

OWN = "127.0.0.1:8512"


@pytest.mark.parametrize(
    "host",
    [
        "evil.example",
        "127.0.0.1.evil.example",
        "192.168.1.5:8512",
        "",
        "127.0.0.1",
        "127.0.0.1:8513",
        "testserver",
        "testserver:8512",
        "127.0.0.1:8512.",
        "[::1",
        "127.0.0.1:8512:8512",
        "LOCALHOST:8512@evil.example",
    ],
)
def test_a_foreign_host_is_refused(client: TestClient, host: str) -> None:
    refused = client.get("/api/builds", headers={"host": host})
    assert refused.status_code == 400
    assert "default-src 'none'" in refused.headers["content-security-policy"], "protected on refusals too"


@pytest.mark.parametrize(
    "origin",
    [
        "http://evil.example",
        "null",
        "http://localhost.evil.example",
        "http://127.0.0.1",
        "http://127.0.0.1:8513",
        "https://127.0.0.1:8512",
        "http://localhost:8512",
        "http://[",
        "http://127.0.0.1:8512/",
        "",
    ],
)
def test_a_foreign_origin_is_refused(client: TestClient, origin: str) -> None:
    """Another port of this machine is another program; another name of it another origin."""
    assert client.post("/api/builds", json=GOOD, headers={"origin": origin}).status_code == 403
    assert client.get("/api/builds").json()[0]["name"] == "Lantern carousel"


@pytest.mark.parametrize("name", ["host", "origin"])
def test_what_is_told_twice_is_refused(client: TestClient, name: str) -> None:
    own = OWN if name == "host" else f"http://{OWN}"
    assert client.get("/api/builds", headers=[(name, own), (name, own)]).status_code in (400, 403)


@pytest.mark.parametrize("site", ["cross-site", "same-site", "same-origin, cross-site", ""])
def test_a_page_elsewhere_may_not_ask(client: TestClient, site: str) -> None:
    """Also without an Origin, as in a picture's or a script's address; but a link to the app may be followed."""
    told = {"sec-fetch-site": site, "sec-fetch-mode": "no-cors"}
    assert client.get("/api/builds", headers=told).status_code == 403
    assert client.get("/", headers=told).status_code == 403
    assert client.get("/api/builds", headers={**told, "sec-fetch-mode": "navigate"}).status_code == 403
    assert client.get("/", headers={**told, "sec-fetch-mode": "navigate"}).status_code != 403


@pytest.mark.parametrize("host", ["127.0.0.1:8512", "localhost:8512", "[::1]:8512"])
def test_this_machine_is_let_in(client: TestClient, host: str) -> None:
    told = {"host": host, "origin": f"http://{host}", "sec-fetch-site": "same-origin"}
    ok = client.get("/api/builds", headers=told)
    assert ok.status_code == 200
    assert "default-src 'none'" in ok.headers["content-security-policy"]
    assert ok.headers["x-content-type-options"] == "nosniff"


@pytest.mark.parametrize("kind", ["text/plain", "application/x-www-form-urlencoded", "multipart/form-data", ""])
def test_a_form_changes_nothing(client: TestClient, kind: str) -> None:
    """What a form of another page can send without being asked for leave: these kinds, and no header of its own."""
    del client.headers["x-zinc-whistle"]
    before = client.get("/api/builds").json()
    assert client.post("/api/builds", content=b"{}", headers={"content-type": kind}).status_code == 403
    assert client.request("DELETE", f"/api/builds/{before[0]['id']}").status_code == 403
    assert client.get("/api/builds").json() == before
    assert client.post("/api/builds", json=GOOD).status_code == 201
