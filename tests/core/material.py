"""Lettering and shapes to test on, and readings of regions by libraries that are not ours."""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np
import pathops
import pyclipr
import shapely

from perigram.core.geometry import Region
from perigram.core.geometry.measure import loop_areas
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.pen import RegionPen
from perigram.core.geometry.regularise import sound
from perigram.core.lettering.letters import letters_of
from perigram.core.lettering.rows import Fit, SetRow, Setting, Spacing, set_letters
from perigram.library import font_catalogue, open_font

HEAVY = [f.id for f in font_catalogue() if "heavy" in f.tags]
SCRIPT = [f.id for f in font_catalogue() if "script" in f.tags]
EVERY = [f.id for f in font_catalogue()]


def set_row(
    font: str, text: str, size: float, fit: Fit = "wide", spacing: Spacing = "font", gap: float = 0
) -> SetRow:
    return set_letters(letters_of(open_font(font), text), Setting(size, fit, spacing, gap))


@cache
def row(
    font: str, text: str, size: float, fit: Fit = "wide", spacing: Spacing = "font", gap: float = 0
) -> Region:
    return weld(set_row(font, text, size, fit, spacing, gap).bodies)


def polygon(*corners: tuple[float, float]) -> Region:
    pen = RegionPen()
    pen.move_to(corners[0])
    for corner in corners[1:]:
        pen.line_to(corner)
    return pen.region()


def box(x: float, y: float, width: float, height: float) -> Region:
    return polygon((x, y), (x + width, y), (x + width, y + height), (x, y + height))


def disc(x: float, y: float, radius: float, arcs: int = 8) -> Region:
    """A circle of cubic arcs; of eight, the radius is off by at most 4 millionths."""
    step = 2 * np.pi / arcs
    handle = 4 / 3 * np.tan(step / 4) * radius
    pen = RegionPen()
    pen.move_to((x + radius, y))
    for i in range(arcs):
        a, b = i * step, (i + 1) * step
        start = np.array([np.cos(a), np.sin(a)]) * radius + handle * np.array([-np.sin(a), np.cos(a)])
        end = np.array([np.cos(b), np.sin(b)]) * radius - handle * np.array([-np.sin(b), np.cos(b)])
        to = np.array([np.cos(b), np.sin(b)]) * radius
        pen.cubic_to(*((float(p[0] + x), float(p[1] + y)) for p in (start, end, to)))
    return pen.region()


def fine(region: Region, tolerance: float = 0.0005) -> shapely.MultiPolygon:
    """The region as it leaves the core, flattened ten times finer than overlays are."""
    return sound(region).flattened(tolerance).multipolygon()


def holds_finely(region: Region) -> bool:
    """Whether the region is valid on chords ten times finer than overlays use, everywhere."""
    return bool(shapely.is_valid(region.flattened(0.0005).multipolygon()))


def assert_keeps_its_promises(region: Region) -> None:
    """Closed, simple, not crossing, outer loops positive and holes negative, no stray segments."""
    assert np.isfinite(region.segments).all()
    assert shapely.is_valid(region.multipolygon), shapely.is_valid_reason(region.multipolygon)
    outer = np.zeros(region.loop_count, bool)
    outer[region.polygon_offsets[:-1]] = True
    assert ((loop_areas(region) > 0) == outer).all()
    assert (np.abs(region.end - region.start).max(axis=1)[region.straight] > 0).all()


def clipped(a: Region, b: Region, kind: str) -> list[np.ndarray]:
    """Rings of an overlay by an integer polygon clipper, on finely flattened loops."""
    clipper = pyclipr.Clipper()
    clipper.scaleFactor = 100_000
    clipper.addPaths(rings(a), pyclipr.Subject)
    clipper.addPaths(rings(b), pyclipr.Clip)
    return [np.asarray(p) for p in clipper.execute(getattr(pyclipr, kind), pyclipr.FillRule.NonZero)]


def clipped_area(a: Region, b: Region, kind: str) -> float:
    return ring_areas(clipped(a, b, kind))


def ring_areas(paths: list[np.ndarray]) -> float:
    return float(sum(_ring_area(path) for path in paths))


def rings(region: Region, tolerance: float = 0.0005) -> list[np.ndarray]:
    flat = region.flattened(tolerance)
    return [flat.xy[a:b] for a, b in zip(flat.ring_offsets[:-1], flat.ring_offsets[1:], strict=True)]


def _ring_area(ring: np.ndarray) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum() / 2)


def away(outline: shapely.Geometry, points: np.ndarray) -> np.ndarray:
    """How far points are from an outline: by lines to it, as GEOS finds those by an index of its edges."""
    shapely.prepare(outline)
    return shapely.length(shapely.shortest_line(outline, points))


def farthest_apart(a: shapely.Geometry, b: shapely.Geometry) -> float:
    """The Hausdorff distance between the outlines of two bodies, by all of their vertices."""
    one, other = shapely.boundary(a), shapely.boundary(b)
    ways = (
        away(x, shapely.points(shapely.get_coordinates(y))).max() for x, y in ((one, other), (other, one))
    )
    return float(max(ways))


def bezier_area(a: Region, b: Region, kind: str) -> float:
    """Area of an overlay by a Bezier boolean library working on the curves themselves."""
    operation = {
        "Union": pathops.PathOp.UNION,
        "Difference": pathops.PathOp.DIFFERENCE,
        "Intersection": pathops.PathOp.INTERSECTION,
        "Xor": pathops.PathOp.XOR,
    }[kind]
    return abs(float(pathops.op(bezier_path(a), bezier_path(b), operation).area))


def bezier_path(region: Region) -> Any:
    path = pathops.Path(fillType=pathops.FillType.EVEN_ODD)
    pen = path.getPen()
    segments, straight = region.segments, region.straight
    for loop in region.loop_slices():
        pen.moveTo(tuple(segments[loop.start, 0]))
        for i in range(loop.start, loop.stop):
            if straight[i]:
                pen.lineTo(tuple(segments[i, 3]))
            else:
                pen.curveTo(*(tuple(p) for p in segments[i, 1:]))
        pen.closePath()
    return path


def evenodd(rings: list[shapely.Polygon]) -> shapely.Geometry:
    whole = shapely.Polygon()
    for ring in rings:
        whole = whole.symmetric_difference(ring)
    return whole
