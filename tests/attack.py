"""Generated requests against the service: nothing that is sent makes a server error.

    python -m tests.attack run RESULTS.jsonl [--requests N] [--seed S]
    python -m tests.attack tell RESULTS.jsonl

Each request is a sound one with a few things in it changed: a number, a text, a name, a list, a byte of a file. A run
can be stopped and taken up again where it was. What was answered with 500 and more is kept whole, so that it can be
sent again. A part of this is in the test run.
"""

from __future__ import annotations

import argparse
import json
import logging
import random
import re
import time
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any, get_args

from fastapi.testclient import TestClient

from tests.demo_store import demo_store
from zinc_whistle.api.app import create_app
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.simulation.faults import FAULTS
from zinc_whistle.core.simulation.scenario import Scenario
from zinc_whistle.core.stations import BY_ID
from zinc_whistle.core.sums import SUMS
from zinc_whistle.demo.capture import STIRRER, shipped
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, snow_fan

MAKERS: tuple[Callable[[], Build], ...] = (lantern_carousel, cider_stirrer, puppet_stage, snow_fan)
NUMBERS = (0, -1, 1, 2, 7, 0.5, 1e-308, -1e-300, 1e300, 2**31, 2**63, 10**40, 255, 65536, True)
TEXTS = (
    *("", " ", "0", "-0", "-5", "1e-300 V", "1e308", "nan", "inf", "∞", "1/0", "0 %", "100 %", "1e9 %", "3 ± 4"),
    *("1e-308 Ω", "\x00", "\ud800", "\u202e", "\r\n", "x" * 79, "x" * 5000, "=1+1", "../../etc", "%00", "${x}"),
    *("٣", "²", "½", "NaN V", "d1", "u1", "s1", "c1", "m1", "mosfet", "yes", "no", "none", "motor", "servo", "lamp"),
    *("full bridge", "relay pair", "crossed relay", "level", "timer", "hand", "contacts", "by hand", "two coils"),
    *("cut-out", "source", "board", "driver", "guard bridged", "PWM=D9, PWM@2=D10", "A=1, B=0"),
)
NUMBER = re.compile(r"[-+]?\d+(?:[.,]\d+)?(?:e[-+]?\d+)?")
SIZES = (
    "0",
    "1e-300",
    "1e-9",
    "0.001",
    "0.1",
    "0.99",
    "1",
    "1.5",
    "7",
    "40",
    "99",
    "1000",
    "1e6",
    "1e12",
    "1e30",
    "-3",
)
LARGEST_FIT_ROWS = 400
"""Of a capture that is sent to be fitted: what counts here is the answer, not the work."""


@dataclass(frozen=True, slots=True)
class Sent:
    """One request."""

    method: str
    path: str
    body: Any = None
    content: bytes | None = None

    def to(self, client: TestClient) -> int:
        if self.content is not None:
            return client.request(self.method, self.path, content=self.content).status_code
        if self.body is None:
            return client.request(self.method, self.path).status_code
        # Lone surrogates cannot be written as they are: they go as the escapes that a page would send.
        raw = json.dumps(self.body, allow_nan=True).encode("ascii")
        return client.request(
            self.method, self.path, content=raw, headers={"content-type": "application/json"}
        ).status_code


