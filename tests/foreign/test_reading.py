"""Drawings read against an independent renderer: what is painted is what is cut.

The renderer is resvg, as resvg-py packs it; drawings come from the sets named in README.md, and crafted ones
after what SVG 2 says of painting, clipping, structure and styling.
"""

from __future__ import annotations

import random

import pytest

from perigram.core.art.paint import MM_PER_PX
from perigram.core.art.svg import read_svg
from perigram.core.errors import PictureError
from perigram.core.formats.svg import path_data
from perigram.core.geometry.measure import area

from .drawn import document
from .rendering import lightness, off, rendered
from .sets import SETS, drawings

NS = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
#: Share of ink that may be seen elsewhere than it is cut; what fades out has no edge to be judged by.
INK = 0.01


def _ink_off(source: str) -> float:
    drawing = read_svg(source)
    return off(source, drawing, path_data(drawing.region(light="kept")))


@pytest.mark.parametrize("name", [one for one in SETS if one != "map"])
def test_sets_are_cut_as_they_are_seen(name: str) -> None:
    chosen = random.Random(name).sample(list(drawings(name)), 12)
    looked = 0
    for icon in chosen:
        source = drawings(name)[icon]
        if "fades out" in " ".join(read_svg(source).notes):
            continue
        looked += 1
        assert _ink_off(source) < INK, icon
    assert looked > 5


def test_a_map_of_the_world_is_cut_as_it_is_seen() -> None:
    assert _ink_off(drawings("map")["world"]) < INK


