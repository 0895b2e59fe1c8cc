"""Strands and hairs cut off, slits closed, nodes made fewer; each says what it did and where."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.buffer import buffered_each
from perigram.core.geometry.clean import Removed, as_box, narrow_pieces
from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.fit import fit_cubics, unit
from perigram.core.geometry.measure import bounds, off_outline, piece_areas
from perigram.core.geometry.offset import grow
from perigram.core.geometry.overlay import cut_away, overlap, weld
from perigram.core.geometry.region import FINE, Region
from perigram.core.geometry.restore import region_of
from perigram.core.geometry.thin import Thin, gaps, strands
from perigram.core.geometry.turning import directions
from perigram.core.geometry.union import united

#: Outlines may be moved by this many mm when nodes are made fewer: less than a cutter's step.
SMOOTHING = 0.02
#: What is opened again grows this many mm more, so that it covers what was never thin.
_COVER = 0.02
#: Parts nowhere as wide as this many mm are rounding.
_HAIR = 0.012
_ROUNDS = 6
#: Strands hardly thinner than a width are looked for by discs of these shares of it.
_WIDER = (1.0, 1.1, 1.25)
#: Outlines turning by more than this many radians at a node have a corner there.
_CORNER = np.radians(25.0)
#: Directions within this share of an axis run along it: the node is an extreme.
_ALONG_AXIS = 1e-3
#: Fits are given this share of the tolerance, and have to leave no more than that share of the nodes.
_SHARE, _WORTH = 0.75, 0.8
#: Places a fitted stretch is compared with its source at.
_SAMPLES = 33


def drop_strands(region: Region, width: float) -> tuple[Region, list[Removed]]:
    """Opening: the region without strands, necks and tips thinner than `width` mm; the rest stays as it was.

    A part goes if no disc of the width fits over it and it either is a strand (walls facing each other)
    or reaches out twice the width or more. Corners stay sharp. Of a rough region no neighbours are looked at.
    """
    removed: list[Removed] = []
    done: list[Region] = []
    tool: Region | None = None
    # What only just was wide enough may not be once its neighbour is gone; then it goes as well.
    for _ in range(1 if region.rough else _ROUNDS):
        tool, parts = thin_parts(region, width, strands(region, width), tool)
        if not parts:
            break
        cut = _touched(region, tool)
        done.append(region.select_polygons(~cut))
        region = without_hairs(cut_away(region.select_polygons(cut), tool))
        removed += parts
    return Region.joined([*done, region]), _listed(removed)


def strand_parts(region: Region, width: float) -> Region:
    """The strands of a region thinner than `width` mm, those hardly thinner among them.

    What is left of a strand that tapers, and a short neck, are covered by what grows back beside them: where
    nothing else is thin, they are looked for by wider discs.
    """
    thin = strands(region, width)
    parts, _ = thin_parts(region, width, thin)
    if not parts.is_empty or not thin or region.rough:
        return parts
    middles = shapely.points(np.array([one.ends for one in thin]).mean(axis=1))
    for share in _WIDER:
        parts, _ = thin_parts(region, share * width + 4.0 * _COVER, thin)
        if parts.is_empty:
            continue
        # Wider discs find what is wide enough as well.
        tree = shapely.STRtree(parts.flat.polygon_array())
        meant = np.unique(tree.query(middles, predicate="dwithin", distance=_COVER)[1])
        if len(meant):
            return parts.select_polygons(np.isin(np.arange(parts.piece_count), meant))
    return Region.empty()


def _touched(region: Region, tool: Region) -> Bools:
    """Which polygons (p,) of a region a tool's box reaches."""
    own, theirs = (shapely.box(*one.piece_boxes().T) for one in (region, tool))
    touched = np.zeros(region.piece_count, bool)
    touched[shapely.STRtree(theirs).query(own, predicate="intersects")[0]] = True
    return touched


def close_slits(region: Region, width: float) -> tuple[Region, list[Removed]]:
    """Closing: the region without slits and notches narrower than `width` mm."""
    if region.is_empty:
        return region, []
    x0, y0, x1, y1 = bounds(region) or (0.0, 0.0, 0.0, 0.0)
    edge = 4.0 * width + 1.0
    around = cut_away(_frame(x0 - edge, y0 - edge, x1 + edge, y1 + edge), region)
    filling, parts = thin_parts(around, width, gaps(region, width))
    if not parts:
        return region, []
    closed = without_hairs(weld([region, filling]))
    return closed, _listed([Removed("slit", one.place, one.area) for one in parts])


