"""Painted shapes as the regions they cover, many at a time."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import groupby
from operator import itemgetter

import numpy as np
import shapely

from perigram.core.art.outlines import Outlines, mapped_each
from perigram.core.art.painted import Area, Paint, Painted
from perigram.core.errors import GeometryError, PictureError
from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.bundle import apart, sorted_out
from perigram.core.geometry.measure import piece_areas
from perigram.core.geometry.overlay import cut_away, overlap, weld
from perigram.core.geometry.region import LIMIT, TOLERANCE, Region
from perigram.core.geometry.regularise import FillRule, regularise_each
from perigram.core.geometry.stroke import Pen, stroked

MM_PER_PX = 25.4 / 96.0
#: Drawings are read at this many mm across, so that strokes and clips are as exact however small they are.
_ACROSS = 1000.0
#: What reaches far beyond what is seen lies within so many mm there; all may be made so many times smaller.
_WITHIN, _SMALLER = 0.9 * LIMIT, 50.0
#: Paths shorter than this share of half their pen's width are dots.
_DOT = 0.1
#: The strokes of a drawing may need so many chords; what people draw and share needs a quarter of it at most.
_MOST_STROKED = 300_000

Box = tuple[Floats, Floats]
#: Which shape something is of, what it covers and what it is painted with.
Layer = tuple[int, Region, Paint]


def covered(painted: Sequence[Painted]) -> tuple[list[Layer], Floats]:
    """What each painted shape covers, from bottom to top.

    Returns:
        Of each layer the shape it is of, its region and its paint; and the (2, 3) map from where they were
        made, at a size at which strokes and clips are exact, to mm.

    Raises:
        GeometryError: for places out of reach, or too many points.
        PictureError: for too many strokes.
    """
    if not painted:
        return [], np.eye(2, 3)
    boxes = [one.box for one in mapped_each([one.outlines for one in painted], [p.matrix for p in painted])]
    known: dict[tuple[int, ...], Box] = {}
    for one in painted:
        if (key := tuple(map(id, one.clips))) not in known:
            known[key] = _frame(one.clips)
    frames = [known[tuple(map(id, one.clips))] for one in painted]
    seen = [
        not ((box[1] + 2.0 * _reach(one) < frame[0]).any() or (box[0] - 2.0 * _reach(one) > frame[1]).any())
        for one, box, frame in zip(painted, boxes, frames, strict=True)
    ]
    there = [k for k in range(len(painted)) if seen[k]]
    clips = {id(area): area for k in there for area in painted[k].clips}
    around = [boxes[k] for k in there] + [box for area in clips.values() for box in _boxes(area)]
    looks = [_looked_at(one, box) for one, box in zip(painted, boxes, strict=True)]
    onto, back = _working_units(looks, frames, around)
    laid = _laid([painted[k] for k in there], onto)
    layers = [(there[k], region, paint) for k, region, paint in laid]
    clipped = _Clips(onto).within(
        [region for _, region, _ in layers], [painted[k].clips for k, _, _ in layers]
    )
    return [
        (k, region, paint)
        for (k, _, paint), region in zip(layers, clipped, strict=True)
        if not region.is_empty
    ], back


def _laid(painted: Sequence[Painted], onto: Floats) -> list[Layer]:
    """Fills and strokes of shapes, not clipped yet."""
    matrices = [onto @ np.vstack([one.matrix, [0.0, 0.0, 1.0]]) for one in painted]
    filled = [k for k, one in enumerate(painted) if one.fill is not None]
    outlines = mapped_each([painted[k].outlines for k in filled], [matrices[k] for k in filled])
    closed = [_closed(one, painted[k].rule) for one, k in zip(outlines, filled, strict=True)]
    fills = dict(zip(filled, regularise_each(closed), strict=True))
    stroked = [k for k, one in enumerate(painted) if one.stroke is not None]
    _refuse_many(mapped_each([painted[k].outlines for k in stroked], [matrices[k] for k in stroked]))
    areas = _strokes([painted[k] for k in stroked], [matrices[k] for k in stroked])
    strokes = dict(zip(stroked, areas, strict=True))
    return [
        (k, region, paint)
        for k, one in enumerate(painted)
        for region, paint in _layers(one, fills.get(k), strokes.get(k))
    ]


def _layers(one: Painted, fill: Region | None, stroke: Region | None) -> list[tuple[Region, Paint]]:
    """A shape's fill and its stroke on top; one where they look alike."""
    layers = [(fill, one.fill), (stroke, one.stroke)]
    seen = [(region, paint) for region, paint in layers if region is not None and paint is not None]
    if len(seen) == 2 and abs(seen[0][1].shade - seen[1][1].shade) < 0.005:
        return [(weld([region for region, _ in seen]), seen[0][1])]
    return seen


