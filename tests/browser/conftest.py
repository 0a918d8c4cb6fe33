"""One service and one Chromium a test worker; each test gets its own build and its own pages."""

from __future__ import annotations

import json
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, ConsoleMessage, Page, expect

from tests.browser.service import browser, service

# What a slow machine has not drawn yet is no failure: an expectation that never comes true still fails, only later.
expect.set_options(timeout=30_000)


@pytest.fixture(scope="session")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The service, with the demo data."""
    with service(Path(tmp_path_factory.mktemp("data")) / "demo.sqlite3") as found:
        yield found


@pytest.fixture(scope="session")
def chrome() -> Iterator[Browser]:
    """The system's Chromium."""
    with browser() as started:
        yield started


EVERY_FIELD = "if (location.protocol === 'http:') localStorage.setItem('all-fields', 'yes')"
"""As a builder who wants no field folded: a walk is about what it does there, and test_folds about the folds."""


class Watched:
    """A profile that notes whatever is asked from elsewhere, and every error that is logged."""

    def __init__(self, chrome: Browser, address: str) -> None:
        self.context = chrome.new_context(
            viewport={"width": 1280, "height": 800}, locale="en-GB", timezone_id="UTC", base_url=address
        )
        self.context.set_default_timeout(15000)
        self.context.add_init_script(EVERY_FIELD)
        self.elsewhere: list[str] = []
        self.errors: list[str] = []
        own = (address, "blob:", "data:")
        self.context.on("request", lambda r: None if r.url.startswith(own) else self.elsewhere.append(r.url))
        self.context.on("weberror", lambda e: self.errors.append(str(e.error)))
        self.context.on("console", self._heard)

    def _heard(self, message: ConsoleMessage) -> None:
        if message.type == "error" and "409" not in message.text and "422" not in message.text:
            self.errors.append(message.text)

    def blame(self) -> None:
        """Fail the test that is over if anything was noted, and begin anew."""
        elsewhere, errors = self.elsewhere[:], self.errors[:]
        self.elsewhere.clear()
        self.errors.clear()
        assert elsewhere == [], "the page asked somebody else"
        assert errors == [], "the page logged errors"


@pytest.fixture
def context(chrome: Browser, address: str) -> Iterator[BrowserContext]:
    """A fresh profile that fails the test if anything is asked from elsewhere or an error is logged."""
    watched = Watched(chrome, address)
    yield watched.context
    watched.context.close()
    watched.blame()


@pytest.fixture(scope="session")
def lasting(chrome: Browser, address: str) -> Iterator[Watched]:
    """One profile for all tests that only look: what it has loaded it need not load again."""
    watched = Watched(chrome, address)
    yield watched
    watched.context.close()


@pytest.fixture
def glance(lasting: Watched) -> Iterator[Page]:
    """A page to look at; a test that changes or keeps anything takes ``page``."""
    shown = lasting.context.new_page()
    yield shown
    shown.close()
    lasting.blame()


@pytest.fixture
def page(context: BrowserContext) -> Page:
    """A page."""
    return context.new_page()


def ask(address: str, path: str, body: Any = None, method: str | None = None) -> Any:
    """Talk to the service directly."""
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(
        address + path, data, {"content-type": "application/json", "x-zinc-whistle": "test"}, method=method
    )
    with urllib.request.urlopen(request, timeout=60) as reply:
        text = reply.read()
    return json.loads(text) if text else None


@pytest.fixture
def carousel(address: str) -> str:
    """The id of a copy of the demo build, for this test alone."""
    made: str = ask(address, "/api/builds/lantern-carousel/duplicate", {})["id"]
    return made


@pytest.fixture
def fresh(address: str) -> str:
    """The id of a new, empty build."""
    made: str = ask(address, "/api/builds", {"name": "Feeder"})["id"]
    return made


@pytest.fixture
def as_it_comes(page: Page) -> None:
    """The same page with its fields folded, as a builder meets it."""
    page.add_init_script(EVERY_FIELD.replace("setItem('all-fields', 'yes')", "removeItem('all-fields')"))


@pytest.fixture
def puppets(address: str) -> str:
    """The id of a copy of the puppet stage, for this test alone."""
    made: str = ask(address, "/api/builds/puppet-stage/duplicate", {})["id"]
    return made


@pytest.fixture
def phone(chrome: Browser, address: str) -> Iterator[Page]:
    """A page as small as a phone's."""
    made = chrome.new_context(viewport={"width": 390, "height": 844}, locale="en-GB", base_url=address)
    made.set_default_timeout(30000)
    made.add_init_script(EVERY_FIELD)
    yield made.new_page()
    made.close()
