"""The parallels of a region's outlines at one distance, as closed paths of cubics, arcs and lines."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.fit import fit_stretches
from perigram.core.geometry.region import Region
from perigram.core.geometry.turning import Parts, directions, normals, parallel_at, parts_of

Corners = Literal["round", "mitred"]

#: Gaps below this many mm at a joint are closed by moving its ends together.
JOINT = 0.002
#: Corners that turn by more than this many radians may be tips of either side.
_BACK, _STRAIGHT_BACK = np.pi - 0.2, np.pi - 1e-9
#: Places along a part that bends too tightly, between which chords stand for its parallel.
_STEPS = np.linspace(0.0, 1.0, 5)
#: Places along a part that tell whether its parallel lies deep.
_LOOKED_AT, _HALF_WAY = np.linspace(0.0, 1.0, 7), np.array([0.5])


#: How outer corners are closed.
ROUND, MITRED, FLAT = 0, 1, 2


@dataclass(frozen=True)
class Mitres:
    """How far mitres reach, in distances from their corner, and which tips (n, 2) are allowed."""

    limit: float
    allowed: Callable[[Floats], Bools]
    #: whether corners beyond the limit are closed straight across; by arcs if not
    flat_beyond: bool = False


#: Tells which polylines, the places (m, 2) they are made of and their numbers (n, k), lie so deep inside an
#: offset that its outline cannot come near them.
Deep = Callable[[Floats, Ints], Bools]


@dataclass(frozen=True, eq=False)
class RawParallel:
    """Closed paths along all parallels of a region's outlines, turned-back stretches and all.

    Every place of them is at most the distance from the region's outlines, mitres apart, and the
    outline of the offset is made of parts of them.

    Attributes:
        segments, curved, loops: the paths, as `Region` holds them.
        inner: (n,) segments that only lead on, within the distance, to the next.
        mitres: (k, 4, 2) the corners of what mitres add beyond the distance.
    """

    segments: Floats
    curved: Bools
    loop_offsets: Ints
    inner: Bools
    mitres: Floats


def raw_parallel(
    region: Region,
    distance: float,
    tolerance: float,
    deep: Deep,
    mitres: Mitres | None = None,
    ends: Ints | None = None,
    by_corner: bool = False,
) -> RawParallel:
    """The parallels of a region's outlines at a distance in mm, negative to shrink.

    Parallels are fitted by cubics within `tolerance` mm; outer corners are closed by arcs or, as
    `ends` (n,) says of each segment's end, by those `mitres` that are allowed or straight across. What
    cannot be on the offset's outline only has to lead on within the distance: inner corners are closed by a
    chord, and so are the steps along a part that bends more tightly than the distance; of a part that lies
    deep inside the offset only its ends are left. Led `by_corner`, inner corners are closed by way of the
    corner itself: what lies along sides shorter than the distance is then told apart.
    """
    parts = parts_of(region, distance)
    parts.buried |= _buried(parts, deep, distance)
    parts.hidden |= parts.buried
    joints = _joints(parts, distance, by_corner)
    sides = _sides(parts, distance, tolerance)
    style = (
        np.full(len(parts.owner), ROUND) if ends is None else np.where(parts.within, ROUND, ends[parts.owner])
    )
    meeting = _meeting(parts, joints, distance)
    bridges, quads, mitred = _bridges(parts, joints, meeting, distance, style, mitres, by_corner)
    # Lines simply go on to the tips of their mitres, and only as far as they meet inside a corner.
    at = np.full((len(parts.low), 2), np.nan)
    at[mitred] = quads[:, 2]
    at[meeting] = _tips(joints, distance, np.flatnonzero(meeting))
    lines = parts.straight[sides.part] & ~parts.hidden[sides.part]
    for end, joint in ((3, sides.part), (0, parts.before[sides.part])):
        reached = lines & np.isfinite(at[joint, 0])
        sides.segments[reached, end] = at[joint[reached]]
    # Sides and bridges take turns: side i is followed by bridge i.
    place = np.concatenate([2 * sides.part, 2 * bridges.part + 1])
    order = np.argsort(place, kind="stable")
    pieces = np.concatenate([sides.segments, bridges.segments])[order]
    curved = np.concatenate([sides.curved, bridges.curved])[order]
    inner = np.concatenate([sides.inner, bridges.inner])[order]
    loops = np.searchsorted(place[order] // 2, parts.loop_offsets)
    _close_up(pieces, curved, loops)
    return RawParallel(pieces, curved, loops, inner, quads)


@dataclass(frozen=True, eq=False)
class _Joints:
    """Where each part ends: the corner, the directions before and after it, and the turn between."""

    corner: Floats
    leave: Floats
    enter: Floats
    turn: Floats


@dataclass(frozen=True, eq=False)
class _Pieces:
    """Segments, which are curved, which only lead on, and the part each belongs to, in its order."""

    segments: Floats
    curved: Bools
    inner: Bools
    part: Ints


def _buried(parts: Parts, deep: Deep, distance: float) -> Bools:
    """Which parts' parallels lie deep inside the offset all along."""

    def at(some: Ints, shares: Floats) -> Bools:
        k = len(shares)
        t = (parts.low[some, None] + (parts.high - parts.low)[some, None] * shares).ravel()
        points, _ = parallel_at(np.repeat(parts.cubics[some], k, axis=0), t, distance)
        return deep(points, np.arange(len(points)).reshape(-1, k))

    # Most of them do not even half way, and need not be looked at any closer.
    some = np.flatnonzero(at(np.arange(len(parts.low)), _HALF_WAY))
    buried = np.zeros(len(parts.low), bool)
    buried[some] = at(some, _LOOKED_AT)
    return buried


