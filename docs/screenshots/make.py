"""Take the screenshots the README shows, from a demo shop made for the purpose.

Run bin/start with an empty state, so that the demo is as it ships, then this:
    PERIGRAM_STATE=/tmp/shots PERIGRAM_PORT=8010 PERIGRAM_DB_PORT=3320 bin/start
    .venv/bin/python docs/screenshots/make.py http://127.0.0.1:8010
"""

from __future__ import annotations

import sys
from pathlib import Path

from playwright.sync_api import Locator, Page, sync_playwright

HERE = Path(__file__).parent
BROWSER = "/usr/bin/chromium-headless-shell"
ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-sync"]


def take(page: Page, name: str) -> None:
    page.wait_for_timeout(900)
    page.screenshot(path=HERE / f"{name}.png")


def open_design(page: Page, name: str) -> None:
    if page.get_by_role("link", name="Perigram").count():
        page.get_by_role("link", name="Perigram").click()
    page.get_by_role("link", name=f"Open {name}").click()
    page.get_by_text("none crossing").wait_for()


def choose(page: Page, line: int) -> Locator:
    sentence = page.locator("ol > li").nth(line - 1)
    sentence.click(position={"x": 18, "y": 24})
    return sentence


def in_ink(page: Page, selector: str) -> tuple[float, float]:
    """A point of the window inside a path."""
    x, y = page.locator(selector).first.evaluate(
        """path => {
            const box = path.getBBox(), matrix = path.getScreenCTM()
            for (let i = 1; ; i++) {
                const [u, v] = [(i * 0.618) % 1, 0.2 + i / 2000]
                const at = new DOMPoint(box.x + box.width * u, box.y + box.height * v)
                if (path.isPointInFill(at)) { const p = at.matrixTransform(matrix); return [p.x, p.y] }
            }
        }"""
    )
    return x, y


def shelf(page: Page) -> None:
    page.get_by_role("heading", name="Shelf").wait_for()
    page.get_by_role("link", name="Regatta stack").first.wait_for()
    take(page, "shelf")


def bench(page: Page) -> None:
    open_design(page, "Weekend shirt")
    choose(page, 3)
    take(page, "bench")


def starts(page: Page) -> None:
    """An empty bench. It stays on the shelf, so this comes last."""
    page.get_by_role("link", name="Perigram").click()
    page.get_by_role("button", name="New design").click()
    page.get_by_role("region", name="Starts").get_by_role("button", name="Round badge").wait_for()
    take(page, "starts")


def point(page: Page) -> None:
    """A value that names a thing is open, the words under the pointer."""
    open_design(page, "Weekend shirt")
    choose(page, 4).get_by_role("button", name="What is backed").click()
    page.mouse.move(*in_ink(page, "[data-pick='l3/l1/letters']"))
    take(page, "point")
    page.keyboard.press("Escape")


def cut_lines(page: Page) -> None:
    choose(page, 2)
    page.get_by_role("radio", name="Cut lines").click()
    page.get_by_role("switch", name="Nodes").click()
    page.get_by_role("button", name="Show what is chosen").click()
    for _ in range(5):
        page.get_by_role("button", name="Larger").click()
    take(page, "cut-lines")
    page.get_by_role("radio", name="Finished").click()
    page.get_by_role("button", name="Show everything").click()


def words(page: Page) -> None:
    """Rows being typed, one of them with a size, font and gap of its own."""
    open_design(page, "Boathouse sign")
    choose(page, 1).get_by_role("button", name="Words: SALTMARSH").click()
    page.get_by_role("button", name="Font, size and gaps of row 3").click()
    take(page, "words")
    page.keyboard.press("Escape")


def fonts(page: Page) -> None:
    choose(page, 1).get_by_role("button", name="Font: Anton").click()
    page.get_by_role("option", name="Bungee").wait_for()
    take(page, "fonts")
    page.keyboard.press("Escape")