CRAFTED = {
    "dash": '<path d="M10 50H90" stroke="black" stroke-width="6" stroke-dasharray="10 4"/>',
    "dashcap": (
        '<path d="M10 50 C 30 0 70 100 90 50" fill="none" stroke="black" stroke-width="6" stroke-linecap'
        '="round" stroke-dasharray="0 10"/>'
    ),
    "dashes before the path": (
        '<g fill="none" stroke="#000" stroke-width="9" stroke-linecap="round" stroke-dasharray="70 70"><path '
        'd="M20 70h60" stroke-dashoffset="70"/><path d="M20 40h60v20z" stroke-dashoffset="50"/><path '
        'd="M50 20h0.01" stroke-dasharray="4" stroke-dashoffset="4"/></g>'
    ),
    "a dot alone": '<path d="M50 50h.01" stroke="#000" stroke-width="20" stroke-linecap="round"/>',
    "broken paths": (
        '<path d="M10 10h30v30#h-60z"/><path d="M60 10h25v30a25,25 0 6 0 10 40z"/>'
        '<path d="M10 60h20v20h-20q5 5"/>'
        '<path d="M50 60h30l0 20 -10 10 -9z"/><path d="M85 60l9 9-9 9" stroke="#000" stroke-width="4"/>'
    ),
    "dashoff": (
        '<circle cx="50" cy="50" r="30" fill="none" stroke="red" stroke-width="5" stroke-dasharray="12 5'
        ' 3" stroke-dashoffset="7"/>'
    ),
    "css": (
        "<style>.a{fill:none} #b{fill:red!important} g > rect{fill:blue} rect{opacity:1}</style><rect cl"
        'ass="a" width="90" height="90"/><g><rect id="b" x="10" y="10" width="30" height="30"/></g>'
    ),
    "cssimp": (
        '<style>.h{display:none !important}</style><rect class="h" style="display:inline" width="90" hei'
        'ght="90"/><circle cx="50" cy="50" r="20"/>'
    ),
    "sym": (
        '<symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="8"/></symbol><use href="#s" x="20" '
        'y="30" width="40" height="20"/>'
    ),
    "symslice": (
        '<symbol id="s" viewBox="0 0 10 10" preserveAspectRatio="xMinYMax slice"><path d="M0 0h10v10z"/>'
        '</symbol><use xlink:href="#s" x="20" y="30" width="40" height="20"/>'
    ),
    "switch": (
        '<switch><g systemLanguage="xx"><rect width="90" height="90"/></g><g requiredExtensions="http://'
        'e.x/"><rect width="50" height="90"/></g><circle cx="50" cy="50" r="20"/></switch>'
    ),
    "clip": (
        '<clipPath id="c"><circle cx="50" cy="50" r="30"/><rect width="20" height="20"/></clipPath><g cl'
        'ip-path="url(#c)"><rect width="100" height="100"/></g>'
    ),
    "clipobb": (
        '<clipPath id="c" clipPathUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".5"/></clipPath><'
        'rect x="10" y="20" width="60" height="40" clip-path="url(#c)"/>'
    ),
    "clipclip": (
        '<clipPath id="d"><rect width="50" height="100"/></clipPath><clipPath id="c" clip-path="url(#d)"'
        '><circle cx="50" cy="50" r="30"/></clipPath><rect width="100" height="100" clip-path="url(#c)"/'
        ">"
    ),
    "cliprule": (
        '<clipPath id="c"><path clip-rule="evenodd" d="M10 10H90V90H10z M30 30H70V70H30z"/></clipPath><r'
        'ect width="100" height="100" clip-path="url(#c)"/>'
    ),
    "clipuse": (
        '<defs><circle id="k" cx="40" cy="40" r="25"/></defs><clipPath id="c"><use href="#k" x="10"/></c'
        'lipPath><rect width="100" height="100" clip-path="url(#c)"/>'
    ),
    "cliptransform": (
        '<clipPath id="c" transform="rotate(30 50 50)"><rect x="20" y="20" width="60" height="60"/></cli'
        'pPath><rect width="100" height="100" clip-path="url(#c)"/>'
    ),
    "clipempty": (
        '<clipPath id="c"/><rect width="100" height="100" clip-path="url(#c)"/><circle cx="50" cy="50" r'
        '="10"/>'
    ),
    "clipnone": (
        '<clipPath id="c"><rect fill="none" width="40" height="40"/></clipPath><rect width="100" height='
        '"100" clip-path="url(#c)"/>'
    ),
    "maskw": (
        '<mask id="c"><rect fill="white" width="40" height="40"/></mask><rect width="100" height="100" m'
        'ask="url(#c)"/>'
    ),
    "maskobb": (
        '<mask id="c" maskContentUnits="objectBoundingBox"><circle fill="#fff" cx=".5" cy=".5" r=".4"/><'
        '/mask><rect x="20" y="10" width="60" height="60" mask="url(#c)"/>'
    ),
    "maskhole": (
        '<mask id="c"><rect width="100" height="100" fill="#fff"/><g transform="rotate(20 50 '
        '50)"><circle cx="50" '
        'cy="50" r="20"/><path d="M0 80H100" stroke="#000" stroke-width="6"/></g><circle cx="50" '
        'cy="50" r="6" '
        'fill="#fff"/></mask><g mask="url(#c)" transform="translate(5 5)"><rect width="90" height="90"/></g>'
    ),
    "maskstroke": (
        '<mask id="c"><path d="M20 20C90 0 0 90 80 80" stroke="#fff" stroke-width="12" '
        'stroke-linecap="round" '
        'fill="none"/></mask><rect width="100" height="70" mask="url(#c)"/>'
    ),
    "maskreach": (
        '<mask id="c"><path d="M50 10V90" stroke="#fff" stroke-width="60"/></mask>'
        '<rect x="60" y="20" width="30" height="30" mask="url(#c)"/><circle cx="20" cy="70" r="10"/>'
    ),
    "maskalpha": (
        '<mask id="c" style="mask-type:alpha" maskUnits="userSpaceOnUse" x="10" y="20" width="60" '
        'height="50">'
        '<circle cx="40" cy="50" r="40" fill="#333"/></mask><rect width="100" height="100" mask="url(#c)"/>'
    ),
    "maskbox": (
        '<mask id="c" x="0.25" y="0" width="50%" height="1"><rect width="100" height="100" '
        'fill="#fff"/></mask>'
        '<circle cx="50" cy="50" r="40" mask="url(#c)"/>'
    ),
    "maskmask": (
        '<mask id="d"><rect width="60" height="100" fill="white"/></mask><mask id="c" mask="url(#d)"><circle '
        'cx="50" cy="50" r="30" fill="white"/></mask><rect width="100" height="100" mask="url(#c)"/>'
    ),
    "maskseenthrough": (
        '<mask id="c"><rect width="100" height="60" fill="#fff"/><rect width="50" height="100" opacity=".05"'
        '/><rect y="80" width="90" height="10" fill="#fff" opacity=".08"/></mask>'
        '<circle cx="50" cy="50" r="45" mask="url(#c)"/>'
    ),
    "maskinherits": (
        '<g fill="none" stroke-width="8"><mask id="c"><rect width="100" height="100" fill="#fff"/>'
        '<circle cx="50" cy="50" r="20" stroke="#000"/></mask></g>'
        '<circle cx="50" cy="50" r="45" mask="url(#c)"/>'
    ),
    "masknothing": (
        '<mask id="c"><circle cx="50" cy="50" r="30"/></mask><rect width="100" height="100" mask="url(#c)"/>'
        '<circle cx="50" cy="50" r="10"/>'
    ),
    "opac": (
        '<g opacity="0"><rect width="90" height="90"/></g><rect fill-opacity="0" width="80" height="80"/'
        '><rect fill="rgba(0,0,0,0)" width="80" height="80"/><rect fill="transparent" width="80" height='
        '"80"/><circle cx="20" cy="20" r="10"/>'
    ),
    "vis": (
        '<g visibility="hidden"><rect width="90" height="90"/><circle visibility="visible" cx="50" cy="5'
        '0" r="20"/></g>'
    ),
    "nest": (
        '<g transform="translate(20,10) rotate(20)"><g transform="scale(2,.5) skewX(20)"><rect width="20'
        '" height="40" stroke="red" stroke-width="4"/></g></g>'
    ),
    "nested svg": (
        '<svg x="10" y="10" width="50" height="30" viewBox="0 0 10 10" preserveAspectRatio="none"><circl'
        'e cx="5" cy="5" r="6"/></svg>'
    ),
    "arc": '<path d="M80 50 A30 20 30 1 1 50 20 A 5 5 0 0 1 60 30z"/>',
    "rrect": (
        '<rect x="10" y="10" width="70" height="50" rx="20"/><rect x="10" y="70" width="70" height="20" '
        'rx="5" ry="30"/>'
    ),
    "joins": '<path d="M20 80 L50 20 L80 80" fill="none" stroke="black" stroke-width="12"/>',
    "joinl": '<path d="M40 80 L50 20 L60 80" fill="none" stroke="black" stroke-width="12"/>',
    "joinb": (
        '<path d="M20 80 L50 20 L80 80z" fill="none" stroke="black" stroke-width="12" stroke-linejoin="b'
        'evel"/>'
    ),
    "square": (
        '<path d="M20 80 L50 20 Q 80 20 80 80" fill="none" stroke="black" stroke-width="12" stroke-linec'
        'ap="square" stroke-linejoin="round"/>'
    ),
    "dot": (
        '<path d="M50 50h0" stroke="black" stroke-width="30" stroke-linecap="round"/><path d="M20 20z" s'
        'troke="black" stroke-width="10" stroke-linecap="square"/>'
    ),
    "marker": (
        '<defs><marker id="m"><rect width="3" height="3"/></marker><path id="unused" d="M0 0h90v90z"/></'
        'defs><path marker-end="url(#none)" d="M10 10h40v40z"/>'
    ),
    "important attr": (
        '<style>rect{fill:none!important}</style><rect style="fill:red" width="40" height="40"/><circle '
        'r="20" cx="60" cy="60"/>'
    ),
    "curcol": '<g color="none"><g color="red"><rect fill="currentColor" width="40" height="40"/></g></g>',
    "openfill": '<polyline points="10,10 80,10 80,80"/>',
    "gradient": (
        '<linearGradient id="g"><stop stop-color="red"/><stop offset="1" stop-color="blue"/></linearGrad'
        'ient><rect fill="url(#g)" width="50" height="50"/><rect fill="url(#nope)" x="60" width="30" hei'
        'ght="30"/><rect fill="url(#nope) green" y="60" width="30" height="30"/>'
    ),
    "attrsel": (
        '<style>rect[data-x="1"]{display:none} g:first-child{fill:none} svg circle{fill:none} path.a.b{f'
        'ill:none}</style><rect data-x="1" width="99" height="99"/><circle r="40" cx="50" cy="50"/><path'
        ' class="b a" d="M0 0h90v90z"/><path class="a" d="M0 0h20v20z"/>'
    ),
    "usestyle": (
        '<defs><path id="p" d="M0 0h30v30z"/></defs><use href="#p" fill="none"/><use href="#p" x="40" fi'
        'll="red" transform="rotate(10)"/>'
    ),
    "pctr": '<circle cx="50%" cy="50%" r="20%"/>',
    "visuse": (
        '<defs><g id="p" display="none"><path d="M0 0h30v30z"/></g></defs><use href="#p"/><rect width="9'
        '" height="9"/>'
    ),
    "fillrule": '<path style="fill-rule:evenodd" d="M10 10H90V90H10z M30 30H70V70H30z"/>',
    "cdata": (
        '<style><![CDATA[ .x{fill:none} ]]></style><rect class="x" width="40" height="40"/><circle r="20'
        '" cx="60" cy="60"/>'
    ),
    "closedcurve": (
        '<path d="M50 20 C 120 20 -20 80 50 80 C 90 80 10 20 50 20z" fill="none" stroke="black" stroke-w'
        'idth="9"/>'
    ),
    "tight": (
        '<path d="M20 50 C 20 20 24 20 24 50 S 28 80 28 50" fill="none" stroke="black" stroke-width="14"/>'
    ),
    "cut by one edge": (
        '<clipPath id="c"/><circle cy="79" r="25" clip-path="url(#c)"/><circle cx="88" cy="89" r="10" '
        'stroke="black" stroke-width="6"/>'
    ),
    "clip moved along": (
        '<clipPath id="c"><rect y="10" width="100" height="30"/></clipPath><circle id="k" cx="50" cy="20" '
        'r="20"/><use href="#k" x="20" y="40" clip-path="url(#c)"/>'
    ),
    "groups do not clip": (
        '<clipPath id="c"><g><rect width="50" height="50"/></g><rect x="20" y="20" width="40" height="40"/>'
        '</clipPath><circle cx="50" cy="50" r="45" clip-path="url(#c)"/>'
    ),
    "unseen things clip": (
        '<defs><circle id="k" cx="30" cy="40" r="25" fill="none"/></defs><clipPath id="c"><use href="#k"/>'
        '<rect x="60" y="20" width="20" height="40" opacity="0"/></clipPath>'
        '<rect width="100" height="100" clip-path="url(#c)"/>'
    ),
    "clip turned in its box": (
        '<clipPath id="c" transform="translate(9 -14)" clipPathUnits="objectBoundingBox"><circle r=".46"/>'
        '</clipPath><circle cx="59" cy="52" r="34" clip-path="url(#c)"/>'
    ),
    "clip of a clip by the box": (
        '<clipPath id="d" clipPathUnits="objectBoundingBox"><rect width="1" height=".5"/></clipPath>'
        '<clipPath id="c" clip-path="url(#d)"><circle cx="50" cy="50" r="30"/></clipPath>'
        '<rect x="20" y="30" width="70" height="60" clip-path="url(#c)"/>'
    ),
    "clip of a clip stays": (
        '<clipPath id="d"><rect width="60" height="60"/></clipPath><clipPath id="c" clip-path="url(#d)" '
        'transform="rotate(40 50 50)"><rect x="20" y="20" width="60" height="60"/></clipPath>'
        '<rect width="100" height="100" clip-path="url(#c)"/>'
    ),
    "box of what is turned and hidden": (
        '<clipPath id="c" clipPathUnits="objectBoundingBox"><rect width=".6" height=".5"/></clipPath>'
        '<g clip-path="url(#c)"><rect x="5" y="5" width="9" height="9" visibility="hidden"/>'
        '<path d="M30 20L90 40L50 80z" transform="rotate(30 50 50)"/></g>'
    ),
    "masks end a tenth beyond": (
        '<mask id="c"><rect width="100" height="100" fill="#fff"/></mask>'
        '<circle cx="50" cy="50" r="20" stroke="#000" stroke-width="30" mask="url(#c)"/>'
    ),
    "font sizes": (
        '<ellipse cx="30" cy="30" ry=".6em" font-size="2em"/><g font-size="10px" stroke="#000" '
        'stroke-width="1em"><circle cx="70" cy="70" r="1.5em" font-size="150%"/></g>'
    ),
    "rounded one way": '<rect x="10" y="10" width="60" height="40" rx="23" ry="0"/>',
    "dashes meet": (
        '<rect x="20" y="30" width="46.8" height="21.2" fill="none" stroke="#000" stroke-width="9" '
        'stroke-dasharray="30,20,36,21"/>'
    ),
    "moved only": '<path d="M46 40H6M20 80" stroke="#000" stroke-width="9" stroke-linecap="round"/>',
    "there and back": '<path d="M20 50h40v20v-20h-20v-30v30z" fill="none" stroke="#000" stroke-width="5"/>',
    "small mark": '<path d="M7 46L6 43.5" stroke="#000"/>',
    "pressed flat": (
        '<circle cx="50" cy="50" r="20"/><g stroke="#000" transform="rotate(68,38.88,54) scale(0.5,-0) '
        'translate(0 -5.79) skewX(20.19) skewX(2.9)"><ellipse rx="11" ry="11" transform="matrix(1 -0 .26 .6 '
        '-7 -5.204)"/></g>'
    ),
    "short ends and stairs": (
        '<g fill="none" stroke="#000" stroke-width="8"><path d="M10 20H60v1"/>'
        '<path d="M20 50v1h1v1h1v1" stroke-linejoin="round"/>'
        '<rect x="40" y="60" width="51" height="5" stroke-dasharray="9.4"/></g>'
    ),
    "other tongues": '<circle cx="50" cy="50" r="20"/><rect width="40" height="40" systemLanguage="xx"/>',
}


