"""Bodies spoiled at random: whatever is sent, the answer is a result or a sentence, never a crash."""

from __future__ import annotations

import json
from collections.abc import Iterator
from copy import deepcopy
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.test import Client
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from perigram.library import load_design
from perigram.studio import services
from tests.core.test_recipe import DEMOS

pytestmark = pytest.mark.django_db

#: What gets into a field when a program goes wrong, or somebody tries.
WRONG = st.sampled_from(
    [None, "", " ", "x" * 5000, "l1/letters", "own-0000", "../../etc/passwd", "NaN", True, False, 0, -1]
    + [
        1e308,
        -1e308,
        1e-300,
        2**70,
        10**400,
        0.1 + 0.2,
        [],
        {},
        [[]],
        {"value": 1e9, "of": "line"},
        "\0",
        "𝄞",
    ]
)
CALLS = {
    "proof": {"check": True, "have": []},
    "lines/add": {"kind": "letter", "picture": None, "on": None, "given": {"bits": 2.0}},
    "lines/remove": {"line": "l1"},
    "lines/arrange": {"lines": ["l1", "l2"], "how": "left", "to": "design", "hold": False},
    "lines/block": {"line": "l1", "fit": "tall", "align": "even", "gives": "letters"},
    "lines/change": {"line": "l3", "values": {"out_of": ["l2/art"]}},
    "parts": {"of": "l3/l1/letters"},
    "letters/forms": {"line": "l1", "row": 0, "at": 1},
    "letters/features": {"line": "l1"},
}


def places(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Where something stands in a JSON value, itself left out."""
    inner = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, one in inner:
        yield (*path, key)
        yield from places(one, (*path, key))


def spoiled(body: Any, data: st.DataObject) -> Any:
    """A copy with one or two of its values gone, doubled or replaced."""
    made = deepcopy(body)
    for _ in range(data.draw(st.integers(1, 2))):
        path = data.draw(st.sampled_from(list(places(made)) or [()]))
        if not path:
            return made
        holder = made
        for key in path[:-1]:
            holder = holder[key]
        how = data.draw(st.sampled_from(["replace", "replace", "replace", "drop", "double"]))
        if how == "drop":
            del holder[path[-1]]
        elif how == "double" and isinstance(holder, list):
            holder.append(deepcopy(holder[path[-1]]))
        else:
            holder[path[-1]] = deepcopy(data.draw(WRONG))
    return made


@pytest.fixture
def shop() -> tuple[Client, list[dict[str, Any]]]:
    owner = get_user_model().objects.create_user("teal")
    # A crash is to come back as the answer a browser would get.
    client = Client(raise_request_exception=False)
    client.force_login(owner)
    designs = [services.adopt(owner, load_design(path)).model_dump(mode="json") for path in DEMOS]
    return client, designs


@settings(
    max_examples=150,
    derandomize=True,
    suppress_health_check=[HealthCheck.function_scoped_fixture],
    deadline=None,
)
@given(data=st.data())
def test_a_spoiled_body_gets_a_result_or_a_sentence(
    shop: tuple[Client, list[dict[str, Any]]], data: st.DataObject
) -> None:
    client, designs = shop
    call = data.draw(st.sampled_from(sorted(CALLS)))
    body = spoiled({"design": data.draw(st.sampled_from(designs)), **CALLS[call]}, data)
    answer = client.post(f"/api/{call}", json.dumps(body), content_type="application/json")
    assert answer.status_code in (200, 422), answer.content[:500]
    if answer.status_code == 422:
        problem = answer.json()
        assert answer["Content-Type"] == "application/problem+json"
        assert problem["detail"].strip().endswith((".", "?")), "a sentence"
        assert "Traceback" not in problem["detail"]


@settings(
    max_examples=40,
    derandomize=True,
    suppress_health_check=[HealthCheck.function_scoped_fixture],
    deadline=None,
)
@given(data=st.data())
def test_what_is_saved_can_be_opened_and_cut_or_says_why_not(
    shop: tuple[Client, list[dict[str, Any]]], data: st.DataObject
) -> None:
    client, designs = shop
    spoilt = spoiled(data.draw(st.sampled_from(designs)), data)
    made = client.post("/api/designs", json.dumps(spoilt), content_type="application/json")
    assert made.status_code in (200, 422), made.content[:500]
    if made.status_code != 200:
        return
    design = made.json()["id"]
    opened = client.get(f"/api/designs/{design}").json()["design"]
    assert client.post("/api/proof", json.dumps({"design": opened}), content_type="application/json").json()
    cut = client.get(f"/api/designs/{design}/cut-files?revision=1&format=svg&format=dxf")
    assert cut.status_code in (200, 422), cut.content[:500]
    again = client.put(
        f"/api/designs/{design}", json.dumps({"base": 1, "design": opened}), content_type="application/json"
    )
    assert again.json()["revision"] == 2


def test_no_call_ends_in_a_crash(shop: tuple[Client, list[dict[str, Any]]]) -> None:
    """What does not fit the framework, the database or JSON is a problem document too."""
    client, designs = shop
    design, json_type = designs[0], "application/json"
    made = client.post("/api/designs", json.dumps(design), content_type=json_type).json()["id"]
    address = f"/api/designs/{made}"
    line = design["recipe"][0]
    many = [{**line, "id": f"x{k}"} for k in range(201)]
    plies = [{**design["plies"][0], "id": f"p{k}"} for k in range(41)]

    def put(base: Any, **values: Any) -> Any:
        body = json.dumps({"base": base, "design": {**design, **values}})
        return client.put(address, body, content_type=json_type)

    answers = {
        "line 201": put(1, recipe=many),
        "ply 41": put(1, plies=plies),
        "a revision too large": put(2**70),
        "a revision below zero": put(-1),
        "half a character in a name": put(1, name="half \ud83d"),
        "half a character in words": put(1, recipe=[{**line, "rows": [{"text": "\udc00"}]}]),
        "half a character asked for": client.patch(address, '{"name": "\\ud800"}', content_type=json_type),
        "no JSON": client.put(address, "{", content_type=json_type),
        "deep JSON": client.put(address, "[" * 100_000, content_type=json_type),
        "a large body": client.put(address, b" " * 25_000_000, content_type=json_type),
        "no boundary": client.post("/api/pictures", b"--x", content_type="multipart/form-data"),
        "no file": client.post("/api/pictures", {"other": "x"}),
        "many fields": client.post("/api/pictures", {f"f{k}": "x" for k in range(1500)}),
        "a state too far": client.get(f"{address}/states/{2**70}"),
        "no such format": client.get(f"{address}/cut-files?revision=1&format=exe"),
        "a revision too far": client.get(f"{address}/cut-files?revision={2**70}&format=svg"),
        "no such design": client.get("/api/designs/17"),
        "no such call": client.get("/api/nothing"),
        "no such method": client.delete("/api/proof"),
        "an odd name": client.get("/api/pictures/%ED%A0%80"),
        "an odd font": client.get("/api/fonts/%00/glyphs"),
        "no such person": client.post("/api/session", '{"user": "\\ud800", "password": "x"}', json_type),
    }
    wrong = {
        what: (answer.status_code, answer["Content-Type"], answer.content[:200])
        for what, answer in answers.items()
        if not (
            400 <= answer.status_code < 500
            and answer["Content-Type"] == "application/problem+json"
            and answer.json()["detail"].strip().endswith((".", "?"))
        )
    }
    assert not wrong, "\n".join(f"{what}: {answer}" for what, answer in wrong.items())
