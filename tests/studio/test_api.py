"""The API: who may do what, what is kept, and how it says no."""

from __future__ import annotations

import gzip
import json
from datetime import timedelta
from io import BytesIO
from typing import Any
from zipfile import ZipFile

import MySQLdb
import pytest
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client
from django.utils import timezone

from perigram.library import load_design
from perigram.studio import services
from perigram.studio.api import api
from perigram.studio.demo import DEMO_DESIGNS, load_demo_shop
from perigram.studio.models import FontUpload, Revision, StoredDesign

pytestmark = pytest.mark.django_db


@pytest.fixture
def shop() -> tuple[Client, Any]:
    owner = get_user_model().objects.create_user("teal", password="reed-and-rope-3")
    client = Client()
    client.force_login(owner)
    return client, owner


@pytest.fixture
def stored(shop: tuple[Client, Any]) -> StoredDesign:
    design = load_design(settings.BASE_DIR / "demo" / "weekend-shirt.perigram.json")
    return services.create(shop[1], design)


def put(client: Client, stored: StoredDesign, base: int, **values: Any) -> Any:
    body = {"base": base, "design": {**stored.body, **values}}
    return client.put(f"/api/designs/{stored.id}", json.dumps(body), content_type="application/json")


def proof_of(client: Client, design: dict[str, Any], care: str = "checked") -> Any:
    body = {"design": design, "care": care}
    return client.post("/api/proof", json.dumps(body), content_type="application/json").json()


def test_another_owners_design_is_not_there(stored: StoredDesign) -> None:
    other = Client()
    other.force_login(get_user_model().objects.create_user("finch"))
    address = f"/api/designs/{stored.id}"
    answers = [
        other.get(address),
        put(other, stored, 1),
        other.patch(address, '{"name": "mine"}', content_type="application/json"),
        other.post(f"{address}/copy"),
        other.delete(address),
        other.post(f"{address}/bring-back"),
        other.get(f"{address}/cut-files?revision=1&format=svg"),
        other.get(f"{address}/states"),
        other.get(f"{address}/states/{stored.revisions.get().id}"),
        other.get(f"/api/pictures/{stored.body['pictures'][0]['id']}"),
    ]
    assert [a.status_code for a in answers[:-1]] == [404] * 9
    assert answers[-1].status_code == 422
    assert all(a["Content-Type"] == "application/problem+json" for a in answers)
    assert other.get("/api/designs").json() == []
    # Nor does its picture leak through a design of one's own that refers to it.
    body = {"design": stored.body}
    proof = other.post("/api/proof", json.dumps(body), content_type="application/json").json()
    assert any("not in your shop" in f["text"] for f in proof["findings"])
    assert not [r for r in proof["results"] if r["ref"] == "l2/art"]


def test_nothing_is_open_to_strangers() -> None:
    stranger = Client()
    for path, operations in api.get_openapi_schema()["paths"].items():
        if path.startswith("/api/session") or path == "/api/account":
            continue
        for method in operations:
            address = path.replace("{design_id}", "00000000-0000-0000-0000-000000000000")
            answer = stranger.generic(
                method.upper(), address.replace("{digest}", "0"), b"{}", "application/json"
            )
            assert answer.status_code in {401, 403}, (method, path)
    assert stranger.post("/api/session/demo").status_code == 404, "no demo shop unless started so"


def test_guessing_passwords_comes_to_an_end(shop: tuple[Client, Any]) -> None:
    def tried(password: str, address: str = "10.0.0.7") -> Any:
        body = json.dumps({"user": "teal", "password": password})
        client = Client(REMOTE_ADDR=address)
        return client.post("/api/session", body, content_type="application/json")

    assert [tried(f"guess-{number}").status_code for number in range(9)] == [401] * 9
    last = tried("guess-9")
    right = tried("reed-and-rope-3")
    for answer in (last, right):
        assert answer.status_code == 429
        assert "Too many wrong passwords for that name from here" in answer.json()["detail"]
    # Whoever knows the password and is elsewhere is not shut out by that.
    assert tried("reed-and-rope-3", "10.0.0.8").status_code == 200


