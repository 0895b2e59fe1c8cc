"""Sheets, machines and the press plan over the wire."""

from __future__ import annotations

import json
import time
from io import BytesIO
from typing import Any
from xml.etree import ElementTree
from zipfile import ZipFile

import pytest
from django.conf import settings
from django.contrib.auth import get_user_model
from django.test import Client

from perigram.library import load_design
from perigram.studio import services
from perigram.studio.demo import load_demo_shop

pytestmark = pytest.mark.django_db
JSON = "application/json"


@pytest.fixture
def shop() -> tuple[Client, Any]:
    owner = get_user_model().objects.create_user("teal")
    client = Client()
    client.force_login(owner)
    design = load_design(settings.BASE_DIR / "demo" / "weekend-shirt.perigram.json")
    return client, services.create(owner, design)


def asked(client: Client, design: dict[str, Any], what: str = "sheets") -> Any:
    return client.post(f"/api/{what}", json.dumps({"design": design}), content_type=JSON)


def test_what_is_listed_is_what_is_in_the_zip(shop: tuple[Client, Any]) -> None:
    client, stored = shop
    machines = client.get("/api/machines").json()
    assert [one["name"] for one in machines["machines"]] == ["Home cutter", "Sandpiper 24", "Plover 12"]
    for reads in machines["reads"]:
        own = [{**machines["machines"][0], "reads": reads}]
        body = json.dumps({"machines": own, "chosen": "home"})
        assert client.put("/api/machines", body, content_type=JSON).json()["machines"][0]["reads"] == reads
        listed = [sheet["file"] for sheet in asked(client, stored.body).json()["sheets"]]
        zip_ = client.get(f"/api/designs/{stored.id}/sheet-files?revision=1")
        assert ZipFile(BytesIO(zip_.content)).namelist() == sorted(listed)
    assert client.get(f"/api/designs/{stored.id}/sheet-files?revision=2").status_code == 409
    # Another shop has its own.
    other = Client()
    other.force_login(get_user_model().objects.create_user("finch"))
    assert len(other.get("/api/machines").json()["machines"]) == 3
    assert other.get(f"/api/designs/{stored.id}/sheet-files?revision=1").status_code == 404


def test_sheets_say_what_does_not_fit_and_what_does_not_go_in(shop: tuple[Client, Any]) -> None:
    client, stored = shop
    design = stored.body
    wide = {**design, "materials": [{**one, "width": 1200.0} for one in design["materials"]]}
    warned = asked(client, wide).json()
    assert any("is 1200 mm wide; Home cutter takes 610 mm" in text for text in warned["warnings"])
    narrow = {
        **design,
        "materials": [{**one, "width": 100.0, "length": 150.0} for one in design["materials"]],
    }
    refused = asked(client, narrow)
    assert refused.status_code == 422
    assert "leaves 84.0 by 134.0 mm within its edges" in refused.json()["detail"]
    many = {**design, "sheets": {**design["sheets"], "copies": 500, "layout": "packed"}}
    laid = asked(client, many).json()["sheets"]
    assert sum(sheet["times"] * len(sheet["placed"]) for sheet in laid) == 1500
    assert all(sheet["used"] <= sheet["length"] for sheet in laid)
    uncut = {**design, "recipe": []}
    assert asked(client, uncut).status_code == 422


