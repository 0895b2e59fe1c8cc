"""SVG reading against the examples and rules of the SVG 1.1 and 2 specifications."""

from __future__ import annotations

import gzip

import numpy as np
import pytest
import shapely
import svgelements

from perigram.core.art.encoding import svg_text
from perigram.core.art.svg import read_svg
from perigram.core.errors import PictureError
from perigram.core.geometry.measure import area, bounds

from .material import assert_keeps_its_promises

NS = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
PX = 25.4 / 96


def box_of(body: str, head: str = "") -> tuple[float, float, float, float]:
    region = read_svg(f"<svg {NS} {head}>{body}</svg>").region()
    assert_keeps_its_promises(region)
    found = bounds(region)
    assert found
    return found


@pytest.mark.parametrize(
    ("size", "mm"),
    [
        ("1in", 25.4),
        ("25.4mm", 25.4),
        ("2.54cm", 25.4),
        ("96px", 25.4),
        ("96", 25.4),
        ("72pt", 25.4),
        ("6pc", 25.4),
        ("101.6Q", 25.4),
    ],
)
def test_absolute_units(size: str, mm: float) -> None:
    """CSS Values and Units 4, section 6.2: 1in = 2.54cm = 25.4mm = 101.6Q = 72pt = 6pc = 96px."""
    x0, y0, x1, y1 = box_of(
        '<rect width="10" height="10"/>', f'width="{size}" height="{size}" viewBox="0 0 10 10"'
    )
    assert (x1 - x0, y1 - y0) == (pytest.approx(mm, abs=1e-9), pytest.approx(mm, abs=1e-9))


def test_view_box_and_aspect_ratio() -> None:
    """SVG 2 section 8.2: xMidYMid meet by default, so the smaller scale counts and the rest is centred."""
    box = box_of('<rect width="10" height="10"/>', 'width="40mm" height="20mm" viewBox="0 0 10 10"')
    assert box == pytest.approx((10, 0, 30, 20), abs=1e-9)
    box = box_of('<rect width="10" height="10"/>', 'viewBox="0 0 10 10"')
    assert box == pytest.approx((0, 0, 10 * PX, 10 * PX))


#: Path data of SVG 1.1, section 8.3, with the boxes that follow from the section's own words.
PATHS = {
    "triangle01": ("M 100 100 L 300 100 L 200 300 z", (100, 100, 300, 300), 20_000.0),
    "the same, relative": ("m100,100 200,0 -100 200z", (100, 100, 300, 300), 20_000.0),
    "repeated commands left out": ("M100 100L300 100 200 300Z", (100, 100, 300, 300), 20_000.0),
    "no white space": ("M.5.5 10.5.5V10.5H.5z", (0.5, 0.5, 10.5, 10.5), 100.0),
    "exponents and signs": ("M1e1-1e1h2e1v+20h-20z", (10, -10, 30, 10), 400.0),
    "arcs01, three quarters of a disc": (
        "M300,200 h-150 a150,150 0 1,0 150,-150 z",
        (150, 50, 450, 350),
        150**2 * np.pi * 0.75,
    ),
    "arcs01, the other quarter": (
        "M275,175 v-150 a150,150 0 0,0 -150,150 z",
        (125, 25, 275, 175),
        150**2 * np.pi / 4,
    ),
    "arc flags run together": (
        "M300,200h-150a150,150 0 10150,-150z",
        (150, 50, 450, 350),
        150**2 * np.pi * 0.75,
    ),
    "a radius too small is scaled up": ("M0 0 A 1 1 0 0 1 20 0 Z", (0, -10, 20, 0), 50 * np.pi),
    "quad01 closed": ("M200,300 Q400,50 600,300 T1000,300 Z", (200, 175, 1000, 425), 2 * 2 / 3 * 400 * 125),
    "smooth cubics": ("M0 0 C 0 10 10 10 10 0 S 20 -10 20 0 Z", (0, -7.5, 20, 7.5), None),
}


@pytest.mark.parametrize("name", PATHS)
def test_path_grammar(name: str) -> None:
    data, box, solid = PATHS[name]
    region = read_svg(f'<svg {NS}><path d="{data}"/></svg>').region()
    assert_keeps_its_promises(region)
    assert np.array(bounds(region)) / PX == pytest.approx(np.array(box, float), abs=2e-3 * max(map(abs, box)))
    if solid:
        assert area(region) / PX**2 == pytest.approx(solid, rel=1e-4)


