"""The whole job by a new user, and the files that come out of it read by others' libraries."""

from __future__ import annotations

import re
from io import BytesIO
from itertools import pairwise
from pathlib import Path
from xml.etree import ElementTree
from zipfile import ZipFile

import ezdxf
import ezdxf.path
import numpy as np
import pyclipr
import pytest
from fontTools.pens.recordingPen import DecomposingRecordingPen
from fontTools.ttLib import TTFont
from playwright.sync_api import expect
from shapely import Polygon, is_valid, unary_union
from svgelements import SVG, Close, CubicBezier
from svgelements import Path as SvgPath

from .conftest import Bench

FONTS = Path(__file__).parents[2] / "perigram" / "fonts"

#: A kite with a round hole: nothing the application ships or has seen.
KITE = """<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="60mm" viewBox="0 0 80 120">
<path fill-rule="evenodd" d="M40 0 L80 44 L40 120 L0 44 Z M40 30 a14 14 0 1 0 0.001 0 Z"/></svg>"""


def loops_of_svg(content: bytes) -> tuple[list[np.ndarray], float, float]:
    """Loops of an SVG file in mm, read and flattened by svgelements, and the stated size in mm."""
    root = ElementTree.fromstring(content)
    width, height = (root.get(name, "") for name in ("width", "height"))
    assert width.endswith("mm")
    assert height.endswith("mm")
    assert root.get("viewBox") == f"0 0 {width[:-2]} {height[:-2]}"
    loops = []
    for element in SVG.parse(BytesIO(content), ppi=25.4).elements():
        if isinstance(element, SvgPath):
            for sub in element.as_subpaths():
                segments = [sub[i] for i in range(len(sub))]
                assert isinstance(segments[-1], Close), "every path is closed"
                points = []
                for segment in segments[1:]:
                    steps = 64 if isinstance(segment, CubicBezier) else 1
                    points += [segment.point(i / steps) for i in range(steps)]
                loops.append(np.array([(p.x, p.y) for p in points]))
    return loops, float(width[:-2]), float(height[:-2])


def loops_of_dxf(content: bytes) -> tuple[list[np.ndarray], int]:
    """Loops of a DXF file in drawing units, flattened by ezdxf, and its declared unit."""
    document = ezdxf.read(__import__("io").StringIO(content.decode("cp1252")))
    loops = []
    for entity in document.modelspace():
        path = ezdxf.path.make_path(entity)
        assert path.is_closed
        loops.append(np.array([(v.x, v.y) for v in path.flattening(0.0005)]))
    return loops, document.header["$INSUNITS"]


def as_polygons(loops: list[np.ndarray]) -> Polygon:
    """Loops put together by even-odd nesting; each must be simple and none may cross another."""
    rings = [Polygon(loop) for loop in loops]
    assert all(is_valid(ring) for ring in rings), "a loop crosses itself"
    for i, a in enumerate(rings):
        for b in rings[i + 1 :]:
            shared = a.intersection(b).area
            assert min(abs(shared), abs(shared - min(a.area, b.area))) < 1e-3, "two loops cross"
    whole = Polygon()
    for ring in sorted(rings, key=lambda r: -r.area):
        whole = whole.symmetric_difference(ring)
    return whole


def flattened_glyph(font: TTFont, name: str) -> list[np.ndarray]:
    """A glyph's contours from fontTools, curves stepped finely by hand."""
    pen = DecomposingRecordingPen(font.getGlyphSet())
    font.getGlyphSet()[name].draw(pen)
    contours: list[list[tuple[float, float]]] = []
    for verb, points in pen.value:
        if verb == "moveTo":
            contours.append([points[0]])
        elif verb == "lineTo":
            contours[-1].append(points[0])
        elif verb == "qCurveTo":
            off = [*points[:-1]]
            ends = [((a[0] + b[0]) / 2, (a[1] + b[1]) / 2) for a, b in pairwise(off)] + [points[-1]]
            for control, end in zip(off, ends, strict=True):
                start = contours[-1][-1]
                for t in np.linspace(0, 1, 49)[1:]:
                    s = 1 - t
                    contours[-1].append(
                        tuple(s * s * start[i] + 2 * s * t * control[i] + t * t * end[i] for i in (0, 1))
                    )
    return [np.array(c) for c in contours]


