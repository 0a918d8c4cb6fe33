"""Log entries by topic: what each asks, what stands open until it is settled, hours and money together."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from zinc_whistle.core.algebra.quantities import QuantityError
from zinc_whistle.core.model.log_topic import TOPICS, checked, together
from zinc_whistle.demo.seed import CAROUSEL


def add(client: TestClient, text: str, topic: str = "note", **details: str) -> Any:
    body = {"text": text, "topic": topic, "details": details}
    return client.post(f"/api/builds/{CAROUSEL}/log", json=body)


def entries(client: TestClient) -> dict[str, Any]:
    return {e["text"]: e for e in client.get(f"/api/builds/{CAROUSEL}/log").json()}


def test_a_failure_keeps_the_build_and_stands_until_it_is_undone(client: TestClient) -> None:
    of = f"/api/builds/{CAROUSEL}"
    before, got = len(client.get(f"{of}/revisions").json()), client.get(of).json()
    got["build"]["note"] = "changed since"
    client.put(of, json={"version": got["version"], "build": got["build"]})
    made = add(client, "It stopped and smelt", "failure", cause="a strand", mend="tape", undo="take the tape off")
    assert made.status_code == 201
    revisions = client.get(f"{of}/revisions").json()
    assert len(revisions) == before + 1 and revisions[0]["reason"] == "as it failed"
    entry = entries(client)["It stopped and smelt"]
    assert entry["open"] and entry["number"] == revisions[0]["number"] and entry["details"]["cause"] == "a strand"
    done = client.post(f"/api/builds/{CAROUSEL}/log/{entry['id']}/settle", json={})
    settled = next(e for e in done.json() if e["id"] == entry["id"])
    assert settled["settled"] and not settled["open"]
    assert client.post(f"/api/builds/{CAROUSEL}/log/{entry['id']}/settle", json={}).status_code == 404
    add(client, "A fuse went", "failure", cause="a slip")
    assert len(client.get(f"{of}/revisions").json()) == before + 1, "the same build is kept once"
    assert not entries(client)["A fuse went"]["open"], "nothing has to be undone"


def test_an_improvement_stands_open_and_a_note_does_not(client: TestClient) -> None:
    add(client, "Holes for a bigger capacitor", "improvement")
    add(client, "Greased")
    told = entries(client)
    assert told["Holes for a bigger capacitor"]["open"] and not told["Greased"]["open"]
    refused = client.post(f"/api/builds/{CAROUSEL}/log/{told['Greased']['id']}/settle", json={})
    assert refused.status_code == 404, "a note has nothing to settle"
    id = told["Holes for a bigger capacitor"]["id"]
    client.post(f"/api/builds/{CAROUSEL}/log/note/{id}/withdraw", json={})
    assert not entries(client)["Holes for a bigger capacitor"]["open"], "what is withdrawn stands no more"


def test_hours_and_money_add_up_without_what_was_withdrawn(client: TestClient) -> None:
    add(client, "Soldered", "hours", hours="2.5 h")
    add(client, "Debugged", "hours", hours="90 min")
    add(client, "Parts", "order", price="14.20 €")
    add(client, "More parts", "order", price="5 €", **{"from": "the corner shop"})
    of = f"/api/builds/{CAROUSEL}/log"
    assert client.get(f"{of}/totals").json() == {"hours": "4 h", "spent": "19.20 €"}
    client.post(f"{of}/note/{entries(client)['More parts']['id']}/withdraw", json={})
    assert client.get(f"{of}/totals").json()["spent"] == "14.20 €"


@pytest.mark.parametrize(
    ("topic", "details", "says"),
    [
        ("hours", {"hours": "long"}, "long"),
        ("hours", {"hours": "-2 h"}, "below nothing"),
        ("order", {"price": "x"}, "x"),
    ],
)
def test_what_cannot_be_read_is_refused_and_nothing_is_kept(
    client: TestClient, topic: str, details: dict[str, str], says: str
) -> None:
    refused = add(client, "Refused", topic, **details)
    assert refused.status_code == 422 and says in refused.json()["detail"]
    assert "Refused" not in entries(client)


def test_what_a_topic_does_not_ask_is_left_out() -> None:
    assert checked("trial", {"surface": " grass ", "price": "3 €", "load": ""}) == {"surface": "grass"}
    with pytest.raises(QuantityError):
        checked("hours", {"hours": "3 V"})
    assert together([("hours", {"hours": "1 h"}), ("note", {}), ("hours", {})], "hours", "hours") == 3600
    assert all(t.label for t in TOPICS.values())


def test_the_topics_are_told(client: TestClient) -> None:
    told = {t["key"]: t for t in client.get("/api/log/topics").json()}
    assert [f["key"] for f in told["trial"]["asks"]] == ["surface", "load", "swapped", "result"]
    assert told["failure"]["open_as"] == "To be undone" and told["note"]["open_as"] == ""


def test_what_a_change_makes_stale_is_named_the_shortest_first(client: TestClient) -> None:
    """The demo's gain and its ten turns stand on an older gear; another no-load voltage takes more with it."""
    of = f"/api/builds/{CAROUSEL}"

    def stale(build: Any) -> list[str]:
        body = {"build": build, "build_id": CAROUSEL, "station": "motor", "drive": "d1"}
        found: list[str] = client.post("/api/assess", json=body).json()["stale"]
        return found

    build = client.get(of).json()["build"]
    assert stale(build) == ["Encoder, ten turns of the output by hand", "Proportional gain"]
    build["drives"][0]["motor"]["no_load_v"]["text"] = "13 V"
    more = stale(build)
    assert more[-1] == "Proportional gain" and len(more) > 2