def test_transforms_nest_and_reuse_works() -> None:
    """SVG 1.1 section 7.6, NestedTransforms: translate(50,90), rotate(-45), translate(130,160)."""
    body = '<rect width="1" height="1"/>'
    for transform in ("translate(130,160)", "rotate(-45)", "translate(50,90)"):
        body = f'<g transform="{transform}">{body}</g>'
    x0, y0, x1, y1 = np.array(box_of(body)) / PX
    # The specification prints the origin as 255.03, 111.21 (its own figures give 255.06).
    assert (x0, y1) == (pytest.approx(255.03, abs=0.04), pytest.approx(111.21 + 0.707, abs=0.01))
    assert (x1 - x0, y1 - y0) == (pytest.approx(2**0.5), pytest.approx(2**0.5))
    used = box_of(
        '<defs><circle id="c" r="5"/></defs><use xlink:href="#c" x="20" y="10" transform="scale(2)"/>'
    )
    assert np.array(used) / PX == pytest.approx([30, 10, 50, 30], abs=1e-3)


def test_fill_rules_and_what_is_not_shown() -> None:
    ring = '<path fill-rule="{}" d="M0 0H30V30H0z M10 10H20V20H10z"/>'
    assert area(read_svg(f"<svg {NS}>{ring.format('nonzero')}</svg>").region()) / PX**2 == pytest.approx(900)
    assert area(read_svg(f"<svg {NS}>{ring.format('evenodd')}</svg>").region()) / PX**2 == pytest.approx(800)
    styled = '<g style="fill-rule:evenodd"><path d="M0 0H30V30H0z M10 10H20V20H10z"/></g>'
    assert area(read_svg(f"<svg {NS}>{styled}</svg>").region()) / PX**2 == pytest.approx(800)
    hidden = read_svg(
        f'<svg {NS}><rect width="9" height="9" display="none"/><rect width="3" height="3"/></svg>'
    )
    assert len(hidden.parts) == 1


def test_parts_are_the_separate_closed_shapes_and_can_be_dropped() -> None:
    pair = '<path id="pair" d="M0 0h10v10h-10z M20 0h10v10h-10z"/>'
    rest = '<circle id="dot" cx="50" cy="5" r="5"/><path fill="none" d="M0 0L5 5"/>'
    drawing = read_svg(f"<svg {NS}>{pair}{rest}</svg>")
    assert [part.name for part in drawing.parts] == ["pair", "pair", "dot"]
    assert "1 shape without paint" in drawing.remarks[0]
    assert bounds(drawing.region(frozenset({0, 1}))) == pytest.approx(
        (45 * PX, 0, 55 * PX, 10 * PX), abs=1e-4
    )


#: A rectangle reused ten times, that ten times, and so on: a million rectangles in seven lines.
BOMB = '<rect id="g0" width="1" height="1"/>' + "".join(
    f'<g id="g{i}">' + f'<use href="#g{i - 1}"/>' * 10 + "</g>" for i in range(1, 7)
)

#: A star {401/200}: its lines cross 401 times 199 times.
STAR = " ".join(
    f"{500 * np.cos(a):.3f} {500 * np.sin(a):.3f}" for a in 2 * np.pi * 200 / 401 * np.arange(401)
)
#: Curves as long as the drawing is wide, there and back.
SCRIBBLE = 2000 * "c90 20 -20 90 40 40c-90 -20 20 -90 -40 -40"


@pytest.mark.parametrize(
    ("source", "says"),
    [
        ("", "not an SVG"),
        ("<html/>", "another kind"),
        (f"<svg {NS}/>", "no closed shapes"),
        (f'<svg {NS}><path d="M0 0L1 NaN 3 3z"/></svg>', "broken number: “NaN”"),
        (f'<svg {NS}><rect width="1e400" height="1"/></svg>', "cannot be cut"),
        (f'<svg {NS}><rect width="ten" height="1"/></svg>', "broken width"),
        (f'<!DOCTYPE svg [<!ENTITY a SYSTEM "file:///etc/hosts">]><svg {NS}>&a;</svg>', "outside content"),
        (f'<!DOCTYPE svg [<!ENTITY a "b"><!ENTITY c "&a;&a;">]><svg {NS}>&c;</svg>', "outside content"),
        (f'<!DOCTYPE svg [<!ENTITY % a "b"> %a;]><svg {NS}/>', "outside content"),
        (f'<!DOCTYPE svg [<!ENTITY a "{"b" * 9000}">]><svg {NS}>{"&a;" * 600}</svg>', "repeats its words"),
        (f'<svg {NS}><g id="a"><use href="#a"/></g></svg>', "inside itself"),
        (f"<svg {NS}>{BOMB}</svg>", "20,000"),
        (f"<svg {NS}>{'<g>' * 3000}<rect width='9' height='9'/>{'</g>' * 3000}</svg>", "nested too deeply"),
        (f'<svg {NS}><path d="M0 0{SCRIBBLE}" fill="none" stroke="red"/></svg>', "up to 300,000"),
        (f'<svg {NS}><polygon points="{STAR}" fill="none" stroke="red"/></svg>', "itself about 79,"),
        ("x" * 5_000_001, "5.0 MB"),
    ],
)  # fmt: skip
def test_bad_drawings_say_what_is_wrong(source: str, says: str) -> None:
    with pytest.raises(PictureError, match=says):
        read_svg(source)


