"""A judge of cut files that shares nothing with the core.

Path data is read by fontTools, curves are flattened here, ten times finer than the core's overlays
flatten them, and what they come to is looked at with GEOS.
"""

from __future__ import annotations

import re
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
    assert not re.search("nan|inf", data)
    pen = RecordingPen()
    parse_path(data, pen)
    rings: list[np.ndarray] = []
    points: list[np.ndarray] = []
    for name, operands in pen.value:
        if name == "moveTo":
            assert not points, "an open path"
            points = [np.array(operands, float)]
        elif name == "lineTo":
            points.append(np.array(operands, float))
        elif name == "curveTo":
            points.append(_chords(points[-1][-1], *np.array(operands, float), chord=chord))
        elif name == "closePath":
            ring = np.concatenate(points)
            moved = np.abs(np.diff(ring, axis=0, prepend=ring[-1:])).max(axis=1) > 0.0
            rings.append(ring[moved])
            points = []
        else:
            raise AssertionError(f"an open path ends with {name}")
    assert not points, "an open path"
    return rings


def _chords(p0: np.ndarray, p1: np.ndarray, p2: np.ndarray, p3: np.ndarray, chord: float) -> np.ndarray:
    """The vertices of a cubic but its first, chords no farther from it than asked.

    A chord over h of the parameter is off by |B''| h^2 / 8 at most, and B'' is linear.
    """
    ends = 6.0 * np.array([p0 - 2 * p1 + p2, p1 - 2 * p2 + p3])
    bend = float(np.hypot(*ends.T).max())
    count = max(1, int(np.ceil((bend / (8.0 * chord)) ** 0.5)))
    t = (np.arange(1, count + 1) / count)[:, None]
    s = 1.0 - t
    points = s**3 * p0 + 3 * s * s * t * p1 + 3 * s * t * t * p2 + t**3 * p3
    points[-1] = p3
    return points


def solid(rings: list[np.ndarray]) -> shapely.Geometry:
    """What rings enclose by the even-odd rule, however they lie."""
    if not rings:
        return shapely.MultiPolygon()
    lines = shapely.node(shapely.MultiLineString([np.vstack([ring, ring[:1]]) for ring in rings]))
    faces = np.asarray(shapely.get_parts(shapely.polygonize(shapely.get_parts(lines))))
    inside = _turns(rings, shapely.point_on_surface(faces)) % 2 == 1
    return shapely.union_all(faces[inside])


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
    parts = shapely.get_parts(shapely.difference(body, opened))
    if len(parts) == 0:
        return []
    boxes = shapely.bounds(parts)
    size = np.hypot(boxes[:, 2] - boxes[:, 0], boxes[:, 3] - boxes[:, 1])
    return [(float(size[i]), tuple(boxes[i, :2])) for i in np.flatnonzero(size > LONG)]
