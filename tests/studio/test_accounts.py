"""Who comes in: invitations, accounts and passwords."""

from __future__ import annotations

import json
from datetime import timedelta
from io import StringIO
from typing import Any

import pytest
from django.core.management import call_command
from django.test import Client
from django.utils import timezone

from perigram.studio.models import Invitation

pytestmark = pytest.mark.django_db
GOOD = "reed-and-rope-3"


def make(client: Client, user: str, password: str = GOOD, invitation: str = "") -> Any:
    body = {"user": user, "password": password, "invitation": invitation}
    return client.post("/api/account", json.dumps(body), content_type="application/json")


def sign_in(client: Client, password: str) -> Any:
    body = json.dumps({"user": "teal", "password": password})
    return client.post("/api/session", body, content_type="application/json")


def invited() -> str:
    out = StringIO()
    call_command("invite", stdout=out)
    return out.getvalue().strip().rsplit("/", 1)[1]


def test_an_invitation_makes_one_account() -> None:
    code = invited()
    client = Client()
    weak = make(client, "teal", "12345678", code)
    assert weak.status_code == 422
    assert "password" in weak.json()["detail"].lower()
    made = make(client, "teal", GOOD, code)
    assert made.json()["user"] == "teal"
    # Something to take apart, and materials of each kind.
    assert [one["name"] for one in client.get("/api/designs").json()] == ["Weekend shirt"]
    assert {one["kind"] for one in client.get("/api/materials").json()} == {"htv", "vinyl", "card"}
    assert client.get("/api/machines").json()["known"] is False
    for again in (code, "", "made-up"):
        assert make(Client(), "finch", GOOD, again).status_code == 403
    old = invited()
    Invitation.objects.filter(code=old).update(made=timezone.now() - timedelta(days=15))
    assert make(Client(), "finch", GOOD, old).status_code == 403


def test_a_refused_account_leaves_the_invitation_good(settings: Any) -> None:
    code = invited()
    assert make(Client(), "teal", GOOD, code).status_code == 200
    other = invited()
    taken = make(Client(), "teal", GOOD, other)
    assert taken.status_code == 422
    assert "already" in taken.json()["detail"]
    assert make(Client(), "finch", GOOD, other).status_code == 200
    settings.SIGN_UP = "open"
    assert make(Client(), "wren").status_code == 200
    settings.SIGN_UP = "closed"
    assert make(Client(), "heron", GOOD, invited()).status_code == 403


def test_a_new_password_signs_the_others_out() -> None:
    here, there = Client(), Client()
    make(here, "teal", GOOD, invited())
    there.post(
        "/api/session", json.dumps({"user": "teal", "password": GOOD}), content_type="application/json"
    )

    def change(old: str, new: str) -> Any:
        body = json.dumps({"old": old, "new": new})
        return here.put("/api/account/password", body, content_type="application/json")

    assert change("wrong", "osprey-and-oar-4").status_code == 422
    assert change(GOOD, "teal").status_code == 422
    assert there.get("/api/designs").status_code == 200
    assert change(GOOD, "osprey-and-oar-4").status_code == 200
    assert here.get("/api/designs").status_code == 200
    assert there.get("/api/designs").status_code == 401
    assert sign_in(there, "osprey-and-oar-4").status_code == 200