@pytest.mark.parametrize("name", CRAFTED)
def test_crafted_drawings_are_cut_as_they_are_seen(name: str) -> None:
    source = f'<svg {NS} width="100" height="100" viewBox="0 0 100 100">{CRAFTED[name]}</svg>'
    assert _ink_off(source) < 0.002


@pytest.mark.parametrize("first", range(1, 151, 30))
def test_drawings_of_any_features_are_cut_as_they_are_seen(first: int) -> None:
    looked = 0
    for seed in range(first, first + 30):
        source = document(seed)
        try:
            off = _ink_off(source)
        except PictureError:
            assert rendered(source, (100.0, 100.0)).sum() < 64, seed
            continue
        looked += 1
        assert off < INK, seed
    assert looked > 15


#: Bodies in a box of 100 px, what is cut of them in px^2 where the picture is one colour, and why.
ONE_COLOUR = {
    "white on black is a hole": (
        '<rect width="60" height="60"/><rect x="20" y="20" width="20" height="20" fill="#fff"/>', 3200),
    "black on white paper is all there is": (
        '<rect width="100" height="100" fill="white"/><rect x="20" y="20" width="20" height="20"/>', 400),
    "black in white in black": (
        '<rect width="60" height="60"/><rect x="10" y="10" width="40" height="40" fill="#fff"/>'
        '<rect x="20" y="20" width="20" height="20"/>', 2400),
    "darker over lighter joins it": (
        '<rect width="60" height="60" fill="#fc4"/>'
        '<rect x="20" y="20" width="60" height="20" fill="#420"/>', 4000),
    "yellow over red is cut out": (
        '<rect width="60" height="60" fill="#b00"/>'
        '<rect x="20" y="20" width="20" height="20" fill="#fe0"/>', 3200),
    "all white is cut whole": ('<rect width="60" height="60" fill="#fff"/>', 3600),
    "grey on black under a veil of white": (
        '<rect width="60" height="60"/><rect width="60" height="60" fill="#fff" opacity=".1"/>'
        '<rect width="20" height="20" fill="#4d4d4d"/>', 3200),
    "a white stroke parts what it runs over": (
        '<rect width="60" height="60"/>'
        '<path d="M30 -10V70" stroke="#fff" stroke-width="4" fill="none"/>', 3360),
}  # fmt: skip


