"""Lettering and placing by hand, as a practitioner does it."""

from __future__ import annotations

import re
from typing import Any

import pytest
from django.conf import settings
from playwright.sync_api import Page, expect

from perigram.studio.models import StoredDesign

from .conftest import Bench
from .test_bench import axe, drag, inside, middle, open_demo, saved_line

pytestmark = pytest.mark.django_db(transaction=True)
WEB_FONTS = settings.BASE_DIR / "web" / "node_modules" / "@fontsource-variable"
VARIABLE = WEB_FONTS / "instrument-sans" / "files" / "instrument-sans-latin-standard-normal.woff2"


def click_line(bench: Bench, number: int) -> None:
    bench.line(number).click(position={"x": 18, "y": 24})


def result_box(page: Page, line: str) -> dict[str, float]:
    """A line's own box in the window, without the stroke that makes it easy to take hold of."""
    box: dict[str, float] = page.locator(f"path[data-line={line}]").evaluate(
        """path => {
            const box = path.getBBox(), matrix = path.getScreenCTM()
            const at = new DOMPoint(box.x, box.y).matrixTransform(matrix)
            return { x: at.x, y: at.y, width: box.width * matrix.a, height: box.height * matrix.d }
        }"""
    )
    return box


def test_a_block_tightened_one_letter_by_hand_art_centred_and_the_word_changed(bench: Bench) -> None:
    page = bench.page
    bench.new_design()
    page.get_by_role("button", name="Letter some words").click()
    expect(page.get_by_label("Row 1", exact=True)).to_be_focused()
    # Typed straight on: Enter begins the next row, and an empty one goes with Backspace.
    page.keyboard.type("SALT\nMARSH AND\nROWING\n")
    expect(page.get_by_label("Row 4", exact=True)).to_be_focused()
    page.keyboard.press("Backspace")
    expect(page.get_by_label("Row 3", exact=True)).to_be_focused()
    page.keyboard.press("Escape")

    # Three rows as a block of one width and height: the letters stretch.
    bench.settled()
    result_width = result_box(page, "l1")["width"]
    bench.line(1).get_by_role("button", name="Even block").click()
    page.get_by_role("button", name="letters stretch").click()
    page.keyboard.press("Escape")
    expect(bench.line(1)).to_contain_text("even on both sides")
    bench.set_length(1, "Gap between letters", "0.3")
    bench.set_length(1, "Gap between rows", "75 %")
    bench.settled()
    stored = StoredDesign.objects.get()
    assert saved_line(stored, 0)["row_gap"] == {"value": 75, "of": "line"}
    expect(bench.line(1)).to_contain_text("75 % line spacing")
    bench.set_length(1, "Gap between rows", "3 mm")
    bench.settled()
    line = saved_line(stored, 0)
    assert line["row_gap"] == {"value": 3, "of": "mm"}
    # As wide as it was before it became a block, to what a cap height in tenths of a mm can say.
    assert result_box(page, "l1")["width"] == pytest.approx(result_width, rel=0.003)
    assert (line["align"], line["gives"], line["fit"], line["gap"]) == ("even", "letters", "tall", 0.3)

    # One letter by hand: picked on the proof, dragged, turned by key.
    click_line(bench, 1)
    expect(page.locator("path[data-letter]")).to_have_count(18)
    page.mouse.click(*inside(page, "path[data-letter='2 1']"))
    hand = page.get_by_label("Letter by hand")
    expect(hand).to_contain_text("“O” of row 3")
    drag(page, inside(page, "path[data-letter='2 1']"), (0, 24))
    for _ in range(3):
        page.keyboard.press(".")
    expect(hand).to_contain_text("turned 3°")
    bench.settled()
    (own,) = saved_line(stored, 0)["rows"][2]["own"]
    assert own["y"] > 5
    assert (own["at"], own["turn"]) == (1, 3)

    # Art centred on it, held so.
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    bench.add_line("heart", "Draw a shape")
    bench.set_length(2, "Width", "60")
    bench.line(2).get_by_role("button", name=re.compile("^Place:")).click()
    page.keyboard.press("Escape")
    click_line(bench, 1)
    bench.line(2).click(position={"x": 18, "y": 24}, modifiers=["Shift"])
    page.get_by_role("button", name="Arrange").click()
    page.get_by_role("switch", name="Hold it from now on").click()
    page.get_by_role("button", name="Middles level across").click()
    page.get_by_role("button", name="Middles level up and down").click()
    page.keyboard.press("Escape")
    expect(bench.line(2)).to_contain_text("centred on ")

    # The word changed afterwards: the relation holds, and the other letters' hand stays.
    click_line(bench, 1)
    bench.line(1).get_by_role("button", name=re.compile("^Words:")).click()
    page.get_by_label("Row 2", exact=True).fill("MARSHES AND THEIR")
    page.get_by_label("Row 3", exact=True).fill("GROWING")
    page.keyboard.press("Escape")
    bench.settled()
    (moved,) = saved_line(stored, 0)["rows"][2]["own"]
    assert moved == {**own, "at": 2}
    words, heart = result_box(page, "l1"), result_box(page, "l2")
    for start, size in (("x", "width"), ("y", "height")):
        centre = words[start] + words[size] / 2
        assert heart[start] + heart[size] / 2 == pytest.approx(centre, abs=1.5)

    page.reload()
    expect(bench.line(1)).to_contain_text("GROWING")
    expect(bench.line(2)).to_contain_text("centred on ")
    click_line(bench, 1)
    expect(bench.line(1)).to_contain_text("By hand:")
    bench.line(1).get_by_role("button", name="All back to automatic").click()
    bench.settled()
    assert saved_line(stored, 0)["rows"][2]["own"] == []
    page.keyboard.press("Control+z")
    bench.settled()
    assert saved_line(stored, 0)["rows"][2]["own"] == [moved]
    assert not bench.failures