def _joints(parts: Parts, distance: float, by_corner: bool) -> _Joints:
    after = parts.following
    leave = directions(parts.cubics, parts.high)
    enter = directions(parts.cubics[after], parts.low[after])
    turn = np.arctan2(bezier.cross(leave, enter), bezier.dot(leave, enter))
    # Parts of one segment go on smoothly, whatever rounding says.
    turn[parts.within & ~parts.wound] = 0.0
    # Turning nearly straight back leaves the side of the turn to rounding, and a hook that winds on past a
    # corner has it seem to turn the other way. An arc round the tip does no harm where there should be none,
    # but that ways by the corner of lines are missing there.
    back = np.where(by_corner & parts.straight & parts.straight[after], _STRAIGHT_BACK, _BACK)
    doubtful = ((np.abs(turn) > back) | parts.wound) & (turn * distance < 0.0)
    turn[doubtful] += 2.0 * np.pi * np.sign(distance)
    return _Joints(bezier.evaluate(parts.cubics, parts.high), leave, enter, turn)


def _sides(parts: Parts, distance: float, tolerance: float) -> _Pieces:
    """The parallels of all parts: cubics, lines, and chords where a part is dead."""
    cubics, low, high = parts.cubics, parts.low, parts.high
    live = np.flatnonzero(~parts.straight & ~parts.hidden)

    def sample(stretch: Ints, u: Floats) -> tuple[Floats, Floats]:
        who, t = np.repeat(cubics[live[stretch]], u.shape[1], axis=0), u.ravel()
        points, along = parallel_at(who, t, distance)
        return points.reshape(*u.shape, 2), along.reshape(*u.shape, 2)

    curves, stretch = fit_stretches(sample, low[live], high[live], tolerance)
    flat = np.flatnonzero(parts.straight & ~parts.hidden)
    ends = [parallel_at(cubics[flat], t[flat], distance)[0] for t in (low, high)]
    lines = bezier.line_controls(*ends)
    gone = np.flatnonzero(parts.buried)
    ends = [parallel_at(cubics[gone], t[gone], distance)[0] for t in (low, high)]
    leads = bezier.line_controls(*ends)
    tight, k = np.flatnonzero(parts.hidden & ~parts.buried), len(_STEPS)
    t = (low[tight, None] + (high - low)[tight, None] * _STEPS).ravel()
    points = parallel_at(np.repeat(cubics[tight], k, axis=0), t, distance)[0].reshape(-1, k, 2)
    chords = bezier.line_controls(points[:, :-1].reshape(-1, 2), points[:, 1:].reshape(-1, 2))
    part = np.concatenate([live[stretch], flat, gone, np.repeat(tight, k - 1)])
    place = np.arange(len(part))
    inner = place >= len(curves) + len(lines)
    return _Pieces(np.concatenate([curves, lines, leads, chords]), place < len(curves), inner, part)


def _tips(joints: _Joints, distance: float, at: Ints) -> Floats:
    """Where (k, 2) the parallels of two lines that meet at a joint cross, gone on as far as it takes."""
    first = joints.corner[at] + distance * normals(joints.leave[at])
    return np.asarray(first + (distance * np.tan(joints.turn[at] / 2.0))[:, None] * joints.leave[at])


