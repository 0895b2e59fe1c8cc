"""From plies to goods: sheets, their files, and the press plan, as a person goes through them."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any
from zipfile import ZipFile

import pytest
from django.contrib.auth import get_user_model
from playwright.sync_api import APIResponse, Route, expect
from pypdfium2 import PdfDocument

from perigram.cutter.machine import Machine
from perigram.studio.models import CutJob, Habits, Nest

from .conftest import Bench, Waiting
from .test_bench import axe, open_demo
from .test_warp import letter

MIRRORED = re.compile("Backing on Chalk smooth.*mirrored")
pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture(autouse=True)
def _cutter(bench: Bench) -> None:
    """A shop that has said what it cuts with."""
    owner = get_user_model().objects.get(username="wren")
    Habits.objects.update_or_create(owner=owner, defaults={"machine": "sandpiper"})


def test_a_shirt_is_laid_out_cut_in_order_and_pressed(bench: Bench) -> None:
    page, stored = bench.page, open_demo(bench)
    page.get_by_role("link", name="Sheets", exact=True).click()
    sheets = page.get_by_role("region", name="Sheets", exact=True)
    expect(sheets.get_by_role("button", name="Lettering")).to_be_visible()
    expect(sheets).to_contain_text("3 sheets")
    expect(page.get_by_test_id("sheet")).to_have_accessible_name(MIRRORED)
    assert axe(page) == []

    # Four shirts, packed; the sentence is the way to say so.
    sheets.get_by_role("button", name="How many: 1").click()
    box = page.get_by_role("textbox", name="How many")
    box.fill("4")
    box.press("Enter")
    sheets.get_by_role("combobox", name="Layout").click()
    page.get_by_role("option", name="packed").click()
    expect(sheets.get_by_role("button", name=re.compile("Lettering.*cut 2 times"))).to_be_visible()
    sheets.get_by_role("combobox", name="Marks").click()
    page.get_by_role("option", name="pin holes").click()
    bench.settled()
    stored.refresh_from_db()
    assert stored.body["sheets"] | {"copies": 4, "layout": "packed", "marks": "pins"} == stored.body["sheets"]

    # The order is played, and can be gone through by keys.
    sheets.get_by_role("button", name="Lighthouse").first.click()
    page.get_by_role("radio", name="Cut order").click()
    page.get_by_role("button", name="Play the cut").click()
    expect(page.get_by_text(re.compile(r"outline [3-9]\d? of \d+"))).to_be_visible()
    page.get_by_role("button", name="Pause").click()
    slider = page.get_by_role("slider", name="Outlines cut so far")
    slider.press("Home")
    expect(page.get_by_text(re.compile(r"outline 0 of \d+"))).to_be_visible()
    assert axe(page) == []

    # The cutter of the shop reads something else from now on, and the files are called accordingly.
    page.get_by_role("combobox", name="What it reads").click()
    page.get_by_role("option", name="PDF").click()
    expect(page.get_by_role("region", name="What it takes")).to_contain_text("mirrored - cut 2 times.pdf")
    with page.expect_download() as download:
        page.get_by_role("button", name="Download the sheets").click()
    names = ZipFile(Path(download.value.path())).namelist()
    assert len(names) == 3
    assert all(name.endswith(".pdf") for name in names)

    page.get_by_role("link", name="Press plan").click()
    plan = page.get_by_role("region", name="Plan", exact=True)
    expect(plan).to_contain_text("26 s of heat")
    expect(plan.get_by_role("listitem")).to_have_count(5)
    assert axe(page) == []
    page.get_by_role("button", name="Full press of Ember smooth: 10 s").click()
    page.get_by_role("textbox", name="Full press of Ember smooth").fill("17")
    page.keyboard.press("Enter")
    expect(plan).to_contain_text("33 s of heat")
    expect(page.get_by_role("contentinfo")).to_contain_text("Needs a look")
    page.keyboard.press("Control+z")
    expect(plan).to_contain_text("26 s of heat")
    page.emulate_media(media="print")
    expect(page.get_by_role("banner")).not_to_be_visible()
    expect(page.get_by_text("All together")).to_be_visible()


def test_a_design_that_does_not_fit_says_so_where_it_is_laid(bench: Bench) -> None:
    page, _ = bench.page, open_demo(bench, "hull-decal")
    page.get_by_role("link", name="Sheets", exact=True).click()
    takes = page.get_by_role("region", name="What it takes")
    expect(takes.get_by_text("wide and up to")).to_be_visible()
    # A mat is smaller than the roll.
    takes.get_by_role("combobox", name="Cutter").click()
    page.get_by_role("option", name="Plover 12").click()
    expect(page.get_by_role("alert")).to_contain_text("leaves 289.0 by 289.0 mm within its edges")
    page.get_by_role("button", name="Settings of Plover 12").click()
    page.get_by_role("button", name="Length of the mat: 305 mm").click()
    page.get_by_role("textbox", name="Length of the mat").fill("14 in")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("mat")).to_be_visible()
    expect(takes.get_by_text("lie on the mat")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Width of .*(gloss|marine)")).click()
    page.get_by_role("textbox", name=re.compile("^Width of ")).fill("2 in")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Choose a wider sheet")


def test_a_sheet_is_sent_paused_cut_and_compared(bench: Bench, cutter: Machine) -> None:
    page, _ = bench.page, open_demo(bench)
    page.get_by_role("link", name="Cut", exact=True).click()
    page.get_by_role("region", name="To be cut").get_by_role("button", name="Lettering").click()
    cutter.pause(True)
    page.get_by_role("button", name="Send this sheet to the cutter").click()
    sent = page.get_by_role("list", name="Sent to the cutter")
    expect(sent).to_contain_text("paused")
    assert axe(page) == []
    page.get_by_role("button", name="Go on cutting").click()
    expect(page.get_by_test_id("job")).to_have_accessible_name(re.compile(r"\b[1-9]\d? % cut"))
    expect(sent).to_contain_text(
        re.compile(r"As designed within 0\.0[0-3]\d mm, nothing missing, nothing cut twice")
    )
    expect(page.get_by_role("region", name="Sent", exact=True)).to_contain_text("as designed")
    job = CutJob.objects.get()
    assert job.found["deviation"] <= 0.03
    assert not job.found["mirrored"]
    assert axe(page) == []

    # A roll that is too short: it says so, and goes on where it stopped once there is more.
    cutter.load(300.0)
    page.get_by_role("button", name="Send this sheet to the cutter").click()
    expect(sent).to_contain_text("out of material")
    page.get_by_role("button", name="Material is in").click()
    expect(sent.get_by_text("As designed")).to_have_count(2)
    assert cutter.status()["paused"] is False


def test_a_knife_is_led_and_a_stick_carried_over(bench: Bench, cutter: Machine, settings: Any) -> None:
    page, _ = bench.page, open_demo(bench)
    page.get_by_role("link", name="Cut", exact=True).click()
    page.get_by_role("region", name="To be cut").get_by_role("button", name="Lettering").click()
    page.get_by_role("button", name="Cut this sheet from the stick").click()
    expect(page.get_by_text("write the sheets to it first").first).to_be_visible()

    # The knife that is in trails; told so, the shop's machine leads it, and what is cut is as designed again.
    page.get_by_role("button", name="Knife in the cutter: 0 mm").click()
    page.get_by_role("textbox", name="Knife in the cutter").fill("0.3")
    page.keyboard.press("Enter")
    expect(page.get_by_text("corners will be off")).to_be_visible()
    page.get_by_role("link", name="Sheets", exact=True).click()
    page.get_by_role("button", name="Settings of Sandpiper 24").click()
    page.get_by_role("button", name="Knife offset: 0 mm").click()
    page.get_by_role("textbox", name="Knife offset").fill("0.3")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Cut", exact=True).click()
    expect(page.get_by_text("corners will be off")).not_to_be_visible()
    page.get_by_role("button", name="Write all to the memory stick").click()
    expect(page.get_by_text("3 files are on the memory stick").first).to_be_visible()
    assert len(list(settings.STICK.rglob("*.hpgl"))) == 3
    page.get_by_role("button", name="Cut this sheet from the stick").click()
    expect(page.get_by_role("list", name="Sent to the cutter")).to_contain_text("As designed")
    job = CutJob.objects.get()
    assert 0.0 < job.found["deviation"] <= 0.05

    # What lies on the stick is no longer what is wanted: it is not cut.
    page.get_by_role("link", name="Sheets", exact=True).click()
    page.get_by_role("combobox", name="Marks").click()
    page.get_by_role("option", name="corners").click()
    page.get_by_role("link", name="Cut", exact=True).click()
    page.get_by_role("region", name="To be cut").get_by_role("button", name="Lettering").click()
    page.get_by_role("button", name="Cut this sheet from the stick").click()
    expect(page.get_by_text("an earlier state of this sheet").first).to_be_visible()
    assert CutJob.objects.count() == 1


def test_a_banner_too_wide_is_cut_in_parts_and_loose_pieces_are_nested(
    bench: Bench, wait_until: Waiting
) -> None:
    page, _ = bench.page, open_demo(bench, "hull-decal")
    page.get_by_role("link", name="Sheets", exact=True).click()
    sheets = page.get_by_role("region", name="Sheets", exact=True)
    page.get_by_role("button", name=re.compile("^Width of ")).click()
    page.get_by_role("textbox", name=re.compile("^Width of ")).fill("120 mm")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("cut it in parts")
    sheets.get_by_role("combobox", name="Too large").click()
    page.get_by_role("option", name="cut in parts that overlap").click()
    expect(sheets.get_by_role("button", name=re.compile("Name, column 2"))).to_be_visible()
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    sheets.get_by_role("combobox", name="Layout").click()
    page.get_by_role("option", name="packed").click()
    expect(sheets.get_by_role("button", name="Nest by outlines")).to_be_visible()
    # Told late how the sheets were before, what has been begun since is shown all the same.
    late: list[tuple[Route, APIResponse]] = []
    page.route("**/api/sheets", lambda route: late.append((route, route.fetch())), times=1)
    sheets.get_by_role("combobox", name="What stays together").click()
    page.get_by_role("option", name="loose pieces").click()
    sheets.get_by_role("button", name="Seconds each ply: 20 s").click()
    page.get_by_role("textbox", name="Seconds each ply").fill("60")
    page.keyboard.press("Enter")
    wait_until(lambda: len(late) == 1)
    with page.expect_response("**/api/nest"):
        sheets.get_by_role("button", name="Nest by outlines").click()
    [(route, response)] = late
    route.fulfill(response=response)
    expect(sheets.get_by_role("progressbar", name="Nesting")).to_be_visible()
    expect(sheets).to_contain_text("less than by boxes", timeout=20_000)
    sheets.get_by_role("button", name="Stop and keep this").click()
    expect(sheets).to_contain_text("Nested by outlines", timeout=20_000)
    assert Nest.objects.get().after <= Nest.objects.get().before
    bench.settled()


def test_a_material_kept_for_the_shop_is_there_in_another_design(bench: Bench) -> None:
    page, _ = bench.page, open_demo(bench)
    page.get_by_role("link", name="Press plan").click()
    materials = page.get_by_role("region", name="Materials")
    materials.get_by_role("button", name="Heat of Ember smooth: 150 °C").click()
    page.get_by_role("textbox", name="Heat of Ember smooth").fill("155")
    page.keyboard.press("Enter")
    keep = materials.get_by_role("button", name="Keep for the shop")
    expect(keep).to_have_count(3)
    keep.nth(1).click()
    expect(keep).to_have_count(2)
    bench.settled()

    page.get_by_role("link", name="Perigram").click()
    other = open_demo(bench, "hull-decal")
    page.get_by_role("button", name="Material and pieces of Name").click()
    page.get_by_role("radio", name="Ember smooth (shelf)").click()
    expect(page.get_by_text("On the shop’s shelf")).to_be_visible()
    assert axe(page) == []
    page.keyboard.press("Escape")
    bench.settled()
    other.refresh_from_db()
    ember = next(one for one in other.body["materials"] if one["name"] == "Ember smooth")
    assert ember["pressing"]["heat"] == 155.0
    assert any(ply["material"] == ember["id"] for ply in other.body["plies"])


def test_from_an_empty_bench_to_a_compared_cut_and_a_plan_on_paper(bench: Bench, cutter: Machine) -> None:
    """A word and a backing, two of each, cut with a knife that is led, pressed."""
    page, stored = bench.page, letter(bench, "SALT")
    bench.add_line("backing", "Back")
    bench.settled()
    cutter.fit(0.25)

    page.get_by_role("link", name="Sheets", exact=True).click()
    sheets = page.get_by_role("region", name="Sheets", exact=True)
    expect(sheets).to_contain_text("2 sheets")
    sheets.get_by_role("button", name="How many: 1").click()
    page.get_by_role("textbox", name="How many").fill("2")
    page.keyboard.press("Enter")
    sheets.get_by_role("combobox", name="Weeding border").click()
    page.get_by_role("option", name="a weeding border").click()
    sheets.get_by_role("combobox", name="Lines through waste").click()
    page.get_by_role("option", name="cuts through large waste").click()
    page.get_by_role("button", name="Settings of Sandpiper 24").click()
    page.get_by_role("button", name="Knife offset: 0 mm").click()
    page.get_by_role("textbox", name="Knife offset").fill("0.25")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")

    page.get_by_role("link", name="Cut", exact=True).click()
    laid = page.get_by_role("region", name="To be cut").get_by_role("listitem")
    expect(laid).to_have_count(2)
    for at in range(2):
        laid.nth(at).get_by_role("button").click()
        page.get_by_role("button", name="Send this sheet to the cutter").click()
        expect(page.get_by_role("list", name="Sent to the cutter").get_by_role("listitem")).to_have_count(
            at + 1
        )
    expect(page.get_by_role("list", name="Sent to the cutter").get_by_text("As designed")).to_have_count(
        2, timeout=60_000
    )
    jobs = list(CutJob.objects.filter(design=stored))
    assert all(0.0 < job.found["deviation"] <= 0.05 and not job.found["missed"] for job in jobs)

    page.get_by_role("link", name="Press plan").click()
    plan = page.get_by_role("region", name="Plan", exact=True)
    expect(plan.get_by_role("listitem")).to_have_count(4)
    with page.expect_download() as download:
        page.get_by_role("button", name="Download the PDF").click()
    text = PdfDocument(Path(download.value.path()))[0].get_textpage().get_text_bounded()
    assert [step in text for step in ("Warm", "tack", "All together")] == [True] * 3