def independent_row(text: str, width: float, gap: float) -> list[np.ndarray]:
    """A row of one font set by itself: fontTools outlines, distances by plain sampling."""
    font = TTFont(FONTS / "anton" / "font.ttf")
    cmap = font.getBestCmap()
    glyphs = [[c * [1, -1] for c in flattened_glyph(font, cmap[ord(ch)])] for ch in text]

    def row(scale: float) -> tuple[list[np.ndarray], float]:
        placed: list[list[np.ndarray]] = []
        for glyph in glyphs:
            shape = [c * scale for c in glyph]
            poly = unary_union([Polygon(c).buffer(0) for c in shape])
            if placed:
                before = unary_union([Polygon(c).buffer(0) for c in placed[-1]])
                low, high = before.bounds[0] - poly.bounds[0], before.bounds[2] - poly.bounds[0] + gap + 1
                for _ in range(60):
                    mid = (low + high) / 2
                    moved = unary_union([Polygon(c + [mid, 0]).buffer(0) for c in shape])
                    low, high = (low, mid) if before.distance(moved) >= gap else (mid, high)
                shape = [c + [high, 0] for c in shape]
            placed.append(shape)
        everything = np.concatenate([c for shape in placed for c in shape])
        return [c for shape in placed for c in shape], float(np.ptp(everything[:, 0]))

    low, high = 1e-3, 1.0
    for _ in range(40):
        mid = (low + high) / 2
        low, high = (mid, high) if row(mid)[1] < width else (low, mid)
    return row(low)[0]