def _frame(x0: float, y0: float, x1: float, y1: float) -> Region:
    corners = np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]])
    return Region.from_rings(corners, np.array([0, 4]), np.array([0, 1]))


def _listed(removed: list[Removed]) -> list[Removed]:
    return sorted(removed, key=lambda one: (one.area, one.place))


def thin_parts(
    region: Region, width: float, thin: list[Thin], beside: Region | None = None
) -> tuple[Region, list[Removed]]:
    """Top-hat: the parts of a region that no disc of the width fits over and that are more than corners.

    Args:
        thin: where walls of the region face each other so near.
        beside: what was cut off it last; all that is farther away was looked at before.

    Returns:
        The parts, and what there is to say of each.
    """
    nothing: tuple[Region, list[Removed]] = Region.empty(), []
    if region.is_empty or not width > 0.0:
        return nothing
    suspects = _suspects(region, width, thin)
    if beside is not None:
        shapely.prepare(beside.multipolygon)
        suspects = suspects[shapely.dwithin(beside.multipolygon, suspects, 2.0 * width)]
    if len(suspects) == 0:
        return nothing
    if region.rough:
        # Cut off by what is a little wider, so that nothing is left of a hair.
        wider = region_of(united(shapely.buffer(suspects, _HAIR)), rough=True)
        return wider, _strands(suspects, shapely.area(suspects))
    # Only what is round about them is looked at closely, wide enough that its own edges do not matter.
    edge = 3.0 * width + 2.0 * _COVER
    boxes = shapely.bounds(suspects) + np.array([-edge, -edge, edge, edge])
    region = overlap(region, region_of(united(shapely.box(*boxes.T))))
    body = grow(grow(region, -width / 2.0), width / 2.0 + _COVER)
    over = cut_away(region, body)
    # What is thinner than what offsets are exact to is no part of anything.
    residue = over.select_polygons(~narrow_pieces(over, _HAIR))
    if residue.is_empty:
        return nothing
    shapes = residue.flat.polygon_array()
    gone = _goes(shapes, 2.0 * width, thin, _COVER)
    meant = shapely.STRtree(suspects).query(shapes, predicate="dwithin", distance=_COVER)[0]
    gone &= np.isin(np.arange(len(shapes)), meant)
    return residue.select_polygons(gone), _strands(shapes[gone], piece_areas(residue)[gone])


def _strands(shapes: np.ndarray, areas: Floats) -> list[Removed]:
    boxes = shapely.bounds(shapes)
    return [Removed("strand", as_box(box), size) for box, size in zip(boxes, areas.tolist(), strict=True)]


def _goes(shapes: np.ndarray, size: float, thin: list[Thin], near: float) -> Bools:
    """Which GEOS polygons are as large as `size` mm, or have a thin place within `near` mm."""
    boxes = shapely.bounds(shapes)
    goes: Bools = bezier.length(boxes[:, 2:] - boxes[:, :2]) >= size
    if thin:
        middles = shapely.points(np.array([t.ends for t in thin]).mean(axis=1))
        goes[shapely.STRtree(shapes).query(middles, predicate="dwithin", distance=near)[1]] = True
    return goes


def _suspects(region: Region, width: float, thin: list[Thin]) -> np.ndarray:
    """Where thin parts may be, as GEOS polygons: its buffers tell in a fraction of the time.

    They are exact to about two hundredths of the distance; what is asked of parts is less by more than that.
    Of a rough region these are the parts.
    """
    bodies = shapely.make_valid(region.flat.polygon_array())
    slack, size = (0.0, 2.0 * width) if region.rough else (0.02 * width, 1.9 * width)
    opened = buffered_each(buffered_each(bodies, -width / 2.0), width / 2.0 + _COVER - slack)
    parts = shapely.get_parts(shapely.difference(bodies, opened))
    parts = parts[shapely.get_dimensions(parts) == 2]
    return np.asarray(parts[_goes(parts, size, thin, _COVER + slack)])


@dataclass(frozen=True)
class Smoothed:
    """A smoothed region, the hairs and slits that went, and whether nodes could not be made fewer."""

    region: Region
    removed: list[Removed]
    gave_up: bool


