"""Working on the bench: handling, undoing, saving, and being told what is wrong."""

from __future__ import annotations

import json
import re
from datetime import timedelta
from pathlib import Path
from typing import Any
from zipfile import ZipFile

import pytest
from django.conf import settings
from django.contrib.auth import get_user_model
from django.utils import timezone
from playwright.sync_api import Page, Route, expect

from perigram.library import load_design
from perigram.studio import services
from perigram.studio.models import Revision, StoredDesign

from .conftest import Bench

pytestmark = pytest.mark.django_db(transaction=True)
AXE = settings.BASE_DIR / "web" / "node_modules" / "axe-core" / "axe.min.js"


def open_demo(bench: Bench, name: str = "weekend-shirt") -> StoredDesign:
    owner = get_user_model().objects.get(username="wren")
    stored = services.create(owner, load_design(settings.BASE_DIR / "demo" / f"{name}.perigram.json"))
    bench.page.reload()
    bench.page.get_by_role("link", name=f"Open {stored.name}", exact=True).click()
    expect(bench.page.get_by_label("Cut check")).to_contain_text("none crossing")
    return stored


def saved_line(stored: StoredDesign, index: int) -> dict[str, Any]:
    stored.refresh_from_db()
    return stored.body["recipe"][index]


def drag(page: Page, start: tuple[float, float], by: tuple[float, float]) -> None:
    page.mouse.move(*start)
    page.mouse.down()
    for step in range(1, 9):
        page.mouse.move(start[0] + by[0] * step / 8, start[1] + by[1] * step / 8)
    page.mouse.up()


def middle(page: Page, selector: str) -> tuple[float, float]:
    box = page.locator(selector).first.bounding_box()
    assert box
    return (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)


def inside(page: Page, selector: str) -> tuple[float, float]:
    """A point of the window that lies in a path's ink."""
    x, y = page.locator(selector).first.evaluate(
        """path => {
            const box = path.getBBox(), matrix = path.getScreenCTM()
            // Away from the box's corners and the middles of its sides, where handles are.
            for (let i = 1; i < 400; i++) {
                const [u, v] = [(i * 0.618) % 1, 0.2 + i / 2000]
                const at = new DOMPoint(box.x + box.width * u, box.y + box.height * v)
                if (path.isPointInFill(at)) { const p = at.matrixTransform(matrix); return [p.x, p.y] }
            }
        }"""
    )
    return (x, y)


def axe(page: Page) -> list[str]:
    """WCAG A and AA violations on the page as it stands."""
    page.evaluate(AXE.read_text())
    found = page.evaluate(
        "axe.run({runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa']}).then(r => r.violations)"
    )
    return [f"{v['id']}: {n['html'][:160]} {n.get('failureSummary', '')}" for v in found for n in v["nodes"]]


def test_drag_scale_nudge_undo_and_find_it_again(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench)
    lighthouse = page.locator("path[data-line=l2]")
    box = lighthouse.bounding_box()
    assert box
    foot = (box["x"] + box["width"] * 0.5, box["y"] + box["height"] * 0.96)

    drag(page, foot, (60, 0))
    bench.settled()
    place = saved_line(stored, 1)["place"]
    assert place["on"] == "l1/letters", "the relation holds while it is offset"
    assert place["x"] > 20
    assert place["y"] == 0
    expect(bench.line(2)).to_contain_text("right from the middle of REGATTA WEEKEND")

    handle = page.locator("[data-handle='line 1 1']").bounding_box()
    assert handle
    drag(page, (handle["x"] + 4, handle["y"] + 4), (-30, -60))
    bench.settled()
    smaller = saved_line(stored, 1)
    assert smaller["size"] < 140
    expect(page.get_by_test_id("proof")).to_contain_text(f"{smaller['size']:g} mm")

    for key in ("ArrowRight", "Shift+ArrowDown"):
        page.keyboard.press(key)
    bench.settled()
    nudged = saved_line(stored, 1)["place"]
    assert nudged["x"] == pytest.approx(smaller["place"]["x"] + 0.1, abs=1e-3)
    assert nudged["y"] == pytest.approx(smaller["place"]["y"] + 1.0, abs=1e-3)

    # The drag, the resizing, and both arrows tapped one right after the other.
    undo = page.get_by_role("button", name="Undo")
    for _ in range(3):
        undo.click()
    expect(undo).to_be_disabled()
    bench.settled()
    assert saved_line(stored, 1)["place"]["x"] == 0
    page.keyboard.press("Control+Shift+z")
    bench.settled()
    assert saved_line(stored, 1)["place"]["x"] == place["x"], "a whole drag is one step"

    page.reload()
    expect(bench.line(2)).to_contain_text("right from the middle of REGATTA WEEKEND")
    assert not bench.failures


