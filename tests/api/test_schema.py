"""The OpenAPI document: schemathesis finds no server error; the front end's types are current."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any, cast

import schemathesis
from fastapi import FastAPI
from hypothesis import HealthCheck, settings

from tests.demo_store import demo_store
from zinc_whistle.api.app import create_app
from zinc_whistle.store.store import Store

WEB = Path(__file__).resolve().parents[2] / "web"


def _app() -> FastAPI:
    return create_app(demo_store())


schema = schemathesis.openapi.from_asgi("/api/openapi.json", _app(), headers={"host": "localhost"})
schema.config.phases.coverage.enabled = False


@schema.parametrize()
@settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck))
def test_no_input_makes_a_server_error(case: schemathesis.Case[Any]) -> None:
    response = case.call(headers={"host": "localhost", "x-zinc-whistle": "test"})
    case.validate_response(
        response,
        checks=cast(
            Any,
            [
                schemathesis.checks.not_a_server_error,
                schemathesis.checks.CHECKS.get_one("response_schema_conformance"),
            ],
        ),
    )


def test_the_front_ends_document_is_current() -> None:
    """The front end's types are made from this file whenever it is built or checked."""
    document = create_app(Store(":memory:")).openapi()
    kept = json.loads((WEB / "openapi.json").read_text("utf-8"))
    assert document == kept, "run: ./zw types"


def test_the_types_are_made_from_the_document_before_every_build_and_check() -> None:
    scripts = json.loads((WEB / "package.json").read_text("utf-8"))["scripts"]
    for name in ("dev", "build", "check"):
        assert scripts[name].startswith("npm run -s types && "), name
    assert "openapi.json" in scripts["types"]
