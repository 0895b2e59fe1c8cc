"""Bridges: strips that hold the islands of a stencil."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Floats, Ints
from perigram.core.geometry.flat import Flat
from perigram.core.geometry.measure import loop_areas
from perigram.core.geometry.overlay import cut_away, weld
from perigram.core.geometry.region import Region

#: Outlines are looked at on chords this near them, in mm.
_CHORDS = 0.02
#: Strips are tried in so many directions, upright and level among them.
_DIRECTIONS = 8
#: An island is looked across along so many lines in each direction at most.
_LINES = 9
#: Strips end this many mm beyond the outlines they run between.
_BEYOND = 0.05
#: What it costs a strip to lie level, slanted, uneven at its ends, or off an island's middle, against length.
_LEVEL, _SLANTED, _UNEVEN, _OFF_MIDDLE = 0.1, 0.5, 0.5, 0.6
#: Of each island so many of the best places for strips are kept to choose from.
_KEPT, _KEPT_EACH = 60, 3
#: Voids of less area than this many mm^2 are no islands.
_SPECK = 0.05
#: Two strips of one island leave it at least this many radians apart.
_SPREAD = np.radians(70.0)


@dataclass(frozen=True, eq=False)
class Strip:
    """A strip, (4, 2) corners in mm; the islands it joins, by number, -1 for what lies around all."""

    corners: Floats
    joins: tuple[int, int]
    score: float

    @property
    def middle(self) -> Floats:
        return np.asarray(self.corners.mean(axis=0))

    @cached_property
    def body(self) -> shapely.Polygon:
        return shapely.polygons(self.corners)

    def region(self) -> Region:
        return Region.from_rings(self.corners, np.array([0, 4]), np.array([0, 1]))


def islands(region: Region) -> Ints:
    """The loops of a region that are holes: what would drop out if the region were cut from a plate.

    Specks, as where a font's own outlines cross, are none.
    """
    hole = -loop_areas(region) > _SPECK
    hole[region.polygon_offsets[:-1]] = False
    return np.flatnonzero(hole)


def bridged(region: Region, strips: list[Strip]) -> Region:
    """The region less its strips."""
    return cut_away(region, weld([strip.region() for strip in strips])) if strips else region


def strips_for(region: Region, width: float, each: int) -> list[Strip]:
    """Strips that hold every island that can be held: `each` of them where there is room.

    For each island lines are laid across in `_DIRECTIONS`; a strip may lie wherever a line runs from it over
    solid to another void. Short strips with even ends, upright or level, near the island's middle, come
    first: enough to hold all islands (Kruskal's tree of voids), then more for each, well apart.
    """
    found: list[Strip] = []
    flat = region.flattened(_CHORDS)
    for piece in range(region.piece_count):
        first, last = region.polygon_offsets[piece], region.polygon_offsets[piece + 1]
        if last - first > 1:
            edges = _Edges.of(flat, np.arange(first, last))
            near = [one for hole in range(1, last - first) for one in _candidates(edges, hole, width)]
            strips = _chosen(near, each)
            if loose := _loose(strips, last - first - 1):
                # What only holds on to its neighbours has to reach farther.
                far = [one for hole in loose for one in _candidates(edges, hole + 1, width, everywhere=True)]
                strips = _chosen([*near, *far], each)
            found += strips
    return found


def strip_at(region: Region, point: Floats, width: float) -> Strip | None:
    """The shortest strip through a point of the solid, from one void to another."""
    flat = region.flattened(_CHORDS)
    bodies = region.flat.polygon_array()
    piece = np.flatnonzero(shapely.contains_xy(bodies, *point))
    if len(piece) == 0:
        return None
    first, last = region.polygon_offsets[piece[0]], region.polygon_offsets[piece[0] + 1]
    edges = _Edges.of(flat, np.arange(first, last))
    tries = []
    for k in range(_DIRECTIONS):
        angle = np.pi * k / _DIRECTIONS
        turned = edges.turned(angle)
        u, v = _turn(point[None], -angle)[0]
        for strip in _across(turned, np.array([v]), angle, width, None):
            low, high = sorted(_turn(strip.corners, -angle)[:, 0][[0, 2]])
            if low <= u <= high:
                tries.append(strip)
    return min(tries, key=lambda one: one.score, default=None)


#: A stretch of solid on a line: where it begins and ends, and the loops there.
_Solid = tuple[float, float, int, int]


@dataclass(frozen=True, eq=False)
class _Edges:
    """The outlines of one piece as edges: ends (n, 2), and the loop of each, 0 for the outer one."""

    start: Floats
    end: Floats
    loop: Ints

    @staticmethod
    def of(flat: Flat, loops: Ints) -> _Edges:
        low, high = flat.ring_offsets[loops[0]], flat.ring_offsets[loops[-1] + 1]
        ring, _ = bezier.expand(np.diff(flat.ring_offsets[loops[0] : loops[-1] + 2]))
        return _Edges(flat.xy[low:high], flat.xy[flat.following[low:high]], ring)

    def turned(self, angle: float) -> _Edges:
        """As seen along a direction: its own x runs along it."""
        return _Edges(_turn(self.start, -angle), _turn(self.end, -angle), self.loop)

    def near(self, low: Floats, high: Floats) -> _Edges:
        """Those whose boxes meet a box."""
        there = (np.minimum(self.start, self.end) <= high).all(axis=1)
        there &= (np.maximum(self.start, self.end) >= low).all(axis=1)
        return _Edges(self.start[there], self.end[there], self.loop[there])

    def solids(self, lines: Floats, beside: int | None) -> list[list[_Solid]]:
        """Stretches of solid that level lines cross, from left to right, line by line; those that begin or
        end at one loop alone, if one is named.

        Loops run with the solid to their right, so a line going right enters it over an edge that goes up.
        """
        upwards = np.argsort(lines)
        y, end_y = self.start[:, 1], self.end[:, 1]
        first, last = (np.searchsorted(lines[upwards], end(y, end_y)) for end in (np.minimum, np.maximum))
        edge, nth = bezier.expand(last - first)
        line = upwards[first[edge] + nth]
        (x0, y0), (x1, y1) = self.start[edge].T, self.end[edge].T
        u = x0 + (lines[line] - y0) / (y1 - y0) * (x1 - x0)
        order = np.lexsort((u, line))
        line, u, loop, enters = line[order], u[order], self.loop[edge[order]], (y1 < y0)[order]
        # Only where the next crossing leaves what this one enters are both known.
        whole = np.flatnonzero(enters[:-1] & ~enters[1:] & (line[:-1] == line[1:]))
        if beside is not None:
            whole = whole[(loop[whole] == beside) | (loop[whole + 1] == beside)]
        found: list[list[_Solid]] = [[] for _ in lines]
        columns = (line[whole], u[whole], u[whole + 1], loop[whole], loop[whole + 1])
        for on, *solid in zip(*(column.tolist() for column in columns), strict=True):
            u0, u1, before, after = solid
            found[on].append((u0, u1, before, after))
        return found


def _turn(xy: Floats, angle: float) -> Floats:
    c, s = np.cos(angle), np.sin(angle)
    return np.asarray(xy @ np.array([[c, s], [-s, c]]))


def _candidates(edges: _Edges, hole: int, width: float, everywhere: bool = False) -> list[Strip]:
    """The best places for strips that leave an island; none that goes far beyond what is nearest, unless
    they are asked for everywhere.
    """
    own = edges.start[edges.loop == hole]
    others = edges.start[edges.loop != hole]
    box = np.array([own.min(axis=0), own.max(axis=0)])
    away = np.maximum(np.maximum(box[0] - others, others - box[1]), 0.0)
    # A strip worth its length goes no farther than a few times the way to what is nearest.
    reach = 4.0 * float(bezier.length(away).min()) + 2.0 * width
    if not everywhere:
        edges = edges.near(box[0] - reach, box[1] + reach)
    found: list[Strip] = []
    for k in range(_DIRECTIONS):
        angle = np.pi * k / _DIRECTIONS
        turned = edges.turned(angle)
        y = turned.start[turned.loop == hole, 1]
        low, high = float(y.min()), float(y.max())
        inset = min(width / 2.0, 0.45 * (high - low))
        count = int(np.clip(2.0 * (high - low) / width, 3, _LINES))
        lines = np.linspace(low + inset, high - inset, count)
        found += _across(turned, lines, angle, width, hole)
    if not found:
        return []
    corners, cost = np.array([one.corners for one in found]), np.array([one.score for one in found])
    way = corners[:, 1] - corners[:, 0]
    way /= bezier.length(way)[:, None]
    tilt = np.abs(way[:, 0])
    kind = np.where(tilt < 1e-6, 0.0, np.where(tilt > 1.0 - 1e-6, _LEVEL, _SLANTED))
    off = np.abs(bezier.cross(corners.mean(axis=1) - box.mean(axis=0), way))
    score = cost / max(float(cost.min()), 1e-9) + kind + _OFF_MIDDLE * off / np.hypot(*np.ptp(box, axis=0))
    order, to = np.argsort(score, kind="stable").tolist(), dict[tuple[int, int], int]()
    best: list[int] = []
    for i in order:
        # Beyond the best of all, the best few to each other void.
        to[found[i].joins] = to.get(found[i].joins, 0) + 1
        if len(best) < _KEPT or to[found[i].joins] <= _KEPT_EACH:
            best.append(i)
    return [Strip(found[i].corners, found[i].joins, float(score[i])) for i in best]


def _across(edges: _Edges, lines: Floats, angle: float, width: float, hole: int | None) -> list[Strip]:
    """Strips along level lines of turned edges, over solid between two voids, one of them the hole asked for.

    Their scores are their lengths and how uneven their ends are.
    """
    found = []
    n, aside = len(lines), 0.499 * width
    solids = edges.solids(np.concatenate([lines - aside, lines, lines + aside]), hole)
    for v, middle, *sides in zip(lines, solids[n : 2 * n], solids[:n], solids[2 * n :], strict=True):
        for solid in middle:
            u0, u1, a, b = solid
            if a == b:
                continue
            spans = [_beside(side, solid) for side in sides]
            if any(span is None for span in spans):
                continue
            low = min(u0, *(span[0] for span in spans if span)) - _BEYOND
            high = max(u1, *(span[1] for span in spans if span)) + _BEYOND
            uneven = (high - low) - (u1 - u0) - 2.0 * _BEYOND
            half = width / 2.0
            corners = np.array([[low, v - half], [high, v - half], [high, v + half], [low, v + half]])
            found.append(Strip(_turn(corners, angle), (a - 1, b - 1), u1 - u0 + _UNEVEN * uneven))
    return found


def _beside(side: list[_Solid], solid: _Solid) -> tuple[float, float] | None:
    """The stretch of solid along a strip's side that runs beside its middle's, between the same two voids."""
    for u0, u1, a, b in side:
        if u0 < solid[1] and u1 > solid[0] and (a, b) == solid[2:]:
            return u0, u1
    return None


def _chosen(candidates: list[Strip], each: int) -> list[Strip]:
    """Enough strips to hold every island of a piece, the best first, then more for each, well apart."""
    candidates = sorted(candidates, key=lambda one: one.score)
    taken, root = _Taken(), dict[int, int]()

    def top(one: int) -> int:
        while root.get(one, one) != one:
            one = root[one]
        return one

    for strip in candidates:
        a, b = (top(one) for one in strip.joins)
        if a != b and taken.leaves_room_for(strip):
            root[a] = b
            taken.add(strip)
    of: dict[int, list[Strip]] = {}
    for strip in candidates:
        for island in strip.joins:
            of.setdefault(island, []).append(strip)
    for island in sorted(of.keys() - {-1}):
        own = [one for one in taken.strips if island in one.joins]
        for strip in of[island]:
            if len(own) >= each:
                break
            if taken.leaves_room_for(strip) and _leaves_elsewhere(strip, own, island):
                taken.add(strip)
                own.append(strip)
    return taken.strips


def _loose(strips: list[Strip], count: int) -> list[int]:
    """Islands, of so many, that strips do not lead from to what lies around all."""
    ends = np.array([strip.joins for strip in strips], np.intp).reshape(-1, 2) + 1
    links = coo_array((np.ones(len(ends)), (ends[:, 0], ends[:, 1])), shape=(count + 1, count + 1))
    _, group = connected_components(links, directed=False)
    return [int(island) for island in np.flatnonzero(group[1:] != group[0])]


class _Taken:
    """Strips that are chosen, and whether others are clear of them."""

    def __init__(self) -> None:
        self.strips: list[Strip] = []
        self._middles = np.zeros((0, 2))
        self._radii = np.zeros(0)

    def add(self, strip: Strip) -> None:
        self.strips.append(strip)
        self._middles = np.vstack([self._middles, strip.middle])
        self._radii = np.append(self._radii, _radius(strip))

    def leaves_room_for(self, strip: Strip) -> bool:
        """Whether a strip is half its width clear of all of them."""
        room = float(np.hypot(*(strip.corners[2] - strip.corners[1]))) / 2.0
        apart = bezier.length(self._middles - strip.middle) - self._radii - _radius(strip)
        close = np.flatnonzero(apart <= room)
        return all(shapely.distance(strip.body, self.strips[i].body) > room for i in close)


def _radius(strip: Strip) -> float:
    return float(np.hypot(*(strip.corners[0] - strip.middle)))


def _leaves_elsewhere(strip: Strip, own: list[Strip], island: int) -> bool:
    """Whether a strip leaves an island on another side than those it has."""
    if not own:
        return True
    ways = []
    for one in (strip, *own):
        along = one.corners[1] - one.corners[0]
        # It runs from the first void to the second.
        ways.append(np.arctan2(along[1], along[0]) + (0.0 if one.joins[0] == island else np.pi))
    apart = np.abs(np.angle(np.exp(1j * (np.array(ways[1:]) - ways[0]))))
    return bool((apart > _SPREAD).all())
