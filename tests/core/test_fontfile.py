"""Font files brought in: what is told about them against their tables, and what is refused."""

from __future__ import annotations

import struct
from io import BytesIO
from pathlib import Path

import pytest
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont
from hypothesis import given
from hypothesis import strategies as st

from perigram.core.errors import FontError
from perigram.core.geometry.measure import area
from perigram.core.lettering.fontfile import COVERED, MOST_UNPACKED, embedding, read_font_file
from perigram.core.lettering.fonts import GLYPH_CAP_HEIGHT, Font
from perigram.library import FONT_FOLDER

WEB_FONTS = Path(__file__).parents[2] / "web" / "node_modules" / "@fontsource-variable"
VARIABLE = WEB_FONTS / "instrument-sans" / "files" / "instrument-sans-latin-standard-normal.woff2"
SHIPPED = FONT_FOLDER / "lobster" / "font.ttf"


def packed(font: TTFont, flavor: str | None = "woff2") -> bytes:
    font.flavor = flavor
    out = BytesIO()
    font.save(out)
    return out.getvalue()


def test_a_woff2_file_is_the_font_it_was_packed_from() -> None:
    plain = read_font_file(SHIPPED.read_bytes(), "lobster.ttf")
    small = read_font_file(packed(TTFont(SHIPPED)), "lobster.woff2")
    assert (plain.kind, small.kind) == ("TrueType", "WOFF2")
    assert (plain.family, plain.name, plain.characters) == (small.family, small.name, small.characters)
    ours, theirs = Font(plain.data), Font(small.data)
    for a, b in zip(ours.shape("Regatta"), theirs.shape("Regatta"), strict=True):
        assert area(ours.glyph(a.index)) == pytest.approx(area(theirs.glyph(b.index)), rel=1e-9)
    assert "script" in plain.tags


def test_coverage_is_that_of_the_cmap_table() -> None:
    cmap = TTFont(SHIPPED).getBestCmap()
    told = read_font_file(SHIPPED.read_bytes(), "lobster.ttf").coverage
    for name, characters in COVERED.items():
        assert told[name] == (sum(ord(c) in cmap for c in characters), len(characters))
    assert told["capitals"] == (26, 26)


@pytest.mark.parametrize("weight", [400.0, 550.0, 700.0])
def test_a_variable_font_at_a_place_is_that_instance(weight: float) -> None:
    """Against fontTools' instancer, which makes a static font of the same place."""
    read = read_font_file(VARIABLE.read_bytes(), "sans.woff2")
    assert {axis.tag: (axis.low, axis.high) for axis in read.axes} == {"wdth": (75, 100), "wght": (400, 700)}
    ours = Font(read.data).at({"wght": weight, "wdth": 80.0})
    static = instantiateVariableFont(TTFont(BytesIO(read.data)), {"wght": weight, "wdth": 80.0})
    theirs = Font(packed(static, None))
    for a, b in zip(ours.shape("Regatta 8"), theirs.shape("Regatta 8"), strict=True):
        # The instancer rounds to whole font units.
        assert a.x == pytest.approx(b.x, abs=9 * GLYPH_CAP_HEIGHT / ours.cap_height)
        assert area(ours.glyph(a.index)) == pytest.approx(area(theirs.glyph(b.index)), rel=0.005)


@pytest.mark.parametrize(
    ("bits", "says"),
    [
        (0x0000, "embedded and installed"),
        (0x0002, "not be embedded without"),
        (0x0004, "viewing and printing"),
        (0x0008, "for editing"),
        (0x0108, "for editing"),
        (0x000C, "for editing"),
        (0x0006, "viewing and printing"),
    ],
)
def test_embedding_is_told_as_the_specification_has_it(bits: int, says: str) -> None:
    """OpenType specification, OS/2 fsType: of several usage bits the least restrictive counts."""
    assert says in embedding(bits)
    font = TTFont(SHIPPED)
    font["OS/2"].fsType = bits
    assert says in read_font_file(packed(font, None), "lobster.ttf").embedding


def blank_font(*, outlines: bool) -> bytes:
    builder = FontBuilder(1000, isTTF=True)
    builder.setupGlyphOrder([".notdef", "A"])
    builder.setupCharacterMap({65: "A"})
    empty = TTGlyphPen(None).glyph()
    builder.setupGlyf({".notdef": empty, "A": empty})
    builder.setupHorizontalMetrics({".notdef": (500, 0), "A": (500, 0)})
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({"familyName": "Blank", "styleName": "Regular"})
    builder.setupOS2()
    builder.setupPost()
    if not outlines:
        del builder.font["glyf"], builder.font["loca"]
    out = BytesIO()
    builder.save(out)
    return out.getvalue()


def test_what_cannot_be_cut_is_refused_with_a_reason() -> None:
    for data, says in (
        (b"<svg/>", "is not a font. TTF, OTF and WOFF2 files work"),
        (b"ttcf" + b"\0" * 40, "several fonts in one"),
        (b"\0" * 13_000_000, "13.0 MB; fonts up to 12 MB"),
        (SHIPPED.read_bytes()[:2000], "cut short"),
        (blank_font(outlines=True), "no letters with outlines"),
        (blank_font(outlines=False), "pictures of letters, not outlines"),
    ):
        with pytest.raises(FontError, match=says):
            read_font_file(data, "thing.ttf")


@pytest.mark.parametrize("share", [0.4, 0.6, 0.8, 0.9, 0.999])
def test_a_font_cut_off_is_refused(share: float) -> None:
    data = SHIPPED.read_bytes()
    with pytest.raises(FontError, match=r"cut short|damaged"):
        read_font_file(data[: int(len(data) * share)], "lobster.ttf")


def test_characters_without_ink_are_not_there() -> None:
    font = TTFont(SHIPPED)
    font["glyf"][font.getBestCmap()[ord("B")]] = TTGlyphPen(None).glyph()
    whole, read = (read_font_file(data, "lobster.ttf") for data in (SHIPPED.read_bytes(), packed(font, None)))
    assert read.characters == whole.characters - 1
    assert set(whole.covers) - set(read.covers) == {"B"}
    assert read.coverage["capitals"] == (25, 26)
    assert Font(read.data).missing("A BBC\u00a0") == ["B"]


def test_a_packed_bomb_is_refused_before_it_unpacks() -> None:
    import brotli

    inner = brotli.compress(b"\0" * (MOST_UNPACKED * 4))
    # One table of the known tag "head", then the stream; WOFF2 specification, section 4.
    length = b"\x81\x80\x80\x80\x00"
    body = bytes([1]) + length + inner
    header = struct.pack(
        ">4s4sLHHLLHHLLLLL", b"wOF2", b"\0\1\0\0", 48 + len(body), 1, 0, 100, len(inner), 1, 0, 0, 0, 0, 0, 0
    )
    with pytest.raises(FontError, match="larger than 15 MB"):
        read_font_file(header + body, "bomb.woff2")


@given(st.integers(0, 60_000), st.binary(min_size=1, max_size=400))
def test_a_damaged_font_is_refused_or_used_but_never_crashes(at: int, damage: bytes) -> None:
    data = bytearray(SHIPPED.read_bytes())
    data[at : at + len(damage)] = damage
    try:
        said = str(read_font_file(bytes(data), "lobster.ttf").characters)
    except FontError as error:
        said = str(error)
    assert said.isdigit() or said.startswith("lobster.ttf ")
