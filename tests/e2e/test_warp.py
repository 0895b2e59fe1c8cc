"""Words bent, railed and netted by hand, as a practitioner does it."""

from __future__ import annotations

import re
import zipfile
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from perigram.studio.models import StoredDesign

from .conftest import Bench, Waiting
from .test_bench import axe, drag, inside, middle, saved_line
from .test_lettering import click_line, result_box

pytestmark = pytest.mark.django_db(transaction=True)


def letter(bench: Bench, text: str) -> StoredDesign:
    bench.new_design()
    bench.page.get_by_role("button", name="Letter some words").click()
    # The words are there to be typed over at once.
    expect(bench.page.get_by_label("Row 1", exact=True)).to_be_focused()
    bench.page.keyboard.type(text)
    bench.page.keyboard.press("Escape")
    bench.settled()
    return StoredDesign.objects.get()


def handle(page: Page, value: str) -> Any:
    return page.locator(f"[data-handle='{value}']").first


def shown(page: Page, value: str) -> float:
    """The number a handle stands for in the proof on screen."""
    return float(handle(page, value).get_attribute("aria-valuenow") or "nan")


def test_a_word_is_arched_by_its_handle_and_stays_live(bench: Bench, wait_until: Waiting) -> None:
    page = bench.page
    stored = letter(bench, "BOATHOUSE")
    bench.add_line("arch", "Bend")
    expect(bench.line(2)).to_contain_text("Bend BOATHOUSE along an arc 40 mm high")
    bench.settled()
    assert [ply["results"] for ply in StoredDesign.objects.get().body["plies"]] == [["l2/l1/letters"]]

    # Pulled down, the end lies lower: the arc is higher. Its figure shows while it is held; Escape puts back.
    x, y = middle(page, "[data-handle=rise]")
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 30, steps=5)
    expect(page.locator("svg text", has_text=re.compile(r"^[\d.]+ mm$"))).to_have_count(1)
    page.keyboard.press("Escape")
    page.mouse.up()
    bench.settled()
    assert saved_line(stored, 1)["rise"] == 40
    wait_until(lambda: abs(middle(page, "[data-handle=rise]")[1] - y) < 0.5)
    drag(page, middle(page, "[data-handle=rise]"), (0, 30))
    bench.settled()
    pulled = saved_line(stored, 1)["rise"]
    assert 41 < pulled < 80
    wait_until(lambda: abs(shown(page, "rise") - pulled) < 1e-6)
    handle(page, "rise").focus()
    page.keyboard.press("ArrowUp")
    bench.settled()
    assert saved_line(stored, 1)["rise"] == pytest.approx(pulled + 1, abs=0.06)

    # The bent word itself is dragged, and takes the flat one along.
    page.keyboard.press("Escape")
    before = saved_line(stored, 0)["place"]["x"]
    page.keyboard.down("Control")
    drag(page, inside(page, "path[data-line=l2]"), (60, 0))
    page.keyboard.up("Control")
    bench.settled()
    assert saved_line(stored, 0)["place"]["x"] > before + 5

    # Another word, another curve, letters that only turn: it follows.
    bench.line(1).get_by_role("button", name=re.compile("^Words:")).click()
    page.get_by_label("Row 1", exact=True).fill("SLIPWAY")
    page.keyboard.press("Escape")
    click_line(bench, 2)
    bench.choose(2, "Along what", "a circle")
    bench.choose(2, "The letters", "only turn")
    expect(bench.line(2)).to_contain_text("along a circle 200 mm across, on its outside, at 12 o’clock")
    expect(page.locator("[data-handle=clock]")).to_have_count(1)
    bench.settled()
    drag(page, middle(page, "[data-handle=clock]"), (40, 30))
    bench.settled()
    assert 0.1 < saved_line(stored, 1)["clock"] < 3
    assert not axe(page)
    with zipfile.ZipFile(bench.cut_files("SVG")) as files:
        assert any(name.endswith(".svg") for name in files.namelist())

    # Taken away, the words have their ply back.
    bench.line(2).get_by_role("button", name="More for line 2").click()
    page.get_by_role("menuitem", name="Remove line").click()
    expect(bench.line(2)).to_have_count(0)
    bench.settled()
    assert [ply["results"] for ply in StoredDesign.objects.get().body["plies"]] == [["l1/letters"]]
    assert not bench.failures


