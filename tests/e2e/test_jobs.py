"""Ten jobs by hand from an empty shelf, each within so many actions: clicks, drags, entries and keys."""

from __future__ import annotations

import re
import zipfile
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from playwright.sync_api import Locator, expect

from perigram.cutter.machine import Machine
from perigram.studio.demo import furnish

from ..foreign import judge
from .conftest import Bench
from .test_bench import drag, inside, middle

KITE = """<svg xmlns="http://www.w3.org/2000/svg" width="900mm" height="1200mm" viewBox="0 0 90 120">
<title>Kite</title><path d="M45 5 L80 50 L45 115 L10 50 Z"/></svg>"""


class Hand:
    """Does what a person does, and counts it. Typing a word and sending it off by Enter is one action."""

    def __init__(self, bench: Bench) -> None:
        self.bench, self.page, self.count = bench, bench.page, 0

    def click(self, at: Locator) -> None:
        at.click()
        self.count += 1

    def type(self, text: str, enter: bool = False) -> None:
        self.page.keyboard.type(text)
        if enter:
            self.page.keyboard.press("Enter")
        self.count += 1

    def key(self, name: str) -> None:
        self.page.keyboard.press(name)
        self.count += 1

    def drag(self, start: tuple[float, float], by: tuple[float, float]) -> None:
        drag(self.page, start, by)
        self.count += 1

    def new(self) -> None:
        self.click(self.page.get_by_role("button", name="New design"))
        expect(self.page.get_by_text("Start with words")).to_be_visible()

    def start(self, name: str, word: str) -> None:
        """A whole recipe, its words typed over."""
        self.new()
        self.click(self.page.get_by_role("region", name="Starts").get_by_role("button", name=name))
        expect(self.page.get_by_role("textbox", name="Row 1")).to_be_focused()
        self.type(word, enter=True)
        self.leave()

    def leave(self) -> None:
        self.key("Escape")
        expect(self.page.get_by_role("dialog")).to_have_count(0)

    def words(self, *rows: str) -> None:
        """The first line's words, from an empty bench."""
        self.click(self.page.get_by_role("button", name="Letter some words"))
        self._rows(*rows)

    def more_words(self, word: str) -> None:
        self.line("words", filled=True)
        self._rows(word)

    def _rows(self, *rows: str) -> None:
        for number, row in enumerate(rows, 1):
            if number > 1:
                self.click(self.page.get_by_role("button", name="Add a row"))
            expect(self.page.get_by_role("textbox", name=f"Row {number}")).to_be_focused()
            self.page.keyboard.press("Control+a")
            self.type(row)
        self.leave()

    def line(self, search: str, filled: bool = False) -> None:
        """A line found by what it is called: the key, then what is looked for."""
        lines = self.page.get_by_label("Recipe").locator("ol > li")
        before = 0 if self.page.get_by_text("Start with words").count() else lines.count()
        self.key("/")
        expect(self.page.get_by_label("What should happen?")).to_be_focused()
        self.type(search, enter=True)
        expect(lines).to_have_count(before + 1)
        if not filled:
            expect(self.page.get_by_label("What should happen?")).to_have_count(0)

    def value(self, number: int, label: str, text: str) -> None:
        """A figure in a sentence: a click and what it is to be."""
        self.click(self.bench.line(number).get_by_role("button", name=re.compile(f"^{label}:")))
        box = self.page.get_by_role("textbox", name=label)
        box.press("Control+a")
        self.type(text, enter=True)
        expect(box).to_have_count(0)

    def choose(self, number: int, label: str, choice: str) -> None:
        self.click(self.bench.line(number).get_by_role("combobox", name=label))
        self.click(self.page.get_by_role("option", name=choice, exact=True))

    def export(self) -> dict[str, Any]:
        """The cut files, read back by a reader of its own: by ply, what is cut."""
        self.bench.settled()
        self.click(self.page.get_by_role("button", name="Export cut files"))
        with self.page.expect_download() as download:
            self.click(self.page.get_by_role("button", name="Download the zip"))
        with zipfile.ZipFile(Path(download.value.path())) as files:
            made = {
                name: judge.solid(judge.ply_rings(files.read(name)))
                for name in files.namelist()
                if "all plies" not in name
            }
        self.page.keyboard.press("Escape")
        assert all(one.is_valid and not one.is_empty for one in made.values())
        return made

    def within(self, aim: int) -> None:
        assert not self.bench.failures
        print(f"{self.count} actions, {aim} at most")
        assert self.count <= aim, f"{self.count} actions, {aim} at most"


@pytest.fixture
def hand(bench: Bench) -> Hand:
    """A shop as a new account has it."""
    furnish(get_user_model().objects.get(username="wren"))
    return Hand(bench)


def with_picture(hand: Hand, number: int, path: Path) -> None:
    with hand.page.expect_file_chooser() as chooser:
        hand.click(hand.page.get_by_role("button", name="Bring in an SVG"))
    chooser.value.set_files(path)
    expect(hand.bench.line(number)).to_contain_text("Kite")


@pytest.fixture
def kite(tmp_path: Path) -> Path:
    path = tmp_path / "Kite.svg"
    path.write_text(KITE)
    return path


