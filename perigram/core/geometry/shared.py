"""Nodes in common for outlines that run along one curve.

Where an outline ends amid a stretch that another runs on along, its node lies on the curve and off the
other's chord there: laid over each other, the two would leave a hair as long as that chord.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.edges import first_equal
from perigram.core.geometry.region import Region
from perigram.core.geometry.restore import SAME_PLACE


def noded_alike(regions: Sequence[Region]) -> list[Region]:
    """Regions with a node wherever another of them has one amid a curve that both run along.

    A region that has all of them comes back as it is; so do all where one is rough, and its edges are chords.
    """
    amid = [_within(region.span) for region in regions]
    if any(region.rough for region in regions) or not any(ends.any() for ends in amid):
        return list(regions)
    shift = np.cumsum([0, *(len(region.curves) for region in regions)])
    first = first_equal(np.concatenate([region.curves for region in regions]))
    curves = [first[region.curve + s] for region, s in zip(regions, shift[:-1], strict=True)]
    # The number of a curve and a parameter on it as one figure, so that one search finds both.
    place = [2.0 * curve[:, None] + region.span for region, curve in zip(regions, curves, strict=True)]
    ends = [np.stack([region.start, region.end], axis=1) for region in regions]
    nodes = np.concatenate([one[some] for one, some in zip(place, amid, strict=True)])
    xy = np.concatenate([one[some] for one, some in zip(ends, amid, strict=True)])
    order = np.argsort(nodes, kind="stable")
    order = order[np.diff(nodes[order], prepend=-1.0) > SAME_PLACE]
    nodes, xy = nodes[order], xy[order]
    return [_noded(*one, nodes, xy) for one in zip(regions, curves, place, strict=True)]


def _within(span: Floats) -> Bools:
    """Which ends (n, 2) of segments lie amid their curves."""
    return np.asarray((span > SAME_PLACE) & (span < 1.0 - SAME_PLACE))


def _noded(region: Region, curve: Ints, place: Floats, nodes: Floats, xy: Floats) -> Region:
    """A region with nodes wherever any lie on its segments.

    Args:
        curve, place: (n,) the number of each segment's curve, and (n, 2) its ends as `nodes` are told.
        nodes, xy: (k,) nodes in their order, and (k, 2) where they are.
    """
    low = np.searchsorted(nodes, place.min(axis=1) + SAME_PLACE)
    count = np.maximum(np.searchsorted(nodes, place.max(axis=1) - SAME_PLACE) - low, 0)
    if not count.any():
        return region
    segment, nth = bezier.expand(count + 1)
    backwards = region.span[:, 0] > region.span[:, 1]
    new = np.flatnonzero(nth)
    of = segment[new]
    node = low[of] + np.where(backwards[of], count[of] - nth[new], nth[new] - 1)
    span, start = region.span[segment], region.start[segment]
    # A segment ends where the next on its curve begins; the last where it did.
    span[new, 0], start[new] = nodes[node] - 2.0 * curve[of], xy[node]
    span[new - 1, 1] = span[new, 0]
    before = np.concatenate([[0], np.cumsum(count + 1)])
    loops = before[region.loop_offsets].astype(np.intp)
    return replace(region, curve=region.curve[segment], span=span, start=start, loop_offsets=loops)
