"""Kills the store and the whole service in the middle of saves, and looks whether anything acknowledged is lost.

    python -m tests.storm store [--kills 1000] [--seed S]
    python -m tests.storm server [--kills 200] [--seed S]

Each kill comes a random time after the last start, on the file that the kills before have left. A few of them are in
the test run.
"""

from __future__ import annotations

import argparse
import json
import os
import random
import re
import signal
import subprocess
import sys
import tempfile
import threading
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from http.client import HTTPException
from pathlib import Path
from typing import Any

from zinc_whistle.demo.data import blank_build
from zinc_whistle.store.store import Store

ROOT = Path(__file__).parents[1]
SAVES = """
import sys
from pathlib import Path
from zinc_whistle.store.store import Store
store = Store(Path(sys.argv[1]))
stored = store.builds.get("storm")
while True:
    stored.build.note = f"save {stored.version + 1}"
    stored = store.builds.save("storm", stored.build, stored.version)
    print(stored.version, flush=True)
"""
SLOWEST_S = 0.4
"""The longest time between the first save after a start and the kill."""


@dataclass(slots=True)
class StormResult:
    """What a storm has done."""

    kills: int = 0
    saves: int = 0
    ahead: int = 0
    """Kills after which the file was one save further than what had been acknowledged."""


def begun(path: Path) -> None:
    """A data file with the build that is saved over and over."""
    store = Store(path)
    store.builds.add(blank_build("Storm"), "storm")
    store.close()


@contextmanager
def started(words: list[str]) -> Iterator[subprocess.Popen[str]]:
    """A process of this Python; killed at the end, whatever it does."""
    environment = {**os.environ, "PYTHONPATH": str(ROOT / "src"), "PYTHONUTF8": "1"}
    process = subprocess.Popen(
        [sys.executable, *words], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, env=environment
    )
    try:
        yield process
    finally:
        process.send_signal(signal.SIGKILL)
        process.wait(10)


def kept(path: Path, acknowledged: int) -> int:
    """The version that the file holds. AssertionError if it is behind, torn, or other than it says."""
    store = Store(path)
    found = store.builds.get("storm")
    whole = store.database.row("PRAGMA integrity_check")
    store.close()
    assert whole is not None and whole[0] == "ok"
    assert found.version >= acknowledged, f"{acknowledged} was acknowledged, {found.version} is there"
    assert found.version == 1 or found.build.note == f"save {found.version}"
    return found.version


def kill_store(path: Path, pause_s: float, acknowledged: int) -> int:
    """Save until a pause after the first save is over, and kill; the last version that was acknowledged."""
    with started(["-c", SAVES, str(path)]) as process:
        assert process.stdout is not None
        timer = threading.Timer(pause_s, process.kill)
        for line in process.stdout:
            if not timer.is_alive() and timer.ident is None:
                timer.start()
            # A line cut off by the kill was never given whole.
            acknowledged = int(line) if line.endswith("\n") else acknowledged
        timer.cancel()
    return acknowledged


def kill_server(path: Path, pause_s: float, acknowledged: int) -> int:
    """The same through the real service, saves and reads of it over HTTP."""
    with started(["-m", "zinc_whistle", "serve", "--data", str(path), "--port", "0"]) as process:
        assert process.stdout is not None
        found = re.search(r"http://127\.0\.0\.1:\d+", process.stdout.readline())
        assert found, "the service did not start"
        timer = threading.Timer(pause_s, process.kill)
        saves = 0
        try:
            stored = _ask(f"{found[0]}/api/builds/storm")
            while True:
                stored["build"]["note"] = f"save {stored['version'] + 1}"
                body = {"version": stored["version"], "build": stored["build"]}
                stored["version"] = acknowledged = _ask(f"{found[0]}/api/builds/storm", body)["version"]
                saves += 1
                # From a save that was acknowledged: how long a start takes has nothing to do with it.
                if saves == 2:
                    timer.start()
        except (OSError, HTTPException, ValueError):
            pass  # killed
        timer.cancel()
    return acknowledged


def _ask(address: str, body: Any = None) -> Any:
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(
        address, data, {"content-type": "application/json"}, method="GET" if data is None else "PUT"
    )
    try:
        with urllib.request.urlopen(request, timeout=30) as reply:
            return json.loads(reply.read())
    except urllib.error.HTTPError as error:
        raise AssertionError(f"{error.code}: {error.read()[:300]!r}") from error


KILLERS = {"store": kill_store, "server": kill_server}


def storm(what: str, path: Path, kills: int, seed: int = 0) -> StormResult:
    """So many kills on one file. AssertionError at the first loss."""
    chance, told, acknowledged = random.Random(seed), StormResult(), 1
    begun(path)
    for _ in range(kills):
        before = acknowledged
        acknowledged = KILLERS[what](path, chance.uniform(0.0, SLOWEST_S), acknowledged)
        told.kills, told.saves = told.kills + 1, told.saves + acknowledged - before
        there = kept(path, acknowledged)
        told.ahead += there > acknowledged
        acknowledged = there
    return told


def main() -> None:
    """The command line."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("what", choices=list(KILLERS))
    parser.add_argument("--kills", type=int, default=0)
    parser.add_argument("--seed", type=int, default=0)
    asked = parser.parse_args()
    kills = asked.kills or {"store": 1000, "server": 200}[asked.what]
    with tempfile.TemporaryDirectory() as folder:
        told = storm(asked.what, Path(folder) / "storm.sqlite3", kills, asked.seed)
    print(
        f"{told.kills} kills in {told.saves} acknowledged saves: none lost. "
        f"{told.ahead} times the file was one save further than its answer."
    )


if __name__ == "__main__":
    main()
