"""Fonts of a shop's own, what palettes show, arranging, and the shop's habits."""

from __future__ import annotations

import json
from io import BytesIO
from typing import Any
from zipfile import ZipFile

import pytest
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from fontTools.ttLib import TTFont

from perigram.cli import main
from perigram.core.recipe.design import Design
from perigram.library import FONT_FOLDER
from perigram.studio import fonts
from perigram.studio.models import FontUpload

pytestmark = pytest.mark.django_db
WEB_FONTS = settings.BASE_DIR / "web" / "node_modules" / "@fontsource-variable"
VARIABLE = WEB_FONTS / "instrument-sans" / "files" / "instrument-sans-latin-standard-normal.woff2"


@pytest.fixture
def client() -> Client:
    owner = get_user_model().objects.create_user("teal")
    client = Client()
    client.force_login(owner)
    return client


@pytest.fixture
def other() -> Client:
    client = Client()
    client.force_login(get_user_model().objects.create_user("finch"))
    return client


def post(client: Client, path: str, **body: Any) -> Any:
    return client.post(f"/api/{path}", json.dumps(body), content_type="application/json")


def bring_in(client: Client, data: bytes, name: str) -> Any:
    return client.post("/api/fonts", {"file": SimpleUploadedFile(name, data)})


def design(*lines: dict[str, Any]) -> dict[str, Any]:
    recipe = [{"id": f"l{i + 1}", "kind": "letter", **line} for i, line in enumerate(lines)]
    plies = [{"id": "p1", "name": "Words", "material": "m", "results": ["l1/letters"]}]
    materials = [{"id": "m", "name": "Vinyl", "colour": "#112233"}]
    return Design.model_validate({"recipe": recipe, "plies": plies, "materials": materials}).model_dump(
        mode="json"
    )


def test_an_own_font_is_used_listed_and_removed(client: Client, other: Client, tmp_path: Any) -> None:
    answer = bring_in(client, VARIABLE.read_bytes(), "sans.woff2")
    assert answer.status_code == 200, answer.content
    font = answer.json()
    assert font["own"]
    assert font["embedding"].startswith("May be embedded")
    assert font["coverage"]["capitals"] == [26, 26]
    assert {axis["tag"] for axis in font["axes"]} == {"wdth", "wght"}
    assert bring_in(client, VARIABLE.read_bytes(), "again.woff2").json()["id"] == font["id"]
    assert FontUpload.objects.count() == 1
    assert font["id"] in [one["id"] for one in client.get("/api/fonts").json()]

    line = {"font": font["id"], "rows": [{"text": "TIDE"}], "size": 100}
    heavy = design({**line, "axes": {"wght": 700}})
    areas = [post(client, "proof", design=d).json()["plies"][0]["area"] for d in (design(line), heavy)]
    assert areas[1] > 1.05 * areas[0]
    preview = client.get("/api/font-previews", {"text": "TIDE", "font": [font["id"], "anton"]}).json()
    assert [one["id"] for one in preview] == [font["id"], "anton"]
    assert all(one["d"] for one in preview)

    # Another shop neither sees it nor can use it, even knowing its id.
    assert font["id"] not in [one["id"] for one in other.get("/api/fonts").json()]
    assert other.get("/api/font-previews", {"text": "TIDE", "font": font["id"]}).status_code == 422
    findings = post(other, "proof", design=heavy).json()["findings"]
    assert any("not in your shop" in f["text"] for f in findings)

    # Without a server the same file gives the same words.
    file, out = tmp_path / "tide.perigram.json", tmp_path / "out"
    file.write_text(json.dumps(heavy))
    assert main(["export", str(file), "--out", str(out)]) == 1
    assert main(["export", str(file), "--out", str(out), "--font", str(VARIABLE)]) == 0
    assert [path.name for path in out.iterdir()]

    assert client.delete(f"/api/fonts/{font['id']}").status_code == 204
    findings = post(client, "proof", design=heavy).json()["findings"]
    assert any("Bring it in again" in f["text"] for f in findings)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"MZ not a font", "not a font. TTF, OTF and WOFF2"),
        (VARIABLE.read_bytes()[:900], "damaged"),
        (b"\0" * 12_500_000, "fonts up to 12 MB"),
    ],
)
def test_files_that_cannot_be_used_say_why(client: Client, data: bytes, says: str) -> None:
    answer = bring_in(client, data, "thing.ttf")
    assert answer.status_code == 422
    assert says in answer.json()["detail"]
    assert answer.json()["detail"].startswith("thing.ttf")
    assert not FontUpload.objects.exists()