def places(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Every place of a JSON value."""
    if path:
        yield path
    if isinstance(value, dict):
        for key, held in value.items():
            yield from places(held, (*path, key))
    elif isinstance(value, list):
        for number, held in enumerate(value):
            yield from places(held, (*path, number))


def changed(body: Any, chance: random.Random, times: int) -> Any:
    """A JSON value with some places changed, emptied, doubled or gone."""
    made = json.loads(json.dumps(body))
    for _ in range(times):
        if not (everywhere := list(places(made))):
            return made
        typed = [p for p in everywhere if p[-1] == "text"]
        path = chance.choice(typed if typed and chance.random() < 0.75 else everywhere)
        at = made
        for step in path[:-1]:
            at = at[step]
        last, old = path[-1], at[path[-1]]
        how = chance.random()
        if last == "text" and isinstance(old, str) and how < 0.9:
            # Mostly a number of a wrong size in the unit that it has: what is refused at the door tells little.
            at[last] = NUMBER.sub(chance.choice(SIZES), old, count=1) if how < 0.75 and old else chance.choice(TEXTS)
        elif isinstance(old, list) and old and how < 0.5:
            at[last] = [*old, json.loads(json.dumps(chance.choice(old)))] if how < 0.3 else []
        elif how < 0.08:
            del at[last]
        elif how < 0.16:
            at[last] = chance.choice((None, [], {}, [[]], {"text": None}))
        elif isinstance(old, str) or how < 0.5:
            at[last] = chance.choice(TEXTS)
        else:
            at[last] = chance.choice(NUMBERS)
    return made


def spoilt(data: bytes, chance: random.Random) -> bytes:
    """A file with some bytes changed, cut or doubled."""
    made = bytearray(data)
    for _ in range(chance.randint(1, 6)):
        at = chance.randrange(max(len(made), 1))
        how = chance.random()
        if how < 0.4 and made:
            made[at] = chance.randrange(256)
        elif how < 0.6:
            made[at:at] = chance.choice((b";", b",", b"\t", b"\n", b'"', b"\x00", b"-", b"1e999", b"\xff\xfe"))
        elif how < 0.8:
            del made[at : at + chance.randint(1, 200)]
        else:
            made[at:at] = made[at : at + chance.randint(1, 400)]
    return bytes(made)


def request(chance: random.Random) -> Sent:
    """One generated request."""
    build = chance.choice(MAKERS)().model_dump(mode="json")
    drive = chance.choice([d["id"] for d in build["drives"]])
    kind = chance.random()
    times = chance.choice((1, 1, 2, 4))
    if kind < 0.55:
        body = {"build": changed(build, chance, times), "station": chance.choice(list(BY_ID)), "drive": drive}
        return Sent("POST", "/api/assess", body if chance.random() < 0.9 else changed(body, chance, 1))
    if kind < 0.65:
        path, more = chance.choice(
            (
                ("/api/signals/press", {"pressed": ["forward"], "knob": 800, "ms": 200}),
                ("/api/stage/materials", {}),
                ("/api/stage/part", {"part": "own"}),
            )
        )
        return Sent("POST", path, changed({"build": changed(build, chance, times), "drive": drive} | more, chance, 1))
    if kind < 0.70:
        controller = chance.choice([c["id"] for c in build["controllers"]] or ["none"])
        return Sent("POST", "/api/signals/program", {"build": changed(build, chance, times), "controller": controller})
    if kind < 0.74:
        scenario, fault = chance.choice(get_args(Scenario)), chance.choice(list(FAULTS))
        body = {"build": changed(build, chance, times), "drive": drive, "scenario": scenario, "fault": fault}
        return Sent("POST", "/api/simulation/run", body | {"averaged": True})
    if kind < 0.82:
        name = chance.choice(list(SUMS))
        given = {i.key: i.example for i in SUMS[name].asks}
        return Sent("POST", f"/api/sums/{name}", changed({"given": given}, chance, times))
    if kind < 0.87:
        return Sent("POST", "/api/builds/import", changed(build, chance, times))
    if kind < 0.95:
        data = spoilt(b"\n".join(shipped(STIRRER).splitlines()[:LARGEST_FIT_ROWS]), chance)
        if chance.random() < 0.6:
            return Sent("POST", "/api/captures/preview", content=data)
        words = [chance.choice(("0:ms", "1:A", "2:V", "3:rpm", "9:A", ":", "1:kg")) for _ in range(3)]
        rest = f"supply={chance.choice(('', '36 V', '0', '-1 V'))}&final_speed={chance.choice(('', '0', '900 rpm'))}"
        query = f"time={words[0]}&current={words[1]}&voltage={words[2]}&{rest}"
        return Sent("POST", f"/api/captures/spin-up?{query}", content=data)
    path = chance.choice(("/api/builds/", "/api/parts/", "/api/motors/", "/", "/b/", "/assets/", "/api/"))
    tail = "".join(chance.choice(("%00", "a" * 300, "..", "%2f", "%ff", "é", "x", "?", "%")) for _ in range(2))
    return Sent(chance.choice(("GET", "GET", "DELETE", "PUT", "PATCH", "HEAD")), path + tail)


class Failures(logging.Handler):
    """What the service wrote to its log as an error: it may answer all the same, with less."""

    def __init__(self) -> None:
        super().__init__(logging.ERROR)
        self.told = 0
        logging.getLogger("zinc_whistle").addHandler(self)

    def emit(self, record: logging.LogRecord) -> None:
        self.told += 1

    def or_status(self, status: int) -> int:
        """The status; 500 where something failed behind it."""
        told, self.told = self.told, 0
        return 500 if told else status


def client() -> TestClient:
    return TestClient(
        create_app(demo_store()),
        base_url="http://127.0.0.1:8512",
        headers={"x-zinc-whistle": "attack"},
        raise_server_exceptions=False,
    )


def run(results: Path, requests: int, first: int) -> None:
    rows = results.read_text("utf-8").splitlines() if results.exists() else []
    done = sum(json.loads(row).get("to", 0) - json.loads(row).get("from", 0) for row in rows if '"to"' in row)
    service, count, begun, slowest = client(), Counter[int](), first + done, 0.0
    failures = Failures()
    for number in range(begun, first + requests):
        sent, start = request(random.Random(number)), time.perf_counter()
        status = failures.or_status(sent.to(service))
        slowest = max(slowest, time.perf_counter() - start)
        count[status] += 1
        with results.open("a", encoding="utf-8") as out:
            if status >= 500:
                out.write(json.dumps({"seed": number, "status": status, "path": sent.path}) + "\n")
            if number % 1000 == 999 or number == first + requests - 1:
                row = {"from": begun, "to": number + 1, "statuses": dict(count), "slowest_s": round(slowest, 2)}
                out.write(json.dumps(row) + "\n")
                begun, count, slowest = number + 1, Counter(), 0.0
                service = client()


def tell(results: Path) -> None:
    rows = [json.loads(row) for row in results.read_text("utf-8").splitlines()]
    count: Counter[str] = Counter()
    for row in rows:
        count.update(row.get("statuses", {}))
    slowest = max((row.get("slowest_s", 0.0) for row in rows), default=0.0)
    print(f"{count.total()} requests: {dict(sorted(count.items()))}; the slowest took {slowest} s")
    print("\n".join(f"  {row['status']} {row['path'][:60]} (seed {row['seed']})" for row in rows if "seed" in row))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("what", choices=("run", "tell"))
    parser.add_argument("results", type=Path)
    parser.add_argument("--requests", type=int, default=100_000)
    parser.add_argument("--seed", type=int, default=0)
    words = parser.parse_args()
    if words.what == "run":
        run(words.results, words.requests, words.seed)
    else:
        tell(words.results)


if __name__ == "__main__":
    main()