def test_a_font_of_her_own_found_by_keyboard(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench)
    bench.line(1).get_by_role("button", name=re.compile("^Font:")).click()
    search = page.get_by_role("combobox", name="Search fonts")
    expect(page.get_by_role("option")).to_have_count(27)
    page.locator("input[type=file][accept*=ttf]").set_input_files(
        {"name": "letter.ttf", "mimeType": "font/ttf", "buffer": b"not a font"}
    )
    expect(page.get_by_role("alert").filter(has_text="letter.ttf is not a font")).to_be_visible()
    page.locator("input[type=file][accept*=ttf]").set_input_files(VARIABLE)
    expect(bench.line(1)).to_contain_text("Instrument Sans")
    bench.settled()
    assert saved_line(stored, 0)["font"].startswith("own-")
    bench.set_length(1, "Weight", "640")
    bench.settled()
    assert saved_line(stored, 0)["axes"] == {"wght": 640}

    # Used lately comes first; arrows and Enter choose.
    bench.line(1).get_by_role("button", name=re.compile("^Font:")).click()
    expect(page.get_by_role("option").first).to_contain_text("Instrument Sans")
    expect(page.get_by_label("About Instrument Sans")).to_contain_text("May be embedded and installed")
    assert axe(page) == []
    search.fill("script")
    search.press("ArrowDown")
    chosen = page.get_by_role("option", selected=True).inner_text().split(" · ")[0].strip()
    search.press("Enter")
    expect(bench.line(1)).to_contain_text(chosen)
    assert not bench.failures