@pytest.mark.django_db(transaction=True)
def test_nesting_is_shown_as_it_gets_better_kept_and_stopped(shop: tuple[Client, Any], settings: Any) -> None:
    client, stored = shop
    design = stored.body
    assert asked(client, design).json()["nesting"]["state"] == "no"
    assert client.post("/api/nest", json.dumps({"design": design}), content_type=JSON).status_code == 422
    how = {"layout": "packed", "keeps": "pieces", "copies": 3, "marks": "none"}
    packed = {**design, "sheets": {**design["sheets"], **how}}
    plover = {"machines": client.get("/api/machines").json()["machines"], "chosen": "plover"}
    client.put("/api/machines", json.dumps(plover), content_type=JSON)
    before = asked(client, packed).json()
    assert before["nesting"]["state"] == "boxes"
    body = json.dumps({"design": packed, "seconds": 3})
    assert client.post("/api/nest", body, content_type=JSON).status_code == 202
    # One at a time a shop.
    other = {**packed, "sheets": {**packed["sheets"], "copies": 4}}
    busy = client.post("/api/nest", json.dumps({"design": other}), content_type=JSON)
    assert busy.status_code == 429
    assert "Stop that first" in busy.json()["detail"]
    seen = []
    for _ in range(300):
        seen.append(asked(client, packed).json())
        if seen[-1]["nesting"]["state"] == "done":
            break
        time.sleep(0.2)
    assert {one["nesting"]["state"] for one in seen} >= {"working", "done"}
    done = seen[-1]
    assert done["nesting"]["after"] < done["nesting"]["before"]
    # What lies there is what is in the files, the same each time it is asked for.
    assert asked(client, packed).json()["sheets"] == done["sheets"]
    saved = client.put(
        f"/api/designs/{stored.id}", json.dumps({"design": packed, "base": 1}), content_type=JSON
    )
    zip_ = client.get(f"/api/designs/{stored.id}/sheet-files?revision={saved.json()['revision']}")
    for sheet in done["sheets"]:
        content = ZipFile(BytesIO(zip_.content)).read(sheet["file"]).decode()
        view = ElementTree.fromstring(content).get("viewBox", "").split()
        assert float(view[3]) == pytest.approx(sheet["used"], abs=1e-3)
    # Stopped, it keeps what it has.
    client.post("/api/nest", json.dumps({"design": other, "seconds": 60}), content_type=JSON)
    for _ in range(100):
        if asked(client, other).json()["nesting"]["before"] > 0.0:
            break
        time.sleep(0.1)
    client.post("/api/nest/stop", json.dumps({"design": other}), content_type=JSON)
    for _ in range(100):
        if asked(client, other).json()["nesting"]["state"] == "done":
            break
        time.sleep(0.1)
    assert asked(client, other).json()["nesting"]["state"] == "done"
    # Where the process ends before it found anything, that is said.
    settings.READING_BYTES = float("nan")
    last = {**packed, "sheets": {**packed["sheets"], "copies": 5}}
    client.post("/api/nest", json.dumps({"design": last}), content_type=JSON)
    for _ in range(100):
        ended = asked(client, last).json()
        if ended["nesting"]["state"] != "working":
            break
        time.sleep(0.1)
    assert ended["nesting"]["state"] == "failed"
    assert ended["sheets"]


def test_the_plan_follows_the_materials(shop: tuple[Client, Any]) -> None:
    client, stored = shop
    plan = asked(client, stored.body, "press-plan").json()
    assert plan["seconds"] == 26.0
    materials = [{**one, "pressing": {**one["pressing"], "most": 12.0}} for one in stored.body["materials"]]
    warned = asked(client, {**stored.body, "materials": materials}, "press-plan").json()
    assert any("gets 22 of the 12 s" in one["text"] for one in warned["warnings"])
    for wrong in ({"heat": "hot"}, {"peel": "never"}, {"tack": None}):
        spoilt = [{**one, "pressing": {**one["pressing"], **wrong}} for one in stored.body["materials"]]
        assert asked(client, {**stored.body, "materials": spoilt}, "press-plan").status_code == 422


def test_a_shop_keeps_its_materials_for_all_designs(shop: tuple[Client, Any]) -> None:
    client, stored = shop
    assert client.get("/api/materials").json() == []
    chalk = {**stored.body["materials"][0], "width": 610.0}
    put = client.put("/api/materials", json.dumps({"materials": [chalk]}), content_type=JSON)
    assert put.json()[0]["width"] == 610.0
    assert client.get("/api/materials").json() == put.json()
    for wrong in ([{**chalk, "width": -1.0}], [chalk] * 101, [{"name": "Chalk"}]):
        body = json.dumps({"materials": wrong})
        assert client.put("/api/materials", body, content_type=JSON).status_code == 422
    assert client.get("/api/materials").json() == put.json()
    # Machines and habits are kept beside them, and other shops have their own.
    client.put("/api/habits", json.dumps({"unit": "in", "fonts": []}), content_type=JSON)
    assert len(client.get("/api/materials").json()) == 1
    other = Client()
    other.force_login(get_user_model().objects.create_user("finch"))
    assert other.get("/api/materials").json() == []
    demo = Client()
    demo.force_login(load_demo_shop())
    names = [one["name"] for one in demo.get("/api/materials").json()]
    assert "Ember smooth" in names
    assert len(names) == len(set(names))