def test_no_account_of_the_database_goes_without_a_password(db: None) -> None:
    where = settings.DATABASES["default"]
    for name in ("root", "", "mysql"):
        with pytest.raises(MySQLdb.OperationalError, match="Access denied"):
            MySQLdb.connect(host=where["HOST"], port=int(where["PORT"]), user=name, passwd="")


def test_what_is_turned_away_is_a_problem_document(shop: tuple[Client, Any]) -> None:
    client, _ = shop
    guarded = Client(enforce_csrf_checks=True)
    guarded.force_login(shop[1])
    for answer, status in (
        (client.post("/api/proof", "{", content_type="application/json"), 400),
        (guarded.delete("/api/session"), 403),
        (client.get("/api/designs/not-an-id"), 422),
        (client.get("/api/designs/00000000-0000-0000-0000-000000000000"), 404),
    ):
        assert answer.status_code == status
        assert answer.headers["Content-Type"] == "application/problem+json"
        assert answer.json()["detail"].endswith(".")
    for address in ("/", "/api/session"):
        assert client.get(address, headers={"host": "elsewhere.example"}).status_code == 400


def test_unsafe_calls_need_the_token(shop: tuple[Client, Any], stored: StoredDesign) -> None:
    guarded = Client(enforce_csrf_checks=True)
    sign_in = json.dumps({"user": "teal", "password": "reed-and-rope-3"})
    assert guarded.post("/api/session", sign_in, content_type="application/json").status_code == 403
    guarded.get("/")
    token = guarded.cookies["csrftoken"].value
    headers = {"X-CSRFToken": token}
    assert (
        guarded.post("/api/session", sign_in, content_type="application/json", headers=headers).status_code
        == 200
    )
    assert guarded.delete(f"/api/designs/{stored.id}").status_code == 403


def test_the_page_is_fenced_in() -> None:
    page = Client().get("/designs/anything")
    assert page.status_code == 200
    assert "script-src 'self'" in page["Content-Security-Policy"]
    assert "unsafe-inline" not in page["Content-Security-Policy"].split("style-src")[0]
    assert page["X-Frame-Options"] == "DENY"
    assert page["X-Content-Type-Options"] == "nosniff"


def test_wrong_passwords_say_so_and_no_more(shop: tuple[Client, Any]) -> None:
    client = Client()
    answers = [
        client.post("/api/session", json.dumps(who), content_type="application/json")
        for who in ({"user": "teal", "password": "x"}, {"user": "nobody", "password": "x"})
    ]
    assert [a.status_code for a in answers] == [401, 401]
    assert answers[0].json()["detail"] == answers[1].json()["detail"]


def test_a_stale_save_is_refused_and_kept(shop: tuple[Client, Any], stored: StoredDesign) -> None:
    client, _ = shop
    assert put(client, stored, 1, name="First").json() == {"revision": 2}
    stale = put(client, stored, 1, name="Second")
    assert stale.status_code == 409
    assert stale.json()["revision"] == 2
    assert stale.json()["design"]["name"] == "First"
    stored.refresh_from_db()
    assert stored.name == "First"
    assert Revision.objects.get(design=stored, set_aside=True).body["name"] == "Second"
    assert Revision.objects.filter(design=stored, set_aside=False).count() == 2


def test_pictures_are_kept_once_and_apart_from_designs(
    shop: tuple[Client, Any], stored: StoredDesign
) -> None:
    client, owner = shop
    assert stored.body["pictures"][0]["svg"] is None
    assert len(stored.body["pictures"][0]["id"]) == 64
    services.create(owner, load_design(settings.BASE_DIR / "demo" / "weekend-shirt.perigram.json"))
    assert owner.pictures.count() == 1
    upload = SimpleUploadedFile("kite.svg", b"<svg xmlns='http://www.w3.org/2000/svg'><circle r='9'/></svg>")
    picture = client.post("/api/pictures", {"file": upload}).json()
    assert (picture["name"], len(picture["parts"])) == ("kite", 1)
    packed = gzip.compress(b"<svg xmlns='http://www.w3.org/2000/svg'><circle r='9'/></svg>")
    again = client.post("/api/pictures", {"file": SimpleUploadedFile("kite.svgz", packed)}).json()
    assert (again["name"], again["id"]) == ("kite", picture["id"])
    bad = client.post(
        "/api/pictures", {"file": SimpleUploadedFile("x.svg", b"<svg xmlns='http://www.w3.org/2000/svg'/>")}
    )
    assert bad.status_code == 422
    assert "no closed shapes" in bad.json()["detail"]
    assert owner.pictures.count() == 2


