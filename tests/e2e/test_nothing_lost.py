"""Crashes, outages, other windows and nights signed out: the work is still there."""

from __future__ import annotations

import json
import re
from datetime import timedelta
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.contrib.sessions.models import Session
from django.utils import timezone
from playwright.sync_api import APIResponse, Page, Route, expect

from perigram.studio.accounts import invite
from perigram.studio.models import Revision, StoredDesign

from .conftest import Bench, Waiting
from .test_bench import axe, open_demo

pytestmark = pytest.mark.django_db(transaction=True)

SAVES = re.compile(r"/api/designs/[0-9a-f-]+$")


def name_field(page: Page) -> Any:
    return page.get_by_role("banner").get_by_label("Name of the design")


def stored_name(stored: StoredDesign) -> str:
    stored.refresh_from_db()
    return stored.name


def without_saving(page: Page) -> None:
    page.route(SAVES, lambda route: route.abort() if route.request.method == "PUT" else route.continue_())


@pytest.mark.alone
def test_a_crash_within_half_a_second_of_typing_loses_nothing(bench: Bench) -> None:
    page, stored = bench.page, open_demo(bench)
    address = page.url
    without_saving(page)
    name_field(page).fill("Typed and not saved")
    # Before it would be saved by itself, and that by a window that is going.
    page.wait_for_timeout(400)
    # The window goes without a word, as in a crash.
    page.close()

    again = page.context.new_page()
    again.goto(address)
    kept = again.get_by_role("alert").filter(has_text="was not saved and is still here")
    expect(kept).to_be_visible()
    assert axe(again) == []
    assert stored_name(stored) != "Typed and not saved"
    kept.get_by_role("button", name="Take it up").click()
    expect(name_field(again)).to_have_value("Typed and not saved")
    expect(kept).to_have_count(0)
    expect(again.get_by_role("banner").get_by_role("status")).to_have_text("saved")
    assert stored_name(stored) == "Typed and not saved"
    again.reload()
    expect(name_field(again)).to_have_value("Typed and not saved")
    expect(again.get_by_role("alert")).to_have_count(0)


@pytest.mark.alone
def test_signed_out_at_work_and_back_on_the_bench(bench: Bench) -> None:
    page, stored = bench.page, open_demo(bench)
    # What the bench still fetches would ask for the password before anything is typed.
    page.wait_for_load_state("networkidle")
    Session.objects.all().delete()
    name_field(page).fill("Typed while signed out")
    asked = page.get_by_role("dialog", name="You are signed out")
    expect(asked).to_be_visible()
    assert axe(page) == []
    asked.get_by_label("Password").fill("wrong")
    asked.get_by_role("button", name="Sign in").click()
    expect(asked).to_contain_text("do not go together")
    asked.get_by_label("Password").fill("salt-and-reed-7")
    asked.get_by_role("button", name="Sign in").click()
    expect(asked).to_have_count(0)
    expect(name_field(page)).to_have_value("Typed while signed out")
    bench.settled()
    assert stored_name(stored) == "Typed while signed out"

    # A reload while signed out asks at the door, and offers the draft behind it.
    without_saving(page)
    name_field(page).fill("Typed before the reload")
    page.wait_for_timeout(500)
    Session.objects.all().delete()
    page.on("dialog", lambda dialog: dialog.accept())
    page.reload()
    page.unroute(SAVES)
    page.get_by_label("Name", exact=True).fill("wren")
    page.get_by_label("Password").fill("salt-and-reed-7")
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("button", name="Take it up").click()
    bench.settled()
    assert stored_name(stored) == "Typed before the reload"


def test_a_refusal_that_comes_late_does_not_sign_out_again(bench: Bench) -> None:
    page, stored = bench.page, open_demo(bench)
    page.wait_for_load_state("networkidle")
    refused: list[tuple[Route, APIResponse]] = []

    def saves(route: Route) -> None:
        if route.request.method != "PUT" or refused:
            route.continue_()
        else:
            refused.append((route, route.fetch()))

    page.route(SAVES, saves)
    Session.objects.all().delete()
    with page.expect_request(SAVES):
        name_field(page).fill("Refused before, told after")
    asked = page.get_by_role("dialog", name="You are signed out")
    asked.get_by_label("Password").fill("salt-and-reed-7")
    asked.get_by_role("button", name="Sign in").click()
    page.wait_for_timeout(500)
    [(route, answer)] = refused
    assert answer.status == 401
    route.fulfill(response=answer)
    expect(asked).to_have_count(0)
    bench.settled()
    assert stored_name(stored) == "Refused before, told after"


def test_after_an_outage_the_proof_comes_by_itself(bench: Bench) -> None:
    page, _ = bench.page, open_demo(bench)
    away = True

    def proofs(route: Route) -> None:
        if away:
            route.abort()
        else:
            route.continue_()

    page.route("**/api/proof", proofs)
    before = page.get_by_label("Recipe").locator("ol > li").count()
    page.keyboard.press("/")
    page.get_by_label("What should happen?").fill("circle")
    page.get_by_role("option").first.click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("banner")).to_contain_text("proof not up to date")
    expect(page.get_by_label("Cut check")).to_contain_text("cannot be reached")
    away = False
    expect(page.get_by_role("banner")).not_to_contain_text("proof not up to date")
    expect(page.locator(f"path[data-line=l{before + 1}]")).to_have_count(1)