def _working_units(
    boxes: Sequence[Box], frames: Sequence[Box], around: Sequence[Box]
) -> tuple[Floats, Floats]:
    """The maps (2, 3) from px to where shapes are made, its middle that of what is seen, and on to mm.

    Args:
        boxes, frames: of all shapes, and what clips leave of them at most.
        around: of everything that is made there.
    """
    low = np.min([np.maximum(box[0], frame[0]) for box, frame in zip(boxes, frames, strict=True)], axis=0)
    high = np.max([np.minimum(box[1], frame[1]) for box, frame in zip(boxes, frames, strict=True)], axis=0)
    across = float((high - low).max())
    if not np.isfinite(across):
        raise GeometryError("A coordinate is not a number; the shape cannot be cut.")
    if across * MM_PER_PX > LIMIT:
        raise GeometryError(
            f"A coordinate lies beyond {LIMIT / 1000:.0f} m; make it smaller or move it nearer."
        )
    by = _ACROSS / across if across > 1e-6 else 1.0
    middle = (low + high) / 2.0
    far = max((float(np.abs(np.array(box) - middle).max()) for box in around), default=0.0)
    if 1.0 < far * by / _WITHIN < _SMALLER:
        # The page of a small mark must lie within reach too.
        by = _WITHIN / far
    home = MM_PER_PX / by
    return (
        np.array([[by, 0.0, -by * middle[0]], [0.0, by, -by * middle[1]]]),
        np.array([[home, 0.0, MM_PER_PX * middle[0]], [0.0, home, MM_PER_PX * middle[1]]]),
    )


def _looked_at(one: Painted, box: Box) -> Box:
    """The box in px that tells how large a shape is: of a dot, whose path has next to no size, its pen's."""
    if one.stroke is None:
        return box
    half = one.pen.width / 2.0 * float(np.hypot(*one.matrix[:, :2]).max())
    return box if float((box[1] - box[0]).max()) > _DOT * half else (box[0] - half, box[1] + half)


def _reach(one: Painted) -> float:
    """How far in px strokes reach from their path at most."""
    if one.stroke is None:
        return 0.0
    return _half(one) * float(np.hypot(*one.matrix[:, :2]).max())


def _half(one: Painted) -> float:
    """How far a stroke reaches in the shape's own units."""
    return one.pen.width / 2.0 * max(one.pen.limit, 1.5)


def _frame(clips: Sequence[Area]) -> Box:
    """The box in px that clips leave of a shape at most; without end where there are none."""
    low, high = np.full(2, -np.inf), np.full(2, np.inf)
    for area in clips:
        boxes = _boxes(area)
        if boxes:
            low = np.maximum(low, np.min([box[0] for box in boxes], axis=0))
            high = np.minimum(high, np.max([box[1] for box in boxes], axis=0))
    return low, high