@pytest.mark.parametrize("name", ONE_COLOUR)
def test_one_colour_is_cut_as_a_person_would(name: str) -> None:
    body, wanted = ONE_COLOUR[name]
    drawing = read_svg(f'<svg {NS} width="100" height="100" viewBox="0 0 100 100">{body}</svg>')
    assert area(drawing.region()) / MM_PER_PX**2 == pytest.approx(wanted, rel=2e-3)


def test_what_is_seen_through_is_as_light_as_it_looks() -> None:
    """Paint over paint, as resvg lays it: what comes out lighter by an eighth is cut out of what is below."""
    rng, told = random.Random(5), 0
    for _ in range(60):
        below, above = (tuple(rng.randrange(256) for _ in range(3)) for _ in range(2))
        alpha = rng.choice([0.05, 0.2, 0.4, 0.7, 1.0])
        source = (
            f'<svg {NS} width="100" height="100"><rect width="100" height="100" fill="rgb{below}"/>'
            f'<rect x="50" width="30" height="100" fill="rgb{above}" opacity="{alpha}"/></svg>'
        )
        base, top = lightness(source, [(0.25, 0.5), (0.65, 0.5)])
        if base > 0.8 or abs(top - base - 0.12) < 0.05:
            # So near to the paper, or to what counts as lighter, it may be taken for either.
            continue
        told += 1
        cut_out = area(read_svg(source).region()) / MM_PER_PX**2 < 8500
        assert cut_out == (top - base > 0.12), source
    assert told > 30


