"""Grow and shrink: outlines at a distance, smooth where their source is smooth.

GEOS's buffer decides the topology: which stretches of which outlines end up on the boundary, and
how they follow each other. The geometry does not come from its vertices, which lie off the true
parallel curve by up to a hundredth of the distance, but from the parallel curve of each source
segment and from true arcs about corners. Where two of those meet, they are intersected.
"""

from __future__ import annotations

import numpy as np
import shapely

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.fit import fit_ring, fit_stretches
from perigram.core.geometry.flatten import close_rings
from perigram.core.geometry.measure import area
from perigram.core.geometry.overlay import regularise, sound
from perigram.core.geometry.parallel import Parallels, directions
from perigram.core.geometry.region import TOLERANCE as REGION_TOLERANCE
from perigram.core.geometry.region import Region
from perigram.core.geometry.restore import rings_of
from perigram.core.geometry.tracing import Finder, Runs, trace

#: Fitted outlines follow the true parallel curve within this many mm.
TOLERANCE = 0.004
#: Farthest an outline can be moved, in mm.
FARTHEST = 50.0


def grow(region: Region, distance: float) -> Region:
    """The region grown by a distance in mm with round corners, or shrunk where it is negative.

    Everything within `distance` of the region; for a negative one, everything of the region farther
    than that from its edge.

    Raises:
        GeometryError: for a distance beyond `FARTHEST`, or not a number.
    """
    if not np.isfinite(distance) or abs(distance) > FARTHEST:
        raise GeometryError(f"An offset can be up to {FARTHEST:g} mm either way.")
    if region.is_empty or abs(distance) < 1e-6:
        return region
    outcome = shapely.buffer(region.multipolygon, distance, quad_segs=8)
    xy, rings, polygons = rings_of(outcome)
    if len(xy) == 0:
        return Region.empty()
    parallels = Parallels(region, distance)
    finder = Finder(parallels)
    runs, lost = trace(parallels, finder, xy, rings)
    if lost.any():
        # What is lost and thinner than the promised precision may as well not be there.
        narrow = lost & _narrow(xy, rings)
        runs, lost, xy, rings, polygons = _without(narrow, runs, lost, xy, rings, polygons)
        if len(polygons) == 1:
            return Region.empty()
    everything = np.ones(len(lost), bool)
    for given_up in (lost, everything):
        grown = _rebuilt(parallels, finder, runs, given_up, xy, rings, polygons)
        if not shapely.is_valid(grown.multipolygon):
            grown = regularise(grown.segments, ~grown.straight, grown.loops, "positive")
        if abs(area(grown) - outcome.area) <= _slack(distance) * outcome.length:
            break
    return sound(grown)


def _slack(distance: float) -> float:
    """How far GEOS's own outline may lie from the true one, in mm: it simplifies by 1 %."""
    return 0.01 + 0.02 * abs(distance)


def _narrow(xy: Floats, rings: Ints) -> Bools:
    """Rings that go round nothing as wide as twice the tolerance."""
    closed, offsets = close_rings(xy, rings)
    each = np.arange(len(rings))
    bodies = shapely.from_ragged_array(shapely.GeometryType.POLYGON, closed, (offsets, each))
    return np.asarray(shapely.is_empty(shapely.buffer(bodies, -TOLERANCE)))


def _without(
    gone: Bools, runs: Runs, lost: Bools, xy: Floats, rings: Ints, polygons: Ints
) -> tuple[Runs, Bools, Floats, Ints, Ints]:
    """The boundary less some rings; a polygon goes with its outer ring."""
    polygon, _ = bezier.expand(np.diff(polygons))
    outer_gone = gone[polygons[:-1]]
    gone = gone | outer_gone[polygon]
    keep = ~gone
    vertex, _ = bezier.expand(np.diff(rings))
    sizes = np.bincount(polygon[keep], minlength=len(polygons) - 1)
    kept = keep[runs.ring]
    number = np.cumsum(keep) - 1
    return (
        Runs(
            number[runs.ring[kept]],
            runs.parallel[kept],
            runs.low[kept],
            runs.high[kept],
            runs.node[kept],
        ),
        lost[keep],
        xy[keep[vertex]],
        np.concatenate([[0], np.cumsum(np.diff(rings)[keep])]).astype(np.intp),
        np.concatenate([[0], np.cumsum(sizes[sizes > 0])]).astype(np.intp),
    )