def _boxes(area: Area) -> list[Box]:
    """The boxes in px of the shapes that a clip is made of."""
    boxes = [outlines.box for outlines, _, _ in area.shapes]
    for one in area.painted:
        box = one.outlines.mapped(one.matrix).box
        boxes.append((box[0] - _reach(one), box[1] + _reach(one)))
    return boxes


def _closed(outlines: Outlines, rule: str) -> tuple[Floats, Bools, Ints, FillRule]:
    """Outlines to be filled, open ones closed by a line."""
    starts, ends = outlines.starts[:-1], outlines.starts[1:]
    own = outlines.segments
    open_ = np.flatnonzero((own[ends - 1, 3] != own[starts, 0]).any(axis=1))
    kind: FillRule = "evenodd" if rule == "evenodd" else "nonzero"
    if len(open_) == 0:
        return own, outlines.curved, outlines.starts, kind
    first, last = own[ends[open_] - 1, 3], own[starts[open_], 0]
    segments = np.insert(own, ends[open_], np.stack([first, first, last, last], axis=1), axis=0)
    curved = np.insert(outlines.curved, ends[open_], False)
    sizes = ends - starts
    sizes[open_] += 1
    loops = np.concatenate([[0], np.cumsum(sizes)]).astype(np.intp)
    return segments, curved, loops, kind


def _refuse_many(stroked: Sequence[Outlines]) -> None:
    """Refuse strokes that would need far too many chords, before any is made."""
    count = sum(int((~one.curved).sum()) for one in stroked)
    bent = [one.segments[one.curved] for one in stroked]
    if bent:
        count += int(bezier.steps_for(np.concatenate(bent), TOLERANCE).sum())
    if count > _MOST_STROKED:
        raise PictureError(
            f"The strokes of this drawing need {count:,} points; up to {_MOST_STROKED:,} can be worked on. "
            "Draw fewer of them, or simpler ones."
        )


def _strokes(painted: Sequence[Painted], matrices: Sequence[Floats]) -> list[Region]:
    """The areas of strokes: made in the shapes' own units, so that they are stretched as those are.

    Strokes by one pen that lie apart are made together.
    """
    made = [Region.empty()] * len(painted)
    alike: dict[tuple[Pen, bytes], list[int]] = {}
    for k, (one, matrix) in enumerate(zip(painted, matrices, strict=True)):
        alike.setdefault((one.pen, matrix[:, :2].tobytes()), []).append(k)
    for (pen, _), members in alike.items():
        linear = matrices[members[0]][:, :2]
        by = float(abs(np.linalg.det(linear))) ** 0.5
        # What is pressed flat is not seen.
        if not by > 1e-6 * float(np.hypot(*linear).max()):
            continue
        own = linear / by
        shift = [np.linalg.solve(own, matrices[k][:, 2]) for k in members]
        large = mapped_each(
            [painted[k].outlines for k in members], [np.array([[by, 0.0, x], [0.0, by, y]]) for x, y in shift]
        )
        reach = by * _half(painted[members[0]])
        boxes = np.array([one.box for one in large]).reshape(-1, 4) + reach * np.array([-1, -1, 1, 1])
        wide = Pen(pen.width * by, pen.cap, pen.join, pen.limit)
        for group in apart(boxes, [len(one.segments) for one in large]):
            region = _stroked_together([large[i] for i in group], wide)
            for i, part in zip(group, sorted_out(region, boxes[group]), strict=True):
                made[members[i]] = part.transformed(np.column_stack([own, np.zeros(2)]))
    return made


def _stroked_together(outlines: Sequence[Outlines], pen: Pen) -> Region:
    sizes = np.concatenate([np.diff(one.starts) for one in outlines])
    return stroked(
        np.concatenate([one.segments for one in outlines]),
        np.concatenate([one.curved for one in outlines]),
        np.concatenate([[0], np.cumsum(sizes)]).astype(np.intp),
        np.concatenate([one.closed for one in outlines]),
        pen,
    )