def smooth(region: Region, tolerance: float = SMOOTHING) -> Smoothed:
    """The region without hairs and slits narrower than twice the tolerance, and with fewer nodes.

    Outlines stay within `tolerance` mm of where they were, but for the hairs and slits; corners and the
    extremes of curves keep their nodes. What is as smooth as that already comes back as it is. A rough region
    has no nodes to make fewer.
    """
    region, hairs = drop_strands(region, 2.0 * tolerance)
    region, slits = close_slits(region, 2.0 * tolerance)
    if region.rough:
        return Smoothed(region, [*hairs, *slits], False)
    try:
        return Smoothed(fewer_nodes(region, tolerance), [*hairs, *slits], False)
    except CannotSmoothError:
        return Smoothed(region, [*hairs, *slits], True)


class CannotSmoothError(GeometryError):
    """Outlines nearer to each other than the tolerance came to cross, or strayed farther than it."""


def fewer_nodes(region: Region, tolerance: float = SMOOTHING) -> Region:
    """Curve simplification: the region with as few nodes as outlines within `tolerance` mm of it need.

    Stretches between corners and extremes are fitted by one cubic if that is near enough, and halved at
    one of their own nodes otherwise; a segment that is left alone keeps its bits. Where not even a fifth
    of the nodes would go, all is left as it is: so doing it again changes nothing.

    Raises:
        CannotSmoothError: where it cannot be done within the tolerance.
    """
    fewer = _fitted_over(region, _SHARE * tolerance)
    if fewer.node_count > _WORTH * region.node_count:
        return region
    if not fewer.is_sound or _farthest(region, fewer) > tolerance:
        raise CannotSmoothError(f"These outlines cannot be smoothed within {tolerance:g} mm.")
    return fewer


def _farthest(region: Region, other: Region) -> float:
    """How far in mm the other's outlines are from the region's at most, by points along both."""
    flats = [r.flattened(FINE) for r in (region, other)]
    there = off_outline(flats[1].xy, flats[0])
    back = off_outline(flats[0].xy, flats[1])
    return max(there, back)


