"""The fault finder over the service: what is typed, what the log brings, what is refused; a hidden fault."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient


def asked(client: TestClient, build: str = "lantern-carousel", drive: str = "d1", **more: Any) -> Any:
    body = {"build": client.get(f"/api/builds/{build}").json()["build"], "drive": drive, **more}
    return client.post("/api/faults", json=body)


def first(reply: Any) -> str:
    return str(reply.json()["suspects"][0]["id"])


def test_a_reading_moves_the_suspects_and_says_why(client: TestClient) -> None:
    found = asked(client, symptoms={"still": True}, readings={"winding": "OL", "no_load_a": "0"}).json()
    top = found["suspects"][0]
    assert top["percent"] > 20 and "Winding" in " ".join(top["reasons"])
    assert {t["title"] for t in found["taken"]} == {"Winding, the shaft turned by hand", "No-load current, full duty"}
    assert not {"winding", "no_load_a"} & {t["step"] for t in found["tests"]}


def test_over_range_is_what_a_missing_diode_reads(client: TestClient) -> None:
    for text in ("OL", "over range", "∞"):
        assert first(asked(client, "puppet-stage", readings={"diode": text})).startswith("diode_"), text
    assert not first(asked(client, "puppet-stage", readings={"diode": "0.45 V"})).startswith("diode_")


def test_what_cannot_be_read_is_said_at_its_step_and_counts_for_nothing(client: TestClient) -> None:
    reply = asked(client, readings={"rail": "twelve"}).json()
    (taken,) = reply["taken"]
    assert "twelve" in taken["error"] and taken["text"] == "twelve"
    plain = asked(client).json()
    assert [s["percent"] for s in reply["suspects"]] == [s["percent"] for s in plain["suspects"]]


def test_readings_that_passed_count_only_when_they_are_said_to_hold_still(client: TestClient) -> None:
    """A fault may be younger than a reading that passed."""
    quiet = asked(client, build_id="lantern-carousel").json()
    assert len(quiet["passed"]) > 3 and quiet["taken"] == []
    still = asked(client, build_id="lantern-carousel", still=True).json()
    assert {t["title"] for t in still["taken"]} == set(still["passed"]) and all(t["from_log"] for t in still["taken"])
    less = asked(client, build_id="lantern-carousel", still=True, readings={still["taken"][0]["step"]: ""}).json()
    assert len(less["taken"]) == len(still["taken"]) - 1


def test_a_failed_reading_of_the_log_counts_by_itself(client: TestClient) -> None:
    made = client.post("/api/builds/lantern-carousel/duplicate", json={}).json()["id"]
    reading = {"drive": "d1", "step": "rail", "text": "0 V", "note": ""}
    client.post(f"/api/builds/{made}/readings", json=reading).raise_for_status()
    found = asked(client, made, build_id=made)
    assert [t["step"] for t in found.json()["taken"]] == ["rail"] and first(found) == "fuse"


@pytest.mark.parametrize(
    ("drive", "status", "words"), [("d9", 404, "no such drive"), ("d2", 422, "drives with a motor")]
)
def test_a_drive_that_it_does_not_know_is_refused_in_words(
    client: TestClient, drive: str, status: int, words: str
) -> None:
    reply = asked(client, "puppet-stage", drive)
    assert reply.status_code == status and words in reply.json()["detail"]


def test_an_empty_build_is_told_what_is_missing(client: TestClient) -> None:
    made = client.post("/api/builds", json={"name": "x"}).json()["id"]
    reply = asked(client, made)
    assert reply.status_code == 422 and reply.json()["detail"].endswith("is not known yet.")


def test_a_hidden_fault_is_read_guessed_and_told(client: TestClient) -> None:
    build = client.get("/api/builds/cider-stirrer").json()["build"]

    def practise(**more: Any) -> Any:
        return client.post("/api/faults/practice", json={"build": build, "drive": "d1", "number": 7, **more}).json()

    begun = practise()
    assert begun["judged"] is None and begun["read"] == []
    step = begun["tests"][0]["step"]
    read = practise(done=[step, "no such step"])
    assert [t["step"] for t in read["read"]] == [step] and read["judged"] is None
    wrong, right = 0, 0
    for guess in (g["id"] for g in begun["guesses"]):
        judged = practise(done=[step], guess=guess)["judged"]
        right, wrong = right + judged["right"], wrong + (not judged["right"])
        assert judged["cause"] and judged["mends"] and (judged["points"] > 0) == judged["right"]
    assert (right, wrong) == (1, len(begun["guesses"]) - 1)


def test_the_place_of_a_cause_is_found_touch_by_touch(client: TestClient) -> None:
    build = client.get("/api/builds/lantern-carousel").json()["build"]
    asked_of = {"build": build, "drive": "d1", "cause": "open_lead"}
    answers: dict[str, str] = {}
    for _ in range(8):
        found = client.post("/api/faults/places", json=asked_of | {"answers": answers}).json()
        if found["next"] is None:
            break
        # A joint that is open at OUT 2: silent wherever its pin is touched, near nothing elsewhere.
        ends = (found["next"]["one"], found["next"]["other"])
        answers[found["next"]["id"]] = "silent" if any(e.startswith("OUT 2 ") for e in ends) else "beeps"
    assert found["places"][0]["percent"] > 90 and "OUT 2" in found["places"][0]["where"][0]
    assert found["says"].startswith("Found")


def test_a_cause_without_a_place_and_an_answer_that_is_none_are_refused(client: TestClient) -> None:
    build = client.get("/api/builds/lantern-carousel").json()["build"]
    refused = client.post("/api/faults/places", json={"build": build, "drive": "d1", "cause": "magnets"})
    assert refused.status_code == 422 and "sits in no joint" in refused.json()["detail"]
    body = {"build": build, "drive": "d1", "cause": "joint", "answers": {"x": "hums"}}
    assert client.post("/api/faults/places", json=body).status_code == 422