def letter(page: Page) -> None:
    """A letter picked on the proof, with what a hand did to it."""
    open_design(page, "Boathouse sign")
    choose(page, 1)
    page.mouse.click(*in_ink(page, "path[data-letter='1 1']"))
    page.get_by_label("Letter by hand").wait_for()
    take(page, "letter")
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")


def placing(page: Page) -> None:
    """Guides while dragging, figures included; the drag is given up."""
    choose(page, 4)
    x, y = in_ink(page, "path[data-line=l3]")
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 46, y + 12, steps=8)
    page.mouse.move(x + 2, y - 13, steps=8)
    take(page, "placing")
    page.mouse.up()
    page.keyboard.press("Control+z")
    page.get_by_role("button", name="Close", exact=True).click()


def warp(page: Page) -> None:
    """Three rows nested in waves, a rail pulled; the drag is given up."""
    open_design(page, "Crew tee")
    choose(page, 4)
    handle = page.locator("[data-handle='between.0.rise']").first
    handle.wait_for()
    box = handle.bounding_box()
    assert box
    page.mouse.move(box["x"] + 6, box["y"] + 6)
    page.mouse.down()
    page.mouse.move(box["x"] + 6, box["y"] - 2, steps=6)
    take(page, "warp")
    page.keyboard.press("Escape")
    page.mouse.up()


def round_a_circle(page: Page) -> None:
    open_design(page, "Hull badge")
    choose(page, 5)
    page.locator("[data-handle=clock]").wait_for()
    take(page, "round")


def stencil(page: Page) -> None:
    """Strips of a stencil, one of them under the pointer."""
    open_design(page, "Crate stencil")
    choose(page, 3)
    page.locator("[data-piece='9']").hover(force=True)
    take(page, "stencil")


def stack(page: Page) -> None:
    open_design(page, "Regatta stack")
    choose(page, 5)
    take(page, "stack")


def shapes(page: Page) -> None:
    open_design(page, "Hull decal")
    choose(page, 3).get_by_role("button", name="All shapes and ornaments").click()
    page.get_by_role("button", name="laurel").scroll_into_view_if_needed()
    take(page, "shapes")


def export(page: Page) -> None:
    open_design(page, "Coach's gift")
    page.get_by_role("button", name="Export cut files").click()
    take(page, "export")


def sheets(page: Page) -> None:
    """Four shirts' lettering in the order it is cut."""
    open_design(page, "Weekend shirt")
    page.get_by_role("link", name="Sheets", exact=True).click()
    page.get_by_role("radio", name="Cut order").wait_for()
    page.get_by_role("button", name="Lettering").click()
    page.get_by_role("radio", name="Cut order").click()
    slider = page.get_by_role("slider", name="Outlines cut so far")
    slider.press("Home")
    for _ in range(12):
        slider.press("ArrowRight")
    take(page, "sheets")


def cut(page: Page) -> None:
    """A sheet cut with a knife that trails and is not led: where corners are missed."""
    page.get_by_role("link", name="Cut", exact=True).click()
    page.get_by_role("button", name="Lettering").click()
    knife = page.get_by_role("button", name="Knife in the cutter:")
    knife.click()
    page.get_by_role("textbox", name="Knife in the cutter").fill("0.5")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Send this sheet to the cutter").click()
    page.get_by_text("Not as designed").first.wait_for(timeout=90_000)
    page.get_by_role("button", name="Close").click()
    take(page, "cut")


def press(page: Page) -> None:
    page.get_by_role("link", name="Press plan").click()
    page.get_by_text("26 s of heat").wait_for()
    take(page, "press")


def main(address: str) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=BROWSER, args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_role("button", name="Open the demo shop").click()
        for view in (
            shelf,
            bench,
            cut_lines,
            fonts,
            words,
            letter,
            placing,
            warp,
            round_a_circle,
            stencil,
            stack,
            shapes,
            export,
            sheets,
            cut,
            press,
            point,
            starts,
        ):
            view(page)
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8010")