def test_a_path_is_sent_once_and_not_again_when_held(shop: tuple[Client, Any], stored: StoredDesign) -> None:
    client, _ = shop

    def prove(have: list[str]) -> Any:
        body = json.dumps({"design": stored.body, "have": have})
        return client.post("/api/proof", body, content_type="application/json").json()

    first = prove([])
    sent = [r["key"] for r in first["results"] + first["plies"] if r["d"]]
    assert len(sent) == len(set(sent))
    assert set(sent) == {r["key"] for r in first["results"] + first["plies"]}
    second = prove([r["key"] for r in first["results"]] + [p["key"] for p in first["plies"]])
    assert not any(r["d"] for r in second["results"] + second["plies"])
    assert [r["box"] for r in second["results"]] == [r["box"] for r in first["results"]]


def test_a_proof_without_its_check_draws_the_same_and_promises_nothing(
    shop: tuple[Client, Any], stored: StoredDesign
) -> None:
    client, _ = shop

    unseen = {**stored.body, "name": "Not looked at yet"}
    drawn, checked = proof_of(client, unseen, "drawn"), proof_of(client, unseen)
    assert drawn["results"] == checked["results"]
    # Checked plies are in the numbers that are written, and but for hairs cut off the same.
    for before, after in zip(drawn["plies"], checked["plies"], strict=True):
        assert after["id"] == before["id"]
        assert after["key"] == before["key"] or after["key"].endswith(".mended")
        assert after["box"] == pytest.approx(before["box"], abs=1e-3)
        assert after["area"] == pytest.approx(before["area"], rel=1e-4)
    assert (drawn["checked"], drawn["cuttable"]) == (False, False)
    assert not any(f["ply"] for f in drawn["findings"])
    assert checked["cuttable"]
    assert [f["level"] for f in checked["findings"]] == ["holds"] * len(checked["findings"])
    assert any("none crossing" in f["text"] for f in checked["findings"])


def test_cut_files_only_of_what_can_be_cut(shop: tuple[Client, Any], stored: StoredDesign) -> None:
    client, _ = shop
    answer = client.get(f"/api/designs/{stored.id}/cut-files?revision=1&format=svg&format=dxf")
    assert answer["Content-Disposition"] == 'attachment; filename="Weekend shirt.zip"'
    assert len(ZipFile(BytesIO(answer.content)).namelist()) == 7
    put(client, stored, 1, recipe=stored.body["recipe"][1:])
    refused = client.get(f"/api/designs/{stored.id}/cut-files?revision=2&format=svg")
    assert refused.status_code == 422
    assert "Not cut-ready yet" in refused.json()["detail"]


def test_cut_files_are_of_the_revision_that_is_meant(shop: tuple[Client, Any], stored: StoredDesign) -> None:
    client, _ = shop
    put(client, stored, 1, name="Changed in another window")
    refused = client.get(f"/api/designs/{stored.id}/cut-files?revision=1&format=svg")
    assert refused.status_code == 409
    assert "no cut files were made" in refused.json()["detail"]
    made = client.get(f"/api/designs/{stored.id}/cut-files?revision=2&format=svg")
    assert made["Content-Disposition"] == 'attachment; filename="Changed in another window.zip"'


def test_what_a_newer_perigram_stored_is_refused_in_a_sentence(
    shop: tuple[Client, Any], stored: StoredDesign
) -> None:
    client, _ = shop
    StoredDesign.objects.filter(id=stored.id).update(body={**stored.body, "version": 99})
    address = f"/api/designs/{stored.id}"
    answers = [
        client.get(address),
        client.get(f"{address}/cut-files?revision=1&format=svg"),
        client.post(f"{address}/copy"),
        client.patch(address, '{"name": "mine"}', content_type="application/json"),
    ]
    assert [answer.status_code for answer in answers] == [422] * 4
    assert all("newer Perigram" in answer.json()["detail"] for answer in answers)


