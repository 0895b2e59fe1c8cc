"""Figures about a region, computed on its curves, not on chords."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.flat import Flat, apart
from perigram.core.geometry.region import Region

#: Abscissae and weights on [0, 1]; 16 points give the length of a letter's curve to about 1e-9.
_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(16)
_NODES, _WEIGHTS = (_NODES + 1.0) / 2.0, _WEIGHTS / 2.0
#: Quadratic Bernstein weights (16, 3) there: a cubic's derivative is a quadratic of its differences.
_HODOGRAPH = np.stack([(1.0 - _NODES) ** 2, 2.0 * _NODES * (1.0 - _NODES), _NODES**2], axis=1)

Box = tuple[float, float, float, float]


def loop_areas(region: Region) -> Floats:
    """Signed area (m,) of every loop in mm^2, exactly: holes are negative.

    Green's theorem over a cubic, integrated in closed form.
    """
    p0, p1, p2, p3 = region.segments.transpose(1, 0, 2)
    twice = (
        6.0 * bezier.cross(p0, p1)
        + 3.0 * bezier.cross(p0, p2)
        + bezier.cross(p0, p3)
        + 3.0 * bezier.cross(p1, p2)
        + 3.0 * bezier.cross(p1, p3)
        + 6.0 * bezier.cross(p2, p3)
    )
    if region.is_empty:
        return np.zeros(0)
    return np.add.reduceat(twice, region.loop_offsets[:-1]) / 20.0


def area(region: Region) -> float:
    """Solid area in mm^2."""
    return float(loop_areas(region).sum())


def piece_areas(region: Region) -> Floats:
    """Area (p,) of every polygon, its holes taken off."""
    if region.is_empty:
        return np.zeros(0)
    return np.add.reduceat(loop_areas(region), region.polygon_offsets[:-1])


def length(region: Region) -> float:
    """Length of all outlines in mm, by Gauss-Legendre quadrature of the speed."""
    hodographs = 3.0 * np.diff(region.segments, axis=1)
    dx, dy = np.tensordot(_HODOGRAPH, hodographs, axes=(1, 1)).transpose(2, 0, 1)
    return float((_WEIGHTS @ np.hypot(dx, dy)).sum())


def bounds(region: Region) -> Box | None:
    """The exact box (min x, min y, max x, max y) of the curves in mm; None for nothing."""
    if region.is_empty:
        return None
    low, high = region.start.min(axis=0), region.start.max(axis=0)
    bent = region.segments[~region.straight]
    if len(bent):
        least, most = extents(bent)
        low, high = np.minimum(low, least), np.maximum(high, most)
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])


def extents(cubics: Floats) -> tuple[Floats, Floats]:
    """The least and the greatest coordinates (2,) of cubics (n, 4, 2), exactly."""
    ends = cubics[:, ::3].reshape(-1, 2)
    low, high = ends.min(axis=0), ends.max(axis=0)
    for axis in (0, 1):
        a = cubics[:, 3, axis] - 3 * cubics[:, 2, axis] + 3 * cubics[:, 1, axis] - cubics[:, 0, axis]
        b = 2 * (cubics[:, 2, axis] - 2 * cubics[:, 1, axis] + cubics[:, 0, axis])
        c = cubics[:, 1, axis] - cubics[:, 0, axis]
        for t in _quadratic_roots(a, b, c):
            inside = (t > 0.0) & (t < 1.0)
            if inside.any():
                x = bezier.evaluate(cubics[inside], t[inside])[:, axis]
                low[axis], high[axis] = min(low[axis], x.min()), max(high[axis], x.max())
    return low, high


def off_outline(points: Floats, flat: Flat) -> float:
    """How far in mm points (n, 2) are from flattened outlines at most."""
    if len(points) == 0 or len(flat.xy) == 0:
        return 0.0
    outline = shapely.boundary(flat.multipolygon())
    shapely.prepare(outline)
    return float(apart(outline, shapely.points(points)).max())


def _quadratic_roots(a: Floats, b: Floats, c: Floats) -> tuple[Floats, Floats]:
    """Real roots of a t^2 + b t + c in the form that does not cancel; NaN where there are none."""
    with np.errstate(invalid="ignore", divide="ignore"):
        q = -0.5 * (b + np.copysign(np.sqrt(b * b - 4.0 * a * c), b))
        return q / a, c / q


def union_box(boxes: Sequence[Box | None]) -> Box | None:
    """The box of several boxes together; None where there are none."""
    real = [box for box in boxes if box is not None]
    if not real:
        return None
    lows, highs = [(b[0], b[1]) for b in real], [(b[2], b[3]) for b in real]
    return (
        min(x for x, _ in lows),
        min(y for _, y in lows),
        max(x for x, _ in highs),
        max(y for _, y in highs),
    )


def box_area(box: Box) -> float:
    """The area of a box in mm2."""
    return (box[2] - box[0]) * (box[3] - box[1])


def middle(box: Box) -> tuple[float, float]:
    """The middle of a box."""
    return (box[0] + box[2]) / 2.0, (box[1] + box[3]) / 2.0
