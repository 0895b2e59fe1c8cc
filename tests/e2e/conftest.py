"""A browser, a server with a database of its own, and a way in."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from pathlib import Path
from runpy import run_path
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from playwright.sync_api import Page, expect

from perigram.config import settings as config
from perigram.cutter.machine import Machine
from tests.cutting import running

# A machine that has just set everything up answers its first page slowly; no test is about that.
expect.set_options(timeout=30_000)

CHROMIUM = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {"executable_path": "/usr/bin/chromium-headless-shell", "args": CHROMIUM}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, Any]:
    return {"viewport": {"width": 1280, "height": 800}, "accept_downloads": True}


@pytest.fixture
def bench(page: Page, live_server: Any, transactional_db: None) -> Bench:
    """A new user, signed in, on an empty shelf."""
    get_user_model().objects.create_user("wren", password="salt-and-reed-7")
    page.set_default_timeout(30_000)
    failures: list[str] = []
    page.on("pageerror", lambda error: failures.append(str(error)))
    page.goto(live_server.url)
    page.get_by_label("Name").fill("wren")
    page.get_by_label("Password").fill("salt-and-reed-7")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", name="Shelf")).to_be_visible()
    return Bench(page, failures)


class Bench:
    """The bench as a person uses it: by what it says, not by how it is built."""

    def __init__(self, page: Page, failures: list[str]) -> None:
        self.page = page
        self.failures = failures

    def new_design(self) -> None:
        self.page.get_by_role("button", name="New design").click()
        expect(self.page.get_by_text("Start with words")).to_be_visible()

    def add_line(self, search: str, name: str) -> None:
        expect(self.page.get_by_role("dialog")).to_have_count(0)
        self.page.keyboard.press("/")
        words, options = self.page.get_by_label("What should happen?"), self.page.get_by_role("option")
        expect(options.first).to_be_visible()
        every = options.count()
        words.fill(search)
        # A click while the list still gives way would hit whatever comes to lie there.
        expect(options).not_to_have_count(every)
        self.page.get_by_role("option", name=name).click()

    def line(self, number: int) -> Any:
        return self.page.get_by_label("Recipe").locator("ol > li").nth(number - 1)

    def set_length(self, number: int, label: str, text: str) -> None:
        self.line(number).get_by_role("button", name=re.compile(f"^{re.escape(label)}:")).click()
        box = self.page.get_by_role("textbox", name=label)
        box.fill(text)
        box.press("Enter")
        expect(box).to_have_count(0)

    def choose(self, number: int, label: str, choice: str) -> None:
        self.line(number).get_by_role("combobox", name=label).click()
        self.page.get_by_role("option", name=choice).click()

    def bring_in(self, number: int, path: Path) -> None:
        # A new line asks for its picture by itself.
        expect(self.line(number).get_by_role("button", name="Picture: choose")).to_be_visible()
        with self.page.expect_file_chooser() as chooser:
            self.page.get_by_role("button", name="Bring in an SVG").click()
        chooser.value.set_files(path)

    def settled(self) -> None:
        """Saved, and nothing being worked out."""
        # As a list: for a moment there may be two, the other saying that the proof is old.
        expect(self.page.get_by_role("banner").get_by_role("status")).to_have_text(["saved"])
        expect(self.page.get_by_text("Working it out…")).to_have_count(0)

    def cut_files(self, *formats: str) -> Path:
        page = self.page
        page.get_by_role("button", name="Export cut files").click()
        for name in formats:
            box = page.get_by_role("dialog").get_by_role("checkbox", name=name)
            if box.get_attribute("aria-checked") != "true":
                box.click()
        with page.expect_download() as download:
            page.get_by_role("button", name="Download the zip").click()
        page.keyboard.press("Escape")
        return Path(download.value.path())


Waiting = Callable[[Callable[[], bool]], None]


@pytest.fixture
def wait_until(page: Page) -> Waiting:
    def wait(condition: Callable[[], bool]) -> None:
        for _ in range(150):
            if condition():
                return
            page.wait_for_timeout(100)
        raise AssertionError("waited 15 s in vain")

    return wait


@pytest.fixture
def cutter(settings: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Machine]:
    """The simulated cutter beside the server, in a hurry; its stick is set as bin/start sets it."""
    monkeypatch.setenv("PERIGRAM_STICK", str(tmp_path / "stick"))
    settings.STICK = run_path(config.__file__)["STICK"]
    machine = Machine(610.0, 3000.0, 40.0, 120.0, settings.STICK)
    with running(machine) as settings.CUTTER_PORT:
        yield machine
