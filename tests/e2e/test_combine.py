"""Things cut out of, into and around each other by hand, as a practitioner does it."""

from __future__ import annotations

import math
import re
import zipfile
from pathlib import Path
from typing import Any

import pytest
import shapely
from playwright.sync_api import Page, expect

from perigram.studio.models import StoredDesign
from tests.foreign import judge

from .conftest import Bench, Waiting
from .test_bench import axe, drag, middle, open_demo, saved_line
from .test_lettering import click_line
from .test_warp import letter

pytestmark = pytest.mark.django_db(transaction=True)


def picked(page: Page) -> tuple[int, int]:
    """How many pieces of the chosen line are kept, and how many are not."""
    pieces = page.locator("[data-piece]")
    kept = page.locator("[data-piece][aria-checked=true]").count()
    return kept, pieces.count() - kept


def within(page: Page, index: int) -> tuple[float, float]:
    """A point of the window inside a piece."""
    x, y = page.locator(f"[data-piece='{index}']").evaluate(
        """path => {
            const box = path.getBBox(), matrix = path.getScreenCTM()
            for (let i = 1; i < 5000; i++) {
                const [u, v] = [(i * 0.618) % 1, i / 5000]
                const at = new DOMPoint(box.x + box.width * u, box.y + box.height * v)
                if (path.isPointInFill(at)) { const p = at.matrixTransform(matrix); return [p.x, p.y] }
            }
        }"""
    )
    return x, y


def cut(bench: Bench) -> dict[str, Any]:
    """What is cut, by ply, read back by a reader that shares nothing with what wrote it."""
    with zipfile.ZipFile(bench.cut_files("SVG")) as files:
        return {
            name.split(" - ")[2]: judge.solid(judge.ply_rings(files.read(name)))
            for name in files.namelist()
            if "all plies" not in name
        }


def test_a_stencil_is_bridged_and_its_strips_set_by_hand(bench: Bench, wait_until: Waiting) -> None:
    page = bench.page
    stored = letter(bench, "BOAT 80")
    bench.add_line("stencil", "Bridge")
    expect(bench.line(2)).to_contain_text("7 islands held by 12 strips")
    bench.settled()
    wait_until(lambda: picked(page) == (12, 0))

    # One is taken away, by a click, and its fellow by a key; then one is set where it is clicked.
    page.mouse.click(*within(page, 0))
    wait_until(lambda: picked(page) == (11, 1))
    bench.settled()
    assert len(saved_line(stored, 1)["gone"]) == 1
    page.locator("[data-piece][tabindex='0']").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    expect(bench.line(2)).to_contain_text(re.compile("still drop out|held by 10 strips"))
    wait_until(lambda: picked(page) == (10, 2))
    page.mouse.click(*within(page, 11))
    wait_until(lambda: picked(page) == (11, 1))
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    wait_until(lambda: picked(page) == (11, 1))
    page.keyboard.press("Control+z")
    wait_until(lambda: picked(page) == (12, 0))
    bench.settled()
    assert not axe(page)

    # One is dragged along: it is taken away where it was and set where it is let go of, in one step.
    drag(page, within(page, 0), (9.0, 0.0))
    wait_until(lambda: picked(page) == (12, 1))
    bench.settled()
    line = saved_line(stored, 1)
    assert (len(line["gone"]), len(line["own"])) == (1, 1)
    page.keyboard.press("Control+z")
    wait_until(lambda: picked(page) == (12, 0))
    bench.settled()

    # The plate: the words are cut out of it, and it stays in one piece.
    page.keyboard.press("Escape")
    bench.add_line("rounded", "Draw a shape: rounded box")
    bench.set_length(3, "Width", "260 mm")
    bench.set_length(3, "Height", "90 mm")
    bench.add_line("subtract", "Cut away")
    expect(bench.line(4)).to_contain_text("Cut BOAT 80 away from Rounded box")
    bench.settled()
    assert [ply["results"] for ply in StoredDesign.objects.get().body["plies"]] == [["l4/l3/shape"]]
    (plate,) = cut(bench).values()
    assert len(shapely.get_parts(plate)) == 1, "no island drops out"
    assert not bench.failures