@pytest.mark.django_db(transaction=True)
def test_from_an_empty_bench_to_cut_files(bench: Bench, tmp_path: Path) -> None:
    page = bench.page
    picture = tmp_path / "kite.svg"
    picture.write_text(KITE)

    bench.new_design()
    page.get_by_role("button", name="Letter some words").click()
    expect(page.get_by_label("Row 1", exact=True)).to_be_focused()
    page.get_by_role("textbox", name="Row 1").fill("HIGH")
    page.get_by_role("button", name="Add a row").click()
    page.get_by_role("textbox", name="Row 2").fill("TIDE")
    page.keyboard.press("Escape")
    bench.set_length(1, "Size of each row", "8 in")

    bench.add_line("logo", "Place a picture")
    bench.bring_in(2, picture)
    expect(bench.line(2)).to_contain_text("kite")
    bench.set_length(2, "Size", "100")
    bench.line(2).get_by_role("button", name=re.compile("^Place:")).click()
    page.get_by_role("combobox", name="Held to").click()
    page.get_by_role("option", name="line 1").click()
    page.keyboard.press("Escape")
    expect(bench.line(2)).to_contain_text("centred on HIGH TIDE")

    bench.add_line("knockout", "Knock out")
    expect(bench.line(3)).to_contain_text("Knock kite out of HIGH TIDE")
    bench.set_length(3, "Clearance", "1.5 mm")
    # The reference that files are compared with below drops nothing of its own.
    bench.set_length(3, "Leaving nothing under", "0")
    bench.settled()

    plies = page.get_by_label("Plies")
    expect(plies.get_by_role("button", name=re.compile("^kite"))).to_be_visible()
    expect(plies.get_by_role("button", name=re.compile("^HIGH TIDE"))).to_be_visible()
    expect(page.get_by_label("Cut check")).to_contain_text("outlines closed, none crossing")

    zipped = ZipFile(bench.cut_files("SVG", "DXF"))
    names = sorted(zipped.namelist())
    assert names == [
        "New design - 1 of 2 - HIGH TIDE - Ember smooth - mirrored.dxf",
        "New design - 1 of 2 - HIGH TIDE - Ember smooth - mirrored.svg",
        "New design - 2 of 2 - kite - Night flock - mirrored.dxf",
        "New design - 2 of 2 - kite - Night flock - mirrored.svg",
        "New design - all plies.svg",
    ]

    # The same knockout by fontTools' outlines and an integer polygon clipper.
    rows = [independent_row(text, 203.2, 0.3) for text in ("HIGH", "TIDE")]
    bottoms = [np.concatenate(row)[:, 1].max() for row in rows]
    tops = [np.concatenate(row)[:, 1].min() for row in rows]
    centred = [
        [c - [(np.concatenate(r)[:, 0].min() + np.concatenate(r)[:, 0].max()) / 2, 0] for c in r]
        for r in rows
    ]
    # Caps of one height: the outlines come nearest straight below each other. Row gap 3 mm.
    upper = unary_union([Polygon(c).buffer(0) for c in centred[0]])
    low, high = -50.0, bottoms[0] - tops[1] + 10
    for _ in range(60):
        mid = (low + high) / 2
        moved = unary_union([Polygon(c + [0, mid]).buffer(0) for c in centred[1]])
        low, high = (low, mid) if upper.distance(moved) >= 3.0 else (mid, high)
    words = centred[0] + [c + [0, high] for c in centred[1]]
    everything = np.concatenate(words)
    middle = (everything.min(axis=0) + everything.max(axis=0)) / 2
    words = [c - middle for c in words]
    angle = np.linspace(0, 2 * np.pi, 721)[:-1]
    size = 100 / 120
    outline = (np.array([(40, 0), (80, 44), (40, 120), (0, 44)]) - [40, 60]) * size
    hole = (np.stack([np.cos(angle), np.sin(angle)], 1) * 14 + [40, 44] - [40, 60]) * size

    def clipped(kind: pyclipr.ClipType, subject: list, clip: list) -> list:
        clipper = pyclipr.Clipper()
        clipper.scaleFactor = 10_000
        clipper.addPaths(subject, pyclipr.Subject)
        clipper.addPaths(clip, pyclipr.Clip)
        return clipper.execute(kind, pyclipr.FillRule.EvenOdd)

    offset = pyclipr.ClipperOffset()
    offset.scaleFactor = 10_000
    offset.arcTolerance = 0.002
    offset.addPaths([outline, hole[::-1]], pyclipr.JoinType.Round, pyclipr.EndType.Polygon)
    cleared = offset.execute(1.5)
    remains = clipped(pyclipr.Difference, words, cleared)
    shows = clipped(pyclipr.Intersection, words, [outline, hole])
    expected = {"HIGH TIDE": remains, "kite": shows}
    signed = {name: abs(sum(ring_area(np.array(p)) for p in paths)) for name, paths in expected.items()}

    for name in names:
        if "all plies" in name:
            continue
        ply = next(key for key in expected if f"- {key} -" in name)
        if name.endswith(".svg"):
            loops, width, height = loops_of_svg(zipped.read(name))
            assert width == pytest.approx(203.2, abs=0.01)
            assert height == pytest.approx(np.ptp(everything[:, 1]), abs=0.02)
        else:
            loops, unit = loops_of_dxf(zipped.read(name))
            assert unit == 4, "DXF header must say millimetres"
        shape = as_polygons(loops)
        assert shape.area == pytest.approx(signed[ply], rel=1e-3)
        # Mirrored: the picture of the reading-way design turned over in the page's width.
        points = np.concatenate([np.array(p) for p in expected[ply]])
        left = points[:, 0].min() - words_left(words)
        assert 203.2 - shape.bounds[2] == pytest.approx(left, abs=0.02)

    assert not bench.failures


def words_left(words: list[np.ndarray]) -> float:
    return float(np.concatenate(words)[:, 0].min())


def ring_area(ring: np.ndarray) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum() / 2)
