"""Tips too sharp to be written are cut short to where rounded numbers and chords can tell their sides apart.

A curve that runs into a tip beside the outline's other side is, near the tip, less than a thousandth of a mm
from it. Rounded, it may end on the wrong side; read on anybody's chords, it may seem to. No blade sees the
difference.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Floats, Ints
from perigram.core.geometry.region import Region
from perigram.core.geometry.turning import directions

#: Sides that part by less than this many degrees make a sharp tip.
_SHARP = 20.0
#: Tips are cut short to where their sides are this many mm apart.
_WIDTH = 0.003
#: So far in mm from a tip its sides are looked at, in so many points, closer together towards it.
_REACH = 0.4
_POINTS = 96


@dataclass
class _Edits:
    """What becomes of segments (n): the part of each that stays, new ends, lines after them, those gone."""

    low: Floats
    high: Floats
    starts: dict[int, Floats] = field(default_factory=dict)
    ends: dict[int, Floats] = field(default_factory=dict)
    closed: set[int] = field(default_factory=set)
    gone: set[int] = field(default_factory=set)


def blunted(region: Region) -> Region:
    """The region with its tips between curves cut short; itself, where there are none so sharp."""
    if region.is_empty:
        return region
    before = np.empty_like(region.following)
    before[region.following] = np.arange(region.node_count)
    tips = _sharp(region, before)
    if len(tips) == 0:
        return region
    edits = _Edits(np.zeros(region.node_count), np.ones(region.node_count))
    back = bezier.subcurve(region.segments[before[tips]], np.ones(len(tips)), np.zeros(len(tips)))
    first, t = _side(back)
    second, u = _side(region.segments[tips])
    touched: set[int] = set()
    for k, tip in enumerate(tips.tolist()):
        previous = int(before[tip])
        if {previous, tip} & touched:
            # A segment between two tips is cut at one of them at a time.
            continue
        _cut_short(edits, previous, tip, (first[k], t[k]), (second[k], u[k]))
        touched |= {previous, tip}
    return _edited(region, edits)


def _sharp(region: Region, before: Ints) -> Ints:
    """The segments that begin at a sharp tip, one side of which is a curve."""
    leave = directions(region.segments, np.zeros(region.node_count))
    enter = directions(region.segments, np.ones(region.node_count))[before]
    back = bezier.dot(leave, enter) < -np.cos(np.radians(_SHARP))
    curved = ~(region.straight & region.straight[before])
    return np.flatnonzero(back & curved & (before != np.arange(len(before))))


def _side(cubics: Floats) -> tuple[Floats, Floats]:
    """Points (n, k, 2) along cubics from their starts, as far as is looked at, and parameters (n, k)."""
    even = np.linspace(0.0, 1.0, 4 * _POINTS)
    rough = _at(cubics, np.broadcast_to(even, (len(cubics), len(even))))
    gone = np.cumsum(bezier.length(np.diff(rough, axis=1)), axis=1)
    end = even[np.minimum((gone < _REACH).sum(axis=1) + 1, len(even) - 1)]
    t = end[:, None] * np.linspace(0.0, 1.0, _POINTS) ** 2
    return _at(cubics, t), t


def _at(cubics: Floats, t: Floats) -> Floats:
    n, k = t.shape
    return bezier.evaluate(np.repeat(cubics, k, axis=0), t.ravel()).reshape(n, k, 2)


def _cut_short(
    edits: _Edits, previous: int, tip: int, one: tuple[Floats, Floats], other: tuple[Floats, Floats]
) -> None:
    """Cut a tip short to where its sides are apart: each points (k, 2) and parameters (k,) from the tip."""
    (a, t), (b, u) = one, other
    off_a, off_b = (np.maximum.accumulate(bezier.length(side - side[0])) for side in (a, b))
    reach = float(min(off_a[-1], off_b[-1]))
    radii = reach * np.linspace(0.0, 1.0, 2 * _POINTS) ** 2
    on_a, on_b = (
        np.stack([np.interp(radii, off, side[:, axis]) for axis in (0, 1)], axis=1)
        for off, side in ((off_a, a), (off_b, b))
    )
    apart = np.flatnonzero(bezier.length(on_a - on_b) >= _WIDTH)
    at = len(radii)
    if len(apart):
        # Sides may come together again on the way; where they do at the end it is a lens, cut at one tip.
        runs = apart[np.diff(apart, prepend=-2) > 1]
        at = int(runs[-1] if apart[-1] == len(radii) - 1 else runs[0])
    shorter = t[-1] if off_a[-1] <= off_b[-1] else u[-1]
    if at < len(radii) or shorter < 1.0:
        # Beyond this they are apart, or as far as was looked at: a line across makes the end.
        at = min(at, len(radii) - 1)
        edits.high[previous] = 1.0 - np.interp(radii[at], off_a, t)
        edits.low[tip] = np.interp(radii[at], off_b, u)
        edits.ends[previous], edits.starts[tip] = on_a[at], on_b[at]
        edits.closed.add(previous)
        return
    # The shorter side is too near all along: it goes, and the tip is where it began.
    if off_a[-1] <= off_b[-1]:
        edits.gone.add(previous)
        edits.low[tip], edits.starts[tip] = np.interp(reach, off_b, u), a[-1]
    else:
        edits.gone.add(tip)
        edits.high[previous], edits.ends[previous] = 1.0 - np.interp(reach, off_a, t), b[-1]


def _edited(region: Region, edits: _Edits) -> Region:
    segments = bezier.subcurve(region.segments, edits.low, edits.high)
    untouched = (edits.low == 0.0) & (edits.high == 1.0)
    segments[untouched] = region.segments[untouched]
    for which, point in edits.starts.items():
        segments[which, 0] = point
    for which, point in edits.ends.items():
        segments[which, 3] = point
    straight = region.straight
    segments[straight] = bezier.line_controls(segments[straight, 0], segments[straight, 3])
    made: list[Floats] = []
    curved: list[bool] = []
    sizes = [0]
    for loop in region.loop_slices():
        for k in range(loop.start, loop.stop):
            if k in edits.gone:
                continue
            made.append(segments[k])
            curved.append(not straight[k])
            if k in edits.closed:
                across = edits.starts[int(region.following[k])]
                made.append(bezier.line_controls(segments[k, 3][None], across[None])[0])
                curved.append(False)
        sizes.append(len(made))
    return Region.from_loops(np.array(made), np.array(curved), np.array(sizes), region.polygon_offsets)
