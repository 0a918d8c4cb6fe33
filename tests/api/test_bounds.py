"""What one asker can take of the service: time without asking, memory, and how far its work is."""

from __future__ import annotations

import socket
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import anyio
import pytest
import uvicorn
from fastapi import HTTPException
from fastapi.testclient import TestClient

from tests.api.test_heavy import Asker, apart
from zinc_whistle.api import safety
from zinc_whistle.api.app import create_app
from zinc_whistle.api.heavy import MOST_MEMORY, Heavy
from zinc_whistle.api.listening import Impatient
from zinc_whistle.core.algebra.giving_up import go_on, while_wanted
from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.simulation.scenario import Scenario, simulate
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel
from zinc_whistle.store.store import Store

HEAD = b"GET /api/builds HTTP/1.1\r\nhost: 127.0.0.1:%d\r\n"


class Hasty(Impatient):
    head_s = 0.3


@contextmanager
def listening(app: Any) -> Iterator[int]:
    """A server of an app on a port of its own, which waits a third of a second for a head."""
    server = uvicorn.Server(uvicorn.Config(app, port=0, http=Hasty, log_level="error"))
    held = socket.create_server(("127.0.0.1", 0))
    runner = threading.Thread(target=server.run, kwargs={"sockets": [held]}, daemon=True)
    runner.start()
    try:
        yield held.getsockname()[1]
    finally:
        server.should_exit = True
        runner.join(10)


def heard(line: socket.socket) -> bytes:
    """All that comes until the other side closes."""
    line.settimeout(10)
    return b"".join(iter(lambda: line.recv(4096), b""))


@pytest.mark.parametrize("sent", [b"", b"GET", HEAD, HEAD + b"x: y\r\n"])
def test_a_connection_on_which_no_head_comes_is_closed(sent: bytes) -> None:
    with listening(create_app(Store(":memory:"))) as port, socket.create_connection(("127.0.0.1", port)) as line:
        line.sendall(sent.replace(b"%d", str(port).encode()))
        assert heard(line) == b""


def test_after_an_answer_half_a_request_is_not_waited_for_either() -> None:
    with listening(create_app(Store(":memory:"))) as port, socket.create_connection(("127.0.0.1", port)) as line:
        line.settimeout(10)
        line.sendall(HEAD.replace(b"%d", str(port).encode()) + b"\r\n")
        got = line.recv(4096)
        while b"[]" not in got:
            got += line.recv(4096)
        assert got.startswith(b"HTTP/1.1 200")
        line.sendall(b"GET /api")
        assert heard(line) == b""


def test_an_answer_that_takes_long_is_not_cut_off() -> None:
    async def slow(scope: Any, receive: Any, send: Any) -> None:
        if scope["type"] == "http":
            await anyio.sleep(3 * Hasty.head_s)
            await send({"type": "http.response.start", "status": 204, "headers": []})
            await send({"type": "http.response.body"})

    with listening(slow) as port, socket.create_connection(("127.0.0.1", port)) as line:
        line.sendall(HEAD.replace(b"%d", str(port).encode()) + b"connection: close\r\n\r\n")
        assert heard(line).startswith(b"HTTP/1.1 204")


def test_a_body_of_which_the_rest_does_not_come_is_told(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(safety, "BODY_S", 0.3)
    with listening(create_app(Store(":memory:"))) as port, socket.create_connection(("127.0.0.1", port)) as line:
        head = HEAD.replace(b"GET", b"POST").replace(b"%d", str(port).encode())
        line.sendall(head + b'content-type: application/json\r\ncontent-length: 50\r\nconnection: close\r\n\r\n{"name"')
        answer = heard(line)
        assert answer.startswith(b"HTTP/1.1 408") and b"did not come" in answer


def telling(release: str) -> int:
    go_on(0.4)
    while not Path(release).exists():
        pass
    return 7


@pytest.mark.parametrize("processes", [False, True])
def test_how_far_a_piece_is_can_be_asked(tmp_path: Path, processes: bool) -> None:
    async def go() -> None:
        queue, release, told = Heavy(processes=processes), tmp_path / "go", list[int]()

        async def ask(ticket: str) -> None:
            told.append(await queue.run(Asker(), telling, str(release), ticket=ticket))  # type: ignore[arg-type]

        async with anyio.create_task_group() as tasks:
            tasks.start_soon(ask, "first")
            with anyio.fail_after(60):
                while (found := queue.found("first")) is None or found[0].share != 0.4:
                    await anyio.sleep(0.01)
            tasks.start_soon(ask, "second")
            with anyio.fail_after(60):
                while (found := queue.found("second")) is None:
                    await anyio.sleep(0.01)
            assert found[1] == 1 and not found[0].begun and found[0].share is None
            assert queue.found("third") is None
            release.touch()
        assert told == [7, 7] and queue.found("first") is None

    apart(go)


def test_a_ticket_nobody_has_is_told(client: TestClient) -> None:
    assert client.get("/api/progress/nothing").json() == {"known": False, "before": 0, "share": None, "seconds": 0.0}
    assert client.get(f"/api/progress/{'x' * 41}").status_code == 422


@pytest.mark.parametrize(
    ("make", "scenario"), [(lantern_carousel, "start"), (lantern_carousel, "jam and release"), (cider_stirrer, "start")]
)
def test_a_run_tells_how_far_it_is(make: Any, scenario: Scenario) -> None:
    """The stirrer's fan is held in steps, halved until they are small enough."""
    build: Build = make()
    drive = assess(build).drives["d1"].of_motor
    assert drive is not None
    told = list[float]()
    with while_wanted(lambda: False, told.append):
        simulate(drive.context, drive.circuit, scenario, averaged=make is cider_stirrer)
    assert told == sorted(told)
    assert min(told) >= 0 and 0.4 < max(told) <= 1 + 1e-9


def greedy(size: int) -> int:
    return len(bytearray(size))


@pytest.mark.skipif(not Path("/proc/self/status").exists(), reason="the bound is Linux's own")
def test_a_piece_that_takes_too_much_memory_is_refused_and_the_next_is_not() -> None:
    async def go() -> None:
        queue = Heavy(processes=True)
        with pytest.raises(HTTPException) as told:
            await queue.run(Asker(), greedy, 2 * MOST_MEMORY)  # type: ignore[arg-type]
        assert told.value.status_code == 503 and "memory" in told.value.detail
        assert await queue.run(Asker(), greedy, MOST_MEMORY // 10) == MOST_MEMORY // 10  # type: ignore[arg-type]

    apart(go)


READING = """
import pandas, resource, sys
from pathlib import Path
from zinc_whistle.core.captures.table import read
def most():
    return 1024 * resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
before = most()
rows = read(Path(sys.argv[1])).rows
print(rows, most() - before)
"""


@pytest.mark.skipif(sys.platform != "linux", reason="the greatest memory is counted in other units elsewhere")
def test_a_capture_takes_no_more_than_three_times_its_size(tmp_path: Path) -> None:
    path = tmp_path / "capture.csv"
    row = "0.{:08d},{}.1234,36.12,{}.4\n"
    block = "".join(row.format(i, i % 40, i % 4000) for i in range(50_000))
    path.write_text("time (s),current (A),voltage (V),speed (rpm)\n" + 12 * block)
    told = subprocess.run([sys.executable, "-c", READING, str(path)], capture_output=True, text=True, check=True)
    rows, taken = map(int, told.stdout.split())
    assert rows == 600_000
    assert taken < 3 * path.stat().st_size
