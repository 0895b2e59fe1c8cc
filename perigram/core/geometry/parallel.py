"""The parallels of a region's outlines at one distance, as closed paths of cubics, arcs and lines."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.fit import fit_stretches, unit
from perigram.core.geometry.hooks import unhooked
from perigram.core.geometry.region import Region

Corners = Literal["round", "mitred"]

#: Gaps below this many mm at a joint are closed by moving its ends together.
JOINT = 0.002
#: Where along a segment its curvature is looked at for places tighter than the distance.
_PROBES = np.linspace(0.0, 1.0, 13)
_CLOSE_PROBES = np.linspace(0.0, 1.0, 97)
#: Between two probes, where a parallel turns back is narrowed down to a billionth of the segment.
_SECTIONS, _NARROWINGS = np.linspace(0.0, 1.0, 17), 7
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
    parts = _parts(region, distance)
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


@dataclass(eq=False)
class _Parts:
    """Segments, cut where their parallel turns back.

    Attributes:
        cubics: (n, 4, 2) the segment each is a part of.
        straight: (n,) which are lines.
        owner: (n,) the number of that segment.
        low, high: (n,) its parameters from and to.
        hidden: (n,) whose parallels cannot be on the outline: they bend too tightly, or lie too deep.
        buried: (n,) those that lie too deep.
        wound: (n,) which end in a corner that a hook beside it winds round by more than half a turn, or stop
            to turn.
        following: (n,) the part after each in its loop.
        loops: offsets of loops.
    """

    cubics: Floats
    straight: Bools
    owner: Ints
    low: Floats
    high: Floats
    hidden: Bools
    buried: Bools
    wound: Bools
    following: Ints
    loop_offsets: Ints

    @cached_property
    def before(self) -> Ints:
        """The part before each in its loop."""
        before = np.empty_like(self.following)
        before[self.following] = np.arange(len(before))
        return before

    @cached_property
    def within(self) -> Bools:
        """Which parts end within their segment."""
        after = self.following
        return np.asarray((self.owner[after] == self.owner) & (after > np.arange(len(after))))


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


def directions(cubics: Floats, t: Floats) -> Floats:
    """Unit directions (n, 2) of cubics, also at ends whose handle has no length."""
    speed = bezier.derivative(cubics, t)
    size = np.abs(np.diff(cubics, axis=1)).max(axis=(1, 2))
    still = np.flatnonzero(bezier.farther(speed) < 1e-5 * size)
    if len(still):
        ahead = np.where(t[still] > 0.5, t[still] - 1e-3, t[still] + 1e-3)
        secant = bezier.evaluate(cubics[still], ahead) - bezier.evaluate(cubics[still], t[still])
        speed[still] = secant * np.where(t[still] > 0.5, -1.0, 1.0)[:, None]
    return unit(speed)


def _normals(along: Floats) -> Floats:
    """Directions turned to the outer side of an outline that runs with positive area."""
    return np.stack([along[:, 1], -along[:, 0]], axis=1)


def _curvature(cubics: Floats, t: Floats) -> Floats:
    """Signed curvature in 1/mm, positive where the outline turns towards its solid side."""
    speed, bend = bezier.derivative(cubics, t), bezier.second_derivative(cubics, t)
    size = np.maximum(bezier.length(speed), 1e-9)
    return np.asarray(bezier.cross(speed, bend) / size**3)


def _parallel(cubics: Floats, t: Floats, distance: float) -> tuple[Floats, Floats]:
    """Points (n, 2) of the parallels of cubics, and the unit directions of the cubics there."""
    along = directions(cubics, t)
    return bezier.evaluate(cubics, t) + distance * _normals(along), along


def _parts(region: Region, distance: float) -> _Parts:
    segments, straight, whole, starts, wound = unhooked(region)
    n = len(segments)
    bent = np.flatnonzero(~straight)
    stretch = _stretch(segments[bent], _PROBES, distance)
    # Where the parallel slows down much it may turn back between two probes: look closer.
    close = stretch.min(axis=1, initial=1.0) < 0.5
    owner, low, high, folding = (
        np.concatenate(columns)
        for columns in zip(
            _turns(bent[~close], stretch[~close], _PROBES),
            _turns(bent[close], _stretch(segments[bent[close]], _CLOSE_PROBES, distance), _CLOSE_PROBES),
            strict=True,
        )
    )
    for _ in range(_NARROWINGS if len(owner) else 0):
        tries = low[:, None] + (high - low)[:, None] * _SECTIONS
        curvature = _curvature(np.repeat(segments[owner], len(_SECTIONS), axis=0), tries.ravel())
        same = (1.0 + distance * curvature.reshape(tries.shape) <= 0.0) == folding[:, None]
        same[:, 0], same[:, -1] = True, False
        row, flip = np.arange(len(owner)), same.argmin(axis=1)
        low, high = tries[row, flip - 1], tries[row, flip]
    owners = np.concatenate([np.arange(n), owner])
    begins = np.concatenate([np.zeros(n), low])
    folded = np.zeros(n, bool)
    folded[bent] = stretch[:, 0] <= 0.0
    hidden = np.concatenate([folded, ~folding])
    order = np.lexsort((begins, owners))
    owners, begins, hidden = owners[order], begins[order], hidden[order]
    ends = np.append(begins[1:], 1.0)
    ends[np.append(owners[1:] != owners[:-1], True)] = 1.0
    counts = np.bincount(owners, minlength=n)
    loops = np.concatenate([[0], np.cumsum(counts)])[starts]
    following = np.arange(1, len(owners) + 1)
    following[loops[1:] - 1] = loops[:-1]
    return _Parts(
        segments[owners],
        straight[owners],
        whole[owners],
        begins,
        ends,
        hidden,
        np.zeros(len(hidden), bool),
        ((ends == 1.0) & wound[owners, 1]) | ((begins == 0.0) & wound[owners, 0])[following],
        following,
        loops,
    )


def _stretch(segments: Floats, probes: Floats, distance: float) -> Floats:
    """Speeds (n, k) of parallels over their sources' at parameters (k,); negative where they turn back."""
    k = len(probes)
    curvature = _curvature(np.repeat(segments, k, axis=0), np.tile(probes, len(segments)))
    return 1.0 + distance * curvature.reshape(-1, k)