def test_a_shop_keeps_only_so_many(client: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(fonts, "MOST_FONTS", 1)
    assert bring_in(client, VARIABLE.read_bytes(), "a.woff2").status_code == 200
    answer = bring_in(client, (FONT_FOLDER / "lobster" / "font.ttf").read_bytes(), "b.ttf")
    assert "Remove one first" in answer.json()["detail"]


def test_letters_forms_and_features_of_a_line(client: Client) -> None:
    words = design({"font": "pacifico", "rows": [{"text": "gala"}, {"text": "Tide"}], "spacing": "font"})
    letters = post(client, "parts", design=words, of="l1/letters").json()
    assert [(one["path"], one["name"]) for one in letters] == [
        *[([0, i], c) for i, c in enumerate("gala")],
        *[([1, i], c) for i, c in enumerate("Tide")],
    ]
    assert post(client, "parts", design=words, of="l7/letters").json() == []
    whole = post(client, "proof", design=words).json()["results"][0]["box"]
    assert min(one["box"][0] for one in letters) == pytest.approx(whole[0])
    assert max(one["box"][3] for one in letters) == pytest.approx(whole[3])

    forms = post(client, "letters/forms", design=words, line="l1", row=0, at=1).json()
    assert forms[0]["code"] is None
    assert len(forms) > 1
    gone = post(client, "letters/forms", design=words, line="l1", row=0, at=77)
    assert (gone.status_code, gone.json()["detail"]) == (
        422,
        "This letter is not there any more. Pick another one.",
    )
    features = {one["tag"]: one for one in post(client, "letters/features", design=words, line="l1").json()}
    assert features["salt"]["changes"]
    assert features["liga"]["on"]
    assert post(client, "letters/features", design=words, line="l9").status_code == 422
    groups = {group["name"]: group["glyphs"] for group in client.get("/api/fonts/pacifico/glyphs").json()}
    assert [one["text"] for one in groups["Capitals"]][:26] == list("ABCDEFGHIJKLMNOPQRSTUVWXYZ")


def test_a_missing_character_is_named_with_the_shops_own_font_that_has_it(
    client: Client, other: Client
) -> None:
    made = TTFont(FONT_FOLDER / "anton" / "font.ttf", recalcTimestamp=False)
    for table in made["cmap"].tables:
        if table.isUnicode():
            table.cmap[ord("水")] = "A"
    for record in made["name"].names:
        if record.nameID in (1, 4, 16):
            record.string = "Tidewater"
    data = BytesIO()
    made.save(data)
    assert bring_in(client, data.getvalue(), "tidewater.ttf").status_code == 200

    words = design({"font": "anton", "rows": [{"text": "水 TIDE"}]})
    said = [[f["text"] for f in post(c, "proof", design=words).json()["findings"]] for c in (client, other)]
    assert any("has no “水”. Tidewater" in text for text in said[0])
    assert any("nor has any other font here" in text for text in said[1])


def test_arranging_answers_with_the_changed_design(client: Client) -> None:
    two = design({"rows": [{"text": "TIDE"}]}, {"rows": [{"text": "MILL"}], "place": {"x": 30, "y": 9}})
    body = {"design": two, "lines": ["l1", "l2"], "how": "left", "to": "each other", "hold": True}
    made = post(client, "lines/arrange", **body).json()["design"]["recipe"][1]["place"]
    assert (made["on"], made["across"], made["x"]) == ("l1/letters", "left", 0)
    alone = post(client, "lines/arrange", **{**body, "lines": ["l1"]})
    assert (alone.status_code, "two things or more" in alone.json()["detail"]) == (422, True)


def test_a_block_answers_with_the_changed_line(client: Client) -> None:
    rows = [{"text": "TIDE"}, {"text": "MILL POND"}]
    words = design({"rows": rows, "size": 120}, {"kind": "shape"})
    body = {"design": words, "line": "l1", "fit": "tall", "align": "even", "gives": "letters"}
    made = post(client, "lines/block", **body).json()["design"]["recipe"][0]
    assert (made["fit"], made["align"], made["gives"]) == ("tall", "even", "letters")
    assert made["size"] < 60, "as wide as it was, not 120 mm tall"
    other = post(client, "lines/block", **{**body, "line": "l2"})
    assert (other.status_code, "not a line of words" in other.json()["detail"]) == (422, True)


def test_a_shops_habits_are_its_own(client: Client, other: Client) -> None:
    assert client.get("/api/habits").json() == {"unit": "mm", "fonts": []}
    habits = {"unit": "in", "fonts": ["pacifico", "anton"]}
    assert client.put("/api/habits", json.dumps(habits), content_type="application/json").json() == habits
    assert client.get("/api/habits").json() == habits
    assert other.get("/api/habits").json()["unit"] == "mm"


def test_the_same_words_without_a_server(client: Client, tmp_path: Any) -> None:
    """`perigram export` of a design that uses everything letters can do gives the server's bytes."""
    own = [{"at": 1, "x": 1, "y": -2, "turn": 8, "form": "salt"}]
    words = design(
        {
            "font": "pacifico",
            "rows": [{"text": "otter", "own": own}, {"text": "tide", "font": "bungee", "gap": 1.5}],
            "align": "even",
            "gives": "letters",
            "fit": "tall",
            "size": 30,
            "joins": "closed",
            "features": ["ss01", "-liga"],
        }
    )
    stored = client.post("/api/designs", json.dumps(words), content_type="application/json").json()["id"]
    zipped = client.get(f"/api/designs/{stored}/cut-files?revision=1&format=svg")
    file = tmp_path / "words.perigram.json"
    file.write_text(json.dumps(words))
    assert main(["export", str(file), "--out", str(tmp_path), "--zip"]) == 0
    (made,) = tmp_path.glob("*.zip")

    with ZipFile(BytesIO(zipped.content)) as theirs, ZipFile(made) as ours:
        assert theirs.namelist() == ours.namelist()
        assert all(theirs.read(name) == ours.read(name) for name in ours.namelist())
