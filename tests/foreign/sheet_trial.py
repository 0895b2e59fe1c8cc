"""One foreign design laid on sheets and written as a machine reads it, its files read by other readers."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from io import BytesIO, StringIO
from random import Random
from xml.etree import ElementTree

import ezdxf
import numpy as np
import pdfplumber
import shapely
from ezdxf import path as ezpath

from perigram.core.errors import PerigramError
from perigram.core.formats.bundle import sheet_files
from perigram.core.formats.page import CutPly
from perigram.core.recipe.making import Sheets
from perigram.core.sheet.layout import lay_out
from perigram.core.sheet.machine import Machine, Reads
from perigram.core.sheet.sheet import Sheet
from perigram.cutter.hpgl import Pen, Reader

from . import judge
from .designs import design
from .sets import SETS
from .trial import QUICK, Trial, exported, font_ids

#: Formats compared: those that differ by more than their unit.
_READ: tuple[Reads, ...] = ("svg-mm", "svg-72", "dxf-mm", "dxf-in", "pdf", "hpgl")
#: Area by which a ply on all its sheets may differ from the ply, of the whole (0.1 %) and in mm^2.
_SHARE, _AREA = 1e-3, 0.02


def how_of(random: Random, box: tuple[float, float]) -> tuple[Sheets, float, float]:
    """Some way of laying a design of that size out, and a sheet it may be too large for."""
    layout = random.choice(["registered", "packed"])
    how = Sheets(
        copies=random.choice([1, 1, 2, 5]),
        layout=layout,  # type: ignore[arg-type]
        keeps=random.choice(["designs", "pieces"]),  # type: ignore[arg-type]
        turned=random.random() < 0.5,
        apart=random.choice([0.0, 2.0, 3.175, 5.0]),
        edge=random.choice([0.0, 6.35, 8.0]),
        marks=random.choice(["none", "crosses", "corners", "pins"]),  # type: ignore[arg-type]
        border=random.random() < 0.5,
        across=random.choice([0.0, 15.0, 40.0]),
        frame=random.random() < 0.5,
        split=random.choice(["butt", "overlap"]),  # type: ignore[arg-type]
        overlap=random.choice([2.0, 10.0]),
    )
    share = random.choice([0.45, 0.8, 1.5, 4.0]) if layout == "registered" else random.choice([1.5, 4.0])
    width = min(5_000.0, max(box) * share + 45.0)
    length = min(
        50_000.0, max(box) * random.choice([0.6, 1.5, 6.0] if layout == "registered" else [1.5, 6.0]) + 45.0
    )
    return how, width, length


def sheets_tried(seed: int, quick: bool = False) -> Trial:
    """The design of a seed laid out in some way; what is wrong with any file of it."""
    sets = QUICK if quick else SETS
    trial = Trial(seed, design(seed, font_ids(sketched=not quick), sets))
    proof, _, trial.refused = exported(trial.body)
    if trial.refused or proof.bounds is None:
        return trial
    random = Random(seed)
    x0, y0, x1, y1 = proof.bounds
    how, width, length = how_of(random, (x1 - x0, y1 - y0))
    plies = [
        CutPly(p.name, p.material, p.colour, p.mirrored, p.region, width, length, p.id)
        for p in proof.to_cut()
    ]
    reads = random.choice(_READ)
    try:
        sheets = lay_out(plies, how)
        files = sheet_files("d", sheets, Machine(id="m", name="m", reads=reads))
    except PerigramError as error:
        trial.refused = str(error)
        return trial
    kind, _, unit = reads.partition("-")
    wanted = {
        ply.id: how.copies * float(shapely.area(body(ply.region))) for ply in plies if not ply.region.is_empty
    }
    found: Counter[str] = Counter()
    for sheet, content in zip(sheets, files.values(), strict=True):
        rings = _READERS[kind](content, unit, sheet)
        where = f"{sheet.stock.name} {sheet.number} as {reads}"
        trial.wrong += [f"{where}: {breach}" for breach in judge.breaches(rings) if kind != "hpgl"]
        trial.wrong += [f"{where}: {text}" for text in _off_sheet(rings, sheet)]
        found[sheet.stock.id] += sheet.times * float(shapely.area(judge.solid(rings)))
    if how.split == "overlap" and any(sheet.part for sheet in sheets):
        # What lies in the overlap is there twice.
        return trial
    for ply, area in wanted.items():
        coarse = (
            0.013 * sum(s.times * _length(s) for s in sheets if s.stock.id == ply) if kind == "hpgl" else 0.0
        )
        if abs(found[ply] - area) > _SHARE * area + _AREA + coarse:
            trial.wrong.append(f"{ply} as {reads}: {found[ply]:.3f} mm2 on its sheets, {area:.3f} in the ply")
    return trial


def body(region: object) -> shapely.Geometry:
    flat = region.flattened(judge.CHORD)  # type: ignore[attr-defined]
    ends = zip(flat.ring_offsets[:-1], flat.ring_offsets[1:], strict=True)
    return judge.solid([flat.xy[a:b] for a, b in ends])


def _length(sheet: Sheet) -> float:
    flat = sheet.work.flattened(0.01)
    return float(np.hypot(*(np.roll(flat.xy, -1, axis=0) - flat.xy).T).sum())


def _off_sheet(rings: list[np.ndarray], sheet: Sheet) -> list[str]:
    if not rings:
        return ["nothing on it"]
    x0, y0, x1, y1 = shapely.total_bounds([shapely.linearrings(ring) for ring in rings])
    inside = x0 > -0.02 and y0 > -0.02 and x1 < sheet.stock.width + 0.02 and y1 < sheet.used + 0.02
    return (
        [] if inside and sheet.used <= sheet.stock.length + 1e-6 else [f"off its sheet: {x0} {y0} {x1} {y1}"]
    )


def _of_work(rings: list[np.ndarray], sheet: Sheet) -> list[np.ndarray]:
    """Rings that are none of the marks, borders and the frame: told apart by their boxes."""
    besides = [
        box
        for region in (sheet.marks, sheet.borders, sheet.frame)
        if not region.is_empty
        for box in boxes(region)
    ]
    tree = shapely.STRtree(
        [shapely.points(box) for box in (np.array(besides).reshape(-1, 2, 2).mean(axis=1))]
    )
    kept = []
    for ring in rings:
        box = np.array([ring.min(axis=0), ring.max(axis=0)])
        near = (
            tree.query(shapely.points(box.mean(axis=0)), predicate="dwithin", distance=0.05)
            if besides
            else []
        )
        if not any(np.abs(np.array(besides[k]).reshape(2, 2) - box).max() < 0.05 for k in near):
            kept.append(ring)
    return kept


def boxes(region: object) -> list[list[float]]:
    flat = region.flattened(judge.CHORD)  # type: ignore[attr-defined]
    ends = zip(flat.ring_offsets[:-1], flat.ring_offsets[1:], strict=True)
    return [[*flat.xy[a:b].min(axis=0), *flat.xy[a:b].max(axis=0)] for a, b in ends]


def _from_svg(content: bytes, unit: str, sheet: Sheet) -> list[np.ndarray]:
    """What is kept, by fontTools; in mm where the file counts dots."""
    scale = 25.4 / float(unit) if unit.isdigit() else {"mm": 1.0, "in": 25.4}[unit]
    root = ElementTree.fromstring(content)
    work = [path for path in root.iter(f"{judge.SVG}path") if path.get("id") == "work"]
    return [
        ring * scale for path in work for ring in judge.path_rings(path.get("d", ""), judge.CHORD / scale)
    ]


def _from_dxf(content: bytes, unit: str, sheet: Sheet) -> list[np.ndarray]:
    """By ezdxf, which writes it too; what it flattens is judged by others."""
    scale = {"mm": 1.0, "in": 25.4}[unit]
    document = ezdxf.read(StringIO(content.decode("cp1252")))
    assert not document.audit().has_errors
    rings = []
    for entity in document.modelspace():
        if entity.dxftype() == "LINE":
            continue
        line = (
            np.array([(v.x, v.y) for v in ezpath.make_path(entity).flattening(judge.CHORD / scale)]) * scale
        )
        line = np.column_stack([line[:, 0], sheet.used - line[:, 1]])
        moved = np.abs(np.diff(line, axis=0, prepend=line[-1:])).max(axis=1) > 1e-9
        rings.append(line[moved])
    return _of_work(rings, sheet)


def _from_pdf(content: bytes, unit: str, sheet: Sheet) -> list[np.ndarray]:
    """By pdfminer, whose paths keep their curves; points are 1/72 in."""
    rings = []
    with pdfplumber.open(BytesIO(content)) as read:
        page = read.pages[0]
        for one in [*page.curves, *page.rects, *page.lines]:
            data, at = [], None
            for op, *points in one["path"]:
                if op == "m":
                    data, at = [np.array(points, float)], points[-1]
                elif op == "l":
                    data.append(np.array(points, float))
                elif op == "c":
                    cubic = np.array([[data[-1][-1], *np.array(points, float)]])
                    data += [judge.chords(cubic, judge.CHORD)[0][1:], cubic[0, 3:]]
            if at is None or len(np.concatenate(data)) < 3:
                continue
            ring = np.concatenate(data) * 25.4 / 72.0
            moved = np.abs(np.diff(ring, axis=0, prepend=ring[-1:])).max(axis=1) > 1e-9
            rings.append(ring[moved])
    return _of_work(rings, sheet)


def _from_hpgl(content: bytes, unit: str, sheet: Sheet) -> list[np.ndarray]:
    """By the simulated cutter's reader; outlines are as far off as half a step of 0.025 mm."""
    pen, reader = Pen(), Reader()
    for instruction in reader.feed(content):
        for to, down in pen.path(*instruction):
            pen.go(to, down)
    lines = [np.array(line) / 40.0 * [1.0, -1.0] + [0.0, sheet.used] for line in pen.lines]
    rings = [line[:-1] for line in lines if len(line) > 3 and (line[0] == line[-1]).all()]
    return _of_work(rings, sheet)


_READERS: dict[str, Callable[[bytes, str, Sheet], list[np.ndarray]]] = {
    "svg": _from_svg,
    "dxf": _from_dxf,
    "pdf": _from_pdf,
    "hpgl": _from_hpgl,
}