def test_words_a_drawing_defines_for_itself_are_read() -> None:
    """As drawing programs write: namespaces by entities, and an encoding that this text no longer has."""
    head = """<?xml version="1.0" encoding="iso-8859-1"?><!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.0//EN"
        "http://www.w3.org/TR/2001/REC-SVG-20010904/DTD/svg10.dtd" [
        <!ENTITY ns_svg "http://www.w3.org/2000/svg"> <!ENTITY four '4'> ]>"""
    drawing = read_svg(f'{head}<svg xmlns="&ns_svg;"><rect id="é" width="&four;0" height="30"/></svg>')
    assert [part.name for part in drawing.parts] == ["é"]
    assert area(drawing.parts[0].region) == pytest.approx(40 * 30 * (25.4 / 96) ** 2)


def test_a_path_that_closes_by_rounding_has_its_corner_there() -> None:
    """A drop of a foreign set ends 7e-15 off its start; against GEOS's buffer of it without that step."""
    data = "M87.5 13.4c-48.7 72-80 117-80 160.7s35.8 79.3 80 79.3s80-35.5 80-79.3s-31.3-88.8-80-160.7Z"
    stroke = 'fill="none" stroke="#000" stroke-width="15" stroke-miterlimit="10"'
    (part,) = read_svg(f'<svg {NS} viewBox="0 -20 175 300"><path d="{data}" {stroke}/></svg>').parts
    outline = svgelements.Path(data)
    places = [outline[1:5][k].point(t) for k in range(4) for t in np.linspace(0, 1, 400, endpoint=False)]
    body = shapely.LinearRing([(p.x, p.y) for p in places]).buffer(
        7.5, 64, join_style="mitre", mitre_limit=10
    )
    assert area(part.region) == pytest.approx(body.area * (25.4 / 96) ** 2, rel=1e-4)


