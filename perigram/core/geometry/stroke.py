"""Strokes into areas: what a pen of some width covers that follows a path."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.arrange import GRID, faces_of, outlined, places_in
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.edges import Edges
from perigram.core.geometry.flat import Flat, boxes_of
from perigram.core.geometry.measure import loop_areas
from perigram.core.geometry.offset import TOLERANCE, without_tails
from perigram.core.geometry.overlay import refuse_tangles, weld
from perigram.core.geometry.parallel import FLAT, MITRED, ROUND, Mitres, RawParallel, raw_parallel
from perigram.core.geometry.region import MOST_VERTICES, Region, check_coordinates
from perigram.core.geometry.region import TOLERANCE as REGION_TOLERANCE
from perigram.core.geometry.regularise import paths, sound
from perigram.core.geometry.restore import offsets, region_of, restore
from perigram.core.geometry.sweep import swept
from perigram.core.geometry.union import united

Cap = Literal["butt", "round", "square"]
Join = Literal["miter", "round", "bevel"]
#: Faces nowhere twice as wide as this many mm lie between two parallels that nearly coincide.
_SLIVER = 0.012
_SPECK = 1e-4
#: Outlines enclose what GEOS's buffer does to within this share, and lie this many mm from any other's.
_ALIKE, _NEAR = 0.01, 0.02
#: Paths may cross themselves and each other so often; every crossing makes half a dozen faces.
_MOST_CROSSINGS = 12_000


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
    that lie in GEOS's own buffer of the path. Most need that not: they are outlines as they are.

    Args:
        segments: (n, 4, 2) the paths' control points.
        curved: (n,) false for lines.
        starts: (m + 1,) offsets of paths in the segments.
        closed: (m,) which paths are closed.
    """
    check_coordinates(segments)
    half = pen.width / 2.0
    drawn: list[Floats] = []
    bent: list[Bools] = []
    rings: list[bool] = []
    dots: list[shapely.Geometry] = []
    for first, last, ring in zip(starts[:-1], starts[1:], closed, strict=True):
        path, bends = segments[first:last], curved[first:last]
        length = np.abs(np.diff(path, axis=1)).sum(axis=(1, 2))
        # A step of rounding, as closing often is, says nothing of where the path goes.
        real = length > GRID
        if not real.any():
            dots += _dot(path[0, 0], half, pen.cap) if len(path) else []
            continue
        path, bends = path[real], bends[real]
        if pen.cap == "square" and not ring:
            path, bends = _longer(path, bends, half)
        drawn.append(path)
        bent.append(bends)
        rings.append(bool(ring))
    if not rings:
        return region_of(united(np.array(dots, object)))
    region = _stroked(drawn, bent, np.array(rings), pen)
    return weld([region, region_of(united(np.array(dots, object)))]) if dots else region


def _stroked(drawn: Sequence[Floats], bent: Sequence[Bools], rings: Bools, pen: Pen) -> Region:
    """The strokes of paths that go somewhere."""
    half, count = pen.width / 2.0, np.array([len(path) for path in drawn])
    segments, curved = np.concatenate(drawn), np.concatenate(bent)
    _refuse_scrawls(segments, curved, offsets(count), half)
    lines, bends = _lines(segments, curved, offsets(count))
    bodies = lines.copy()
    for some, ways, cap in (
        (~rings, lines[~rings], "round" if pen.cap == "round" else "flat"),
        (rings, _on_round(lines[rings]), "flat"),
    ):
        bodies[some] = shapely.buffer(
            ways,
            half,
            quad_segs=16,
            cap_style=cap,
            join_style={"miter": "mitre", "round": "round", "bevel": "bevel"}[pen.join],
            mitre_limit=max(1.0, pen.limit),
        )
    # Each path there and back: one loop round an open one, two along the sides of a closed one.
    path, place = bezier.expand(2 * count)
    back = place >= count[path]
    there = offsets(count)[path] + np.where(back, 2 * count[path] - 1 - place, place)
    around = np.where(back[:, None, None], segments[there, ::-1], segments[there])
    corner = np.full(len(path), {"miter": MITRED, "round": ROUND, "bevel": FLAT}[pen.join])
    tip = ~rings[path] & ((place == count[path] - 1) | (place == 2 * count[path] - 1))
    corner[tip] = ROUND if pen.cap == "round" else FLAT
    path_of, _ = bezier.expand(1 + rings)
    sizes = np.where(rings, count, 2 * count)[path_of]
    source = paths(around, curved[there], offsets(sizes))
    mitres = Mitres(pen.limit, lambda tips: np.ones(len(tips), bool), flat_beyond=True)
    raw = raw_parallel(source, half, TOLERANCE, _nowhere_deep, mitres, corner, by_corner=True)
    sides = paths(raw.segments, raw.curved, raw.loop_offsets)
    plain, made = np.zeros(sides.loop_count, bool), [Region.empty()]
    if sides.loop_count == len(sizes):
        plain, made[0] = _plain(sides, raw, path_of, bodies)
    if not plain.all():
        crossing = np.zeros(len(rings), bool)
        crossing[path_of[~plain] if sides.loop_count == len(sizes) else slice(None)] = True
        bends = bends[np.repeat(crossing, shapely.get_num_coordinates(lines))]
        cover = swept(lines[crossing], bends, rings[crossing], half, pen.join, pen.cap, pen.limit)
        made.append(_faces_within(sides.select_polygons(~plain), cover))
    return sound(without_tails(Region.joined(made), raw.segments[raw.inner]))


