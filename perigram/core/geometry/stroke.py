"""Strokes into areas: what a pen of some width covers that follows a path."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.arrange import faces_of, outlined
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.flat import Flat
from perigram.core.geometry.offset import TOLERANCE, without_tails
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.parallel import FLAT, MITRED, ROUND, Mitres, raw_parallel
from perigram.core.geometry.region import FINE, MOST_VERTICES, Region, check_coordinates
from perigram.core.geometry.region import TOLERANCE as REGION_TOLERANCE
from perigram.core.geometry.regularise import paths, sound
from perigram.core.geometry.restore import Edges, region_of, restore

Cap = Literal["butt", "round", "square"]
Join = Literal["miter", "round", "bevel"]
#: Faces nowhere twice as wide as this many mm lie between two parallels that nearly coincide.
_SLIVER = 0.012
_SPECK = 1e-4


@dataclass(frozen=True)
class Pen:
    """How a path is stroked: width in mm, how its ends and corners look, how far mitres reach in widths."""

    width: float
    cap: Cap = "butt"
    join: Join = "miter"
    limit: float = 4.0


def stroked(segments: Floats, curved: Bools, starts: Ints, closed: Bools, pen: Pen) -> Region:
    """The area that stroking paths covers, as SVG 2, section 13.5, has it.

    The parallels on both sides are laid over each other, and of the faces between them those are taken
    that lie in GEOS's own buffer of the path.

    Args:
        segments: (n, 4, 2) the paths' control points.
        curved: (n,) false for lines.
        starts: (m + 1,) offsets of paths in the segments.
        closed: (m,) which paths are closed.
    """
    check_coordinates(segments)
    half = pen.width / 2.0
    rounds: list[Floats] = []
    bends: list[Bools] = []
    corners: list[Ints] = []
    sizes: list[int] = []
    lines: list[shapely.Geometry] = []
    dots: list[shapely.Geometry] = []
    for first, last, ring in zip(starts[:-1], starts[1:], closed, strict=True):
        path, bent = segments[first:last], curved[first:last]
        length = np.abs(np.diff(path, axis=1)).sum(axis=(1, 2))
        if not (length > 0.0).any():
            dots += _dot(path[0, 0], half, pen.cap) if len(path) else []
            continue
        path, bent = path[length > 0.0], bent[length > 0.0]
        if pen.cap == "square" and not ring:
            path, bent = _longer(path, bent, half)
        back, tneb = path[::-1, ::-1], bent[::-1]
        rounds += [path, back]
        bends += [bent, tneb]
        sizes += [len(path), len(path)] if ring else [2 * len(path)]
        corner = np.full((2, len(path)), {"miter": MITRED, "round": ROUND, "bevel": FLAT}[pen.join])
        if not ring:
            corner[:, -1] = ROUND if pen.cap == "round" else FLAT
        corners.append(corner.ravel())
        lines.append(_line(path, bent, bool(ring)))
    if not lines:
        return region_of(shapely.union_all(np.array(dots, object)))
    body = shapely.union_all(
        shapely.buffer(
            np.array(lines),
            half,
            quad_segs=16,
            cap_style="round" if pen.cap == "round" else "flat",
            join_style={"miter": "mitre", "round": "round", "bevel": "bevel"}[pen.join],
            mitre_limit=max(1.0, pen.limit),
        )
    )
    source = paths(
        np.concatenate(rounds), np.concatenate(bends), np.concatenate([[0], np.cumsum(sizes)]).astype(np.intp)
    )
    mitres = Mitres(pen.limit, lambda tips: np.ones(len(tips), bool), flat_beyond=True)
    raw = raw_parallel(source, half, TOLERANCE, _nowhere_deep, mitres, np.concatenate(corners))
    around = paths(raw.segments, raw.curved, raw.loop_offsets)
    flat = around.flattened(REGION_TOLERANCE)
    _refuse(flat)
    faces = faces_of([flat])
    within = shapely.buffer(faces, -_SLIVER, quad_segs=1)
    points = shapely.point_on_surface(np.where(shapely.is_empty(within), faces, within))
    shapely.prepare(body)
    kept = faces[np.asarray(shapely.intersects(body, points))]
    outcome = outlined(kept, [flat])
    made = restore(Edges.of([around], [flat]), [outcome], _SPECK)[0]
    made = sound(without_tails(made, raw.segments[raw.inner]))
    return weld([made, region_of(shapely.union_all(np.array(dots, object)))]) if dots else made


def _nowhere_deep(lines: Floats) -> Bools:
    return np.zeros(len(lines), bool)


def _refuse(flat: Flat) -> None:
    if len(flat.xy) > MOST_VERTICES:
        raise GeometryError(f"Its strokes need more than {MOST_VERTICES:,} points; draw them simpler.")


def _line(path: Floats, bent: Bools, ring: bool) -> shapely.Geometry:
    """A path as a fine GEOS line."""
    steps = np.where(bent, bezier.steps_for(path, FINE), 1)
    segment, place = bezier.expand(steps)
    xy = bezier.evaluate(path[segment], place / steps[segment])
    xy = np.vstack([xy, xy[:1] if ring else path[-1:, 3]])
    moved = np.append(True, np.abs(np.diff(xy, axis=0)).max(axis=1) > 0.0)
    xy = xy[moved]
    return shapely.LinearRing(xy) if ring and len(xy) > 3 else shapely.LineString(xy)


def _longer(path: Floats, bent: Bools, by: float) -> tuple[Floats, Bools]:
    """A path with a straight piece more at each end."""
    first, last = path[0], path[-1]
    enter = next(first[k] - first[0] for k in (1, 2, 3) if np.abs(first[k] - first[0]).max() > 0.0)
    leave = next(last[3] - last[k] for k in (2, 1, 0) if np.abs(last[3] - last[k]).max() > 0.0)
    ends = np.stack(
        [
            np.stack([first[0] - by * enter / np.hypot(*enter), first[0]]),
            np.stack([last[3], last[3] + by * leave / np.hypot(*leave)]),
        ]
    )
    more = bezier.line_controls(ends[:, 0], ends[:, 1])
    return np.concatenate([more[:1], path, more[1:]]), np.concatenate([[False], bent, [False]])


def _dot(at: Floats, half: float, cap: Cap) -> list[shapely.Geometry]:
    """What a path of no length shows: a dot or a square where its caps are not butt."""
    x, y = (float(v) for v in at)
    if cap == "round":
        return [shapely.buffer(shapely.Point(x, y), half, quad_segs=64)]
    return [shapely.box(x - half, y - half, x + half, y + half)] if cap == "square" else []