def test_several_things_chosen_moved_locked_and_copied(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench)

    def places() -> list[Any]:
        bench.settled()
        return [saved_line(stored, i)["place"] for i in (0, 1)]

    page.get_by_test_id("proof").click(position={"x": 60, "y": 60})
    page.keyboard.press("Control+a")
    expect(page.get_by_test_id("proof")).to_contain_text("2 things")
    page.keyboard.press("Shift+ArrowRight")
    first, second = places()
    assert first["x"] == 1
    assert second["x"] == 0, "what is held to another that moves goes along"

    # A marquee over the empty bench chooses what it touches.
    page.keyboard.press("Escape")
    proof = page.get_by_test_id("proof").bounding_box()
    assert proof
    drag(page, (proof["x"] + 40, proof["y"] + 60), (560, 300))
    expect(page.get_by_test_id("proof")).to_contain_text("2 things")

    # By keyboard: the next line along with the first, and let go of again.
    page.keyboard.press("Escape")
    page.keyboard.press("Tab")
    page.keyboard.press("Control+ArrowDown")
    expect(page.get_by_test_id("proof")).to_contain_text("2 things")
    page.keyboard.press("Control+ArrowUp")
    expect(page.get_by_test_id("proof")).not_to_contain_text("2 things")

    # Locked things stay under hand and key.
    page.keyboard.press("Escape")
    click_line(bench, 2)
    page.keyboard.press("l")
    expect(bench.line(2)).to_contain_text("Locked in place")
    page.keyboard.press("Shift+ArrowDown")
    expect(page.locator("[data-handle^='line']")).to_have_count(0)
    assert places()[1] == second
    page.keyboard.press("l")

    # Side handles stretch, corners do not.
    size = saved_line(stored, 1)
    drag(page, middle(page, "[data-handle='line 1 0.5']"), (40, 0))
    bench.settled()
    wider = saved_line(stored, 1)
    assert wider["stretch"] > 110
    assert wider["size"] == size["size"]
    undo = page.get_by_role("button", name=re.compile("^Undo"))
    expect(undo).to_have_accessible_name("Undo: line 2 resized")
    page.keyboard.press("Control+z")
    expect(page.get_by_text("Undone: line 2 resized.", exact=True)).to_be_visible()

    # Alt drags a copy.
    page.keyboard.down("Alt")
    drag(page, inside(page, "path[data-line=l2]"), (30, 60))
    page.keyboard.up("Alt")
    expect(bench.line(3)).to_contain_text("Place Lighthouse")
    assert not bench.failures


def test_a_list_pasted_becomes_rows(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench)
    bench.line(1).get_by_role("button", name=re.compile("^Words:")).click()
    field = page.get_by_label("Row 2", exact=True)
    field.press("End")
    field.evaluate(
        """input => {
            const given = new DataTransfer()
            given.setData("text", " AT\\r\\nTHE\\n\\nOLD SLIP\\n")
            const paste = { clipboardData: given, bubbles: true, cancelable: true }
            input.dispatchEvent(new ClipboardEvent("paste", paste))
        }"""
    )
    expect(page.get_by_label("Row 4", exact=True)).to_be_focused()
    page.get_by_role("button", name="Font, size and gaps of row 4").click()
    page.get_by_role("button", name="Row up").click()
    page.keyboard.press("Escape")
    bench.settled()
    assert [row["text"] for row in saved_line(stored, 0)["rows"]] == [
        "REGATTA",
        "WEEKEND AT",
        "OLD SLIP",
        "THE",
    ]
    page.keyboard.press("Control+z")
    bench.settled()
    assert [row["text"] for row in saved_line(stored, 0)["rows"]] == ["REGATTA", "WEEKEND"]
    assert not bench.failures


def test_several_things_resized_and_turned_as_one(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench)
    page.get_by_test_id("proof").click(position={"x": 60, "y": 60})
    page.keyboard.press("Control+a")
    words, art = (result_box(page, line) for line in ("l1", "l2"))
    drag(page, middle(page, "[data-handle='chosen 1 1']"), (-60, -40))
    bench.settled()
    # The letters' gaps keep their measure, so what holds is each thing's size and middle, not every edge.
    ratio = saved_line(stored, 1)["size"] / 148
    assert 0.5 < ratio < 0.95
    assert saved_line(stored, 0)["size"] == pytest.approx(254 * ratio, abs=0.06)
    smaller = [result_box(page, line) for line in ("l1", "l2")]
    for was, now in zip((words, art), smaller, strict=True):
        assert now["width"] == pytest.approx(ratio * was["width"], rel=0.01)
    assert smaller[0]["x"] == pytest.approx(words["x"], abs=1)

    turn = middle(page, "[data-handle='chosen turn']")
    drag(page, turn, (90, 60))
    bench.settled()
    rotated = [saved_line(stored, line)["place"]["rotate"] for line in (0, 1)]
    assert rotated[0] == rotated[1]
    assert 10 < rotated[0] < 170
    for did in ("turned", "resized"):
        page.keyboard.press("Control+z")
        expect(page.get_by_text(f"Undone: line 1 {did}, line 2 {did}.", exact=True)).to_be_visible()
    bench.settled()
    assert [saved_line(stored, line)["size"] for line in (0, 1)] == [254, 148]

    # Upside down by key; nearer, farther and all of it by key.
    page.keyboard.press("Shift+h")
    bench.settled()
    assert saved_line(stored, 1)["place"] == {**saved_line(stored, 1)["place"], "flip": True, "rotate": 180}
    before = result_box(page, "l1")["width"]
    page.keyboard.press("+")
    assert result_box(page, "l1")["width"] == pytest.approx(1.3 * before, rel=0.01)
    page.keyboard.press("0")
    assert result_box(page, "l1")["width"] == pytest.approx(before, rel=0.01)
    assert not bench.failures


