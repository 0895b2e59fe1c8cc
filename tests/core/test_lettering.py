"""Lettering against the fonts' own tables and against independent distances."""

from __future__ import annotations

from itertools import combinations, pairwise

import numpy as np
import pytest
import shapely
from fontTools.pens.areaPen import AreaPen
from fontTools.ttLib import TTFont
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from perigram.core.errors import FontError, GeometryError
from perigram.core.geometry.measure import area, bounds
from perigram.core.geometry.overlay import weld
from perigram.core.lettering.fonts import GLYPH_CAP_HEIGHT, Font
from perigram.core.lettering.letters import letters_of
from perigram.core.lettering.rows import Lead, Setting, set_letters, stack
from perigram.core.lettering.spacing import DEEPEST
from perigram.library import FONT_FOLDER, font_catalogue, open_font

from .material import EVERY, HEAVY, SCRIPT, assert_keeps_its_promises, fine, row, set_row

PANGRAM = "Sphinx of black quartz judge my vow"


def tables(font: str) -> TTFont:
    return TTFont(FONT_FOLDER / font / "font.ttf")


@pytest.mark.parametrize("font", EVERY)
def test_advances_are_those_of_the_hmtx_table(font: str) -> None:
    """Unkerned advances (OpenType specification, hmtx) of every letter, read by fontTools."""
    ours, theirs = open_font(font), tables(font)
    cmap, metrics = theirs.getBestCmap(), theirs["hmtx"]
    text = "Hamburg7&"
    shaped = ours.shape(text, {"kern": False, "liga": False, "calt": False, "clig": False, "curs": False})
    scale = GLYPH_CAP_HEIGHT / ours.cap_height
    for glyph in shaped:
        name = theirs.getGlyphName(glyph.index)
        assert glyph.advance == pytest.approx(metrics[name][0] * scale, abs=1e-9)
    if len(shaped) == len(text) and "GSUB" not in theirs:
        assert [theirs.getGlyphName(g.index) for g in shaped] == [cmap[ord(c)] for c in text]


def test_kerning_is_applied() -> None:
    kerned = open_font("archivo-black").shape("AVAV")
    plain = open_font("archivo-black").shape("AVAV", {"kern": False})
    assert kerned[-1].x < plain[-1].x - 1


@pytest.mark.parametrize("font", [f for f in EVERY if f != "baloo-2"])
def test_glyph_areas_are_the_fonts_own(font: str) -> None:
    """Capitals drawn without overlaps (Baloo's are not) have the area fontTools' AreaPen finds."""
    ours, theirs = open_font(font), tables(font)
    glyphs, scale = theirs.getGlyphSet(), GLYPH_CAP_HEIGHT / ours.cap_height
    for letter in "LIV":
        pen = AreaPen(glyphs)
        glyphs[theirs.getBestCmap()[ord(letter)]].draw(pen)
        glyph = ours.glyph(ours.shape(letter, {"calt": False})[0].index)
        assert_keeps_its_promises(glyph)
        overlap = 0.02 if font in SCRIPT or font == "fredoka" else 1e-4
        assert area(glyph) == pytest.approx(abs(pen.value) * scale**2, rel=overlap)


@pytest.mark.parametrize("font", EVERY)
def test_neighbours_are_as_far_apart_as_asked(font: str) -> None:
    """Every neighbouring pair within 0.01 mm, by distances between finely flattened letters."""
    for text in (PANGRAM.replace(" ", ""), PANGRAM.upper().replace(" ", "")):
        for gap in (0.3, 2.0):
            bodies = [fine(r) for r in set_row(font, text, 12.0, "tall", "clear", gap).bodies]
            apart = [a.distance(b) for a, b in pairwise(bodies)]
            assert min(apart) > gap - 0.01
            # Only where a letter is held off by the one before its neighbour, or would run past its
            # neighbour altogether (a long swash under another), may a gap be wider.
            second = [a.distance(b) for a, b in zip(bodies, bodies[2:], strict=False)]
            for i, distance in enumerate(apart):
                a, b = bodies[i].bounds, bodies[i + 1].bounds
                deep = a[2] - b[0] > 0.99 * DEEPEST * min(a[2] - a[0], b[2] - b[0])
                assert distance < gap + 0.01 or deep or (i > 0 and second[i - 1] < gap + 0.01)


