"""Take the screenshots the README shows, from a demo shop made for the purpose.

Run bin/start with an empty state, so that the demo is as it ships, then this:
    PERIGRAM_STATE=/tmp/shots PERIGRAM_PORT=8010 PERIGRAM_DB_PORT=3320 bin/start
    .venv/bin/python docs/screenshots/make.py http://127.0.0.1:8010
"""

from __future__ import annotations

import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

HERE = Path(__file__).parent
ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-sync"]


def take(page: Page, name: str) -> None:
    page.wait_for_timeout(700)
    page.screenshot(path=HERE / f"{name}.png")


def main(address: str) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_role("button", name="Open the demo shop").click()
        page.get_by_role("heading", name="Shelf").wait_for()
        take(page, "shelf")
        page.get_by_role("link", name="Open Weekend shirt").click()
        page.get_by_text("none crossing").wait_for()
        page.get_by_text("Knock ").click()
        take(page, "bench")
        page.get_by_role("radio", name="Cut lines").click()
        page.get_by_role("switch", name="Nodes").click()
        page.locator("path[data-line=l2]").dispatch_event("pointerdown", {"button": 0})
        page.locator("path[data-line=l2]").dispatch_event("pointerup", {"button": 0})
        page.get_by_role("button", name="Show the chosen line").click()
        for _ in range(5):
            page.get_by_role("button", name="Larger").click()
        take(page, "cut-lines")
        page.get_by_role("radio", name="Finished").click()
        page.get_by_role("button", name="Show everything").click()
        page.get_by_role("button", name="Font: Anton").click()
        page.get_by_text("Bungee ·").wait_for()
        take(page, "fonts")
        page.keyboard.press("Escape")
        page.get_by_role("link", name="Perigram").click()
        page.get_by_role("link", name="Open Coach's gift").click()
        page.get_by_text("none crossing").wait_for()
        page.get_by_role("button", name="Export cut files").click()
        take(page, "export")
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8010")