def test_a_figure_gives_up_its_typing_and_keeps_the_focus(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench)
    size = bench.line(2).get_by_role("button", name=re.compile("^Size:"))
    size.click()
    field = page.get_by_role("textbox", name="Size")
    field.press("ArrowUp")
    field.press("ArrowUp")
    field.press("Escape")
    expect(size).to_be_focused()
    bench.settled()
    assert saved_line(stored, 1)["size"] == 148
    page.keyboard.press("Enter")
    field.fill("over there")
    field.press("Enter")
    expect(
        page.get_by_role("alert").filter(has_text="Not a length. Try 1.5, 2 cm, 1/16 in or 254/2.")
    ).to_be_visible()
    field.fill("5 in + 1/4 in")
    field.press("Enter")
    expect(size).to_be_focused()
    bench.settled()
    assert saved_line(stored, 1)["size"] == pytest.approx(5.25 * 25.4)

    # In a panel Escape gives up the typing first, and closes the panel next.
    bench.line(2).get_by_role("button", name=re.compile("^Place:")).click()
    page.get_by_role("button", name=re.compile("^Turned clockwise")).click()
    angle = page.get_by_role("textbox", name="Turned clockwise")
    angle.fill("400")
    angle.press("Enter")
    expect(page.get_by_role("alert").filter(has_text="From −360° to 360°.")).to_be_visible()
    angle.press("Escape")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Turned clockwise")).click()
    angle.fill("360/8")
    angle.press("Enter")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    bench.settled()
    assert saved_line(stored, 1)["place"]["rotate"] == 45

    # Fast hands: the next panel's key comes before the closed one has handed the focus back.
    bench.line(2).get_by_role("button", name=re.compile("^Place:")).click()
    page.evaluate(
        """async () => {
            const press = (key) => {
                const event = new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true })
                document.activeElement.dispatchEvent(event)
            }
            press("Escape")
            while (document.querySelector("[role=dialog]")) await null
            press("/")
        }"""
    )
    page.wait_for_timeout(200)
    expect(page.get_by_role("combobox", name="What should happen?")).to_be_focused()
    assert not bench.failures