def test_values_are_edited_in_place_and_results_picked_on_the_proof(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench)
    bench.set_length(3, "Clearance", "1/16 in")
    expect(bench.line(3)).to_contain_text("1.59 mm")
    bench.line(3).get_by_role("button", name="Butt fit").click()
    expect(bench.line(3)).to_contain_text("leaving 0 mm clear")

    bench.line(3).get_by_role("button", name=re.compile("^Clearance:")).click()
    field = page.get_by_role("textbox", name="Clearance")
    field.fill("wide")
    field.press("Enter")
    expect(page.get_by_role("alert").filter(has_text="Not a length")).to_be_visible()
    field.fill("900")
    field.press("Enter")
    expect(page.get_by_role("alert").filter(has_text="to 50 mm")).to_be_visible()
    field.press("Escape")

    bench.add_line("border", "Back")
    expect(page.get_by_label("Plies").get_by_role("button", name=re.compile("^Backing of "))).to_be_visible()
    # The words are named in the other value: they are greyed, and not taken on the proof.
    bench.line(3).get_by_role("button", name="What is knocked out: Lighthouse").click()
    expect(bench.line(3)).to_contain_text("point at things")
    expect(page.get_by_role("checkbox", name="already named here")).to_be_disabled()
    expect(page.locator("[data-pick='l1/letters']")).to_have_count(0)
    page.keyboard.press("Escape")
    expect(bench.line(3)).to_contain_text("Knock Lighthouse out of REGATTA WEEKEND")
    # The picture of a backing is pointed at: what is lit goes by its name, a click takes it.
    bench.line(5).get_by_role("button", name=re.compile("^What is backed")).click()
    page.mouse.move(*inside(page, "[data-pick='l3/l2/art']"))
    expect(page.get_by_test_id("pointing")).to_contain_text("Lighthouse")
    page.mouse.down()
    page.mouse.up()
    expect(bench.line(5)).to_contain_text("Back Lighthouse by")
    page.keyboard.press("Control+z")

    bench.line(3).get_by_role("button", name="More for line 3").click()
    page.get_by_role("menuitem", name="Remove line").click()
    expect(page.get_by_label("Recipe").locator("ol > li")).to_have_count(4)
    bench.settled()
    stored.refresh_from_db()
    cuts = {ply["name"]: ply["results"] for ply in stored.body["plies"]}
    assert cuts["Lettering"] == ["l1/letters"], "the words have their place on the ply back"
    assert not bench.failures


def test_the_sentence_at_work_is_in_sight_on_a_low_window(bench: Bench) -> None:
    page, _ = bench.page, open_demo(bench)
    page.set_viewport_size({"width": 1280, "height": 640})
    bench.add_line("clean", "Clean")
    expect(bench.line(5)).to_contain_text("Clean ")
    expect(bench.line(5)).to_be_in_viewport(ratio=0.98)
    expect(bench.line(1)).not_to_be_in_viewport(ratio=0.98)
    # What is taken up on the proof brings its own.
    page.locator("path[data-line=l1]").click(position={"x": 20, "y": 40})
    expect(bench.line(1)).to_be_in_viewport(ratio=0.98)


def test_a_finding_leads_to_its_place_and_is_mended(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench)
    check = page.get_by_label("Cut check")
    bench.set_length(3, "Leaving nothing under", "0")
    check.get_by_role("button", name="2 bits of Lettering under 1 mm").click()
    expect(page.get_by_label("Plies").locator("li[aria-current=true]")).to_contain_text("Lettering")
    assert page.get_by_role("button", name=re.compile("true size")).inner_text() != "50 %", "zoomed in on it"
    expect(page.get_by_test_id("spot")).to_be_visible()
    check.get_by_role("button", name="Drop them").click()
    expect(page.get_by_test_id("spot")).to_have_count(0)
    expect(bench.line(5)).to_contain_text("Clean REGATTA WEEKEND less Lighthouse: drop bits under 1 mm")
    expect(bench.line(5)).to_contain_text("2 bits under 1 mm dropped")
    expect(check).not_to_contain_text("bits of Lettering")
    bench.settled()
    stored.refresh_from_db()
    assert {p["name"]: p["results"] for p in stored.body["plies"]}["Lettering"] == ["l5/clean"]
    page.keyboard.press("Control+z")
    expect(check).to_contain_text("2 bits of Lettering")
    assert not bench.failures


