"""A phone at the bench: who gets in with what, and what is refused to it. Everything else stays as it was."""

from __future__ import annotations

import string
from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from tests.demo_store import demo_store
from zinc_whistle.api.app import create_app
from zinc_whistle.api.lan import ALPHABET, CODE_S, REFUSED, SESSION_S, Lan, LanError, private_address
from zinc_whistle.demo.seed import CAROUSEL

ADDRESS = "192.168.1.20"
OWN = {"x-zinc-whistle": "test"}


class Clock:
    def __init__(self) -> None:
        self.now = 1000.0

    def __call__(self) -> float:
        return self.now


class Both:
    """The same service by its own address and by the one that is offered to phones."""

    def __init__(self) -> None:
        self.clock = Clock()
        self.lan = Lan(ADDRESS, 8512, clock=self.clock)
        app = create_app(demo_store(), lan=self.lan)
        self.machine = TestClient(app, base_url="http://127.0.0.1:8512", headers=OWN)
        self.phone = TestClient(app, base_url=f"http://{ADDRESS}:8512", headers=OWN)
        self.other = TestClient(app, base_url=f"http://{ADDRESS}:8512", headers=OWN)

    def code(self) -> str:
        return str(self.machine.post("/api/lan/code").json()["code"])

    def join(self, client: TestClient | None = None) -> int:
        return (client or self.phone).post("/api/lan/join", json={"code": self.code()}).status_code


@pytest.fixture
def both() -> Iterator[Both]:
    made = Both()
    with made.machine:
        yield made


def test_without_a_code_nothing_is_told(both: Both) -> None:
    assert both.phone.get("/api/builds").status_code == 401
    assert both.phone.post("/api/assess", json={}).status_code == 401
    assert both.phone.get("/api/lan/role").json() == {"phone": True, "let_in": False}
    assert both.machine.get("/api/lan/role").json() == {"phone": False, "let_in": True}


def test_with_it_builds_are_read_and_readings_are_taken(both: Both) -> None:
    assert both.join() == 200
    assert both.phone.get("/api/builds").json() == both.machine.get("/api/builds").json()
    body = {"drive": "d1", "step": "rail", "text": "12.9 V", "note": ""}
    assert both.phone.post(f"/api/builds/{CAROUSEL}/readings", json=body).status_code == 201
    note = {"topic": "note", "text": "from the phone"}
    assert both.phone.post(f"/api/builds/{CAROUSEL}/log", json=note).status_code == 201
    assert "from the phone" in both.machine.get(f"/api/builds/{CAROUSEL}/log").text


@pytest.mark.parametrize(
    ("method", "path"),
    [
        ("GET", "/api/instruments"),
        ("POST", "/api/instruments/open"),
        ("POST", "/api/instruments/off"),
        ("POST", "/api/instruments/i1/supply"),
        ("PUT", f"/api/builds/{CAROUSEL}"),
        ("DELETE", f"/api/builds/{CAROUSEL}"),
        ("POST", "/api/builds"),
        ("POST", f"/api/builds/{CAROUSEL}/revisions"),
        ("POST", f"/api/builds/{CAROUSEL}/log/../../../instruments/off"),
        ("POST", "/api/lan/code"),
        ("POST", "/api/lan/revoke"),
        ("GET", "/api/lan"),
        ("GET", "/api/openapi.json"),
        ("POST", "/api/parts"),
    ],
)
def test_what_changes_or_drives_anything_is_refused_to_a_phone(both: Both, method: str, path: str) -> None:
    assert both.join() == 200
    got = both.phone.request(method, path, json={})
    assert got.status_code == 403 and got.json()["detail"] == REFUSED


def test_a_code_lets_one_in_once(both: Both) -> None:
    code = both.code()
    assert both.phone.post("/api/lan/join", json={"code": code.lower().replace("-", " ")}).status_code == 200
    again = both.other.post("/api/lan/join", json={"code": code})
    assert again.status_code == 422 and "used up" in again.json()["detail"]


def test_five_tries_and_then_the_right_one_is_worth_nothing(both: Both) -> None:
    code = both.code()
    for left in (4, 3, 2, 1, 0):
        said = both.phone.post("/api/lan/join", json={"code": "AAAA-AAAA"}).json()["detail"]
        assert f"{left} tries are left" in said
    assert both.phone.post("/api/lan/join", json={"code": code}).status_code == 422
    assert both.join() == 200, "a new one lets in"