def test_pieces_of_a_slice_go_where_they_are_sent_and_stay_picked(bench: Bench, wait_until: Waiting) -> None:
    page = bench.page
    stored = letter(bench, "OAR")
    bench.add_line("heart", "Draw a shape: heart")
    bench.set_length(2, "Width", "160 mm")
    bench.set_length(2, "Height", "150 mm")
    bench.add_line("slice", "Slice")
    bench.settled()
    wait_until(lambda: picked(page)[0] > 4)
    whole = picked(page)[0]

    # The piece of heart within the first letter is dropped; the letter changes its font: it stays dropped.
    inner = page.locator("[data-piece][aria-label*='OAR and Heart']").first
    index = int(inner.get_attribute("data-piece") or "")
    inner.hover()
    expect(page.get_by_role("status").filter(has_text="a click drops it")).to_be_visible()
    page.mouse.click(*within(page, index))
    wait_until(lambda: picked(page) == (whole - 1, 1))
    bench.settled()
    (pick,) = saved_line(stored, 2)["picks"]
    assert pick["to"] == ""
    assert pick["parents"] == ["l1/letters", "l2/shape"]
    bench.line(1).get_by_role("button", name=re.compile("^Words:")).click()
    page.get_by_label("Row 1", exact=True).fill("OARS")
    page.keyboard.press("Escape")
    click_line(bench, 3)
    bench.settled()
    wait_until(lambda: picked(page)[1] == 1)

    # A frame round everything sends every piece to the words' ply, in one step.
    page.get_by_role("button", name=re.compile("^to OARS")).click()
    x, y = middle(page, "[data-testid=proof]")
    page.mouse.move(x - 320, y - 240)
    page.mouse.down()
    page.mouse.move(x + 330, y + 240, steps=5)
    page.mouse.up()
    wait_until(lambda: picked(page)[1] == 0)
    bench.settled()
    assert {one["to"] for one in saved_line(stored, 2)["picks"]} == {"l1/letters"}
    page.keyboard.press("Control+z")
    wait_until(lambda: picked(page)[1] == 1)
    bench.settled()
    assert not axe(page)
    assert not bench.failures


def test_a_word_let_into_an_oar_comes_out_as_one_piece(bench: Bench) -> None:
    letter(bench, "HERON")
    bench.add_line("one piece", "Weld")
    bench.set_length(2, "Gaps closed", "0.6 mm")
    bench.choose(2, "How many pieces", "one piece")
    expect(bench.line(2)).to_contain_text("One piece")
    bench.add_line("rounded", "Draw a shape: rounded box")
    bench.set_length(3, "Width", "14 in")
    bench.set_length(3, "Height", "8 mm")
    bench.add_line("oar", "Let in")
    expect(bench.line(4)).to_contain_text("Let Rounded box into HERON")
    bench.line(4).get_by_role("button", name="Swap the two").click()
    expect(bench.line(4)).to_contain_text("Let HERON into Rounded box")
    expect(bench.line(4)).to_contain_text("One piece")
    bench.settled()
    (oar,) = cut(bench).values()
    assert len(shapely.get_parts(oar)) == 1
    x0, _, x1, _ = oar.bounds
    assert x1 - x0 == pytest.approx(14 * 25.4, abs=0.01)
    # Clear of each other there are two plies again.
    bench.choose(4, "How they meet", "clear of it")
    bench.settled()
    assert len(cut(bench)) == 2
    assert not bench.failures


def test_a_figure_is_looked_for_and_the_whole_design_made_as_wide_as_typed(bench: Bench) -> None:
    page = bench.page
    stored = letter(bench, "STAR")
    bench.add_line("star", "Draw a shape: star")
    bench.set_length(2, "Width", "60 mm")
    page.get_by_role("button", name="All shapes and ornaments").click()
    page.get_by_role("button", name="laurel").click()
    expect(bench.line(2)).to_contain_text("Draw a laurel 60 mm by")
    bench.add_line("ring", "Ring ring")
    # Until the server has answered, what was saved before still stands as saved.
    expect(bench.line(3)).to_contain_text("Ring Laurel")
    bench.settled()
    before = StoredDesign.objects.get().body

    page.get_by_role("button", name=re.compile("^Finished size")).click()
    page.get_by_role("button", name=re.compile("^Finished width:")).click()
    box = page.get_by_role("textbox", name="Finished width")
    box.fill("12 in")
    box.press("Enter")
    expect(page.get_by_role("button", name=re.compile("^Finished size 304.8 ×"))).to_be_visible()
    page.keyboard.press("Escape")
    bench.settled()
    assert saved_line(stored, 2)["inner"] == 2
    assert saved_line(stored, 1)["width"] != 60
    plies = cut(bench).values()
    low, high = min(one.bounds[0] for one in plies), max(one.bounds[2] for one in plies)
    assert high - low == pytest.approx(304.8, abs=0.02)
    page.keyboard.press("Control+z")
    bench.settled()
    assert StoredDesign.objects.get().body == before
    assert not bench.failures