def test_the_words_change_and_everything_follows(bench: Bench) -> None:
    page = bench.page
    open_demo(bench)
    before = page.get_by_label("Cut check").inner_text()
    bench.line(1).get_by_role("button", name=re.compile("^Words:")).click()
    page.get_by_role("textbox", name="Row 2").fill("SPRINT")
    page.keyboard.press("Escape")
    bench.line(1).get_by_role("button", name="Font: Anton").click()
    page.get_by_label("Search fonts").fill("stencil")
    page.get_by_role("option", name=re.compile("Black Ops One")).click()
    bench.settled()
    expect(bench.line(1)).to_contain_text("REGATTA over SPRINT in Black Ops One")
    assert page.get_by_label("Cut check").inner_text() != before
    page.keyboard.press("Escape")
    # A character the font has no glyph for is named, and nothing is lost.
    bench.line(1).get_by_role("button", name=re.compile("^Words:")).click()
    page.get_by_role("textbox", name="Row 2").fill("SPRINT 水")
    expect(page.get_by_label("Cut check")).to_contain_text("Black Ops One has no “水”")
    assert not bench.failures


def test_a_picture_that_cannot_be_read_says_why_and_changes_nothing(bench: Bench, tmp_path: Path) -> None:
    page = bench.page
    stored = open_demo(bench)
    bad = {
        "notes.svg": (b"just text", "not an SVG drawing"),
        "photo.svg": (b"\x89PNG\r\n\x1a\n\xff\xfe", "is not an SVG drawing"),
        "huge.svg": (b"<svg xmlns='http://www.w3.org/2000/svg'>" + b" " * 5_100_000, "5.1 MB"),
        "open.svg": (
            b"<svg xmlns='http://www.w3.org/2000/svg'><path fill='none' d='M0 0L9 9'/></svg>",
            "no closed shapes",
        ),
        "entity.svg": (
            b"<!DOCTYPE svg [<!ENTITY x SYSTEM 'file:///etc/passwd'>]><svg>&x;</svg>",
            "outside content",
        ),
        "number.svg": (
            b"<svg xmlns='http://www.w3.org/2000/svg'><path d='M0 0L1 2px 3z'/></svg>",
            "broken number",
        ),
        "vast.svg": (
            b"<svg xmlns='http://www.w3.org/2000/svg'><path d='M0 0L1e12 1L3 4z'/></svg>",
            "beyond 20 m",
        ),
    }
    for name, (content, says) in bad.items():
        (tmp_path / name).write_bytes(content)
        bench.line(2).get_by_role("button", name="Picture: Lighthouse").click()
        with page.expect_file_chooser() as chooser:
            page.get_by_role("button", name="Bring in an SVG").click()
        chooser.value.set_files(tmp_path / name)
        expect(page.get_by_role("alert").filter(has_text=says)).to_be_visible()
        page.keyboard.press("Escape")
    stored.refresh_from_db()
    assert stored.revision == 1

    # Dropped on the proof, a good one is two thirds as long as what is chosen; its own size is a click away.
    size = "width='1in' height='2in'"
    drawing = f"<svg xmlns='http://www.w3.org/2000/svg' {size}><rect width='96' height='192'/></svg>"
    transfer = page.evaluate_handle(
        "svg => { const t = new DataTransfer(); t.items.add(new File([svg], 'plank.svg')); return t }",
        drawing,
    )
    page.get_by_role("region", name="Proof").dispatch_event("drop", {"dataTransfer": transfer})
    expect(bench.line(5)).to_contain_text(
        "Place plank, all of it, lighter parts cut out of darker ones, 101.3 mm tall"
    )
    bench.line(5).get_by_role("button", name="True size, 25.4 × 50.8 mm").click()
    expect(bench.line(5)).to_contain_text("50.8 mm tall")
    assert not bench.failures


def test_two_windows_on_one_design_lose_nothing(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench)
    other = page.context.new_page()
    other.goto(page.url)
    elsewhere = Bench(other, bench.failures)
    elsewhere.set_length(4, "Distance", "9")
    elsewhere.settled()
    bench.set_length(4, "Distance", "3")
    expect(page.get_by_text("changed in another window")).to_be_visible()
    assert Revision.objects.get(design=stored, set_aside=True).body["recipe"][3]["distance"] == 3
    page.get_by_role("button", name="The other one").click()
    expect(bench.line(4)).to_contain_text("9 mm")
    page.keyboard.press("Control+z")
    expect(bench.line(4)).to_contain_text("3 mm")
    bench.settled()
    assert saved_line(stored, 3)["distance"] == 3
    assert not bench.failures


