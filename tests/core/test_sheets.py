"""Sheets: what lies on them, what is cut when, and what others read in their files."""

from __future__ import annotations

import shutil
import subprocess
from dataclasses import replace
from functools import cache
from io import BytesIO, StringIO
from itertools import combinations
from pathlib import Path
from typing import Literal

import ezdxf
import numpy as np
import pdfplumber
import pypdfium2
import pytest
import shapely
import svgelements as se
from ezdxf import path as ezpath
from hypothesis import given, settings
from hypothesis import strategies as st
from pdfminer.pdftypes import resolve1

from perigram.cli import main
from perigram.core.art.shapes import gallery, oval
from perigram.core.errors import PerigramError
from perigram.core.formats.bundle import sheet_files
from perigram.core.formats.page import CutPly
from perigram.core.formats.pdf import Layer, write_pdf
from perigram.core.geometry import measure
from perigram.core.geometry.region import Region
from perigram.core.recipe.evaluate import Proof, evaluate
from perigram.core.recipe.making import Sheets
from perigram.core.sheet.figures import figures
from perigram.core.sheet.layout import lay_out
from perigram.core.sheet.machine import STARTERS, Reads, as_fed
from perigram.core.sheet.order import cut_order, travel
from perigram.core.sheet.sheet import Sheet, placing
from perigram.library import DesignSources, load_design

from .material import EVERY, disc, row

DEMO = Path(__file__).parents[2] / "demo" / "weekend-shirt.perigram.json"


#: What an SVG reader takes an inch for: 96 where units count (CSS), or what the file is made for.
DOTS = [("svg-mm", 96), ("svg-in", 96), ("svg-72", 72), ("svg-90", 90), ("svg-96", 96)]


@cache
def shirt() -> Proof:
    design = load_design(DEMO)
    return evaluate(design, DesignSources(design))


@cache
def plies() -> tuple[CutPly, ...]:
    return tuple(shirt().to_cut())


def solid(region: Region) -> list[shapely.Polygon]:
    """Every loop filled, flattened ten times finer than overlays look."""
    flat = region.flattened(0.0005)
    ends = zip(flat.ring_offsets[:-1], flat.ring_offsets[1:], strict=True)
    return [shapely.Polygon(flat.xy[a:b]) for a, b in ends]


def pieces(seed: int, count: int) -> Region:
    """Figures of all kinds and sizes side by side, none touching."""
    rng = np.random.default_rng(seed)
    shapes = [one.region for one in gallery()]
    found, x = [], 0.0
    for which in rng.choice(len(shapes), count):
        figure = shapes[which]
        x0, y0, x1, _ = measure.bounds(figure) or (0.0, 0.0, 1.0, 1.0)
        size = float(rng.uniform(4, 60)) / max(x1 - x0, 1e-6)
        figure = figure.translated(-x0, -y0).scaled(size, size).translated(x, 0.0)
        found.append(figure)
        x = (measure.bounds(figure) or (0, 0, 0, 0))[2] + 1.0
    return Region.joined(found)


@given(
    st.tuples(st.just("registered"), st.floats(120.0, 420.0), st.floats(120.0, 420.0))
    | st.tuples(st.just("packed"), st.floats(280.0, 420.0), st.floats(280.0, 420.0))
)
@settings(max_examples=8)
def test_on_a_mat_no_stroke_goes_beyond_it(
    given: tuple[Literal["registered", "packed"], float, float],
) -> None:
    layout, width, length = given
    machine = STARTERS[2].model_copy(update={"mat_width": width, "mat_length": length})
    how = Sheets(layout=layout, keeps="pieces", split="butt", frame=True, edge=4.0, copies=2)
    laid = lay_out(as_fed(plies(), machine), how)
    assert {sheet.stock.id for sheet in laid} == {ply.id for ply in plies()}
    for sheet in laid:
        strokes = np.concatenate(sheet.strokes(0.01))
        assert strokes.min() >= 0.0
        assert (strokes.max(axis=0) <= (width, length)).all()
    small = machine.model_copy(update={"mat_width": 150.0, "mat_length": 150.0})
    with pytest.raises(PerigramError, match="wider sheet or mat"):
        lay_out(as_fed(plies(), small), how.model_copy(update={"layout": "packed"}))
    # Fed as it is, the material is as large as it is.
    assert as_fed(plies(), STARTERS[0]) == list(plies())


