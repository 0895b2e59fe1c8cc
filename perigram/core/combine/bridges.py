"""Bridges: strips that hold the islands of a stencil."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely

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
_LINES = 15
#: Strips end this many mm beyond the outlines they run between.
_BEYOND = 0.05
#: What it costs a strip to lie level, slanted, uneven at its ends, or off an island's middle, against length.
_LEVEL, _SLANTED, _UNEVEN, _OFF_MIDDLE = 0.1, 0.5, 0.5, 0.6
#: Of each island so many of the best places for strips are kept to choose from.
_KEPT = 60
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

    @property
    def body(self) -> shapely.Polygon:
        return shapely.Polygon(self.corners)

    def region(self) -> Region:
        lines = bezier.line_controls(self.corners, np.roll(self.corners, -1, axis=0))
        return Region.from_loops(lines, np.zeros(4, bool), np.array([0, 4]), np.array([0, 1]))


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
            found += _chosen(
                [one for hole in range(1, last - first) for one in _candidates(edges, hole, width)], each
            )
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

    def crossings(self, lines: Floats) -> list[tuple[Floats, Ints]]:
        """Where level lines cross them, from left to right, and the loops they cross there, line by line."""
        above = self.start[:, 1] > lines[:, None]
        line, edge = np.nonzero(above != (self.end[:, 1] > lines[:, None]))
        (x0, y0), (x1, y1) = self.start[edge].T, self.end[edge].T
        u = x0 + (lines[line] - y0) / (y1 - y0) * (x1 - x0)
        order = np.lexsort((u, line))
        ends = np.searchsorted(line[order], np.arange(len(lines) + 1))
        u, loop = u[order], self.loop[edge[order]]
        return [(u[a:b], loop[a:b]) for a, b in pairwise(ends.tolist())]


def _turn(xy: Floats, angle: float) -> Floats:
    c, s = np.cos(angle), np.sin(angle)
    return np.asarray(xy @ np.array([[c, s], [-s, c]]))


def _candidates(edges: _Edges, hole: int, width: float) -> list[Strip]:
    """The best places for strips that leave an island."""
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
    shortest = min((one.score for one in found), default=0.0)
    middle = np.array(
        [(edges.start[edges.loop == hole]).min(axis=0), (edges.start[edges.loop == hole]).max(axis=0)]
    )
    size = float(np.hypot(*(middle[1] - middle[0])))
    scored = []
    for one in found:
        along = one.corners[1] - one.corners[0]
        tilt = abs(float(along[0])) / float(np.hypot(*along))
        kind = 0.0 if tilt < 1e-6 else _LEVEL if tilt > 1.0 - 1e-6 else _SLANTED
        way = along / np.hypot(*along)
        aside = abs(float(bezier.cross(one.middle - middle.mean(axis=0), way))) / max(size, 1e-9)
        score = one.score / max(shortest, 1e-9) + kind + _OFF_MIDDLE * aside
        scored.append(Strip(one.corners, one.joins, score))
    return sorted(scored, key=lambda one: one.score)[:_KEPT]


def _across(edges: _Edges, lines: Floats, angle: float, width: float, hole: int | None) -> list[Strip]:
    """Strips along level lines of turned edges, over solid between two voids, one of them the hole asked for.

    Their scores are their lengths and how uneven their ends are.
    """
    found = []
    below, amid, above = (edges.crossings(lines + side * 0.499 * width) for side in (-1.0, 0.0, 1.0))
    for v, (u, loop), *sides in zip(lines, amid, below, above, strict=True):
        for k in range(0, len(u) - 1, 2):
            ends = loop[k], loop[k + 1]
            if ends[0] == ends[1] or (hole is not None and hole not in ends):
                continue
            spans = [_same(side, (u[k], u[k + 1]), ends) for side in sides]
            if any(span is None for span in spans):
                continue
            low = min(u[k], *(span[0] for span in spans if span))
            high = max(u[k + 1], *(span[1] for span in spans if span))
            uneven = (high - low) - (u[k + 1] - u[k])
            corners = np.array(
                [
                    [low - _BEYOND, v - width / 2.0],
                    [high + _BEYOND, v - width / 2.0],
                    [high + _BEYOND, v + width / 2.0],
                    [low - _BEYOND, v + width / 2.0],
                ]
            )
            joins = int(ends[0]) - 1, int(ends[1]) - 1
            found.append(Strip(_turn(corners, angle), joins, float(u[k + 1] - u[k] + _UNEVEN * uneven)))
    return found


def _same(
    side: tuple[Floats, Ints], span: tuple[float, float], ends: tuple[int, int]
) -> tuple[float, float] | None:
    """The stretch of solid along a strip's side that runs beside its middle's, between the same two voids."""
    u, loop = side
    for k in range(0, len(u) - 1, 2):
        if u[k] < span[1] and u[k + 1] > span[0] and (loop[k], loop[k + 1]) == ends:
            return float(u[k]), float(u[k + 1])
    return None


def _chosen(candidates: list[Strip], each: int) -> list[Strip]:
    """Enough strips to hold every island of a piece, the best first, then more for each, well apart."""
    candidates = sorted(candidates, key=lambda one: one.score)
    chosen: list[Strip] = []
    root: dict[int, int] = {}

    def top(one: int) -> int:
        while root.get(one, one) != one:
            one = root[one]
        return one

    for strip in candidates:
        a, b = (top(one) for one in strip.joins)
        if a != b and _is_clear(strip, chosen):
            root[a] = b
            chosen.append(strip)
    for island in sorted({one for strip in candidates for one in strip.joins if one >= 0}):
        for strip in candidates:
            own = [one for one in chosen if island in one.joins]
            if len(own) >= each:
                break
            if island in strip.joins and _is_clear(strip, chosen) and _leaves_elsewhere(strip, own, island):
                chosen.append(strip)
    return chosen


def _is_clear(strip: Strip, chosen: list[Strip]) -> bool:
    width = float(np.hypot(*(strip.corners[2] - strip.corners[1])))
    return all(shapely.distance(strip.body, one.body) > width / 2.0 for one in chosen)


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