def test_one_evaluation_serves_drawing_checking_saving_and_cutting(
    shop: tuple[Client, Any], stored: StoredDesign, caplog: pytest.LogCaptureFixture
) -> None:
    client, _ = shop
    with caplog.at_level("DEBUG", "perigram.core.recipe.evaluate"):
        first = proof_of(client, {**stored.body, "name": "Seen once"})
        assert len(caplog.records) == 1
        again = proof_of(client, {**stored.body, "name": "Seen once"}, "rough")
        put(client, stored, 1, name="Seen once")
        client.get(f"/api/designs/{stored.id}/cut-files?revision=2&format=svg")
        assert len(caplog.records) == 1
    assert again["checked"]
    assert again["findings"] == first["findings"]


def test_a_font_that_comes_is_offered_at_once(shop: tuple[Client, Any], stored: StoredDesign) -> None:
    client, owner = shop
    # Multiocular O: no font that ships has it.
    line = {**stored.body["recipe"][0], "rows": [{"text": "\ua66e"}]}
    design = {**stored.body, "recipe": [line], "plies": []}

    def said() -> str:
        return " ".join(f["text"] for f in proof_of(client, design)["findings"])

    assert "nor has any other font here" in said()
    FontUpload.objects.create(
        owner=owner, font_id="own-abc", name="Harbour Script", data=b"", about={}, covers="\ua66e"
    )
    assert "Harbour Script has" in said()


@pytest.mark.parametrize(
    ("body", "says"),
    [("{", "body"), ('{"design": 3}', "design"), ('{"design": {"unit": "furlong"}}', "design › unit")],
)
def test_malformed_bodies_are_told_where(shop: tuple[Client, Any], body: str, says: str) -> None:
    answer = shop[0].post("/api/proof", body, content_type="application/json")
    assert answer.status_code in {400, 422}
    assert "Traceback" not in answer.content.decode()
    if answer.status_code == 422:
        assert says in answer.json()["detail"]


def test_shelf_actions(shop: tuple[Client, Any], stored: StoredDesign) -> None:
    client, _ = shop
    address = f"/api/designs/{stored.id}"
    assert client.patch(address, '{"name": " Sprint "}', content_type="application/json").json() == {
        "revision": 2
    }
    assert client.patch(address, '{"name": " "}', content_type="application/json").status_code == 422
    assert client.post(f"{address}/copy").json()["name"] == "Sprint copy"
    client.delete(address)
    assert [d["name"] for d in client.get("/api/designs").json()] == ["Sprint copy"]
    client.post(f"{address}/bring-back")
    assert {d["name"] for d in client.get("/api/designs").json()} == {"Sprint", "Sprint copy"}
    assert client.post(f"{address}/copy").json()["name"] == "Sprint copy 2"


def test_the_demo_shop_is_made_once() -> None:
    owner = load_demo_shop()
    assert load_demo_shop() == owner
    assert owner.designs.count() == len(DEMO_DESIGNS)
    assert not owner.has_usable_password()
    assert all(d.picture["plies"] for d in owner.designs.all())


def test_the_interfaces_types_match_the_api() -> None:
    """After a change of the API: manage.py write_openapi, then npm run types in web/."""
    written = json.loads((settings.BASE_DIR / "web" / "src" / "api" / "openapi.json").read_text())
    assert written == json.loads(json.dumps(api.get_openapi_schema()))


def test_earlier_states_are_listed_with_pictures_and_come_back_as_they_were(
    shop: tuple[Client, Any], stored: StoredDesign
) -> None:
    client, _ = shop
    first = stored.body
    for number, name in enumerate(("Second try", "Third try"), 1):
        assert put(client, stored, number, name=name).status_code == 200
    # As if they had been saved an hour apart: states of one minute count as one.
    for state in Revision.objects.filter(design=stored):
        state.created -= timedelta(hours=4 - state.number)
        state.save()
    assert put(client, stored, 1, name="From another window").status_code == 409
    listed = client.get(f"/api/designs/{stored.id}/states").json()
    assert [s["set_aside"] for s in listed] == [True, False, False, False]
    assert all(s["picture"]["plies"] and s["picture"]["box"] for s in listed)
    bodies = [client.get(f"/api/designs/{stored.id}/states/{s['id']}").json()["design"] for s in listed]
    assert [b["name"] for b in bodies] == ["From another window", "Third try", "Second try", first["name"]]
    assert bodies[-1]["recipe"] == first["recipe"]
    assert client.get(f"/api/designs/{stored.id}/states/999999").status_code == 404