@given(st.sampled_from(EVERY), st.integers(0, 10_000), st.integers(1, 12))
@settings(max_examples=12)
def test_nothing_is_cut_before_what_lies_in_it(font: str, seed: int, count: int) -> None:
    # A row of letters in a ring, and figures beside it.
    letters = row(font, "BO8&g%", 90.0).translated(0.0, 60.0)
    ring = Region.joined([disc(45.0, 60.0, 90.0)])
    region = Region.joined([letters, ring, pieces(seed, count).translated(150.0, 0.0)])
    loops, starts = cut_order(region)
    assert sorted(loops.tolist()) == list(range(region.loop_count))
    rings = solid(region)
    place = np.empty(len(loops), int)
    place[loops] = np.arange(len(loops))
    points = [one.representative_point() for one in rings]
    for inner, point in enumerate(points):
        for outer, ring_ in enumerate(rings):
            if ring_.area > rings[inner].area and ring_.contains(point):
                assert place[inner] < place[outer]
    # Each begins on its own outline.
    for loop, start in zip(loops, starts, strict=True):
        assert region.loop_offsets[loop] <= start < region.loop_offsets[loop + 1]
    assert travel(region, starts) <= 1.25 * nearest_tour(region) + 1e-6


def nearest_tour(region: Region) -> float:
    """How far going to the nearest node of the nearest loop left over is, whatever lies in what."""
    at, left, gone = np.zeros(2), list(region.loop_slices()), 0.0
    while left:
        near = [(float(np.hypot(*(region.start[s] - at).T).min()), i) for i, s in enumerate(left)]
        away, i = min(near)
        nodes = region.start[left.pop(i)]
        at = nodes[np.hypot(*(nodes - at).T).argmin()]
        gone += away
    return gone


@given(st.integers(1, 60), st.floats(20.0, 90.0), st.sampled_from([0.5, 3.0, 12.5]), st.floats(0.0, 20.0))
@settings(max_examples=20)
def test_copies_lie_in_rows_as_many_as_fit(copies: int, size: float, apart: float, edge: float) -> None:
    """As many across and down as go with the distance between them, and no two nearer than that."""
    stocks = [CutPly(name, "Reed", "#5E7F57", False, disc(0, 0, size), 305.0, 420.0) for name in "ab"]
    how = Sheets(copies=copies, apart=apart, edge=edge, marks="none")
    sheets = [sheet for sheet in lay_out(stocks, how) if sheet.stock is stocks[0]]
    laid = [len(sheet.placed) for sheet in sheets for _ in range(sheet.times)]
    assert sum(laid) == copies
    # On the grid of hundredths a distance may come out that much larger.
    across, down = (int((room - 2.0 * edge + apart - 0.05) / (2.0 * size + apart)) for room in (305.0, 420.0))
    assert laid[:-1] == [laid[0]] * (len(laid) - 1)
    assert laid[0] >= min(copies, across * down)
    for sheet in sheets:
        boxes = sheet.work.piece_boxes()
        assert boxes.min() >= edge - 0.01
        assert (boxes.max(axis=0)[2:] <= np.array([305.0, 420.0]) - edge + 0.01).all()
        gaps = (
            shapely.distance(*np.array(list(combinations(shapely.box(*boxes.T), 2))).T)
            if len(boxes) > 1
            else []
        )
        assert min(gaps, default=apart) >= apart - 1e-6


