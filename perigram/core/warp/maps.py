"""What a map of the plane is, and regions under one: curves stay curves, lines that stay straight lines."""

from __future__ import annotations

from typing import Protocol

import numpy as np

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.region import LIMIT, Region
from perigram.core.geometry.regularise import regularise, sound
from perigram.core.geometry.restore import offsets

#: How far in mm a mapped curve may be from the cubics that stand for it.
TOLERANCE = 0.005
#: A mapped line that is nowhere farther than this many mm from its chord is one.
_STRAIGHT = 1e-7
#: Places that a mapped curve is compared with its cubic at; at regular ones a wave would go unseen.
_PLACES = (0.21, 0.43, 0.5, 0.62, 0.87)
#: The most parts one curve is split into.
_MOST = 256
#: Nodes of a region that grid points of its curves are left out next to, as a share of the grid's step.
_NEXT_TO = 0.1
#: Chords of a rough region are mapped in parts no longer than this share of its size, or so many mm.
_OF_SIZE, _LEAST_PART = 1.0 / 300.0, 0.3
#: Something of the beginnings of stretches and of their ends.
_Ends = tuple[Floats, Floats]


class Map(Protocol):
    """A map of the plane that can be differentiated, at least between its levels."""

    @property
    def step(self) -> float:
        """The length in mm below which it bends to one side only: longer stretches are looked at in parts."""
        ...

    @property
    def levels(self) -> Floats:
        """Heights (k,) at which it has a kink; what crosses one is split there."""
        ...

    def points(self, xy: Floats) -> Floats:
        """Where points (n, 2) go."""
        ...

    def jacobian(self, xy: Floats) -> Floats:
        """(n, 2, 2) derivatives at points: d x' / d x, d x' / d y; d y' / d x, d y' / d y."""
        ...


def warped(region: Region, onto: Map) -> Region:
    """The region under a map that does not fold over it.

    Each curve is split evenly until Hermite cubics through its mapped points and directions are within
    `TOLERANCE` of its mapped self. Whole curves are split, not segments, so that what shared a stretch of one
    shares it still. Lines that stay straight stay lines. Of a rough region the chords are mapped.

    Raises:
        GeometryError: where the map leaves what can be cut.
    """
    if region.is_empty:
        return region
    if region.rough:
        return _by_chords(region, onto)
    segment, t0, t1, is_node = _stretches(region, *_cuts(region.curves, region.curved, onto))
    controls, speed = region.curves[region.curve[segment]], np.stack([t0, t1], axis=1)
    a, b = (bezier.evaluate(controls, speed[:, side]) for side in (0, 1))
    # Nodes are where the region has them, so that what met there meets still.
    a[is_node] = region.start
    after = _following(region, segment)
    b, start = a[after], onto.points(a)
    mapped = _hermite(onto, controls, (a, b), (start, start[after]), (t0, t1))
    if not np.isfinite(mapped).all() or np.abs(mapped).max() > LIMIT:
        raise GeometryError("This bends farther out than can be cut. Bend it less.")
    straight = region.straight[segment]
    lines = np.flatnonzero(straight)
    straight[lines] = _stay_straight(onto, a[lines], b[lines], start[lines], start[after[lines]])
    mapped[straight] = bezier.line_controls(mapped[straight, 0], mapped[straight, 3])
    return _kept(_assembled(region, segment, mapped, straight))


def _by_chords(region: Region, onto: Map) -> Region:
    """A rough region under a map: its chords in steps, so that long ones bend."""
    start, end = region.start, region.end
    most = max(float(np.hypot(*np.ptp(start, axis=0))) * _OF_SIZE, _LEAST_PART)
    steps = np.maximum(1, np.ceil(bezier.length(end - start) / most)).astype(np.intp)
    edge, place = bezier.expand(steps)
    xy = onto.points(start[edge] + (place / steps[edge])[:, None] * (end - start)[edge])
    return Region.from_rings(xy, offsets(steps)[region.loop_offsets], region.polygon_offsets, rough=True)


def _kept(made: Region) -> Region:
    """A mapped region that keeps its promises on coarse chords and fine ones.

    What meets where the map comes round again, or has been brought all but together, is welded; what has
    become a hair is cut off.
    """
    if made.is_valid and made.is_sound:
        return made
    made = regularise(made.segments, ~made.straight, made.loop_offsets, "positive")
    if made.is_valid and made.is_sound:
        return made
    return sound(without_hairs(made))