def _fitted_over(region: Region, tolerance: float) -> Region:
    if region.is_empty:
        return region
    kept = _anchors(region, tolerance)
    loop, _ = bezier.expand(np.diff(region.loop_offsets))
    # A loop needs somewhere to begin, and two anchors to be no lens of its own chord.
    for begin, end in zip(region.loop_offsets[:-1], region.loop_offsets[1:], strict=True):
        if kept[begin:end].sum() < 2:
            kept[begin] = kept[(begin + end) // 2] = True
    stretches = _Stretches.between(region, kept)
    done: list[tuple[Ints, Floats, Bools]] = []
    while len(stretches.first):
        fitted, curved, good = stretches.fitted(tolerance)
        done.append((stretches.first[good], fitted[good], curved[good]))
        stretches = stretches.halved(~good)
    first = np.concatenate([d[0] for d in done])
    order = np.argsort(first)
    segments = np.concatenate([d[1] for d in done])[order]
    curved = np.concatenate([d[2] for d in done])[order]
    sizes = np.bincount(loop[first], minlength=region.loop_count)
    loops = np.concatenate([[0], np.cumsum(sizes)]).astype(np.intp)
    return Region.from_loops(segments, curved, loops, region.polygon_offsets)


def _anchors(region: Region, tolerance: float) -> Bools:
    """Which nodes have to stay: corners, and extremes of curves."""
    enter, leave = _directions(region)
    turn = np.abs(np.arctan2(bezier.cross(leave, enter), bezier.dot(leave, enter)))
    along = np.minimum(np.abs(enter), np.abs(leave)).min(axis=1)
    steep = np.maximum(np.abs(enter[:, 0] - leave[:, 0]), np.abs(enter[:, 1] - leave[:, 1]))
    before = np.empty_like(region.following)
    before[region.following] = np.arange(len(before))
    extreme = (along < _ALONG_AXIS) & (steep < _ALONG_AXIS) & ~region.straight & ~region.straight[before]
    # Between a line and a curve is a node even where they join smoothly, if the line is more than a step.
    size = bezier.length(region.end - region.start)
    long = region.straight & (size > 50.0 * tolerance)
    joins = long | long[before]
    return (turn > _CORNER) | extreme | (joins & (turn > 1e-3)) | (long != long[before])


def _directions(region: Region) -> tuple[Floats, Floats]:
    """Unit directions (n, 2) after and before every node."""
    n = region.node_count
    before = np.empty_like(region.following)
    before[region.following] = np.arange(n)
    enter = directions(region.segments, np.zeros(n))
    leave = directions(region.segments, np.ones(n))[before]
    return enter, leave


class _Stretches:
    """Runs of segments, each from a first one over a number of them."""

    def __init__(self, region: Region, first: Ints, count: Ints) -> None:
        self.region, self.first, self.count = region, first, count

    @staticmethod
    def between(region: Region, kept: Bools) -> _Stretches:
        first = np.flatnonzero(kept)
        loop, _ = bezier.expand(np.diff(region.loop_offsets))
        after = np.append(first[1:], 0)
        last_of_loop = np.append(loop[first[1:]] != loop[first[:-1]], True)
        count = after - first
        # The last stretch of a loop goes round to the loop's first anchor.
        anchors = np.searchsorted(first, region.loop_offsets[:-1])
        ends = first[anchors] + np.diff(region.loop_offsets)
        count[last_of_loop] = ends - first[last_of_loop]
        return _Stretches(region, first, count)

    def members(self) -> tuple[Ints, Ints]:
        """Each stretch's segments: the stretch and the segment."""
        stretch, place = bezier.expand(self.count)
        loop = np.searchsorted(self.region.loop_offsets, self.first, side="right") - 1
        begin, size = self.region.loop_offsets[loop], np.diff(self.region.loop_offsets)[loop]
        return stretch, begin[stretch] + (self.first[stretch] - begin[stretch] + place) % size[stretch]

    def fitted(self, tolerance: float) -> tuple[Floats, Bools, Bools]:
        """A cubic (n, 4, 2) for each stretch, whether it is curved, and whether it is near enough."""
        region, stretch, segment = self.region, *self.members()
        points = self._sampled(stretch, segment)
        first, last = self._ends()
        cubics, error = fit_cubics(points, first, last, tolerance)
        curved = np.ones(len(self.first), bool)
        # Lines that run straight on are one line.
        chord = points[:, -1] - points[:, 0]
        off = np.abs(bezier.cross(points - points[:, :1], unit(chord)[:, None])).max(axis=1)
        lines = np.ones(len(self.first), bool)
        np.logical_and.at(lines, stretch, region.straight[segment])
        straight = lines & (off <= tolerance)
        cubics[straight] = bezier.line_controls(points[straight, 0], points[straight, -1])
        error[straight], curved[straight] = 0.0, False
        single = self.count == 1
        cubics[single], curved[single] = (
            region.segments[self.first[single]],
            ~region.straight[self.first[single]],
        )
        return cubics, curved, single | (error <= tolerance)

    def _ends(self) -> tuple[Floats, Floats]:
        """The directions stretches begin and end with: of smooth nodes, the middle of both sides'."""
        enter, leave = _directions(self.region)
        smooth = bezier.dot(enter, leave) > np.cos(_CORNER)
        both = unit(enter + leave)
        _, segment = self.members()
        last = self.region.following[segment[np.cumsum(self.count) - 1]]
        begin = np.where(smooth[self.first, None], both[self.first], enter[self.first])
        return begin, np.where(smooth[last, None], both[last], leave[last])

    def _sampled(self, stretch: Ints, segment: Ints) -> Floats:
        """Points (n, k, 2) at equal lengths along each stretch."""
        steps = 16
        t = np.tile(np.arange(steps) / steps, len(segment))
        points = bezier.evaluate(np.repeat(self.region.segments[segment], steps, axis=0), t)
        out = np.empty((len(self.first), _SAMPLES, 2))
        ends = np.cumsum(self.count) * steps
        last = self.region.end[segment[np.cumsum(self.count) - 1]]
        for i, (low, high) in enumerate(zip(np.append(0, ends[:-1]), ends, strict=True)):
            path = np.vstack([points[low:high], last[i]])
            along = np.append(0.0, np.cumsum(bezier.length(np.diff(path, axis=0))))
            at = np.linspace(0.0, along[-1], _SAMPLES)
            out[i, :, 0], out[i, :, 1] = np.interp(at, along, path[:, 0]), np.interp(at, along, path[:, 1])
            out[i, -1] = last[i]
        return out

    def halved(self, which: Bools) -> _Stretches:
        """The marked stretches, each cut at the middle of its nodes."""
        first, count = self.first[which], self.count[which]
        half = count // 2
        loop = np.searchsorted(self.region.loop_offsets, first, side="right") - 1
        begin, size = self.region.loop_offsets[loop], np.diff(self.region.loop_offsets)[loop]
        second = begin + (first - begin + half) % size
        return _Stretches(self.region, np.concatenate([first, second]), np.concatenate([half, count - half]))
