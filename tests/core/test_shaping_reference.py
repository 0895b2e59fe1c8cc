"""Shaping and fonts' own figures against HarfBuzz's command line (Debian's hb-shape, another version
than the one we build on) and the tables of the OpenType specification as fontTools reads them.
"""

from __future__ import annotations

import json
import shutil
import subprocess

import pytest
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont

from perigram.core.lettering.fonts import GLYPH_CAP_HEIGHT
from perigram.core.lettering.letters import letters_of
from perigram.library import FONT_FOLDER, open_font

from .material import EVERY, SCRIPT

TEXTS = {
    "kerning": ("archivo-black", "AVATAR To Wave LT"),
    "kerning by classes": ("alfa-slab-one", "TAWNY Yak, Vox"),
    "ligatures": ("anton", "office ﬁ flute affix"),
    "contextual forms": ("pacifico", "tide fall otter"),
    "ligatures of a script": ("lobster", "off fish butter"),
    "one mark": ("alfa-slab-one", "x\u0301 e\u0301 A\u030a"),
    "marks on marks": ("bebas-neue", "a\u0302\u0301 o\u0308\u0304"),
    "right to left": ("rubik-mono-one", "שלום עולם"),
    "right to left with marks": ("fredoka", "שָׁלוֹם"),
    "both directions": ("fredoka", "12 שלום"),
    "reordering": ("shrikhand", "કિ શ્રી"),
    "conjuncts": ("baloo-2", "नमस्ते क्षत्रिय"),
}


def hb_shape(font: str, text: str, *options: str) -> list[dict[str, int]]:
    program = shutil.which("hb-shape")
    assert program, "bin/test installs Debian's libharfbuzz-bin"
    path = FONT_FOLDER / font / "font.ttf"
    out = subprocess.run(
        [program, "--output-format=json", "--no-glyph-names", *options, str(path), text],
        capture_output=True,
        check=True,
    ).stdout
    shaped: list[dict[str, int]] = json.loads(out)
    return shaped


@pytest.mark.parametrize("what", TEXTS)
def test_glyphs_and_advances_are_harfbuzz_own(what: str) -> None:
    font, text = TEXTS[what]
    ours, theirs = open_font(font), hb_shape(font, text)
    scale = GLYPH_CAP_HEIGHT / ours.cap_height
    shaped = ours.shape(text)
    assert [(g.index, g.cluster) for g in shaped] == [(g["g"], g["cl"]) for g in theirs]
    pen = 0
    for mine, other in zip(shaped, theirs, strict=True):
        assert mine.advance == pytest.approx(other["ax"] * scale, abs=1e-9)
        assert mine.x == pytest.approx((pen + other["dx"]) * scale, abs=1e-9)
        assert mine.y == pytest.approx(-other["dy"] * scale, abs=1e-9)
        pen += other["ax"]


@pytest.mark.parametrize(
    ("font", "text", "tag"), [("bungee", "REGATTA", "ss01"), ("pacifico", "otter", "salt")]
)
def test_features_for_all_and_for_one_letter(font: str, text: str, tag: str) -> None:
    ours = open_font(font)
    every = hb_shape(font, text, f"--features={tag}")
    assert [g.index for g in ours.shape(text, {tag: True})] == [g["g"] for g in every]
    one = hb_shape(font, text, f"--features={tag}[2:3]")
    assert [g.index for g in ours.shape(text, {tag: [(2, 3, 1)]})] == [g["g"] for g in one]
    assert one != every


@pytest.mark.parametrize("what", TEXTS)
def test_letters_lie_where_their_glyphs_do(what: str) -> None:
    """Each letter's box is that of its cluster's glyphs, drawn by fontTools where hb-shape puts them."""
    font, text = TEXTS[what]
    tables = TTFont(FONT_FOLDER / font / "font.ttf")
    glyphs, scale = tables.getGlyphSet(), GLYPH_CAP_HEIGHT / open_font(font).cap_height
    boxes: dict[int, list[tuple[float, float, float, float]]] = {}
    pen_x = 0
    for glyph in hb_shape(font, text):
        pen = BoundsPen(glyphs)
        glyphs[tables.getGlyphName(glyph["g"])].draw(pen)
        if pen.bounds:
            x, y = pen_x + glyph["dx"], glyph["dy"]
            x0, y0, x1, y1 = pen.bounds
            boxes.setdefault(glyph["cl"], []).append((x0 + x, -(y1 + y), x1 + x, -(y0 + y)))
        pen_x += glyph["ax"]
    ours = {letter.at: letter.outline.box for letter in letters_of(open_font(font), text)}
    assert list(ours) == list(boxes)
    for cluster, found in boxes.items():
        low, high = [min(b[i] for b in found) for i in (0, 1)], [max(b[i] for b in found) for i in (2, 3)]
        assert ours[cluster] == pytest.approx([v * scale for v in (*low, *high)], abs=0.02)


@pytest.mark.parametrize("font", EVERY)
def test_cap_height_and_name_are_the_tables_own(font: str) -> None:
    """OpenType specification: sCapHeight (OS/2) is the height of a flat capital, family is name 16 or 1.

    Fonts often leave a wrong sCapHeight: what counts is the H itself, which the specification says it
    may be set from.
    """
    tables, ours = TTFont(FONT_FOLDER / font / "font.ttf"), open_font(font)
    pen = BoundsPen(tables.getGlyphSet())
    tables.getGlyphSet()[tables.getBestCmap()[ord("H")]].draw(pen)
    assert ours.cap_height == pytest.approx(pen.bounds[3], abs=1)
    declared = getattr(tables["OS/2"], "sCapHeight", 0)
    # A script's capitals are not flat: what is declared for them is the designer's taste.
    if declared and font not in SCRIPT:
        assert ours.cap_height == pytest.approx(declared, rel=0.12)
    name = tables["name"]
    assert ours.family == (name.getDebugName(16) or name.getDebugName(1))