def _assembled(region: Region, segment: Ints, mapped: Floats, straight: Bools) -> Region:
    """The region of mapped stretches: lines that have no length any more are gone, their ends one point."""
    long = (mapped[:, 0] != mapped[:, 3]).any(axis=1) | ~straight
    counts = np.bincount(segment[long], minlength=region.node_count)
    ends = np.concatenate([[0], np.cumsum(counts)])
    if (np.diff(ends[region.loop_offsets]) == 0).any():
        # Whole outlines have shrunk to a point.
        all_ends = np.concatenate([[0], np.cumsum(np.bincount(segment, minlength=region.node_count))])
        return regularise(mapped, ~straight, all_ends[region.loop_offsets].astype(np.intp), "positive")
    loop_offsets = ends[region.loop_offsets].astype(np.intp)
    return Region.from_loops(mapped[long], ~straight[long], loop_offsets, region.polygon_offsets)


def _following(region: Region, segment: Ints) -> Ints:
    """The stretch that comes after each one in its loop."""
    following = np.arange(1, len(segment) + 1)
    last = np.flatnonzero(np.diff(segment, append=region.node_count))
    first = np.concatenate([[0], last[:-1] + 1])
    following[last] = first[region.following]
    return following


def _hermite(onto: Map, controls: Floats, ends: _Ends, mapped: _Ends, t: _Ends) -> Floats:
    """Cubics (n, 4, 2) through mapped ends, with the directions and speeds the map gives there.

    Args:
        ends, mapped, t: both ends (n, 2) of stretches, where they go, their parameters (n,) on `controls`.
    """
    (a, b), (start, end), (t0, t1) = ends, mapped, t
    third = ((t1 - t0) / 3.0)[:, None]
    out = _times(onto.jacobian(_inward(a, b)), bezier.derivative(controls, t0)) * third
    back = _times(onto.jacobian(_inward(b, a)), bezier.derivative(controls, t1)) * third
    return np.stack([start, start + out, end - back, end], axis=1)


def _inward(a: Floats, b: Floats) -> Floats:
    """Points a hair from a towards b: on the side of a kink that the stretch is on."""
    return a + 1e-9 * (b - a)


def _times(matrices: Floats, vectors: Floats) -> Floats:
    x, y = vectors[:, 0], vectors[:, 1]
    return np.stack(
        [matrices[:, 0, 0] * x + matrices[:, 0, 1] * y, matrices[:, 1, 0] * x + matrices[:, 1, 1] * y], axis=1
    )


def _stay_straight(onto: Map, a: Floats, b: Floats, start: Floats, end: Floats) -> Bools:
    """Which lines (n,) from a to b lie on the chords between where those go."""
    chord = end - start
    size = np.maximum(bezier.length(chord), 1e-12)
    left = np.arange(len(a))
    for share in _PLACES:
        at = onto.points(a[left] + share * (b - a)[left])
        off = np.abs(bezier.cross(at - start[left], chord[left])) / size[left]
        left = left[off < _STRAIGHT]
    stays = np.zeros(len(a), bool)
    stays[left] = True
    return stays


def _cuts(curves: Floats, curved: Bools, onto: Map) -> tuple[Ints, Floats, Floats]:
    """Where curves are split: which (n,), at which parameter, and within what of it nothing else is to be.

    That is where they cross a level, with nothing about it, and evenly between as finely as they need.
    """
    at_curve, at_t = _at_levels(curves, onto.levels)
    k = len(curves)
    curve = np.concatenate([np.arange(k), at_curve, np.arange(k)])
    t = np.concatenate([np.zeros(k), at_t, np.ones(k)])
    order = np.lexsort((t, curve))
    curve, t = curve[order], t[order]
    same = curve[1:] == curve[:-1]
    which, low, high = curve[:-1][same], t[:-1][same], t[1:][same]
    pieces, cut = curves[which], (low > 0.0) | (high < 1.0)
    pieces[cut] = bezier.subcurve(pieces[cut], low[cut], high[cut])
    parts = _parts(pieces, curved[which], onto)
    stretch, place = bezier.expand(parts - 1)
    width = (high - low)[stretch] / parts[stretch]
    return (
        np.concatenate([at_curve, which[stretch]]),
        np.concatenate([at_t, low[stretch] + (place + 1) * width]),
        np.concatenate([np.zeros(len(at_t)), _NEXT_TO * width]),
    )


