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