def test_three_rows_nested_in_waves_and_one_retyped(bench: Bench, wait_until: Waiting) -> None:
    page = bench.page
    stored = letter(bench, "HEAVE\nSTEADY\nHOME")
    bench.add_line("nest", "Run between rails")
    # The line opens on curves to start from, drawn with her words.
    page.get_by_role("button", name="Nested waves").click()
    expect(bench.line(2)).to_contain_text(
        re.compile("under HEAVE waved .*, under STEADY waved .* upside down")
    )
    bench.settled()
    wave = saved_line(stored, 1)["between"][0]["rise"]
    wait_until(lambda: abs(shown(page, "between.0.rise") - wave) < 1e-6)
    drag(page, middle(page, "[data-handle='between.0.rise']"), (0, -20))
    bench.settled()
    assert saved_line(stored, 1)["between"][0]["rise"] > wave + 3

    # A rail's shape by its picture, its figures beside it.
    bench.line(2).get_by_role("button", name=re.compile("^Bottom rail:")).click()
    page.get_by_role("button", name="tilted").click()
    page.keyboard.press("Escape")
    expect(bench.line(2)).to_contain_text("bottom tilted 30 mm")
    page.keyboard.press("Control+z")
    expect(bench.line(2)).to_contain_text("bottom level")

    bench.line(1).get_by_role("button", name=re.compile("^Words:")).click()
    page.get_by_label("Row 2", exact=True).fill("READY ALL")
    page.keyboard.press("Escape")
    expect(bench.line(2)).to_contain_text("under READY ALL")
    bench.settled()
    expect(page.get_by_label("Cut check")).to_contain_text("none crossing")

    # A second thing takes the same rail, upside down, and follows it.
    bench.add_line("heart", "Draw a shape")
    bench.add_line("rails", "Run between rails")
    bench.line(4).get_by_role("button", name=re.compile("^Top rail:")).click()
    page.get_by_role("combobox", name="Top rail as another").click()
    page.get_by_role("option", name="the rail under row 1 of line 2").click()
    page.keyboard.press("Escape")
    expect(bench.line(4)).to_contain_text("top as the rail under row 1 of line 2")
    bench.settled()
    assert saved_line(stored, 3)["top"]["like"] == "l2/between.0"
    assert not bench.failures


def test_a_bulge_on_both_sides_one_taken_back_and_switched_off(bench: Bench, wait_until: Waiting) -> None:
    page = bench.page
    stored = letter(bench, "SLACK WATER")
    flat = result_box(page, "l1")
    bench.add_line("bulge", "Run between rails")
    page.get_by_role("button", name="Bulged").click()
    expect(bench.line(2)).to_contain_text(
        re.compile(r"top arched [\d.]+ mm, bottom arched [\d.]+ mm, upside")
    )
    bench.settled()
    rise = saved_line(stored, 1)["top"]["rise"]
    wait_until(lambda: abs(result_box(page, "l2")["height"] / flat["height"] - 1) > 0.3)
    bulged = result_box(page, "l2")["height"]

    # The bottom is level again; the top stays.
    bench.line(2).get_by_role("button", name=re.compile("^Bottom rail:")).click()
    page.get_by_role("button", name="level", exact=True).click()
    page.keyboard.press("Escape")
    expect(bench.line(2)).to_contain_text("bottom level")
    bench.settled()
    assert saved_line(stored, 1)["top"]["rise"] == rise
    wait_until(lambda: result_box(page, "l2")["height"] < bulged - 5)

    # A letter is set by hand on the flat ghost, and the bulged word has it.
    before = result_box(page, "l2")["width"]
    click_line(bench, 1)
    page.mouse.click(*inside(page, "path[data-letter='0 10']"))
    expect(page.get_by_label("Letter by hand")).to_contain_text("“R” of row 1")
    drag(page, inside(page, "path[data-letter='0 10']"), (50, 0))
    bench.settled()
    (own,) = saved_line(stored, 0)["rows"][0]["own"]
    assert own["at"] == 10
    assert own["x"] > 5
    wait_until(lambda: result_box(page, "l2")["width"] > before + 20)
    page.keyboard.press("Control+z")
    wait_until(lambda: abs(result_box(page, "l2")["width"] - before) < 1)

    # Switched off, the words are cut flat, and bulged again when it is on. A hand holds a button for a
    # moment: choosing the line must not move its menu under the pointer meanwhile.
    bulged = result_box(page, "l2")["height"]
    for what in ("Switch off", "Switch on"):
        click_line(bench, 1)
        bench.line(2).get_by_role("button", name="More for line 2").click(delay=150)
        page.get_by_role("menuitem", name=what).click(delay=150)
        bench.settled()
        expect(page.get_by_role("button", name=re.compile("10 pieces"))).to_be_visible()
        if what == "Switch off":
            expect(page.locator("path[data-line=l2]")).to_have_count(0)
    assert not saved_line(stored, 1)["off"]
    wait_until(lambda: abs(result_box(page, "l2")["height"] - bulged) < 1)
    click_line(bench, 1)
    bench.line(2).get_by_role("button", name=re.compile("^Bottom rail:")).click(delay=150)
    expect(page.get_by_role("button", name="level", exact=True)).to_be_visible()
    assert not bench.failures