def test_guides_show_and_hold_while_dragging(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench)
    click_line(bench, 2)
    x, y = inside(page, "path[data-line=l2]")
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 40, y + 1, steps=6)
    # Its middle is within reach of the words' middle: it settles there and says so.
    expect(page.get_by_test_id("drag-marks").locator("line")).not_to_have_count(0)
    page.mouse.up()
    bench.settled()
    assert saved_line(stored, 1)["place"]["y"] == 0
    page.keyboard.press("Control+z")
    bench.settled()  # the point to press on lies on the picture as it was before

    # With Ctrl held nothing settles.
    page.mouse.move(x, y)
    page.keyboard.down("Control")
    page.mouse.down()
    page.mouse.move(x + 40, y + 1, steps=6)
    expect(page.get_by_test_id("drag-marks")).to_have_count(0)
    page.mouse.up()
    page.keyboard.up("Control")
    bench.settled()
    assert saved_line(stored, 1)["place"]["y"] > 0

    # A side pulled to within reach of the words' edge ends level with it, to what figures can say.
    page.keyboard.press("Control+z")
    bench.settled()
    words, art = result_box(page, "l1"), result_box(page, "l2")
    away = words["x"] + words["width"] - art["x"] - art["width"]
    drag(page, middle(page, "[data-handle='line 1 0.5']"), (away - 3, 0))
    bench.settled()
    pulled = result_box(page, "l2")
    assert pulled["x"] + pulled["width"] == pytest.approx(words["x"] + words["width"], abs=0.02)
    assert pulled["x"] == pytest.approx(art["x"], abs=0.02)
    page.keyboard.press("Control+z")
    bench.settled()

    # A guide out of the ruler, and one by number.
    ruler = page.locator("[data-ruler=y]").bounding_box()
    assert ruler
    drag(page, (ruler["x"] + 300, ruler["y"] + 10), (0, 120))
    bench.settled()
    stored.refresh_from_db()
    (level,) = stored.body["guides"]["y"]
    page.get_by_role("button", name="Guides and grid").click()
    page.get_by_role("button", name="Add", exact=True).first.click()
    page.get_by_role("button", name=re.compile("^Guide 1 from the left")).click()
    page.get_by_role("textbox", name="Guide 1 from the left").fill("1 in")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    bench.settled()
    stored.refresh_from_db()
    assert stored.body["guides"] == {"x": [25.4], "y": [level]}
    guide = page.locator("[data-guide='y 0']").bounding_box()
    assert guide
    drag(page, (ruler["x"] + 300, guide["y"] + guide["height"] / 2), (0, -400))
    bench.settled()
    stored.refresh_from_db()
    assert stored.body["guides"]["y"] == []
    assert not bench.failures


def test_a_letter_dragged_settles_on_its_row(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench)
    click_line(bench, 1)
    letter = "path[data-letter='0 2']"
    page.mouse.click(*inside(page, letter))
    expect(page.get_by_label("Letter by hand")).to_be_visible()

    def own() -> dict[str, Any]:
        bench.settled()
        found: list[dict[str, Any]] = saved_line(stored, 0)["rows"][0]["own"]
        return found[0] if found else {"x": 0, "y": 0}

    drag(page, inside(page, letter), (1, 20))
    away = own()
    assert away["y"] > 3
    # Back to nearly where it was: it settles there, and is automatic again.
    x, y = inside(page, letter)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 1, y - 17, steps=6)
    expect(page.get_by_test_id("drag-marks").locator("line")).not_to_have_count(0)
    page.mouse.up()
    expect(page.get_by_test_id("drag-marks")).to_have_count(0)
    assert own()["y"] == 0
    # With Ctrl held it stays where it is let go.
    page.keyboard.down("Control")
    drag(page, inside(page, letter), (0, 4))
    page.keyboard.up("Control")
    assert 0.5 < own()["y"] < 5
    assert not bench.failures


def test_forms_signs_and_zoom_by_keyboard_and_pinch(bench: Bench) -> None:
    page = bench.page
    stored = open_demo(bench, "coachs-gift")
    click_line(bench, 2)
    bench.line(2).get_by_role("button", name="Forms, signs").click()
    page.get_by_role("button", name=re.compile("^Other forms")).click()
    expect(page.get_by_role("button", name=re.compile("^Other forms"))).to_have_attribute(
        "aria-pressed", "true"
    )
    page.get_by_role("tab", name="All signs").click()
    page.get_by_role("button", name="Add Ampersand").click()
    page.keyboard.press("Escape")
    bench.settled()
    line = saved_line(stored, 1)
    assert line["features"] == ["salt"]
    assert line["rows"][0]["text"].endswith("&")

    # By keyboard alone: the lettering's first letter, the next one, moved by an arrow.
    page.get_by_test_id("proof").click(position={"x": 60, "y": 60})
    page.keyboard.press("Tab")
    expect(page.locator("path[data-letter]")).to_have_count(5)
    page.keyboard.press("Enter")
    page.keyboard.press("Tab")
    expect(page.get_by_label("Letter by hand")).to_contain_text("“O” of row 1")
    page.keyboard.press("Shift+ArrowUp")
    bench.settled()
    assert saved_line(stored, 0)["rows"][0]["own"][0]["y"] == -1
    assert axe(page) == []

    # A sentence's values are buttons to the keyboard: Space and Enter open them, Escape comes back.
    words = bench.line(1).get_by_role("button", name=re.compile("^Words:"))
    for key in ("Enter", "Space"):
        words.focus()
        page.keyboard.press(key)
        expect(page.get_by_label("Row 1", exact=True)).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_label("Row 1", exact=True)).to_have_count(0)
        expect(words).to_be_focused()

    # A pinch arrives as a wheel with Ctrl: the point under it stays.
    before = result_box(page, "l1")
    at = (before["x"] + 30, before["y"] + 30)
    page.mouse.move(*at)
    page.get_by_test_id("proof").dispatch_event(
        "wheel", {"deltaY": -60, "ctrlKey": True, "clientX": at[0], "clientY": at[1]}
    )
    after = result_box(page, "l1")
    ratio = after["width"] / before["width"]
    assert ratio > 1.5
    assert after["x"] == pytest.approx(at[0] - 30 * ratio, abs=2)
    assert not bench.failures