def _turns(owner: Ints, stretch: Floats, probes: Floats) -> tuple[Ints, Floats, Floats, Bools]:
    """Where parallels turn back: owner, parameters before and after, whether they run back before."""
    folds = stretch <= 0.0
    row, place = np.nonzero(folds[:, 1:] != folds[:, :-1])
    return owner[row], probes[place], probes[place + 1], folds[row, place]


def _buried(parts: _Parts, deep: Deep, distance: float) -> Bools:
    """Which parts' parallels lie deep inside the offset all along."""

    def at(some: Ints, shares: Floats) -> Bools:
        k = len(shares)
        t = (parts.low[some, None] + (parts.high - parts.low)[some, None] * shares).ravel()
        points, _ = _parallel(np.repeat(parts.cubics[some], k, axis=0), t, distance)
        return deep(points, np.arange(len(points)).reshape(-1, k))

    # Most of them do not even half way, and need not be looked at any closer.
    some = np.flatnonzero(at(np.arange(len(parts.low)), _HALF_WAY))
    buried = np.zeros(len(parts.low), bool)
    buried[some] = at(some, _LOOKED_AT)
    return buried


def _joints(parts: _Parts, distance: float, by_corner: bool) -> _Joints:
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


def _sides(parts: _Parts, distance: float, tolerance: float) -> _Pieces:
    """The parallels of all parts: cubics, lines, and chords where a part is dead."""
    cubics, low, high = parts.cubics, parts.low, parts.high
    live = np.flatnonzero(~parts.straight & ~parts.hidden)

    def sample(stretch: Ints, u: Floats) -> tuple[Floats, Floats]:
        who, t = np.repeat(cubics[live[stretch]], u.shape[1], axis=0), u.ravel()
        points, along = _parallel(who, t, distance)
        return points.reshape(*u.shape, 2), along.reshape(*u.shape, 2)

    curves, stretch = fit_stretches(sample, low[live], high[live], tolerance)
    flat = np.flatnonzero(parts.straight & ~parts.hidden)
    ends = [_parallel(cubics[flat], t[flat], distance)[0] for t in (low, high)]
    lines = bezier.line_controls(*ends)
    gone = np.flatnonzero(parts.buried)
    ends = [_parallel(cubics[gone], t[gone], distance)[0] for t in (low, high)]
    leads = bezier.line_controls(*ends)
    tight, k = np.flatnonzero(parts.hidden & ~parts.buried), len(_STEPS)
    t = (low[tight, None] + (high - low)[tight, None] * _STEPS).ravel()
    points = _parallel(np.repeat(cubics[tight], k, axis=0), t, distance)[0].reshape(-1, k, 2)
    chords = bezier.line_controls(points[:, :-1].reshape(-1, 2), points[:, 1:].reshape(-1, 2))
    part = np.concatenate([live[stretch], flat, gone, np.repeat(tight, k - 1)])
    place = np.arange(len(part))
    inner = place >= len(curves) + len(lines)
    return _Pieces(np.concatenate([curves, lines, leads, chords]), place < len(curves), inner, part)


def _tips(joints: _Joints, distance: float, at: Ints) -> Floats:
    """Where (k, 2) the parallels of two lines that meet at a joint cross, gone on as far as it takes."""
    first = joints.corner[at] + distance * _normals(joints.leave[at])
    return np.asarray(first + (distance * np.tan(joints.turn[at] / 2.0))[:, None] * joints.leave[at])


def _meeting(parts: _Parts, joints: _Joints, distance: float) -> Bools:
    """Which joints are inner corners of two lines that are long enough for their parallels to cross there."""
    lines = parts.straight & ~parts.hidden
    length = np.where(lines, bezier.length(parts.cubics[:, 3] - parts.cubics[:, 0]), 0.0)
    room = np.minimum(length, length[parts.following])
    # Half of the shorter one, so that what its other end takes is left.
    turn = joints.turn * distance
    inner = (turn <= -JOINT) & (np.abs(joints.turn) < _BACK)
    return np.asarray(inner & (2.0 * np.abs(distance * np.tan(joints.turn / 2.0)) < room))


def _bridges(
    parts: _Parts,
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
    start, end = corner + distance * _normals(leave), corner + distance * _normals(joints.enter)
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
