"""Starts the real service on a free port, and the system's Chromium."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

ROOT = Path(__file__).resolve().parents[2]
QUIET = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--force-color-profile=srgb",
]


@contextmanager
def service(data: Path, *, demo: bool = True) -> Iterator[str]:
    """The service as a process of its own; yields its address."""
    words = [sys.executable, "-m", "zinc_whistle", "serve", "--data", str(data), "--port", "0"]
    words += ["--web", str(ROOT / "web" / "dist"), *(["--demo"] if demo else [])]
    environment = {**os.environ, "PYTHONPATH": str(ROOT / "src"), "PYTHONUTF8": "1"}
    process = subprocess.Popen(words, stdout=subprocess.PIPE, text=True, env=environment)
    assert process.stdout is not None
    try:
        line = process.stdout.readline()
        found = re.search(r"http://127\.0\.0\.1:\d+", line)
        assert found, f"the service did not start: {line!r}"
        yield found[0]
    finally:
        process.terminate()
        process.wait(10)


CHROMIUMS = ("chromium-headless-shell", "chromium", "chromium-browser", "google-chrome")
"""The first is the same engine without a window: with one, every new page loads some four hundred scripts of the
browser's own bars, and a first look at a station takes twice as long."""


def chromium() -> str | None:
    """Where the system's Chromium is."""
    named = os.environ.get("ZW_CHROMIUM")
    return named or next((p for p in map(shutil.which, CHROMIUMS) if p), None)


@contextmanager
def browser() -> Iterator[Browser]:
    """Headless Chromium."""
    with sync_playwright() as playwright:
        started = playwright.chromium.launch(executable_path=chromium(), args=QUIET)
        yield started
        started.close()
