"""A judge of cut files that shares nothing with the core.

Path data is read by fontTools, curves are flattened here, ten times finer than the core's overlays
flatten them, and what they come to is looked at with GEOS.
"""

from __future__ import annotations

import re
from functools import lru_cache
from xml.etree import ElementTree

import numpy as np
import shapely
from fontTools.pens.recordingPen import RecordingPen
from fontTools.svgLib.path import parse_path

#: Chords stay within this many mm of the curves.
CHORD = 0.0005
#: What crosses within some hundredths of a mm is seen on these chords.
FINEST = 0.00004
#: A hair or a slit is narrower than this many mm over a length of more than `LONG` mm.
THIN, LONG = 0.008, 0.5
#: Length in mm that two outlines may have in common: what rounding in the file comes to.
SHARED = 1e-3

SVG = "{http://www.w3.org/2000/svg}"


def ply_rings(svg: bytes, chord: float = CHORD) -> list[np.ndarray]:
    """The closed rings (k, 2) of a ply's file, in mm."""
    root = ElementTree.fromstring(svg)
    assert root.get("width", "").endswith("mm")
    view = [float(v) for v in root.get("viewBox", "").split()]
    assert view[:2] == [0.0, 0.0]
    assert f"{view[2]:.10g}mm" == root.get("width")
    rings: list[np.ndarray] = []
    for path in root.iter(f"{SVG}path"):
        rings += path_rings(path.get("d", ""), chord)
    return rings


def crossings(rings: list[np.ndarray]) -> list[str]:
    """Loops that cross themselves, on whatever chords they were flattened."""
    bodies = np.array([shapely.Polygon(ring) for ring in rings])
    wrong = bodies[~shapely.is_valid(bodies)] if len(bodies) else bodies
    return [f"on finest chords a loop crosses itself: {shapely.is_valid_reason(one)}" for one in wrong[:3]]


def path_rings(data: str, chord: float = CHORD) -> list[np.ndarray]:
    controls, first = _loops(data)
    points, starts = chords(controls, chord)
    rings = np.split(points, starts[first[1:-1]])
    steps = (np.abs(np.diff(ring, axis=0, prepend=ring[-1:])).max(axis=1) > 0.0 for ring in rings)
    return [ring[moved] for ring, moved in zip(rings, steps, strict=True)] if len(first) > 1 else []


@lru_cache(maxsize=16)
def _loops(data: str) -> tuple[np.ndarray, np.ndarray]:
    """The segments (n, 4, 2) of path data, lines with their ends for handles; where loops begin in them."""
    assert not re.search("nan|inf", data)
    pen = RecordingPen()
    parse_path(data, pen)
    segments: list[tuple[tuple[float, float], ...]] = []
    first = [0]
    at: tuple[float, float] | None = None
    for name, operands in pen.value:
        if name == "moveTo":
            assert at is None, "an open path"
            at = start = operands[0]
        elif name in ("lineTo", "curveTo"):
            assert at is not None
            handles = operands[:2] if name == "curveTo" else (at, operands[0])
            segments.append((at, *handles, operands[-1]))
            at = operands[-1]
        elif name == "closePath":
            segments.append((at, at, start, start))
            first.append(len(segments))
            at = None
        else:
            raise AssertionError(f"an open path ends with {name}")
    assert at is None, "an open path"
    return np.array(segments, float).reshape(-1, 4, 2), np.array(first)


def chords(cubics: np.ndarray, chord: float) -> tuple[np.ndarray, np.ndarray]:
    """The vertices of cubics but for each one's last, no chord farther off than asked; and each one's first.

    A chord over h of the parameter is off by |B''| h^2 / 8 at most, and B'' is linear.
    """
    p0, p1, p2, p3 = cubics.transpose(1, 0, 2)
    ends = 6.0 * np.stack([p0 - 2 * p1 + p2, p1 - 2 * p2 + p3])
    bend = np.hypot(ends[..., 0], ends[..., 1]).max(axis=0, initial=0.0)
    straight = (p0 == p1).all(axis=1) & (p2 == p3).all(axis=1)
    count = np.where(straight, 1, np.maximum(1, np.ceil((bend / (8.0 * chord)) ** 0.5))).astype(int)
    starts = np.cumsum(count) - count
    of = np.repeat(np.arange(len(cubics)), count)
    t = ((np.arange(len(of)) - starts[of]) / count[of])[:, None]
    s = 1.0 - t
    points = s**3 * p0[of] + 3 * s * s * t * p1[of] + 3 * s * t * t * p2[of] + t**3 * p3[of]
    return points, starts


def solid(rings: list[np.ndarray]) -> shapely.Geometry:
    """What rings enclose by the even-odd rule, however they lie."""
    if not rings:
        return shapely.MultiPolygon()
    lines = shapely.node(shapely.MultiLineString([np.vstack([ring, ring[:1]]) for ring in rings]))
    faces = np.asarray(shapely.get_parts(shapely.polygonize(shapely.get_parts(lines))))
    inside = _turns(rings, _well_inside(faces)) % 2 == 1
    return shapely.union_all(faces[inside])