def test_history_keeps_what_a_person_would_look_for(shop: tuple[Client, Any], stored: StoredDesign) -> None:
    """Six days of work, a save every seven minutes, and the last hour's every ten seconds."""
    client, _ = shop
    now = timezone.now()
    ages = [timedelta(minutes=7 * k + 61) for k in range(1200)]
    ages += [timedelta(seconds=10 * k + 5) for k in range(355)]
    old = stored.revisions.get()
    for number, age in enumerate(sorted(ages, reverse=True), 2):
        state = Revision.objects.create(design=stored, number=number, body=old.body, picture=old.picture)
        Revision.objects.filter(id=state.id).update(created=now - age)
    Revision.objects.filter(id=old.id).update(created=now - timedelta(days=8))
    named, aside = stored.revisions.order_by("id")[100:102]
    address = f"/api/designs/{stored.id}/states"
    answer = client.put(
        f"{address}/{named.id}", {"name": " Before the sail "}, content_type="application/json"
    )
    assert answer.json()["name"] == "Before the sail"
    Revision.objects.filter(id=aside.id).update(set_aside=True)
    services.thin_out(stored)

    left = list(stored.revisions.order_by("-id"))
    ago = {one.id: now - one.created for one in left}
    assert sum(age < timedelta(hours=1) for age in ago.values()) == 355, "all of the last hour"
    assert {named.id, aside.id, old.id} <= set(ago)
    recent = [one for one in left if timedelta(hours=1) < ago[one.id] < timedelta(hours=47)]
    assert len({one.created.strftime("%d %H") for one in recent}) == len(recent) >= 46, "one an hour"
    assert len({one.created.date() for one in left}) >= 7, "one a day after that"
    assert len(left) < 355 + 49 + 12
    listed = client.get(address).json()
    assert 59 + 46 <= len(listed) <= 61 + 49 + 12
    assert [one["name"] for one in listed if one["name"]] == ["Before the sail"]
    assert stored.revisions.exclude(picture={}).count() == len(listed)
    # Doing it again takes no more away.
    services.thin_out(stored)
    assert stored.revisions.count() == len(left)


def test_removed_designs_can_be_brought_back_for_a_month(
    shop: tuple[Client, Any], stored: StoredDesign
) -> None:
    client, owner = shop
    old = services.create(owner, load_design(settings.BASE_DIR / "demo" / "weekend-shirt.perigram.json"))
    for one in (stored, old):
        client.delete(f"/api/designs/{one.id}")
    StoredDesign.objects.filter(id=old.id).update(removed=timezone.now() - timedelta(days=31))
    listed = client.get("/api/designs/removed").json()
    assert [one["id"] for one in listed] == [str(stored.id)]
    assert not StoredDesign.objects.filter(id=old.id).exists()
    # A window that still has it on the bench is told so, and puts it back.
    refused = put(client, stored, 1)
    assert refused.status_code == 410
    assert "Put it back" in refused.json()["detail"]
    client.post(f"/api/designs/{stored.id}/bring-back")
    assert put(client, stored, 1).json() == {"revision": 2}
    assert client.get("/api/designs/removed").json() == []


@pytest.mark.django_db(transaction=True)
def test_a_disk_without_room_is_named_and_nothing_is_half_saved(
    shop: tuple[Client, Any], stored: StoredDesign
) -> None:
    """The database's own error for it, raised by the database."""
    body = {"design": {**stored.body, "name": "Once there is room"}, "base": 1}

    def put() -> Any:
        return shop[0].put(f"/api/designs/{stored.id}", json.dumps(body), content_type="application/json")

    with connection.cursor() as cursor:
        cursor.execute(
            "CREATE TRIGGER full BEFORE INSERT ON studio_revision FOR EACH ROW "
            "SIGNAL SQLSTATE 'HY000' SET MYSQL_ERRNO = 1114, MESSAGE_TEXT = 'The table is full'"
        )
        try:
            full = put()
        finally:
            cursor.execute("DROP TRIGGER full")
    assert full.status_code == 507
    assert "no room left on the server's disk" in full.json()["detail"]
    stored.refresh_from_db()
    assert (stored.body["name"], stored.revision) == ("Weekend shirt", 1)
    assert put().json()["revision"] == 2
