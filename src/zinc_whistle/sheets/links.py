"""Fields that name other parts of the build."""

from __future__ import annotations

from ..core.model.build import Build, ServoDrive
from .fields import Describer, Field, Section


def with_links(section: Section, *fields: Field) -> Section:
    """A section with fields that name other parts of the build added at its end."""
    kept = [f for f in section.fields if f.path not in {x.path for x in fields}]
    return Section(title=section.title, help=section.help, fields=[*kept, *fields], path=section.path)


def rail_link(build: Build, drive: ServoDrive, d: Describer) -> Field:
    """Which regulator or source feeds a servo."""
    return d.link(drive, "rail", "Rail", [*build.supply.regulators, *build.supply.sources])