def drawn_in(zipped: Path) -> str:
    with ZipFile(zipped) as made:
        (combined,) = [name for name in made.namelist() if "all plies" in name]
        return made.read(combined).decode()


def test_what_is_exported_is_what_is_on_the_bench(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench)
    bench.settled()
    before = drawn_in(bench.cut_files("SVG"))

    def slowly(route: Route) -> None:
        page.wait_for_timeout(1200)
        route.continue_()

    # While one save is under way another value is typed, and the files are asked for at once.
    page.route(f"**/api/designs/{stored.id}", slowly)
    bench.set_length(4, "Distance", "9")
    page.wait_for_timeout(700)
    bench.set_length(4, "Distance", "3")
    typed = drawn_in(bench.cut_files("SVG"))
    page.unroute(f"**/api/designs/{stored.id}")
    assert saved_line(stored, 3)["distance"] == 3
    assert typed != before

    # What cannot be saved is not exported either, and it says so where she looks.
    page.route(f"**/api/designs/{stored.id}", lambda route: route.abort())
    bench.set_length(4, "Distance", "5")
    page.get_by_role("button", name="Export cut files").click()
    page.get_by_role("button", name="Download the zip").click()
    expect(page.get_by_role("dialog").get_by_role("alert")).to_contain_text("cannot be reached")
    page.keyboard.press("Escape")
    page.unroute(f"**/api/designs/{stored.id}")
    bench.settled()

    # Nor is the other window's version, after both have changed it.
    elsewhere = page.context.new_page()
    elsewhere.goto(page.url)
    other = Bench(elsewhere, bench.failures)
    other.set_length(4, "Distance", "8")
    other.settled()
    bench.set_length(4, "Distance", "2")
    expect(page.get_by_text("changed in another window")).to_be_visible()
    page.get_by_role("button", name="Export cut files").click()
    page.get_by_role("button", name="Download the zip").click()
    expect(page.get_by_role("dialog").get_by_role("alert")).to_contain_text("Choose above")


def test_an_answer_of_the_server_leaves_what_was_typed_meanwhile(bench: Bench) -> None:
    page = bench.page
    open_demo(bench)
    bench.settled()

    def slowly(route: Route) -> None:
        page.wait_for_timeout(1500)
        route.continue_()

    page.route("**/api/lines/add", slowly)
    bench.add_line("clean", "Clean")
    bench.set_length(4, "Distance", "7")
    expect(bench.line(5)).to_contain_text("Clean")
    expect(bench.line(4)).to_contain_text("7 mm")
    bench.settled()
    assert not bench.failures


def test_the_shelf(bench: Bench) -> None:
    page = bench.page
    open_demo(bench)
    page.get_by_role("link", name="Perigram").click()
    page.get_by_role("button", name="Copy Weekend shirt").click()
    page.get_by_role("button", name="Rename Weekend shirt copy").click()
    page.get_by_label("Name of the design").fill("Sprint shirt")
    page.keyboard.press("Enter")
    expect(page.get_by_role("link", name="Open Sprint shirt")).to_be_visible()
    page.get_by_role("button", name="Remove Sprint shirt").click()
    expect(page.get_by_role("link", name="Open Sprint shirt")).to_have_count(0)
    page.get_by_role("button", name="Put it back").click()
    expect(page.get_by_role("link", name="Open Sprint shirt")).to_be_visible()
    assert axe(page) == []
    assert not bench.failures


def test_the_bench_by_keyboard_and_to_a_screen_reader(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench)
    assert axe(page) == []
    page.keyboard.press("/")
    page.keyboard.type("heart")
    page.keyboard.press("Enter")
    expect(bench.line(5)).to_contain_text("Draw a heart 80 mm by 80 mm")
    width = bench.line(5).get_by_role("button", name=re.compile("^Width:"))
    width.focus()
    page.keyboard.press("ArrowUp")
    expect(bench.line(5)).to_contain_text("81 mm by 80 mm")
    page.keyboard.press("Enter")
    page.keyboard.type("60")
    page.keyboard.press("Enter")
    expect(bench.line(5)).to_contain_text("60 mm by 80 mm")
    expect(page.get_by_test_id("proof")).to_have_attribute("aria-label", re.compile("4 plies"))
    page.get_by_role("radio", name="Cut lines").click()
    page.get_by_role("switch", name="Nodes").click()
    bench.settled()
    assert axe(page) == []
    assert json.dumps(saved_line(stored, 4)).count("60") == 1

    # Keys of one character can be switched off; others go on.
    page.keyboard.press("?")
    page.get_by_role("switch", name="Keys of one character").click()
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    page.keyboard.press("h")
    page.keyboard.press("Control+z")
    expect(bench.line(5)).to_contain_text("81 mm by 80 mm")
    expect(page.get_by_role("dialog")).to_have_count(0)
    bench.settled()
    assert not saved_line(stored, 4)["place"]["flip"]
    assert not bench.failures