@given(
    st.integers(0, 10_000),
    st.integers(1, 14),
    st.integers(1, 6),
    st.sampled_from(["designs", "pieces"]),
    st.sampled_from([0.0, 2.0, 5.0]),
    st.booleans(),
    st.booleans(),
)
@settings(max_examples=25)
def test_packed_things_keep_their_distance(
    seed: int, count: int, copies: int, keeps: str, apart: float, border: bool, mirrored: bool
) -> None:
    stock = CutPly("Figures", "Reed", "#5E7F57", mirrored, pieces(seed, count), 1200.0, 700.0)
    how = Sheets(
        copies=copies,
        layout="packed",
        keeps=keeps,
        apart=apart,
        border=border,
        marks="none",
        edge=6.0,  # type: ignore[arg-type]
    )
    sheets = lay_out([stock], how)
    for sheet in sheets:
        works = [(sheet.items[one.item].work, placing(one, sheet.items[one.item])) for one in sheet.placed]
        laid = [shapely.MultiPolygon(solid(work.transformed(matrix))) for work, matrix in works]
        tree = shapely.STRtree(laid)
        for a, b in tree.query(laid, predicate="dwithin", distance=apart - 0.001).T if apart else []:
            assert a == b
        if not apart:
            each = sum(shapely.union_all(one).area for one in laid)
            assert shapely.area(shapely.union_all(laid)) == pytest.approx(each, rel=1e-6)
        x0, y0, x1, y1 = shapely.total_bounds(laid)
        assert x0 >= 6.0 - 1e-6
        assert y0 >= 6.0 - 1e-6
        assert x1 <= stock.width - 6.0 + 1e-6
        assert y1 <= sheet.used - 6.0 + 1e-6 <= stock.length
    area = sum(sheet.times * measure.area(sheet.work) for sheet in sheets)
    assert area == pytest.approx(copies * measure.area(stock.region), rel=1e-9)


@pytest.mark.parametrize("layout", ["registered", "packed"])
@pytest.mark.parametrize("marks", ["crosses", "corners", "pins"])
@pytest.mark.parametrize("border", [False, True])
def test_the_same_point_of_two_plies_lies_alike_to_the_marks(layout: str, marks: str, border: bool) -> None:
    """Every ply has a dot in one place of the design; on its sheets it is found again from the marks."""
    dot = disc(-60.0, 37.5, 1.5)
    wide = Region.joined([disc(0.0, 0.0, 40.0), dot])
    small = Region.joined([disc(55.0, -20.0, 8.0), dot])
    given_plies = [
        CutPly("Wide", "Chalk", "#F4F0E6", True, wide, 305.0, 500.0),
        CutPly("Small", "Night", "#1F2733", True, small, 305.0, 400.0),
        CutPly("Face", "Slate", "#2B3A42", False, dot, 610.0, 1000.0),
    ]
    how = Sheets(copies=5, layout=layout, marks=marks, border=border)  # type: ignore[arg-type]
    found: dict[str, set[tuple[float, float]]] = {}
    for sheet in lay_out(given_plies, how):
        for one in sheet.placed:
            item = sheet.items[one.item]
            centres = np.array([p.centroid.coords[0] for p in solid(item.marks)])
            middle = (centres.min(axis=0) + centres.max(axis=0)) / 2.0
            dots = [p.centroid.coords[0] for p in solid(item.work) if abs(p.area - np.pi * 1.5**2) < 0.05]
            ((x, y),) = dots
            from_marks = (middle[0] - x if sheet.stock.mirrored else x - middle[0], y - middle[1])
            found.setdefault(sheet.stock.name, set()).add((round(from_marks[0], 3), round(from_marks[1], 3)))
            # Where it lies on the sheet marks and work have gone along, turned or not.
            moved = item.marks.transformed(placing(one, item))
            assert measure.area(moved) == pytest.approx(measure.area(item.marks), rel=1e-12)
    assert len(set().union(*found.values())) == 1, found


@given(st.floats(0.0, 40.0), st.floats(0.0, 40.0), st.booleans(), st.sampled_from(["registered", "packed"]))
@settings(max_examples=20)
def test_numbers_stay_on_the_grid_they_were_checked_on(
    edge: float, apart: float, border: bool, layout: str
) -> None:
    """Whatever the distances, sixteenths of an inch too: what is written is what was checked, moved."""
    how = Sheets(edge=edge, apart=apart, border=border, layout=layout, copies=2)  # type: ignore[arg-type]
    stock = replace(plies()[1], width=400.0, length=900.0)
    for sheet in lay_out([stock], how):
        numbers = sheet.work.start * 1e4
        assert np.abs(numbers - np.round(numbers)).max() < 1e-4