def test_two_rows_and_a_picture_butt_fit_mirrored_and_pressed(hand: Hand, kite: Path) -> None:
    hand.new()
    hand.words("HARBOUR", "WEEKEND")
    hand.line("picture", filled=True)
    with_picture(hand, 2, kite)
    hand.line("knock")
    hand.click(hand.bench.line(3).get_by_role("button", name="Butt fit"))
    made = hand.export()
    hand.click(hand.page.get_by_role("link", name="Press plan"))
    expect(hand.page.get_by_role("main")).to_contain_text("Kite")
    assert len(made) == 2
    assert all("mirrored" in name for name in made)
    one, other = made.values()
    assert one.intersection(other).area < 0.05 < one.buffer(0.05).intersection(other).area
    hand.within(16)


def test_a_word_let_into_a_shape_and_its_halves_moved(hand: Hand) -> None:
    hand.new()
    hand.words("CREW")
    hand.line("oval")
    hand.value(2, "Width", "160")
    hand.value(2, "Height", "160")
    hand.line("let in")
    expect(hand.bench.line(3)).to_contain_text("Let CREW into Oval")
    hand.choose(3, "How they meet", "clear of it")
    hand.line("move")
    expect(hand.page.locator("[data-piece]")).to_have_count(2)
    hand.drag(inside(hand.page, "[data-piece='0']"), (0, -30))
    made = hand.export()
    assert len(made) == 2
    hand.within(20)


def test_an_oval_stencil_with_a_frame_onto_the_stick(hand: Hand, cutter: Machine) -> None:
    hand.start("Stencil", "NORTH")
    hand.choose(3, "Shape", "an oval")
    hand.line("ring")
    hand.click(hand.page.get_by_role("link", name="Sheets"))
    hand.click(hand.page.get_by_role("button", name=re.compile("^A vinyl cutter")))
    hand.click(hand.page.get_by_role("link", name="Cut"))
    hand.click(hand.page.get_by_role("button", name="Write all to the memory stick"))
    expect(hand.page.get_by_text(re.compile("on the (memory )?stick")).first).to_be_visible()
    hand.within(22)


def test_a_sign_of_three_rows_with_mirrored_ornaments_on_one_vinyl(hand: Hand) -> None:
    hand.new()
    hand.words("THE", "BOATHOUSE", "CAFE")
    hand.line("swirl")
    hand.drag(middle(hand.page, "[data-line=l2]"), (-250, 0))
    hand.line("mirror")
    plies = hand.page.get_by_label("Plies")
    hand.click(plies.get_by_role("button", name=re.compile("^Move Swirl")))
    hand.click(hand.page.get_by_role("menuitem", name=re.compile("^Cut it from THE")))
    hand.click(plies.get_by_role("button", name=re.compile("^Material and pieces of THE")))
    hand.click(hand.page.get_by_role("radio", name=re.compile("Slate matt")))
    hand.leave()
    made = hand.export()
    assert len(made) == 1
    (sign,) = made.values()
    x0, _, x1, _ = sign.bounds
    assert x1 - x0 > 250, "an ornament on either side"
    hand.within(40)


def test_a_stack_of_a_mascot_a_script_and_two_backings(hand: Hand, kite: Path) -> None:
    hand.new()
    hand.line("picture", filled=True)
    with_picture(hand, 1, kite)
    hand.more_words("Regatta")
    hand.line("backing")
    hand.line("backing")
    hand.value(4, "Distance", "12")
    made = hand.export()
    assert len(made) == 3 or len(made) == 4
    hand.within(38)


def test_names_out_of_a_tall_word(hand: Hand) -> None:
    hand.start("Names out of a tall word", "CREW")
    hand.click(hand.bench.line(2).get_by_role("button", name=re.compile("^Words:")))
    hand.click(hand.page.get_by_role("textbox", name="Row 1"))
    hand.page.keyboard.press("Control+a")
    hand.type("PIPPA", enter=True)
    hand.leave()
    made = hand.export()
    assert {name.split(" - ")[2] for name in made} == {"CREW", "PIPPA IVO TILDE"}
    hand.within(26)


def test_a_picture_out_of_a_block(hand: Hand, kite: Path) -> None:
    hand.start("Picture out of words", "HARBOUR")
    hand.click(hand.bench.line(2).get_by_role("button", name=re.compile("^Picture:")))
    with_picture(hand, 2, kite)
    hand.leave()
    made = hand.export()
    assert {name.split(" - ")[2] for name in made} == {"HARBOUR", "Kite"}
    hand.within(12)


def test_three_words_by_a_net(hand: Hand) -> None:
    hand.new()
    hand.words("SALT")
    hand.more_words("MARSH")
    hand.more_words("WORKS")
    hand.line("net")
    hand.drag(middle(hand.page, "[data-handle='points.1']"), (0, -40))
    made = hand.export()
    assert len(made) == 1, "one material, one ply"
    hand.within(22)


def test_words_in_waves(hand: Hand) -> None:
    hand.start("Words in waves", "LOW TIDE")
    made = hand.export()
    assert len(made) == 1
    hand.within(12)


def test_a_clear_gap_and_a_band(hand: Hand) -> None:
    hand.start("Name with a band", "HARBOUR")
    hand.value(1, "Gap between letters", "2")
    made = hand.export()
    (one,) = made.values()
    assert len(one.geoms) > 14
    hand.within(10)