def test_rows_of_their_own_keys_and_turning(bench: Bench) -> None:
    """A row smaller than the other; Tab, turning by key and by hand, a copy in place, sums in fields."""
    page = bench.page
    bench.new_design()
    bench.add_line("words", "Letter")
    line = bench.line(1)
    page.get_by_role("textbox", name="Row 1").fill("tide")
    page.get_by_role("button", name="Add a row").click()
    page.get_by_role("textbox", name="Row 2").fill("mill")
    page.get_by_role("button", name="Font, size and gaps of row 2").click()
    page.get_by_role("button", name="Size of this row:").click()
    own = page.get_by_role("textbox", name="Size of this row")
    own.fill("254/2")
    own.press("Enter")
    expect(page.get_by_role("button", name="Size of this row: 127 mm")).to_be_visible()
    page.get_by_role("combobox", name="Letters as").click()
    page.get_by_role("option", name="CAPITALS").click()
    page.keyboard.press("Escape")
    bench.settled()
    wide = page.get_by_role("button", name=re.compile("^Finished size"))
    expect(wide).to_contain_text("200 ×")

    page.keyboard.press("Escape")
    page.locator("body").click(position={"x": 700, "y": 780})
    page.keyboard.press("Tab")
    expect(line).to_have_attribute("aria-current", "true")
    page.keyboard.press("Control+d")
    expect(page.get_by_label("Recipe").locator("ol > li")).to_have_count(2)
    copy = bench.line(2)
    expect(copy).to_have_attribute("aria-current", "true")
    for _ in range(3):
        page.keyboard.press(".")
    expect(copy.get_by_role("button", name="Place:")).to_contain_text("turned 3°")
    bench.settled()
    handle = page.locator("[data-handle='line turn']").bounding_box()
    frame = page.locator("[data-handle='line 0.5 0']").bounding_box()
    foot = page.locator("[data-handle='line 0.5 1']").bounding_box()
    assert handle is not None
    assert frame is not None
    assert foot is not None
    middle = (frame["x"] + 4.5, (frame["y"] + foot["y"]) / 2 + 4.5)
    reach = middle[1] - handle["y"] - 5.5
    page.mouse.move(handle["x"] + 5.5, handle["y"] + 5.5)
    page.mouse.down()
    page.keyboard.down("Shift")
    page.mouse.move(middle[0] + reach, middle[1], steps=6)
    page.mouse.up()
    page.keyboard.up("Shift")
    expect(copy.get_by_role("button", name="Place:")).to_contain_text("turned 90°")
    page.get_by_role("button", name="Undo").click()
    expect(copy.get_by_role("button", name="Place:")).to_contain_text("turned 3°")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_contain_text("choose the next line")
    page.keyboard.press("Escape")
    bench.settled()
    page.reload()
    expect(bench.line(1).get_by_role("button", name="Words:")).to_contain_text("tide over mill")
    expect(bench.line(2).get_by_role("button", name="Place:")).to_contain_text("turned 3°")
    assert bench.failures == []


def test_an_earlier_state_comes_back_and_the_newest_is_not_lost(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench)
    Revision.objects.filter(design=stored).update(created=timezone.now() - timedelta(hours=1))
    bench.set_length(4, "Distance", "9 mm")
    bench.settled()
    page.get_by_role("button", name="Earlier states").click()
    states = page.get_by_role("dialog", name="Earlier states")
    expect(states.get_by_role("button", name="Now")).to_be_disabled()
    name = states.get_by_role("textbox", name="Name of the state of now")
    with page.expect_response("**/states/*"):
        name.fill("Wide backing")
        name.press("Enter")
    assert stored.revisions.order_by("-id")[0].name == "Wide backing"
    states.get_by_role("button", name=re.compile("^Bring back")).click()
    expect(bench.line(4)).to_contain_text("6 mm")
    bench.settled()
    page.get_by_role("button", name="Undo").first.click()
    expect(bench.line(4)).to_contain_text("9 mm")
    bench.settled()
    assert [r.body["recipe"][3]["distance"] for r in stored.revisions.order_by("id")] == [6.0, 9.0, 6.0, 9.0]
    assert bench.failures == []