def test_words_of_three_colours_shaped_by_one_net(bench: Bench, wait_until: Waiting) -> None:
    page = bench.page
    stored = letter(bench, "TIDE")
    bench.add_line("text", "Letter")
    expect(bench.line(2)).to_contain_text("NEW WORDS")
    expect(bench.line(2)).to_contain_text("8 mm below TIDE")
    page.keyboard.press("Escape")
    bench.add_line("text", "Letter")
    expect(bench.line(3)).to_contain_text("below NEW WORDS")
    page.keyboard.press("Escape")
    bench.add_line("net", "Shape by a net")
    expect(bench.line(4)).to_contain_text("by a net")
    bench.settled()
    assert saved_line(stored, 3)["of"] == ["l1/letters", "l2/letters", "l3/letters"]
    body = StoredDesign.objects.get().body
    netted = ["l4/l1/letters", "l4/l2/letters", "l4/l3/letters"]
    assert [ply["results"] for ply in body["plies"]] == [netted], "one material, one ply"
    # Each word on a ply of its own: dragged there, or by the grip's menu.
    for word in ("NEW WORDS", "NEW WORDS 2"):
        page.get_by_role("button", name=f"Move {word} to another ply", exact=True).click()
        page.get_by_role("menuitem", name="On a ply of its own").click()
        expect(page.get_by_role("list", name=f"Cut from {word}", exact=True)).to_be_visible()
    bench.settled()
    body = StoredDesign.objects.get().body
    assert [ply["results"] for ply in body["plies"]] == [[one] for one in netted]
    assert len({ply["material"] for ply in body["plies"]}) == 3
    click_line(bench, 4)
    expect(page.locator("[data-handle^='points.']")).to_have_count(12)

    # Left and right are pulled alike; a point in the middle of the first row by keys.
    drag(page, middle(page, "[data-handle='points.0']"), (-24, -16))
    bench.settled()
    points = saved_line(stored, 3)["points"]
    assert points[0][0] < -0.02
    assert points[3][0] == pytest.approx(-points[0][0])
    assert points[3][1] == pytest.approx(points[0][1])
    wait_until(lambda: abs(shown(page, "points.0") - points[0][0]) < 1e-6)
    handle(page, "points.9").focus()
    page.keyboard.press("ArrowDown")
    bench.settled()
    assert saved_line(stored, 3)["points"][9][1] > 0

    # More points keep the shape; the word changes, and a source less keeps its own ply.
    bench.set_length(4, "Rows of points", "4")
    expect(page.locator("[data-handle^='points.']")).to_have_count(16)
    bench.line(1).get_by_role("button", name=re.compile("^Words:")).click()
    page.get_by_label("Row 1", exact=True).fill("FLOOD")
    page.keyboard.press("Escape")
    bench.settled()
    click_line(bench, 4)
    bench.line(4).get_by_role("button", name=re.compile("^What is shaped:")).click()
    page.get_by_role("checkbox", name="line 2").click()
    page.keyboard.press("Escape")
    expect(bench.line(4)).to_contain_text("Shape FLOOD and NEW WORDS 2 by")
    bench.settled()
    body = StoredDesign.objects.get().body
    assert [ply["results"] for ply in body["plies"]] == [["l4/l1/letters"], ["l2/letters"], ["l4/l3/letters"]]
    assert not bench.failures


def test_a_curve_of_ones_own_has_corners_where_wanted(bench: Bench) -> None:
    page, stored = bench.page, letter(bench, "GABLE")
    bench.add_line("arch", "Bend")
    page.keyboard.press("Escape")
    bench.line(2).get_by_role("combobox", name="Along what").click()
    page.get_by_role("option", name="a curve of its own").click()
    bench.line(2).get_by_role("combobox", name="The letters").click()
    page.get_by_role("option", name="only turn").click()
    bench.settled()
    points = page.locator("[data-handle^='points.']")
    expect(points.first).to_be_visible()
    count = points.count()
    points.nth(1).focus()
    page.keyboard.press("c")
    bench.settled()
    kept = saved_line(stored, 1)["points"]
    assert len(kept) == count + 1
    assert kept[1] == kept[2]
    # It is still one point to the hand: taken along, both go.
    expect(points).to_have_count(count)
    expect(points.nth(1)).to_have_accessible_name("Point 3 of the curve, a corner")
    expect(points.nth(1)).to_be_focused()
    page.keyboard.press("Shift+ArrowUp")
    bench.settled()
    lifted = saved_line(stored, 1)["points"]
    assert lifted[1] == lifted[2] == pytest.approx([kept[1][0], kept[1][1] - 10.0])
    drag(page, middle(page, "[data-handle='points.2']"), (0, -30))
    bench.settled()
    moved = saved_line(stored, 1)["points"]
    assert moved[1] == moved[2]
    assert moved[1][1] < lifted[1][1]
    points.nth(1).dblclick()
    bench.settled()
    assert len(saved_line(stored, 1)["points"]) == count
    assert axe(page) == []
