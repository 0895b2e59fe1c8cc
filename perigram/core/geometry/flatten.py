"""Curves into chords: as finely as is asked, or only where segments come near each other."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.candidates import near_parts
from perigram.core.geometry.flat import Flat

if TYPE_CHECKING:
    from perigram.core.geometry.region import Region

#: More chords than this are better spared by a closer look at where they are needed.
_MANY_CHORDS = 50_000


def flatten(region: Region, tolerance: float | Floats) -> Flat:
    """Replace curves by chords no farther than `tolerance` mm from them.

    A curve is stepped on a grid that depends on the whole curve alone, so any two segments on the
    same curve share the vertices of the stretch they share. This runs more often than anything else: single
    columns are gathered, which takes a tenth of what it takes to scatter rows of two.
    """
    steps = np.where(region.curved, bezier.steps_for(region.curves, tolerance), 1)
    n = steps[region.curve]
    t_start, t_end = region.span[:, 0], region.span[:, 1]
    backwards = t_start > t_end
    # Grid points strictly inside the span; a billionth of a step apart counts as the same point.
    first = np.floor(np.minimum(t_start, t_end) * n + 1e-9) + 1.0
    last = np.ceil(np.maximum(t_start, t_end) * n - 1e-9) - 1.0
    inner = np.maximum(0.0, last - first + 1.0).astype(np.intp)
    starts = np.concatenate([[0], np.cumsum(inner + 1)])
    rings = starts[region.loop_offsets]
    following = np.arange(1, starts[-1] + 1)
    number = following - 1
    following[rings[1:] - 1] = rings[:-1]

    # Every segment has a node of its own before its grid points: that is reckoned as one, and put right.
    node = starts[:-1]
    segment = np.repeat(np.arange(len(n)), inner + 1)
    way = np.where(backwards, -1.0, 1.0)
    t = (np.where(backwards, last + 1.0, first - 1.0) - way * node)[segment]
    t += way[segment] * number if backwards.any() else number
    t /= n[segment]
    t[node] = t_start
    # Adding zero turns -0.0 into 0.0, so that equal coordinates have equal bits.
    xy = region.start + 0.0
    if len(t) > len(node):
        xy = bezier.evaluate_of(region.curves, region.curve[segment], t)
        xy[node] = region.start
        xy += 0.0
    until = np.empty_like(t)
    until[:-1] = t[1:]
    until[starts[1:] - 1] = t_end
    return Flat(xy, segment, np.stack([t, until], axis=1), following, rings, region.polygon_offsets)


def closely(region: Region, pairs: tuple[Ints, Ints], apart: float, tolerance: float, finest: float) -> Flat:
    """Outlines by chords within `tolerance` mm, and within `finest` where segments may come near each other.

    Args:
        pairs: pairs of segments that may come nearer than `apart` mm, all of them.
    """
    if region.is_empty:
        return region.flat
    near = np.zeros(region.node_count, bool)
    near[np.concatenate(pairs)] = True
    bent = np.flatnonzero(near & ~region.straight)
    if bezier.steps_for(region.segments[bent], finest).sum() > _MANY_CHORDS:
        region, near = _in_parts(region, near_parts(region.segments, region.following, pairs, apart))
    return partly_finer(region, near, tolerance, finest)


def partly_finer(region: Region, finer: Bools, tolerance: float, finest: float) -> Flat:
    """Outlines by chords within `tolerance` mm, and segments that are marked (n,) within `finest`."""
    own = replace(
        region,
        curves=np.concatenate([region.curves, region.curves]),
        curved=np.concatenate([region.curved, region.curved]),
        curve=region.curve + len(region.curves) * finer,
    )
    return flatten(own, np.repeat([tolerance, finest], len(region.curves)))


def _in_parts(region: Region, near: Bools) -> tuple[Region, Bools]:
    """The region with segments of which some parts are marked (n, k) cut into those, and which are marked."""
    parts = near.shape[1]
    count = np.where(near.any(axis=1) & ~near.all(axis=1), parts, 1)
    segment, nth = bezier.expand(count)
    begin, end = region.span[segment].T
    share = nth / count[segment], (nth + 1) / count[segment]
    span = np.stack([begin + one * (end - begin) for one in share], axis=1)
    # A part's end is where the next begins, to the bit; so are a segment's own.
    last = nth == count[segment] - 1
    span[last, 1] = end[last]
    curve = region.curve[segment]
    start = np.where(
        (nth > 0)[:, None], bezier.evaluate_of(region.curves, curve, span[:, 0]), region.start[segment]
    )
    first = np.concatenate([[0], np.cumsum(count)]).astype(np.intp)
    loops = first[region.loop_offsets]
    cut = replace(region, curve=curve, span=span, start=start, loop_offsets=loops)
    return cut, near[segment, nth]
