"""All builds at a glance."""

from __future__ import annotations

import logging
from collections import OrderedDict

from ..core.assess import assess
from ..sheets.overview import BuildOverview, Overview, build_overview, joined
from ..store.builds import Unreadable
from .routers import strict_router
from .routes_builds import StoreOf

log = logging.getLogger("zinc_whistle")
router = strict_router("/api/overview", "builds")
MOST = 60
"""Builds that are worked out: the last saved ones. A list of hundreds is searched by its names."""
_KEPT: OrderedDict[tuple[object, ...], tuple[object, BuildOverview]] = OrderedDict()
"""With the shelf and store of each, so that no other list can come to stand where they stood."""
MOST_KEPT = 200


@router.get("")
def overview(store: StoreOf) -> Overview:
    """How each build stands, and what they teach one another: the sixty that were saved last."""
    found = []
    for listed in store.builds.listed()[:MOST]:
        readings, entries = store.journal.readings(listed.id), store.journal.log(listed.id)
        shelf = store.shelf()
        # What a build comes to hangs on itself, its log and the shelf; a new list is another shelf.
        key = (id(store), listed.id, listed.version, id(shelf), tuple((e.id, e.withdrawn, e.settled) for e in entries))
        if key not in _KEPT:
            try:
                done = assess(store.builds.get(listed.id).build, shelf, readings)
            except Unreadable:
                continue
            except Exception:
                log.exception("a build could not be worked out for the overview")
                continue
            _KEPT[key] = (store, shelf), build_overview(listed.id, done, readings, entries)
            while len(_KEPT) > MOST_KEPT:
                _KEPT.popitem(last=False)
        found.append(_KEPT[key][1])
    return joined(found)