class _Clips:
    """Clip areas as regions, each made once."""

    def __init__(self, onto: Floats) -> None:
        self._onto = onto
        self._made: dict[int, tuple[Area, Region]] = {}

    def within(self, regions: Sequence[Region], clips: Sequence[tuple[Area, ...]]) -> list[Region]:
        """What of each region all of its clips let through; its own bits where that is all of it."""
        made = list(regions)
        for depth in range(max(map(len, clips), default=0)):
            held: dict[int, list[int]] = {}
            for k, areas in enumerate(clips):
                if depth < len(areas) and not made[k].is_empty:
                    self._region(areas[depth])
                    held.setdefault(id(areas[depth]), []).append(k)
            for area, members in held.items():
                clip = self._made[area][1]
                boxes = np.array([_box(made[k]) for k in members])
                crossing = np.flatnonzero(~_holds(clip, boxes))
                members, boxes = [members[k] for k in crossing], boxes[crossing]
                for group in apart(boxes, [made[k].node_count for k in members]):
                    inside = overlap(Region.joined([made[members[i]] for i in group]), clip)
                    for i, part in zip(group, sorted_out(inside, boxes[group]), strict=True):
                        made[members[i]] = part
        return made

    def _region(self, area: Area) -> Region:
        if id(area) not in self._made:
            shapes = regularise_each(
                [_closed(outlines.mapped(self._onto), rule) for outlines, rule, _ in area.shapes]
            )
            region = weld(self.within(shapes, [clips for _, _, clips in area.shapes]))
            if area.painted:
                region = self._let_through(area.painted)
            if not region.is_empty:
                shapely.prepare(region.multipolygon)
            self._made[id(area)] = area, region
        return self._made[id(area)][1]

    def _let_through(self, painted: Sequence[Painted]) -> Region:
        """What a mask lets through: light shapes on each other, without what dark ones cover."""
        layers = _laid(painted, self._onto)
        regions = self.within([region for _, region, _ in layers], [painted[k].clips for k, _, _ in layers])
        lights = [paint.lets_through for _, _, paint in layers]
        through = Region.empty()
        for light, run in groupby(zip(lights, regions, strict=True), itemgetter(0)):
            alike = weld([region for _, region in run])
            through = weld([through, alike]) if light else cut_away(through, alike)
        return through


def _box(region: Region) -> Floats:
    return np.concatenate([region.curves.min(axis=(0, 1)), region.curves.max(axis=(0, 1))])


def _holds(clip: Region, boxes: Floats) -> Bools:
    """Whether boxes (n, 4) lie within a clip; quick to tell where that is an upright box too."""
    held = np.zeros(len(boxes), bool)
    if clip.is_empty:
        return held
    if clip.node_count == 4 and clip.piece_count == 1 and clip.straight.all():
        low, high = clip.start.min(axis=0), clip.start.max(axis=0)
        if (np.abs(clip.end - clip.start).min(axis=1) < 1e-9).all():
            held = (low <= boxes[:, :2] + 1e-9).all(axis=1) & (high >= boxes[:, 2:] - 1e-9).all(axis=1)
    rest = np.flatnonzero(~held)
    held[rest] = shapely.contains_properly(clip.multipolygon, shapely.box(*boxes[rest].T))
    return np.asarray(held)


def shape_pieces(layers: Sequence[Layer], back: Floats, speck: float) -> Iterator[Layer]:
    """The pieces of layers one by one in mm, but for those of less than `speck` mm^2 where they were made."""
    regions = [region for _, region, _ in layers]
    if not regions:
        return
    joined = Region.joined(regions)
    layer, _ = bezier.expand(np.array([region.piece_count for region in regions]))
    sizes = piece_areas(joined)
    moved = joined.transformed(back).pieces()
    for piece, at, size in zip(moved, layer.tolist(), sizes.tolist(), strict=True):
        if size > speck:
            yield layers[at][0], piece, layers[at][2]
