"""How long the answer to a key takes while runs with every pulse are asked for without end.

    python benchmarks/while_heavy.py

Prints median and 95th percentile of the service's answer at Motor, idle and while three askers want heavy runs (aim:
under 100 ms at a yardstick of 35 ms a million additions).
"""

from __future__ import annotations

import json
import statistics
import sys
import tempfile
import threading
import time
import urllib.request
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
from tests.browser.service import service

from zinc_whistle.demo.data import cider_stirrer, lantern_carousel

ASKED = 40


def post(address: str, path: str, body: dict[str, Any]) -> None:
    """Ask the service, and wait for all of the answer."""
    asked = urllib.request.Request(address + path, json.dumps(body).encode(), {"content-type": "application/json"})
    urllib.request.urlopen(asked).read()


def answers(address: str, body: dict[str, Any]) -> str:
    """Median and 95th percentile of so many answers, in ms."""
    taken = []
    for _ in range(ASKED):
        start = time.perf_counter()
        post(address, "/api/assess", body)
        taken.append(1e3 * (time.perf_counter() - start))
    return f"median {statistics.median(taken):.0f} ms, 95th percentile {sorted(taken)[int(0.95 * ASKED)]:.0f} ms"


def main() -> None:
    key = {"build": lantern_carousel().model_dump(mode="json"), "station": "motor", "drive": "d1"}
    run = {"build": cider_stirrer().model_dump(mode="json"), "drive": "d1", "scenario": "coast", "averaged": False}
    with tempfile.TemporaryDirectory() as folder, service(Path(folder) / "demo.sqlite3") as address:
        for _ in range(5):
            post(address, "/api/assess", key)
        print(f"idle:                    {answers(address, key)}")
        over = threading.Event()

        def heavy() -> None:
            while not over.is_set():
                post(address, "/api/simulation/run", run)

        askers = [threading.Thread(target=heavy) for _ in range(3)]
        for asker in askers:
            asker.start()
        print(f"three askers of a run:   {answers(address, key)}")
        over.set()
        for asker in askers:
            asker.join()


if __name__ == "__main__":
    main()