def _plain(around: Region, raw: RawParallel, path: Ints, bodies: np.ndarray) -> tuple[Bools, Region]:
    """Which parallels (m,) are outlines of strokes as they are, and those strokes.

    None leads on inside or crosses itself, together they enclose what the path's body does, and no other
    body is near.

    Args:
        around: (m,) loops along both sides of paths.
        path: (m,) the path each is of.
        bodies: (k,) of each path what GEOS has of its stroke.
    """
    areas, count = loop_areas(around), len(bodies)
    sizes = np.bincount(path, minlength=count)
    body = shapely.area(bodies)
    good = np.abs(np.bincount(path, areas, count) - body) < _ALIKE * body
    good &= (body > 1.0) & (np.bincount(path, areas > 0.0, count) == 1)
    simple = shapely.is_valid(around.flattened(REGION_TOLERANCE).polygon_array())
    simple &= ~np.logical_or.reduceat(raw.inner, raw.loop_offsets[:-1])
    good &= np.bincount(path, simple, count) == sizes
    low, high = np.split(shapely.bounds(bodies), 2, axis=1)
    one, other = shapely.STRtree(boxes_of(low - _NEAR, high + _NEAR)).query(boxes_of(low, high))
    good[one[one != other]] = False
    # The outer loop comes first, and then the hole it has, if it goes round.
    loops = np.flatnonzero(good[path])
    loops = loops[np.lexsort((-areas[loops], path[loops]))]
    loop, place = bezier.expand(np.diff(around.loop_offsets)[loops])
    segment = around.loop_offsets[loops][loop] + place
    strokes = Region.from_loops(
        around.segments[segment],
        around.curved[segment],
        offsets(np.diff(around.loop_offsets)[loops]),
        offsets(sizes[good]),
    )
    nested = shapely.is_valid(strokes.flattened(REGION_TOLERANCE).polygon_array())
    good[good] = nested
    return good[path], strokes.select_polygons(nested)


def _faces_within(around: Region, cover: np.ndarray) -> Region:
    """What lies in any polygon of a cover of the faces between parallels that cross as they like."""
    flat = around.flattened(REGION_TOLERANCE)
    _refuse(flat)
    faces = faces_of([flat])
    points = places_in(faces, _SLIVER)
    kept = np.zeros(len(faces), bool)
    kept[shapely.STRtree(points).query(cover, predicate="intersects")[1]] = True
    return restore(Edges.of([around], [flat]), [outlined(faces[kept], [flat])], _SPECK)[0]


def _nowhere_deep(_: Floats, lines: Ints) -> Bools:
    return np.zeros(len(lines), bool)


def _refuse_scrawls(segments: Floats, curved: Bools, starts: Ints, half: float) -> None:
    """Refuse paths that cross so often that the faces between their sides would take long to find.

    Counted on chords as coarse as the pen is wide.
    """
    coarse = Region.from_loops(segments, curved, starts, np.arange(len(starts)))
    flat = coarse.flattened(max(half, REGION_TOLERANCE))
    refuse_tangles(flat, flat)
    chords = shapely.linestrings(np.stack([flat.xy, flat.end], axis=1))
    pairs = shapely.STRtree(chords).query(chords, predicate="intersects").shape[1]
    # Each chord meets itself, and its neighbours.
    crossings = (pairs - len(chords)) // 2 - len(chords)
    if crossings > _MOST_CROSSINGS:
        raise GeometryError(
            f"Its stroke crosses itself about {crossings:,} times; up to {_MOST_CROSSINGS:,} can be worked "
            "on. Draw it simpler."
        )


def _refuse(flat: Flat) -> None:
    if len(flat.xy) > MOST_VERTICES:
        raise GeometryError(f"Its strokes need more than {MOST_VERTICES:,} points; draw them simpler.")


def _lines(segments: Floats, curved: Bools, starts: Ints) -> tuple[np.ndarray, Bools]:
    """Paths from their starts to their ends as GEOS lines, and which of the vertices are within a curve."""
    flat = Region.from_loops(segments, curved, starts, np.arange(len(starts))).flattened(REGION_TOLERANCE)
    xy, ends = flat.closed()
    xy[ends[1:] - 1] = segments[starts[1:] - 1, 3]
    within = np.insert((flat.t[:, 0] > 0.0) & (flat.t[:, 0] < 1.0), flat.ring_offsets[1:], False)
    return np.asarray(shapely.from_ragged_array(shapely.GeometryType.LINESTRING, xy, (ends,))), within


def _on_round(lines: np.ndarray) -> np.ndarray:
    """Closed lines (n,), each on to its second vertex: of rings that only run there and back GEOS's buffer
    leaves one side out.
    """
    xy, line = shapely.get_coordinates(lines, return_index=True)
    first = np.flatnonzero(np.diff(line, prepend=-1))
    last = np.append(first[1:], len(xy))
    return np.asarray(
        shapely.linestrings(
            np.insert(xy, last, xy[first + 1], axis=0), indices=np.insert(line, last, line[first])
        )
    )


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