def test_strokes_made_together_are_parts_of_their_own() -> None:
    lines = "".join(f'<path d="M{20 * k + 5} 0v10" stroke="#000" stroke-width="2"/>' for k in range(5))
    parts = read_svg(f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 -5 100 20">{lines}</svg>').parts
    assert len(parts) == 5
    for k, part in enumerate(parts):
        box = np.array(bounds(part.region)) * 96 / 25.4
        assert np.allclose(box, [20 * k + 4, 5, 20 * k + 6, 15], atol=0.01)


_BOX = '<rect x="20" y="20" width="50" height="30" {}/><circle cx="90" cy="90" r="5"/>'
#: What is said of a box, and what says the same plainly.
SAME = {
    "a paint that is none is as if unsaid": ('fill="foo"', ""),
    "so is a rule's, and the attribute holds": ('style="fill:#12" fill="none"', 'fill="none"'),
    "so is a width": ('stroke="#000" stroke-width="foo"', 'stroke="#000"'),
    "or a negative one": ('stroke="#000" stroke-width="-3"', 'stroke="#000"'),
    "or a dash": ('stroke="#000" stroke-dasharray="5 foo"', 'stroke="#000"'),
    "words may be in capitals": ('style="display:NONE"', 'display="none"'),
    "hidden": ('visibility="HIDDEN"', 'visibility="hidden"'),
    "no paint": ('fill="None"', 'fill="none"'),
    "no alpha": ('fill="rgb(0 0 0 / 0)"', 'fill="none"'),
    "a custom property": ('style="--x:none;fill:var(--x)"', 'fill="none"'),
    "one within another": ('style="--y:none;--x:var(--y);fill:var(--x, navy)"', 'fill="none"'),
    "one that is not there, and what stands for it": ('fill="var(--x, none)"', 'fill="none"'),
    "one that goes round": ('style="--x:var(--x);fill:var(--x)"', ""),
    "geometry by rules": ('style="width:10px;height:80px;rx:4px"', 'width="10" height="80" rx="4"'),
    "geometry that is none": ('style="width:max-content;height:var(--x);rx:calc(1px);x:inherit"', ""),
    "an origin": (
        'transform="rotate(30)" transform-origin="45 45"',
        'transform="rotate(30 45 45)"',
    ),
    "no origin": ('transform="rotate(3)" transform-origin=" " fill=""', 'transform="rotate(3)"'),
    "an origin in words": (
        'transform="rotate(30)" style="transform-origin:bottom left"',
        'transform="rotate(30 0 100)"',
    ),
    "an origin in one's own box": (
        'transform="scale(.5)" style="transform-origin:center;transform-box:fill-box"',
        'transform="translate(45 35) scale(.5) translate(-45 -35)"',
    ),
}


@pytest.mark.parametrize("name", SAME)
def test_properties_mean_what_css_says(name: str) -> None:
    """CSS Syntax 3, section 2.2 (invalid declarations), CSS Custom Properties 1, Transforms 1, section 6."""
    said, plain = SAME[name]
    twice = ("width", "height")
    plain_box = _BOX.format(plain)
    if any(f'{word}="' in plain for word in twice):
        plain_box = plain_box.replace('width="50" height="30" ', "")
    one, other = (
        read_svg(f'<svg {NS} width="100" height="100">{body}</svg>').region(light="kept").multipolygon
        for body in (_BOX.format(said), plain_box)
    )
    assert shapely.area(shapely.symmetric_difference(one, other)) < 1e-6


#: Colours, and how light they look: 119 of 255 is what L* = 50 comes to, by CSS Color 4's own sample code.
LIGHT = {
    "rgb(10% 20% 30% / 50%)": 1.0 - 0.5 * (1.0 - (0.299 * 0.1 + 0.587 * 0.2 + 0.114 * 0.3)),
    "hwb(120 0% 60%)": 0.587 * 102 / 255,
    "color(srgb 0 0.2 0)": 0.587 * 0.2,
    "lab(50 40 20)": 119 / 255,
    "lch(50 30 200)": 119 / 255,
    "oklch(1 0 0)": 1.0,
    "RebeccaPurple": (0.299 * 102 + 0.587 * 51 + 0.114 * 153) / 255,
    "foo": 0.0,
}


@pytest.mark.parametrize("colour", LIGHT)
def test_colours_look_as_light_as_they_are(colour: str) -> None:
    (part,) = read_svg(f'<svg {NS}><rect width="9" height="9" fill="{colour}"/></svg>').parts
    assert part.paint.shade == pytest.approx(LIGHT[colour], abs=0.003)


_MARK = "\u00e9\u2013"
ENCODED = {
    "utf-8": '<?xml version="1.0"?>',
    "utf-8-sig": "",
    "utf-16": '<?xml version="1.0" encoding="UTF-16"?>',
    "cp1252": "<?xml version='1.0' encoding='windows-1252' standalone='no' ?>",
}


@pytest.mark.parametrize("codec", ENCODED)
@pytest.mark.parametrize("packed", [False, True])
def test_files_are_read_in_the_encoding_they_say(codec: str, packed: bool) -> None:
    """XML 1.0, appendix F; compressed by Python's gzip."""
    source = f'{ENCODED[codec]}<svg {NS}><path id="{_MARK}" d="M0 0h9v9z"/></svg>'
    data = source.encode(codec)
    text = svg_text(gzip.compress(data) if packed else data, 10_000)
    assert [part.name for part in read_svg(text).parts] == [_MARK]


@pytest.mark.parametrize("name", ["utf-16", "us-ascii", "iso-8859-1", "x-user-defined"])
def test_what_is_utf_8_is_read_whatever_it_says(name: str) -> None:
    """Programs write the name of the encoding a text was in before it was saved."""
    source = f'<?xml version="1.0" encoding="{name}"?><svg {NS}><path id="{_MARK}" d="M0 0h9v9z"/></svg>'
    assert [part.name for part in read_svg(svg_text(source.encode(), 10_000)).parts] == [_MARK]


def test_what_is_no_text_is_refused_and_no_more_is_unpacked_than_may_be() -> None:
    for data in (b"\x89PNG\r\n\x1a\n\xff\xfe", gzip.compress(b"<svg/>")[:12] + b"damaged"):
        with pytest.raises(PictureError):
            svg_text(data, 10_000)
    assert len(svg_text(gzip.compress(b" " * 50_000_000), 10_000)) == 10_001
    # Names of codecs that are no encodings of text are not looked up.
    assert svg_text(b"<?xml version='1.0' encoding='unicode_escape'?>\\x41", 99).endswith("\\x41")


@pytest.mark.parametrize(
    "around",
    [
        'mask="url(#m)"',
        'clip-path="url(#c)"',
        'transform="rotate(1)" style="transform-box:fill-box;transform-origin:center"',
    ],
)
def test_boxes_within_boxes_are_each_found_once(around: str) -> None:
    """Were each looked for again for the one around it, forty of them would take years."""
    body = f"<g {around}>" * 40 + '<path d="M10 10h50v60z"/>' + "</g>" * 40
    drawing = read_svg(
        f'<svg {NS} width="100" height="100"><mask id="m"><rect width="100" height="100" fill="#fff"/></mask>'
        '<clipPath id="c" clipPathUnits="objectBoundingBox"><rect width="1" height="1"/></clipPath>'
        f"{body}</svg>"
    )
    assert area(drawing.region()) == pytest.approx(50 * 60 / 2 * PX**2, rel=1e-3)