def test_ten_minutes_and_an_evening(both: Both) -> None:
    code = both.code()
    both.clock.now += CODE_S - 1
    assert both.phone.post("/api/lan/join", json={"code": code}).status_code == 200
    late = both.code()
    both.clock.now += CODE_S
    assert both.other.post("/api/lan/join", json={"code": late}).status_code == 422
    both.clock.now += SESSION_S
    assert both.phone.get("/api/builds").status_code == 401


def test_a_session_is_ended_by_the_machine_or_by_itself(both: Both) -> None:
    assert both.join() == 200 and both.join(both.other) == 200
    numbers = [s["number"] for s in both.machine.get("/api/lan").json()["sessions"]]
    both.machine.post("/api/lan/revoke", json={"number": numbers[0]})
    assert both.phone.get("/api/builds").status_code == 401 and both.other.get("/api/builds").status_code == 200
    assert both.other.post("/api/lan/leave").json()["let_in"] is False
    assert both.machine.get("/api/lan").json()["sessions"] == []


def test_its_cookie_is_for_this_page_alone_and_no_scripts(both: Both) -> None:
    kept = both.phone.post("/api/lan/join", json={"code": both.code()}).headers["set-cookie"].lower()
    assert "httponly" in kept and "samesite=strict" in kept and "path=/" in kept and "domain" not in kept


def test_a_stolen_guess_of_a_session_is_none(both: Both) -> None:
    assert both.join() == 200
    both.other.cookies.set("zw-phone", "x" * 43)
    assert both.other.get("/api/builds").status_code == 401


@pytest.mark.parametrize("host", ["127.0.0.1:8512", "localhost:8512", "evil.example", f"{ADDRESS}:80", ADDRESS, ""])
def test_by_that_address_no_other_host_is_answered(both: Both, host: str) -> None:
    """A name that is bent to this address (rebinding) brings its own name along as Host."""
    assert both.join() == 200
    assert both.phone.get("/api/builds", headers={"host": host}).status_code == 400


@pytest.mark.parametrize("origin", ["http://evil.example", "null", "http://127.0.0.1:8512", f"https://{ADDRESS}:8512"])
def test_by_that_address_no_other_page_is_answered(both: Both, origin: str) -> None:
    assert both.join() == 200
    assert both.phone.get("/api/builds", headers={"origin": origin}).status_code == 403


def test_the_machines_own_way_knows_nothing_of_that_address(both: Both) -> None:
    assert both.machine.get("/api/builds", headers={"host": f"{ADDRESS}:8512"}).status_code == 400
    assert both.machine.post("/api/lan/join", json={"code": both.code()}).status_code == 422


def test_off_is_off(client: TestClient) -> None:
    assert client.get("/api/lan").json()["on"] is False
    got = client.post("/api/lan/code")
    assert got.status_code == 422 and "--lan" in got.json()["detail"]


def test_a_code_has_forty_bits_and_no_letters_that_look_alike() -> None:
    assert len(set(ALPHABET)) == 32 and not set("IO01") & set(ALPHABET)
    lan = Lan(ADDRESS, 8512)
    codes = {lan.new_code() for _ in range(200)}
    assert len(codes) == 200 and all(
        len(c) == 8 and set(c) <= set(string.ascii_uppercase + string.digits) for c in codes
    )


def test_the_square_holds_the_address_and_its_fragment(both: Both) -> None:
    told = both.machine.post("/api/lan/code").json()
    assert told["url"] == f"http://{ADDRESS}:8512/#code={told['code'].replace('-', '')}"
    size = len(told["rows"])
    assert size in range(21, 178, 4) and all(len(row) == size for row in told["rows"])
    # The three eyes of a square code (ISO/IEC 18004): seven by seven, dark ring, light ring, dark middle.
    eye = ["1111111", "1000001", "1011101", "1011101", "1011101", "1000001", "1111111"]
    assert [row[:7] for row in told["rows"][:7]] == eye
    assert [row[-7:] for row in told["rows"][:7]] == eye and [row[:7] for row in told["rows"][-7:]] == eye


@pytest.mark.parametrize(
    "address", ["8.8.8.8", "127.0.0.1", "0.0.0.0", "192.168.1.300", "my-machine", "::1", "169.254.1.1"]
)
def test_only_a_private_address_is_listened_on(address: str) -> None:
    with pytest.raises(LanError, match="no address in a private network"):
        private_address(address)
    assert private_address("10.0.0.7") == "10.0.0.7" and private_address("172.31.1.1") == "172.31.1.1"