def test_a_design_too_large_for_its_sheet_says_by_how_much() -> None:
    stock = CutPly("Wide", "Chalk", "#F4F0E6", True, disc(0.0, 0.0, 160.0), 305.0, 500.0)
    with pytest.raises(PerigramError, match=r"Wide needs 342.0 by 342.0 mm .* leaves 289.0 by 484.0 mm"):
        lay_out([stock], Sheets())
    with pytest.raises(PerigramError, match="nothing to cut"):
        lay_out([], Sheets())


def written(reads: Reads, how: Sheets | None = None) -> list[tuple[Sheet, bytes]]:
    sheets = lay_out(plies(), how or Sheets(border=True, copies=2, layout="packed", across=30.0, frame=True))
    files = sheet_files("Weekend shirt", sheets, STARTERS[0].model_copy(update={"reads": reads}))
    assert len(files) == len(sheets)
    return list(zip(sheets, files.values(), strict=True))


@pytest.mark.parametrize(("reads", "dots"), DOTS)
def test_svg_sheets_come_out_true_size(reads: Reads, dots: int) -> None:
    """By svgelements, which counts so many dots an inch for what has no unit (CSS: 96)."""
    for sheet, content in written(reads):
        drawing = se.SVG.parse(StringIO(content.decode()), ppi=dots)
        shapes = [one for one in drawing.elements() if isinstance(one, se.Path) and len(one)]
        boxes = np.array([one.bbox() for one in shapes]) * 25.4 / dots
        ours = measure.bounds(sheet.cut)
        assert ours
        assert np.allclose([*boxes[:, :2].min(axis=0), *boxes[:, 2:].max(axis=0)], ours, atol=0.01)


@pytest.mark.parametrize(("reads", "mm"), [("dxf-mm", 1.0), ("dxf-in", 25.4)])
def test_dxf_sheets_come_out_true_size(reads: Reads, mm: float) -> None:
    for sheet, content in written(reads):
        document = ezdxf.read(StringIO(content.decode("cp1252")))
        assert document.header["$INSUNITS"] == {1.0: 4, 25.4: 1}[mm]
        assert not document.audit().has_errors
        strokes = [e for e in document.modelspace() if e.dxftype() == "LINE"]
        ends = np.array([[(e.dxf.start.x, e.dxf.start.y), (e.dxf.end.x, e.dxf.end.y)] for e in strokes]) * mm
        assert np.allclose(ends * [1.0, -1.0] + [0.0, sheet.used], sheet.lines, atol=1e-3)
        paths = [ezpath.make_path(e) for e in document.modelspace() if e.dxftype() != "LINE"]
        lines = [np.array([(v.x, v.y) for v in one.flattening(0.0005 / mm)]) * mm for one in paths]
        upright = [np.column_stack([line[:, 0], sheet.used - line[:, 1]]) for line in lines]
        assert_same_outlines(upright, sheet.cut)


def test_pdf_sheets_have_a_layer_for_each_thing_at_true_size() -> None:
    """Sizes and paths by PDFium, layers by pdfminer; a point is 1/72 in (ISO 32000-1)."""
    for sheet, content in written("pdf"):
        page = pypdfium2.PdfDocument(content)[0]
        assert np.allclose(page.get_size(), np.array([sheet.stock.width, sheet.used]) * 72 / 25.4, atol=0.01)
        boxes = np.array([one.get_bounds() for one in page.get_objects()]) * 25.4 / 72
        ours = measure.bounds(sheet.cut)
        assert ours
        # PDFium's bounds go round the line as it is drawn, a quarter of a point wide.
        line = 0.25 * 25.4 / 72
        low, high = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
        theirs = (low[0], sheet.used - high[1], high[0], sheet.used - low[1])
        assert np.allclose(theirs, ours, atol=line + 0.01)
        with pdfplumber.open(BytesIO(content)) as read:
            layers = resolve1(resolve1(read.doc.catalog["OCProperties"])["OCGs"])
            names = [resolve1(layer)["Name"].decode() for layer in layers]
        assert names == [sheet.stock.name, "Marks", "Weeding borders", "Frame", "Weeding lines"]