def _well_inside(faces: np.ndarray) -> np.ndarray:
    """A point in each face: GEOS's own, which is on the outline where a face is pinched at its height."""
    points = shapely.point_on_surface(faces)
    for k in np.flatnonzero(shapely.distance(shapely.boundary(faces), points) < 1e-6):
        within = shapely.buffer(faces[k], -1e-6)
        if not shapely.is_empty(within):
            points[k] = shapely.point_on_surface(within)
    return points


def _turns(rings: list[np.ndarray], points: np.ndarray) -> np.ndarray:
    """How many rings each point lies in."""
    bodies = np.array([shapely.linearrings(ring) for ring in rings])
    boxes = shapely.STRtree(shapely.box(*shapely.bounds(bodies).T))
    which, ring = boxes.query(points)
    inside = np.zeros(len(points), int)
    for i in np.unique(ring):
        at = which[ring == i]
        xy = shapely.get_coordinates(points[at])
        a, b = rings[i], np.roll(rings[i], -1, axis=0)
        for block in range(0, len(at), 256):
            x, y = xy[block : block + 256, :1], xy[block : block + 256, 1:]
            span = (a[:, 1] <= y) != (b[:, 1] <= y)
            with np.errstate(divide="ignore", invalid="ignore"):
                cross = a[:, 0] + (y - a[:, 1]) * (b[:, 0] - a[:, 0]) / (b[:, 1] - a[:, 1])
            inside[at[block : block + 256]] += (span & (cross > x)).sum(axis=1) % 2
    return inside


def breaches(rings: list[np.ndarray]) -> list[str]:
    """What of the promises made for a ply its rings do not keep."""
    found: list[str] = []
    if not rings:
        return found
    if min(len(ring) for ring in rings) < 3:
        return [f"a loop of {min(len(ring) for ring in rings)} points"]
    bodies = np.array([shapely.Polygon(ring) for ring in rings])
    valid = shapely.is_valid(bodies)
    for body in bodies[~valid][:3]:
        found += [f"a loop that crosses itself: {shapely.is_valid_reason(body)}"]
    edges = [np.stack([ring, np.roll(ring, -1, axis=0)], axis=1) for ring in rings]
    lines = shapely.linestrings(np.concatenate(edges))
    whole = shapely.length(lines).sum()
    noded = shapely.union_all(np.array([shapely.LinearRing(ring) for ring in rings]))
    shared = whole - shapely.length(noded)
    if shared > SHARED:
        found.append(f"{shared:.3f} mm cut twice")
    if found:
        return found
    body = _nested(bodies)
    if not shapely.is_valid(body):
        return [f"loops that cross: {shapely.is_valid_reason(body)}"]
    for what, left in (("hair", _hairs(body)), ("slit", _hairs(_around(body)))):
        if left:
            size, place = max(left)
            found.append(f"a {what} {size:.2f} mm long at {place[0]:.3f} {place[1]:.3f}")
    return found


def _nested(bodies: np.ndarray) -> shapely.MultiPolygon:
    """Polygons of loops by how deep each lies in others: solid, hole, solid, ..."""
    inner, outer = shapely.STRtree(bodies).query(shapely.point_on_surface(bodies), predicate="within")
    bigger = shapely.area(bodies)[outer] > shapely.area(bodies)[inner]
    inner, outer = inner[bigger], outer[bigger]
    depth = np.bincount(inner, minlength=len(bodies))
    holes: dict[int, list[shapely.LinearRing]] = {i: [] for i in np.flatnonzero(depth % 2 == 0)}
    for i in np.flatnonzero(depth % 2 == 1):
        around = outer[(inner == i) & (depth[outer] == depth[i] - 1)]
        assert len(around) == 1
        holes[around[0]].append(bodies[i].exterior)
    return shapely.MultiPolygon([shapely.Polygon(bodies[i].exterior, holes[i]) for i in holes])


def _around(body: shapely.Geometry) -> shapely.Geometry:
    x0, y0, x1, y1 = body.bounds
    return shapely.difference(shapely.box(x0 - 1, y0 - 1, x1 + 1, y1 + 1), body)


def _hairs(body: shapely.Geometry) -> list[tuple[float, tuple[float, float]]]:
    """Parts no disc of `THIN` mm fits in that are longer than `LONG` mm: their lengths and places."""
    opened = shapely.buffer(
        shapely.buffer(body, -THIN / 2, join_style="mitre"), THIN * 0.6, join_style="mitre", mitre_limit=10
    )
    # GEOS's mitred buffers may come back with one shell in another.
    parts = shapely.get_parts(shapely.difference(body, shapely.make_valid(opened)))
    if len(parts) == 0:
        return []
    boxes = shapely.bounds(parts)
    size = np.hypot(boxes[:, 2] - boxes[:, 0], boxes[:, 3] - boxes[:, 1])
    return [(float(size[i]), tuple(boxes[i, :2])) for i in np.flatnonzero(size > LONG)]