def _parts(curves: Floats, curved: Bools, onto: Map) -> Ints:
    """Into how many even parts (k,) each curve is to be split."""
    length = bezier.length(np.diff(curves, axis=1)).sum(axis=1)
    least = np.clip(np.ceil(length / (2.0 * onto.step)), 1, _MOST)
    parts = (2 ** np.ceil(np.log2(least))).astype(np.intp)
    kept = ~curved
    a, b = curves[kept, 0], curves[kept, 3]
    kept[kept] = _stay_straight(onto, a, b, onto.points(a), onto.points(b))
    parts[kept] = 1
    open_ = np.flatnonzero(~kept)
    while len(open_):
        error = _error(curves[open_], parts[open_], onto)
        # Hermite interpolation errs by the fourth power of the step.
        factor = np.maximum(error / (0.55 * TOLERANCE), 1e-12) ** 0.25
        bad = (factor > 1.0) & (parts[open_] < _MOST)
        open_, factor = open_[bad], factor[bad]
        parts[open_] = np.minimum(parts[open_] * 2 ** np.ceil(np.log2(factor)).astype(np.intp), _MOST)
    return parts


def _error(curves: Floats, parts: Ints, onto: Map) -> Floats:
    """How far (k,) curves under a map are from their Hermite cubics, split into so many parts each."""
    curve, place = bezier.expand(parts)
    t0, t1 = place / parts[curve], (place + 1) / parts[curve]
    controls = curves[curve]
    a, b = bezier.evaluate(controls, t0), bezier.evaluate(controls, t1)
    cubics = _hermite(onto, controls, (a, b), (onto.points(a), onto.points(b)), (t0, t1))
    worst = np.zeros(len(curve))
    for share in _PLACES:
        true = onto.points(bezier.evaluate(controls, t0 + share * (t1 - t0)))
        at = np.array(share)
        gap, way = bezier.evaluate(cubics, at) - true, bezier.derivative(cubics, at)
        # How far along the curve a point is off is the parameter's business.
        across = np.abs(bezier.cross(gap, way)) / np.maximum(bezier.length(way), 1e-9)
        far = bezier.length(gap)
        worst = np.maximum(worst, np.where(far < 0.2 * bezier.length(b - a) + TOLERANCE, across, far))
    return np.asarray(np.maximum.reduceat(worst, np.cumsum(parts) - parts))


def _at_levels(curves: Floats, levels: Floats) -> tuple[Ints, Floats]:
    """Where curves cross heights: which curve (n,) and at which parameter (n,)."""
    found: list[tuple[int, float]] = []
    low, high = curves[:, :, 1].min(axis=1), curves[:, :, 1].max(axis=1)
    for level in levels:
        for k in np.flatnonzero((low < level) & (high > level)):
            p0, p1, p2, p3 = curves[k, :, 1] - level
            roots = np.roots([p3 - 3 * p2 + 3 * p1 - p0, 3 * (p2 - 2 * p1 + p0), 3 * (p1 - p0), p0])
            real = roots.real[np.abs(roots.imag) < 1e-9]
            found += [(int(k), float(t)) for t in real if 0.0 < t < 1.0]
    return np.array([k for k, _ in found], np.intp), np.array([t for _, t in found])


def _stretches(
    region: Region, cut_curve: Ints, cut_t: Floats, margin: Floats
) -> tuple[Ints, Floats, Floats, Bools]:
    """What segments are split into: the segment, its parameters on the curve, whether it starts there."""
    curve = region.curve
    low, high = region.span.min(axis=1), region.span.max(axis=1)
    backwards = region.span[:, 0] > region.span[:, 1]
    inner, which = _pairs(curve, cut_curve)
    t, near = cut_t[which], np.maximum(margin[which], 1e-9)
    within = (t > low[inner] + near) & (t < high[inner] - near)
    segment = np.concatenate([np.arange(len(curve)), inner[within]])
    t = np.concatenate([region.span[:, 0], t[within]])
    is_node = np.arange(len(segment)) < len(curve)
    order = np.lexsort((np.where(backwards[segment], -t, t), segment))
    segment, t, is_node = segment[order], t[order], is_node[order]
    ends = np.append(t[1:], 0.0)
    final = np.diff(segment, append=len(curve)) > 0
    ends[final] = region.span[segment[final], 1]
    return segment, t, ends, is_node


def _pairs(curve: Ints, cut_curve: Ints) -> tuple[Ints, Ints]:
    """Each segment with each cut of its curve."""
    order = np.argsort(cut_curve, kind="stable")
    ordered = cut_curve[order]
    first, last = np.searchsorted(ordered, curve), np.searchsorted(ordered, curve, side="right")
    segment, place = bezier.expand((last - first).astype(np.intp))
    return segment, order[first[segment] + place]