def test_a_design_removed_elsewhere_is_put_back_from_the_bench(bench: Bench) -> None:
    page, stored = bench.page, open_demo(bench)
    StoredDesign.objects.filter(id=stored.id).update(removed=timezone.now() - timedelta(days=1))
    name_field(page).fill("Still worked on")
    gone = page.get_by_role("alert").filter(has_text="was removed from the shelf")
    gone.get_by_role("button", name="Put it back").click()
    expect(gone).to_have_count(0)
    bench.settled()
    assert stored_name(stored) == "Still worked on"
    assert stored.removed is None

    # On the shelf, what was removed stands below for a month.
    StoredDesign.objects.filter(id=stored.id).update(removed=timezone.now())
    page.get_by_role("link", name="Perigram").click()
    page.get_by_text("Taken off the shelf (1)").click()
    assert axe(page) == []
    page.get_by_role("button", name="Put back Still worked on").click()
    expect(page.get_by_role("link", name="Open Still worked on", exact=True)).to_be_visible()
    expect(page.get_by_text("Taken off the shelf")).to_have_count(0)


def test_what_is_typed_before_a_conflict_is_settled_is_kept_too(bench: Bench, wait_until: Waiting) -> None:
    page, stored = bench.page, open_demo(bench)
    other = {**stored.body, "name": "From the other window"}
    answer = page.request.put(
        f"{page.url.split('/designs')[0]}/api/designs/{stored.id}",
        data=json.dumps({"base": 1, "design": other}),
        headers={
            "Content-Type": "application/json",
            "X-CSRFToken": next(c["value"] for c in page.context.cookies() if c["name"] == "csrftoken"),
        },
    )
    assert answer.ok
    name_field(page).fill("Mine at first")
    expect(page.get_by_role("alert").filter(has_text="changed in another window")).to_be_visible()
    name_field(page).fill("Mine, typed on")
    page.get_by_role("button", name="The other one").click()
    expect(name_field(page)).to_have_value("From the other window")
    bench.settled()
    aside = Revision.objects.filter(design=stored, set_aside=True)
    wait_until(lambda: {one.body["name"] for one in aside.all()} == {"Mine at first", "Mine, typed on"})


def test_an_invitation_leads_to_a_shop_of_ones_own(bench: Bench, settings: Any) -> None:
    page = bench.page
    root = page.url.split("/designs")[0].rstrip("/")
    page.get_by_role("button", name="Account of wren").click()
    panel = page.get_by_role("dialog", name="Account of wren")
    assert axe(page) == []
    panel.get_by_label("Password so far").fill("salt-and-reed-7")
    panel.get_by_label("New password").fill("kelp-and-cordage-8")
    panel.get_by_role("button", name="Change the password").click()
    expect(page.get_by_text("Password changed.").first).to_be_visible()
    assert get_user_model().objects.get(username="wren").check_password("kelp-and-cordage-8")
    page.get_by_role("button", name="Account of wren").click()
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("button", name="Sign in")).to_be_visible()
    page.get_by_label("Name").fill("wren")
    page.get_by_label("Password").fill("kelp-and-cordage-8")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", name="Shelf")).to_be_visible()

    # Opened by somebody who is in a shop, an invitation says whose, and is still good once she has left.
    page.goto(f"{root}/join/{invite().code}")
    expect(page.get_by_role("heading", name="You are signed in as wren")).to_be_visible()
    assert axe(page) == []
    page.get_by_role("button", name="Sign out and use it").click()
    expect(page.get_by_role("heading", name="Your own shop")).to_be_visible()
    assert axe(page) == []
    page.get_by_label("Name").fill("teal")
    page.get_by_label("Password").fill("short")
    page.get_by_role("button", name="Make the account").click()
    expect(page.get_by_role("alert")).to_contain_text("too short")
    page.get_by_label("Password").fill("osprey-and-oar-4")
    page.get_by_role("button", name="Make the account").click()
    expect(page.get_by_role("link", name="Open Weekend shirt")).to_be_visible()
    assert not page.url.removeprefix(root).strip("/")


def test_a_hand_that_loses_its_hold_leaves_undo_on(bench: Bench) -> None:
    page, stored = bench.page, open_demo(bench)
    lighthouse = page.locator("path[data-line=l2]")
    box = lighthouse.bounding_box()
    assert box
    foot = (box["x"] + box["width"] * 0.5, box["y"] + box["height"] * 0.96)
    for gone in ("element.releasePointerCapture(1)", "element.remove()"):
        page.mouse.move(*foot)
        page.mouse.down()
        page.mouse.move(foot[0] + 30, foot[1])
        before = bench.line(2).inner_text()
        page.evaluate(f"() => {{ const element = document.querySelector('path[data-line=l2]'); {gone} }}")
        page.mouse.up()
        bench.settled()
        page.get_by_role("button", name="Undo").click()
        expect(bench.line(2)).not_to_have_text(before)
        bench.settled()
        page.reload()
        lighthouse.wait_for()
    assert stored_name(stored) == "Weekend shirt"
