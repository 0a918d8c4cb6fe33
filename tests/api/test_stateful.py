"""Any order of saving, copying, deleting and taking back leaves what a plain dictionary would hold, and no 5xx."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any

import hypothesis.strategies as st
from fastapi.testclient import TestClient
from hypothesis import settings
from hypothesis.stateful import Bundle, RuleBasedStateMachine, consumes, initialize, invariant, multiple, rule

from tests.api.conftest import ADDRESS
from zinc_whistle.api.app import create_app
from zinc_whistle.demo.data import blank_build
from zinc_whistle.store.store import Store

SHOWN = st.characters(codec="utf-8", exclude_categories=("Cc", "Cf", "Zs", "Zl", "Zp", "Cn"))
NAMES = st.text(SHOWN, min_size=1, max_size=80)
NOTES = st.text(st.characters(codec="utf-8"), max_size=60)


@dataclass(frozen=True)
class Kept:
    """What a build should be."""

    name: str
    note: str = ""
    version: int = 1
    revisions: tuple[tuple[str, str], ...] = field(default=())


class Shelf(RuleBasedStateMachine):
    """The builds of one service."""

    builds: Bundle[str] = Bundle("builds")
    gone: Bundle[str] = Bundle("gone")

    @initialize()
    def start(self) -> None:
        self.client = TestClient(
            create_app(Store(":memory:")),
            base_url=ADDRESS,
            headers={"x-zinc-whistle": "test"},
            raise_server_exceptions=False,
        )
        self.kept: dict[str, Kept] = {}
        self.deleted: dict[str, Kept] = {}

    def ask(self, method: str, path: str, status: int, body: Any = None) -> Any:
        got = self.client.request(method, f"/api/builds{path}", json=body)
        assert got.status_code == status, f"{method} {path}: {got.status_code} {got.text[:300]}"
        return got.json() if got.content else None

    def draft(self, kept: Kept) -> Any:
        build = blank_build("x")
        build.name, build.note = kept.name, kept.note
        return build.model_dump(mode="json")

    @rule(target=builds, name=NAMES)
    def create(self, name: str) -> str:
        id: str = self.ask("POST", "", 201, {"name": name})["id"]
        self.kept[id] = Kept(name.strip())
        return id

    @rule(target=builds, name=NAMES, note=NOTES)
    def take_in(self, name: str, note: str) -> str:
        id: str = self.ask("POST", "/import", 201, self.draft(Kept(name, note)))["id"]
        self.kept[id] = Kept(name, note)
        return id

    @rule(build=builds, note=NOTES)
    def save(self, build: str, note: str) -> None:
        if build not in self.kept:
            return
        old = self.kept[build]
        new = replace(old, note=note, version=old.version + 1)
        body = {"version": old.version, "build": self.draft(new)}
        assert self.ask("PUT", f"/{build}", 200, body)["version"] == new.version
        self.kept[build] = new
        # Its answer was lost, and it is sent again.
        assert self.ask("PUT", f"/{build}", 200, body)["version"] == new.version

    @rule(target=builds, build=builds, note=NOTES, behind=st.integers(1, 3))
    def save_an_old_draft(self, build: str, note: str, behind: int) -> Any:
        old = self.kept.get(build)
        if old is None or note == old.note:
            return multiple()
        version = max(old.version - behind, 0)
        body = {"version": version, "build": self.draft(replace(old, note=note))}
        told = self.client.put(f"/api/builds/{build}", json=body)
        if version == 0 and told.status_code == 422:
            return multiple()
        assert told.status_code == 409 and told.json()["current"] == old.version
        sibling = told.json()["sibling_id"]
        self.kept[sibling] = Kept(told.json()["sibling_name"], note)
        assert len(self.kept[sibling].name) <= 80
        return sibling

    @rule(target=builds, build=builds)
    def copy(self, build: str) -> Any:
        if build not in self.kept:
            return multiple()
        made = self.ask("POST", f"/{build}/duplicate", 201, {})
        self.kept[made["id"]] = Kept(made["build"]["name"], self.kept[build].note)
        return made["id"]

    @rule(build=builds, reason=st.sampled_from(["", "before it rains"]))
    def cut(self, build: str, reason: str) -> None:
        if build not in self.kept:
            return
        old = self.kept[build]
        self.kept[build] = replace(old, revisions=(*old.revisions, (old.name, old.note)))
        assert self.ask("POST", f"/{build}/revisions", 201, {"reason": reason})["number"] == len(old.revisions) + 1

    @rule(build=builds, chance=st.integers(0, 100))
    def take_back(self, build: str, chance: int) -> None:
        old = self.kept.get(build)
        if old is None or not old.revisions:
            return
        number = chance % len(old.revisions)
        name, note = old.revisions[number]
        cut = (*old.revisions, (old.name, old.note))
        self.kept[build] = Kept(name, note, old.version + 1, cut)
        self.ask("POST", f"/{build}/revisions/{number + 1}/restore", 200)

    @rule(target=gone, build=consumes(builds))
    def delete(self, build: str) -> Any:
        if build not in self.kept:
            return multiple()
        self.ask("DELETE", f"/{build}", 204)
        self.deleted[build] = self.kept.pop(build)
        for method, path, body in (
            ("GET", "", None),
            ("DELETE", "", None),
            ("POST", "/duplicate", {}),
            ("PUT", "", {"version": 1, "build": self.draft(Kept("x"))}),
            ("POST", "/revisions/1/restore", None),
        ):
            self.ask(method, f"/{build}{path}", 404, body)
        return build

    @rule(target=builds, build=consumes(gone))
    def undelete(self, build: str) -> str:
        self.ask("POST", f"/{build}/undelete", 200)
        self.kept[build] = self.deleted.pop(build)
        return build

    @invariant()
    def holds_what_it_should(self) -> None:
        if not hasattr(self, "client"):
            return
        listed = {b["id"]: b for b in self.ask("GET", "", 200)}
        assert {i: (b["name"], b["version"], b["revisions"]) for i, b in listed.items()} == {
            i: (k.name, k.version, len(k.revisions)) for i, k in self.kept.items()
        }
        for id, kept in self.kept.items():
            assert self.ask("GET", f"/{id}/export", 200)["note"] == kept.note


Shelf.TestCase.settings = settings(max_examples=8, stateful_step_count=20, deadline=None)
TestBuilds = Shelf.TestCase