def test_pages_longer_or_shorter_than_a_pdf_can_have() -> None:
    """ISO 32000-1, annex C.2: 3 to 14,400 points either way."""
    mark = [Layer("Mark", "#000000", oval(0.5, 0.5).translated(0.3, 0.3))]
    with pytest.raises(PerigramError, match=r"at most 5,080 mm long, and this sheet is 5,081 mm"):
        write_pdf("roll", 610.0, 5081.0, mark)
    with pdfplumber.open(BytesIO(write_pdf("mark", 610.0, 0.6, mark))) as read:
        (path,) = [*read.pages[0].curves, *read.pages[0].rects]
        assert np.isclose((path["bottom"] + path["top"]) / 2.0 * 25.4 / 72, 0.3, atol=0.001)


@pytest.mark.skipif(shutil.which("hp2xx") is None, reason="hp2xx is not installed")
def test_hpgl_sheets_are_read_at_true_size(tmp_path: Path) -> None:
    """By hp2xx, which draws the plotter's moves into a DXF."""
    for number, (sheet, content) in enumerate(written("hpgl", Sheets(border=True))):
        source, target = tmp_path / f"{number}.hpgl", tmp_path / f"{number}.dxf"
        source.write_bytes(content)
        draw = ["hp2xx", "-q", "-t", "-m", "dxf", "-f", target, source]
        subprocess.run(draw, check=True, capture_output=True)
        lines = [
            np.array([(e.dxf.start.x, e.dxf.start.y), (e.dxf.end.x, e.dxf.end.y)])
            for e in ezdxf.readfile(target).modelspace()
            if e.dxftype() == "LINE"
        ]
        joined = shapely.line_merge(shapely.multilinestrings([shapely.linestrings(line) for line in lines]))
        theirs = np.array(shapely.bounds(joined))
        ours = np.array(measure.bounds(sheet.cut))
        assert np.allclose(theirs[2:] - theirs[:2], ours[2:] - ours[:2], atol=0.1)
        assert shapely.length(joined) == pytest.approx(measure.length(sheet.cut), rel=0.002)


def assert_same_outlines(lines: list[np.ndarray], region: Region) -> None:
    """Closed lines that run along a region's outlines, none missing."""
    assert len(lines) == region.loop_count
    theirs, ours = [shapely.Polygon(line) for line in lines], solid(region)
    middles = np.array([one.centroid.coords[0] for one in ours])
    for one in theirs:
        near = np.hypot(*(middles - one.centroid.coords[0]).T)
        same = [
            k for k in np.flatnonzero(near < 0.01) if abs(ours[k].area - one.area) < 0.01 + 1e-5 * one.area
        ]
        assert len(same) == 1


def test_figures_add_up() -> None:
    machine = STARTERS[0]
    (sheet,) = lay_out(plies()[1:2], Sheets(marks="none"))
    found = figures(sheet, machine)
    assert found.kept + found.weeded + found.whole == pytest.approx(sheet.stock.width * sheet.used)
    assert found.kept == pytest.approx(measure.area(plies()[1].region))
    assert found.pieces == plies()[1].region.piece_count
    assert found.seconds == pytest.approx(found.cutting / 40.0 + found.lifted / 200.0)
    # From the corner to each stroke's beginning, and from its end on, lines through waste among them.
    (lined,) = lay_out(plies()[1:2], Sheets(border=True, across=25.0))
    strokes = lined.strokes(0.01)
    ends = [np.zeros(2), *(stroke[-1] for stroke in strokes)]
    ways = [np.hypot(*(stroke[0] - end)) for stroke, end in zip(strokes, ends, strict=False)]
    assert len(lined.lines) > 3
    assert figures(lined, machine).lifted == pytest.approx(sum(ways))


def test_the_command_line_lays_sheets_out_too(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["sheets", str(DEMO), "--reads", "hpgl", "--copies", "2", "--out", str(tmp_path)]) == 0
    written = sorted(path.name for path in tmp_path.iterdir())
    assert len(written) == 3
    assert all(name.endswith(".hpgl") for name in written)
    assert "2 on 305 × " in capsys.readouterr().err
    assert main(["sheets", str(DEMO), "--copies", "0", "--out", str(tmp_path)]) == 1
    assert "1 to 500 times, not 0" in capsys.readouterr().err