NOTES = {
    "text": ("<text>Hi</text>", "Text left out"),
    "pattern": (
        '<pattern id="p" width="1" height="1"/><rect width="9" height="9" fill="url(#p)"/>',
        "pattern",
    ),
    "filter": ('<rect width="9" height="9" filter="url(#f)"/>', "Effects like blur"),
    "grey mask": (
        '<mask id="m"><rect width="9" height="9" fill="#777"/></mask>'
        '<rect width="9" height="9" mask="url(#m)"/>',
        "A mask is not applied",
    ),
    "half veiled mask": (
        '<mask id="m"><rect width="9" height="9" fill="#fff"/><rect width="5" height="9" opacity="0.5"/>'
        '</mask><rect width="9" height="9" mask="url(#m)"/>',
        "A mask is not applied",
    ),
    "fading mask": (
        '<linearGradient id="g"><stop stop-color="#fff"/><stop offset="1"/></linearGradient><mask '
        'id="m"><rect '
        'width="9" height="9" fill="url(#g)"/></mask><rect width="9" height="9" mask="url(#m)"/>',
        "A mask is not applied",
    ),
    "picture in a mask": (
        '<mask id="m"><image href="data:image/png;base64,AA==" width="9" height="9"/></mask>'
        '<rect width="9" height="9" mask="url(#m)"/>',
        "A mask is not applied",
    ),
    "marker": ('<path marker-end="url(#m)" stroke="red" d="M0 0h9v9z"/>', "markers left out"),
    "image": ('<image href="data:image/png;base64,AA=="/>', "Embedded pictures left out"),
    "fade": (
        '<linearGradient id="g"><stop/><stop offset="1" stop-opacity="0"/></linearGradient>'
        '<rect width="9" height="9" fill="url(#g)"/>',
        "fades out",
    ),
    "broken": ('<path d="M0 0h9v9l3"/>', "A path is broken off"),
    "moving": ('<rect width="9" height="9"><animate attributeName="x" to="5"/></rect>', "stands still"),
    "seen through": ('<rect width="9" height="9" opacity="0.3"/>', "is seen through"),
}


@pytest.mark.parametrize("name", NOTES)
def test_what_cannot_be_cut_is_named(name: str) -> None:
    body, says = NOTES[name]
    drawing = read_svg(f"<svg {NS}><circle r='5' cx='50' cy='50'/>{body}</svg>")
    assert says in " ".join(drawing.notes)


FIRM = {
    "a shadow on a shape": '<rect x="48" y="48" width="4" height="4" opacity=".3"/>',
    "a shape on a shadow": (
        '<g fill="red"><circle cx="20" cy="20" r="5" opacity=".2"/><circle cx="20" cy="20" r="5"/></g>'
    ),
    "half and more": '<rect width="9" height="9" opacity=".6"/>',
    "what no eye sees": '<rect width="90" height="90" opacity=".01"/>',
}


@pytest.mark.parametrize("name", FIRM)
def test_what_is_seen_whole_needs_no_word(name: str) -> None:
    drawing = read_svg(f"<svg {NS}><circle r='5' cx='50' cy='50'/>{FIRM[name]}</svg>")
    assert drawing.notes == []
    assert area(drawing.region(light="kept")) < 200 * MM_PER_PX**2