def _meeting(parts: Parts, joints: _Joints, distance: float) -> Bools:
    """Which joints are inner corners of two lines that are long enough for their parallels to cross there."""
    lines = parts.straight & ~parts.hidden
    length = np.where(lines, bezier.length(parts.cubics[:, 3] - parts.cubics[:, 0]), 0.0)
    room = np.minimum(length, length[parts.following])
    # Half of the shorter one, so that what its other end takes is left.
    turn = joints.turn * distance
    inner = (turn <= -JOINT) & (np.abs(joints.turn) < _BACK)
    return np.asarray(inner & (2.0 * np.abs(distance * np.tan(joints.turn / 2.0)) < room))


def _bridges(
    parts: Parts,
    joints: _Joints,
    meeting: Bools,
    distance: float,
    style: Ints,
    mitres: Mitres | None,
    by_corner: bool,
) -> tuple[_Pieces, Floats, Ints]:
    """What leads from each part's parallel to the next: arcs or mitres outside, chords inside where they do
    not meet.

    Returns:
        The pieces, the corners (k, 4, 2) of what mitres add, and the parts (k,) they come after.
    """
    corner, leave, turn = joints.corner, joints.leave, joints.turn
    sharp = np.abs(turn * distance) >= JOINT
    outer = sharp & (turn * distance > 0.0)
    start, end = corner + distance * normals(leave), corner + distance * normals(joints.enter)
    mitred = np.zeros_like(outer)
    if mitres is not None:
        mitred = outer & (style == MITRED) & (np.cos(turn / 2.0) * mitres.limit >= 1.0)
        mitred[mitred] = mitres.allowed(_tips(joints, distance, np.flatnonzero(mitred)))

    across = (
        outer
        & ~mitred
        & ((style == FLAT) | ((style == MITRED) & (mitres is not None and mitres.flat_beyond)))
    )
    flat = np.flatnonzero(across)
    arc = np.flatnonzero(outer & ~mitred & ~across)
    arcs, of_arc = _arcs(corner[arc], start[arc], turn[arc], abs(distance))
    first, tip, last = start[mitred], _tips(joints, distance, np.flatnonzero(mitred)), end[mitred]
    inner = np.flatnonzero(sharp & ~outer & ~meeting)
    at_mitre = np.flatnonzero(mitred)
    onto = ~parts.straight[at_mitre] | parts.hidden[at_mitre]
    off = ~parts.straight[parts.following[at_mitre]] | parts.hidden[parts.following[at_mitre]]
    ways = [start[inner], end[inner]]
    if by_corner:
        ways.insert(1, corner[inner])
    lines = bezier.line_controls(
        np.concatenate([*ways[:-1], first[onto], tip[off], start[flat]]),
        np.concatenate([*ways[1:], tip[onto], last[off], end[flat]]),
    )
    led = np.tile(inner, len(ways) - 1)
    part = np.concatenate([arc[of_arc], led, at_mitre[onto], at_mitre[off], flat])
    place = np.arange(len(part))
    leads = (place >= len(arcs)) & (place < len(arcs) + len(led))
    pieces = _Pieces(np.concatenate([arcs, lines]), place < len(arcs), leads, part)
    return pieces, np.stack([corner[mitred], first, tip, last], axis=1), at_mitre


def _arcs(centre: Floats, start: Floats, turn: Floats, radius: float) -> tuple[Floats, Ints]:
    """Circular arcs about centres, each turning by an angle, as cubics (m, 4, 2) and which arc each is of."""
    arm = start - centre
    widest = np.pi / 2 if radius < 10.0 else np.pi / 4
    cubics, arc = bezier.unit_arcs(np.arctan2(arm[:, 1], arm[:, 0]), turn, widest)
    return centre[arc][:, None] + radius * cubics, arc


def _close_up(pieces: Floats, curved: Bools, loop_offsets: Ints) -> None:
    """Bring the ends of neighbouring pieces together in their middle, in place."""
    previous = np.arange(-1, len(pieces) - 1)
    full = loop_offsets[1:] > loop_offsets[:-1]
    previous[loop_offsets[:-1][full]] = loop_offsets[1:][full] - 1
    node = (pieces[:, 0] + pieces[previous, 3]) / 2.0
    pieces[:, 1] += node - pieces[:, 0]
    pieces[previous, 2] += node - pieces[previous, 3]
    pieces[:, 0] = node
    pieces[previous, 3] = node
    pieces[~curved] = bezier.line_controls(pieces[~curved, 0], pieces[~curved, 3])