def _rebuilt(
    parallels: Parallels,
    finder: Finder,
    runs: Runs,
    lost: Bools,
    xy: Floats,
    rings: Ints,
    polygons: Ints,
) -> Region:
    """The region of the runs; rings that were lost are fitted to exact points."""
    keep = ~lost[runs.ring]
    pieces, ring, curved = _fitted(parallels, *(getattr(runs, f)[keep] for f in Runs.__annotations__))
    for r in np.flatnonzero(lost):
        fitted = fit_ring(_exact(finder, xy[rings[r] : rings[r + 1]]), TOLERANCE / 2.0)
        pieces = np.concatenate([pieces, fitted])
        ring = np.concatenate([ring, np.full(len(fitted), r)])
        curved = np.concatenate([curved, np.ones(len(fitted), bool)])
    order = np.argsort(ring, kind="stable")
    sizes = np.bincount(ring, minlength=len(rings) - 1)
    loops = np.concatenate([[0], np.cumsum(sizes)]).astype(np.intp)
    # A loop that flattens to fewer than three vertices is thinner than the tolerance: it goes.
    steps = np.where(curved, bezier.steps_for(pieces, REGION_TOLERANCE), 1)
    keep = np.bincount(ring, steps, minlength=len(rings) - 1) >= 3
    polygon, _ = bezier.expand(np.diff(polygons))
    keep &= keep[polygons[:-1]][polygon]
    return Region.from_loops(pieces[order], curved[order], loops, polygons).select_loops(keep)


def _exact(finder: Finder, ring: Floats) -> Floats:
    """A ring's vertices moved to exactly the offset distance from the source, and close together."""
    closed = np.vstack([ring, ring[:1]])
    # Chords of arcs at the distance then lie within 0.002 mm of them.
    step = float(np.clip(0.12 * abs(finder.parallels.distance) ** 0.5, 0.02, 0.2))
    dense = shapely.get_coordinates(shapely.segmentize(shapely.linestrings(closed), step))[:-1]
    _, _, foot = finder.nearest(dense)
    arm = dense - foot
    size = np.maximum(np.hypot(*arm.T), 1e-12)[:, None]
    return np.asarray(foot + arm / size * abs(finder.parallels.distance))


def _fitted(
    parallels: Parallels, ring: Ints, parallel: Ints, low: Floats, high: Floats, node: Floats
) -> tuple[Floats, Ints, Bools]:
    """Cubics (m, 4, 2) for runs, the ring and curvedness of each."""
    if len(ring) == 0:
        return np.zeros((0, 4, 2)), np.zeros(0, np.intp), np.zeros(0, bool)
    straight = (parallel % 2 == 0) & parallels.straight[parallel // 2]

    def sample(run: Ints, u: Floats) -> tuple[Floats, Floats]:
        who = np.repeat(parallel[run], u.shape[1])
        point, along = parallels.at(who, u.ravel())
        # At a place as tight as the distance the parallel stands still; its source gives the way.
        part_way = directions(parallels.cubics[who // 2], u.ravel())
        size = np.hypot(*along.T)[:, None]
        way = np.where((who % 2 == 1)[:, None], along / np.maximum(size, 1e-300), part_way)
        return point.reshape(*u.shape, 2), way.reshape(*u.shape, 2)

    bent = np.flatnonzero(~straight)
    cubics, stretch = fit_stretches(lambda s, u: sample(bent[s], u), low[bent], high[bent], TOLERANCE)
    lines = np.flatnonzero(straight)
    line_start, line_end = (
        parallels.at(parallel[lines], low[lines])[0],
        parallels.at(parallel[lines], high[lines])[0],
    )
    pieces = np.concatenate([cubics, bezier.line_controls(line_start, line_end)])
    owner = np.concatenate([bent[stretch], lines])
    curved = np.concatenate([np.ones(len(cubics), bool), np.zeros(len(lines), bool)])
    order = np.argsort(owner, kind="stable")
    pieces, owner, curved = pieces[order], owner[order], curved[order]
    # Ends of neighbours are one node: where runs cross it is known, elsewhere the middle of both.
    counts = np.bincount(ring[owner])
    ends = np.cumsum(counts)
    previous = np.arange(-1, len(owner) - 1)
    previous[(ends - counts)[counts > 0]] = ends[counts > 0] - 1
    first_of_run = owner != owner[previous]
    given = first_of_run & np.isfinite(node[owner, 0])
    joint = (pieces[:, 0] + pieces[previous, 3]) / 2.0
    joint = np.where(given[:, None], node[owner], joint)
    pieces[:, 1] += joint - pieces[:, 0]
    pieces[previous, 2] += joint - pieces[previous, 3]
    pieces[:, 0] = joint
    pieces[previous, 3] = joint
    whole = np.abs(pieces[:, 3] - pieces[:, 0]).max(axis=1) > 1e-9
    pieces[~curved] = bezier.line_controls(pieces[~curved, 0], pieces[~curved, 3])
    return pieces[whole], ring[owner[whole]], curved[whole]
