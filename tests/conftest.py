"""Fixtures that every part of the tests may use."""

from __future__ import annotations

import gc

import pytest
from hypothesis import HealthCheck, settings

from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.driver import DriverPart
from zinc_whistle.demo.data import lantern_carousel, sample_parts

settings.register_profile("steady", deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("steady")


def pytest_collection_finish() -> None:
    """What stands by now stands to the end, some million things: as in the service, nobody need look at them again."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 20)


@pytest.fixture
def carousel() -> Build:
    """The demo build, fresh."""
    return lantern_carousel()


@pytest.fixture(scope="session")
def shelf() -> list[DriverPart]:
    """The sample parts; nobody changes them."""
    return sample_parts()


@pytest.fixture
def done(carousel: Build, shelf: list[DriverPart]) -> Assessment:
    """The demo build, worked out."""
    return assess(carousel, shelf)