@settings(max_examples=150, deadline=None)
@given(
    font=st.sampled_from(EVERY),
    text=st.text("ABCDEFGHIJKLMNOPRSTVWYabcdefghijklmnoprstvwy .,’-&!“éÄ", min_size=3, max_size=9),
    gap=st.sampled_from([0.3, 1.0, 3.0]),
)
def test_no_two_letters_come_nearer_than_asked(font: str, text: str, gap: float) -> None:
    """However far apart in the row they stand: a swash may reach over several. Joined letters excepted."""
    opened = open_font(font)
    letters = letters_of(opened, "".join(c for c in text if c not in opened.missing(text)))
    assume(len(letters) > 1)
    bodies = [
        fine(body) for body in set_letters(letters, Setting(12.0, "tall", "clear", gap, opened.joins)).bodies
    ]
    as_set = [letter.outline.polygon for letter in letters]
    word = np.cumsum([0, *(not a.intersects(b) for a, b in pairwise(as_set))])
    for i, j in combinations(range(len(bodies)), 2):
        if word[i] != word[j]:
            assert bodies[i].distance(bodies[j]) > gap - 0.01, (letters[i].text, letters[j].text)


@pytest.mark.parametrize("font", [*HEAVY[:4], *SCRIPT[:3]])
@pytest.mark.parametrize(("spacing", "gap"), [("clear", 0.8), ("font", 0.0), ("clear", 0.0)])
def test_rows_fill_the_width_asked(font: str, spacing: str, gap: float) -> None:
    for width in (20.0, 254.0, 1200.0):
        box = bounds(row(font, "WEEKEND", width, "wide", spacing, gap))  # type: ignore[arg-type]
        assert box
        assert box[2] - box[0] == pytest.approx(width, abs=0.001)


def test_rows_by_height_have_that_cap_height() -> None:
    for font in EVERY:
        box = bounds(row(font, "H", 40.0, "tall"))
        assert box
        assert box[3] - box[1] == pytest.approx(40.0, rel=0.25 if font in SCRIPT else 0.03)


def test_rows_stand_their_gap_apart() -> None:
    rows = [set_row("anton", text, 200, "wide", "clear", 1) for text in ("TIDE", "OARS", "WHERRY")]
    for gap in (0.5, 7.0):
        places = stack(rows, [Lead(gap)] * 3, "centre")
        bodies = [b.translated(*at) for one, at in zip(rows, places, strict=True) for b in one.bodies]
        block = fine(weld(bodies))
        parts = sorted(shapely.get_parts(block), key=lambda p: p.centroid.y)
        upper, middle, lower = (shapely.union_all(parts[a:b]) for a, b in ((0, 4), (4, 8), (8, 14)))
        assert upper.distance(middle) == pytest.approx(gap, abs=0.01)
        assert middle.distance(lower) == pytest.approx(gap, abs=0.01)


def test_overlapping_script_letters_are_welded() -> None:
    word = row("pacifico", "mill", 100)
    assert_keeps_its_promises(word)
    assert word.piece_count == 2, "joined letters are one piece, the dot another"


def test_gaps_wider_than_the_row_are_refused() -> None:
    with pytest.raises(GeometryError, match="wider row or a smaller gap"):
        set_row("anton", "REGATTA", 5, "wide", "clear", 3)


def test_what_is_not_a_font_is_refused() -> None:
    with pytest.raises(FontError, match="not a font"):
        Font(b"not a font at all")


def test_every_shipped_font_has_its_licence_and_our_alphabet() -> None:
    for entry in font_catalogue():
        assert "SIL OPEN FONT LICENSE" in (FONT_FOLDER / entry.id / "OFL.txt").read_text().upper()
        assert open_font(entry.id).missing("ABCXYZabcxyz0189&!?") == []
        assert entry.tags
    assert np.isfinite(open_font("anton").cap_height)