def test_a_relation_is_made_in_the_sentence_and_holds_when_the_words_change(bench: Bench) -> None:
    page = bench.page
    open_demo(bench)
    place = bench.line(2).get_by_role("button", name="Place:")
    place.click()
    for label, choice in (("Across", "left edges level"), ("Up and down", "below it")):
        page.get_by_role("combobox", name=label, exact=True).click()
        page.get_by_role("option", name=choice).click()
    page.get_by_role("button", name="Gap down: 0 mm").click()
    page.get_by_role("textbox", name="Gap down").fill("2")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    expect(place).to_contain_text("2 mm below REGATTA WEEKEND, left edge level with REGATTA WEEKEND")
    bench.settled()

    def gap() -> tuple[float, float]:
        boxes = [
            page.locator(f"path[data-line={one}]").evaluate(
                "p => { const b = p.getBBox(); return [b.x, b.y, b.x + b.width, b.y + b.height] }"
            )
            for one in ("l1", "l2")
        ]
        return boxes[1][0] - boxes[0][0], boxes[1][1] - boxes[0][3]

    assert gap() == pytest.approx((0, 2), abs=0.01)
    bench.line(1).get_by_role("button", name="Words:").click()
    page.get_by_role("textbox", name="Row 2").fill("WEEK")
    page.keyboard.press("Escape")
    bench.settled()
    assert gap() == pytest.approx((0, 2), abs=0.01)
    # By hand: down by 10 mm on the proof is a gap 10 mm wider.
    bench.line(2).locator("p").first.click(position={"x": 2, "y": 4})
    for _ in range(10):
        page.keyboard.press("Shift+ArrowDown")
    expect(place).to_contain_text("12 mm below")
    bench.settled()
    assert gap() == pytest.approx((0, 12), abs=0.01)
    assert bench.failures == []


def test_things_are_dragged_between_plies_and_plies_onto_each_other(bench: Bench) -> None:
    page, stored = bench.page, open_demo(bench)
    plies = page.get_by_label("Plies")

    def cuts() -> dict[str, list[str]]:
        bench.settled()
        stored.refresh_from_db()
        return {ply["name"]: ply["results"] for ply in stored.body["plies"]}

    before = cuts()
    thing = plies.get_by_role("list", name="Cut from Lighthouse").get_by_text("Lighthouse")
    thing.drag_to(plies.get_by_role("button", name=re.compile("^Lettering")))
    # The ply that nothing is left on goes by itself, and comes back.
    assert cuts() == {"Backing": ["l4/backing"], "Lettering": ["l3/l1/letters", "l3/l2/art"]}
    page.keyboard.press("Control+z")
    assert cuts() == before

    # A ply let go of on the middle of another is one with it.
    plies.get_by_role("button", name=re.compile("^Lighthouse Night")).drag_to(
        plies.get_by_role("list", name="Cut from Lettering")
    )
    merged = cuts()
    assert sorted(map(len, merged.values())) == [1, 2]
    page.keyboard.press("Control+z")
    assert cuts() == before

    # What words stand for lights up on the proof as they are pointed at.
    bench.line(3).get_by_text("Lighthouse").first.hover()
    expect(page.locator("[data-lit]")).to_have_count(1)
    assert axe(page) == []
    assert not bench.failures


def test_the_finder_opens_the_place_where_a_thing_is_done(bench: Bench) -> None:
    page, _ = bench.page, open_demo(bench)

    def look_for(text: str) -> None:
        page.keyboard.press("/")
        search = page.get_by_label("What should happen?")
        search.fill(text)
        expect(page.get_by_role("option").first).to_contain_text("opens there")
        search.press("Enter")

    look_for("align")
    expect(page.get_by_role("dialog", name="Arrange")).to_be_visible()
    expect(page.get_by_role("listbox")).to_have_count(0)
    page.get_by_role("button", name="Left edges level").click()
    expect(bench.line(2)).to_contain_text("left from the middle")
    page.keyboard.press("Escape")
    look_for("registration")
    expect(page.get_by_role("heading", name="Sheets", exact=True)).to_be_visible()
    assert not bench.failures