def test_the_whole_job_without_a_pointer(bench: Bench) -> None:
    """From the shelf to cut files by keys alone: what has no focus or no name cannot be reached."""
    page, press = bench.page, bench.page.keyboard.press

    def focused() -> str:
        name: str = page.evaluate(
            "() => (document.activeElement.ariaLabel ?? document.activeElement.textContent ?? '').trim()"
        )
        return name

    def tab_to(name: str, key: str = "Tab") -> None:
        for _ in range(80):
            if re.match(name, focused()):
                return
            press(key)
        raise AssertionError(f"no way to {name} by {key}")

    def add(search: str, kind: str) -> None:
        press("/")
        page.keyboard.type(search)
        expect(page.get_by_role("option", selected=True)).to_contain_text(kind)
        press("Enter")

    tab_to("New design")
    press("Enter")
    expect(page.get_by_text("Start with words")).to_be_visible()
    add("text", "Letter")
    expect(bench.line(1)).to_contain_text("Letter NEW WORDS")
    expect(page.get_by_label("Row 1", exact=True)).to_be_focused()
    page.keyboard.type("CREEK\nSIDE")
    press("Escape")
    expect(bench.line(1)).to_contain_text("CREEK over SIDE")

    # A font by its name, a size in inches, gaps by arrows.
    tab_to("Font:")
    press("Enter")
    expect(page.get_by_role("option", name="Bungee")).to_be_visible()
    page.keyboard.type("archivo")
    press("Enter")
    expect(bench.line(1)).to_contain_text("Archivo Black")
    tab_to("Size of each row:")
    press("Enter")
    page.keyboard.type("7 1/2 in")
    press("Enter")
    tab_to("Gap between letters:")
    for _ in range(4):
        press("ArrowUp")
    bench.settled()
    stored = StoredDesign.objects.get()
    line = saved_line(stored, 0)
    assert (line["font"], line["size"], line["gap"]) == ("archivo-black", 190.5, 0.7)

    # A heart in the middle of them, held there; knocked out and backed.
    add("heart", "Draw a shape")
    expect(bench.line(2)).to_contain_text("Draw a heart")
    tab_to("Place:", "Shift+Tab")
    press("Enter")
    tab_to("Held to")
    press("Enter")
    expect(page.get_by_role("option", name="nothing: free")).to_be_focused()
    press("ArrowDown")
    expect(page.get_by_role("option", name="line 1")).to_be_focused()
    press("Enter")
    press("Escape")
    expect(bench.line(2)).to_contain_text("centred on ")
    # What is looked for is what is drawn.
    add("oval", "Draw a shape: oval")
    expect(bench.line(3)).to_contain_text("Draw an oval")
    press("Control+z")
    add("knockout", "Knock out")
    expect(bench.line(3)).to_contain_text("Knock Heart out of CREEK SIDE")
    add("backing", "Back")
    expect(bench.line(4)).to_contain_text("Back ")
    bench.settled()

    tab_to("Export cut files")
    press("Enter")
    tab_to("Download the zip")
    with page.expect_download() as download:
        press("Enter")
    assert download.value.suggested_filename.endswith(".zip")
    assert not bench.failures