def test_the_band_of_a_shield_and_a_word_across_it_are_one(bench: Bench) -> None:
    page = bench.page
    letter(bench, "CREW")
    bench.add_line("shield", "Draw a shape: shield")
    bench.set_length(2, "Width", "150 mm")
    bench.set_length(2, "Height", "180 mm")
    # A band inside the shield's edge, on a ply of its own.
    bench.add_line("ring", "Ring ring")
    bench.set_length(3, "Inner edge", "-5 mm")
    bench.set_length(3, "Outer edge", "0 mm")
    expect(bench.line(3)).to_contain_text("Ring Shield from −5 mm to 0 mm off its edge")
    bench.add_line("union", "Weld")
    bench.line(4).get_by_role("button", name=re.compile("^What is welded:")).click()
    for name, wanted in (("line 1", True), ("line 2", False), ("line 3", True)):
        box = page.get_by_role("checkbox", name=name)
        if (box.get_attribute("aria-checked") == "true") != wanted:
            box.click()
            expect(box).to_have_attribute("aria-checked", "true" if wanted else "false")
    page.keyboard.press("Escape")
    bench.set_length(4, "Gaps closed", "0.6 mm")
    bench.choose(4, "How many pieces", "one piece")
    expect(bench.line(4)).to_contain_text("One piece")
    bench.settled()
    plies = StoredDesign.objects.get().body["plies"]
    assert ["l4/weld"] in [ply["results"] for ply in plies]
    cuts = cut(bench)
    welded = next(cuts[ply["name"]] for ply in plies if ply["results"] == ["l4/weld"])
    assert len(shapely.get_parts(welded)) == 1
    assert not bench.failures


def test_a_stack_of_three_stays_registered_when_its_word_changes(bench: Bench) -> None:
    """A word, a picture over it, a script over both, one backing of one colour and one round all."""
    page = bench.page
    open_demo(bench, "regatta-stack")
    before = cut(bench)
    bench.line(1).get_by_role("button", name=re.compile("^Words:")).click()
    page.get_by_label("Row 1", exact=True).fill("OARSMEN")
    page.keyboard.press("Escape")
    bench.settled()
    after = cut(bench)
    assert set(after) == {"Word", "Oars", "Script", "Backing", "Outer backing"}
    assert after["Word"].symmetric_difference(before["Word"]).area > 500
    for upper, lower in (("Script", "Oars"), ("Script", "Word"), ("Oars", "Word")):
        assert after[upper].distance(after[lower]) > 1.55, "1.6 mm clear"
    for name in ("Word", "Oars", "Script"):
        assert after[name].difference(after["Backing"]).area < 0.01
    assert after["Backing"].boundary.distance(after["Outer backing"].boundary) == pytest.approx(4.0, abs=0.05)
    assert len(shapely.get_parts(after["Backing"])) == 1
    assert not bench.failures


def test_words_are_filled_with_a_picture_of_ones_own(bench: Bench, tmp_path: Path) -> None:
    page = bench.page
    letter(bench, "TIDE")
    bench.add_line("texture", "Fill with a texture")
    bench.choose(2, "Pattern", "a picture")
    expect(bench.line(2)).to_contain_text("No picture chosen yet")
    drop = tmp_path / "drop.svg"
    drop.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm" viewBox="0 0 10 10">'
        '<circle cx="5" cy="5" r="5"/></svg>'
    )
    bench.line(2).get_by_role("button", name="Picture: choose").click()
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Bring in an SVG").click()
    chooser.value.set_files(drop)
    expect(bench.line(2)).to_contain_text("with a picture, drop, 8 mm wide")
    bench.settled()
    discs = shapely.get_parts(cut(bench)["TIDE"])
    assert len(discs) > 50
    whole = shapely.area(discs).max()
    assert whole == pytest.approx(16.0 * math.pi, rel=1e-3), "discs that lie within the letters are whole"
    assert not bench.failures


def test_what_a_line_would_do_shows_before_it_is_added(bench: Bench) -> None:
    page, stored = bench.page, open_demo(bench)
    before = len(stored.body["recipe"])
    page.keyboard.press("/")
    search = page.get_by_role("combobox", name="What should happen?")
    search.fill("ring")
    said = page.get_by_role("status").filter(has_text="Ring would leave")
    expect(said).to_contain_text(re.compile(r"\d+ pieces? on Ring"))
    # Something else is tried out instead, then nothing; only then is one added.
    search.fill("slice")
    expect(page.get_by_role("status").filter(has_text="Slice would leave")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("status").filter(has_text="would leave")).to_have_count(0)
    bench.settled()
    stored.refresh_from_db()
    assert len(stored.body["recipe"]) == before
    page.keyboard.press("/")
    search.fill("ring")
    expect(said).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.locator("ol > li")).to_have_count(before + 1)
    expect(said).to_have_count(0)
