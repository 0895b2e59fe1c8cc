"""Regions made fit to be cut: on the file's own grid, and nothing in them too near to be cut apart.

Overlays leave what is true of chords 0.005 mm from the curves. A file is read on other chords, and a cutter
follows the curves: so before anything is written, outlines that touch or run nearer to each other than a
blade can cut apart are welded, strands thinner than that are cut off, and all is looked at once more on
chords ten times finer, in the very numbers that are written.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import KDTree

from perigram.core.geometry import bezier, measure
from perigram.core.geometry.arrange import faces_of, outlined, places_in, turns
from perigram.core.geometry.bezier import Bools, Floats
from perigram.core.geometry.clean import drop_slivers
from perigram.core.geometry.curls import FINEST, without_curls
from perigram.core.geometry.edges import Edges
from perigram.core.geometry.fit import unit
from perigram.core.geometry.flat import Flat
from perigram.core.geometry.flatten import closely
from perigram.core.geometry.folds import filled, unfolded
from perigram.core.geometry.holes import occupied, put_back, set_aside
from perigram.core.geometry.near import APART, TOUCHING, Near, loops_of, near_segments, too_near
from perigram.core.geometry.region import FINE, TOLERANCE, Region
from perigram.core.geometry.restore import SAME_PLACE, enclosing, redrawn, region_of, restore
from perigram.core.geometry.tips import blunted
from perigram.core.geometry.union import united

#: Decimals of a mm that cut files are written with.
DECIMALS = 4
#: Nearer by no more than this many mm is as far: what was set so far away and rounded to the grid is not
#: welded here and there. The gate has no such slack.
_ROUNDED = 1.5e-4
#: What is welded, and what is cut, reaches so many times that beyond what was too near, so that the rest is
#: not. By how much differs, or the edges of both would run along each other wherever one outline needs both.
_WELDED, _CUT = 1.2, 1.25
#: So often at most; and so often what is too thin waits until what is too narrow beside it is filled.
_ROUNDS, _PATIENT = 20, 3
#: Curves whose handles measure less than this many mm together are written as lines.
_CHORD = 0.005
#: What is left where a curl was cut off is rounded too, and so looked at again so often.
_TURNS = 4


@dataclass(frozen=True, eq=False)
class Finished:
    """A region fit to be cut, and whether more than its numbers was changed for that."""

    region: Region
    mended: bool


def finished(region: Region) -> Finished:
    """The region in the numbers that are written, touching outlines welded and hairs cut off.

    Raises:
        ValueError: for a rough region, which is not to be cut.
    """
    if region.rough:
        raise ValueError("a rough region cannot be cut")
    return _freed(drop_slivers(region, APART), _as_written, finely=True)


def _as_written(region: Region, of: Region) -> Region:
    """On the grid, with no tip too sharp for it, and nowhere crossing itself there.

    Args:
        of: another region, which most of it comes from.
    """
    region = on_grid(region).akin(of)
    for _ in range(_TURNS):
        before = region
        for mend in (blunted, without_curls):
            mended = mend(region)
            region = region if mended is region else drop_slivers(on_grid(mended), APART).akin(region)
        if region is before:
            break
    return region


def without_hairs(region: Region, apart: float = APART) -> Region:
    """Closing and opening by a hair: outlines nearer than `apart` mm welded, thinner strands cut off.

    Where there are none it comes back as it is, to the bit; so does what is rough.
    """
    if region.rough:
        return region
    return _freed(drop_slivers(region, apart), lambda one, of: one.akin(of), apart).region


def _freed(
    region: Region, written: Callable[[Region, Region], Region], apart: float = APART, finely: bool = False
) -> Finished:
    whole = region = written(region, region)
    mended = False
    known, sound = np.zeros(0, np.uint64), np.zeros(0, np.uint64)
    aside, holes = list[Region](), list[Region]()
    for tries in range(_ROUNDS):
        keys = _keys(region)
        near = None if region.is_empty else _trouble(region, apart, ~np.isin(keys, known), finely)
        if near is None and mended:
            # Once all seems well what was mended is looked at again: outlines may lead another way. Those
            # that nothing was ever wrong with are as they were, and need not be compared with each other.
            whole = region = _together(region, aside, holes).akin(whole)
            aside, holes = [], []
            keys = _keys(region)
            near = None if region.is_empty else _trouble(region, apart, ~np.isin(keys, sound), finely)
        if near is None:
            break
        rest, spared, hurt = _parted(region, near, apart)
        # Outlines that nothing was wrong with wait; of the others, segments that were not too near any other
        # need not be compared with each other again.
        if not mended:
            sound = np.concatenate([_keys(rest), _keys(spared)])
        aside.append(rest)
        holes.append(spared)
        patched = _mended(hurt, near, apart, tries < _PATIENT)
        region, mended = written(drop_slivers(patched, apart), whole), True
        known = np.delete(keys, near.segments)
    return Finished(_together(region, aside, holes).akin(whole), mended)


def _together(region: Region, aside: list[Region], holes: list[Region]) -> Region:
    """What was mended, what waited meanwhile, and the holes of both."""
    return put_back(Region.joined([*aside, region]), Region.joined(holes))


def _keys(region: Region) -> NDArray[np.uint64]:
    """A key (n,) for every segment, the same for those that are the same to the bit."""
    return bezier.row_hash(region.segments.reshape(-1, 8))


def on_grid(region: Region) -> Region:
    """Quantised: every node and handle rounded to what is written; what rounding flattens is gone."""
    if region.is_empty:
        return region
    rounded = np.round(region.segments, DECIMALS) + 0.0
    loop, _ = bezier.expand(np.diff(region.loop_offsets))
    # A closed curve that is a loop of its own ends where it starts.
    single = (np.diff(region.loop_offsets) == 1)[loop]
    stays = (rounded[:, 0] != rounded[:, 3]).any(axis=1) | single
    # So small a curve is its chord: rounded, its handles say nothing of it but could make it cross another.
    size_of = bezier.length(np.diff(rounded, axis=1)).sum(axis=1)
    straight = region.straight | (((size_of < _CHORD) | _doubles_back(rounded)) & ~single)
    # A line is where its ends are.
    there_already = (region.segments == rounded).all(axis=2)
    there_already[straight, 1:3] = True
    curves = ~straight
    whole = (region.span[curves] == np.array([0.0, 1.0])).all() and (
        region.curves[region.curve[curves]] == rounded[curves]
    ).all()
    alike = stays & (straight == region.straight)
    if there_already.all() and whole and alike.all() and enclosing(region, curves, loop).all():
        # What was on the grid is the same region, with all that is known of it.
        return region
    rounded[straight] = bezier.line_controls(rounded[straight, 0], rounded[straight, 3])
    return redrawn(region, rounded[stays], ~straight[stays], loop[stays])


def _doubles_back(cubics: Floats) -> Bools:
    """(n,) which cubics run along their chords to within rounding, and a part of the way backwards."""
    along = unit(cubics[:, 3] - cubics[:, 0])[:, None]
    aside = np.abs(bezier.cross(along, cubics - cubics[:, :1])).max(axis=1)
    back = (bezier.dot(np.diff(cubics, axis=1), along) < 0.0).any(axis=1)
    return np.asarray(back & (aside <= 1.5 * 10.0**-DECIMALS))


def fault(region: Region) -> tuple[str, tuple[float, float]] | None:
    """Why and where a region cannot be cut as it would be written; None where it can.

    What is written is flattened anew, ten times finer than it was made; by far finer to see it cross.
    """
    if region.is_empty:
        return None
    written = on_grid(region)
    body = written.flattened(FINE).multipolygon()
    finest = _doubtful(written).multipolygon()
    for one in (body, finest):
        if not shapely.is_valid(one):
            return "outlines cross or touch along an edge", _place(one)
    near = too_near(written, 0.5 * APART, looked_for=APART)
    if near is not None:
        x, y = near.between[0].tolist()
        return "outlines lie too near each other to be cut apart", (x, y)
    if abs(float(shapely.area(body)) - measure.area(region)) > FINE * measure.length(region) + 1e-6:
        x0, y0, x1, y1 = shapely.bounds(body)
        return "what is cut is not what is shown", (float(x0 + x1) / 2.0, float(y0 + y1) / 2.0)
    return None


def _doubtful(region: Region) -> Flat:
    """The pieces of which segments come so near each other that by chords it cannot be told who crosses, and
    there by the finest.
    """
    polygon, _ = bezier.expand(np.diff(region.polygon_offsets))
    loop, _ = bezier.expand(np.diff(region.loop_offsets))
    pairs = near_segments(region, 2.0 * FINE)
    near = np.zeros(region.piece_count, bool)
    near[polygon[loop[np.concatenate(pairs)]]] = True
    number = np.cumsum(near[polygon[loop]]) - 1
    return closely(
        region.select_polygons(near), (number[pairs[0]], number[pairs[1]]), 2.0 * FINE, FINE, FINEST
    )


def _place(body: shapely.Geometry) -> tuple[float, float]:
    reason = str(shapely.is_valid_reason(body))
    x, y = reason[reason.rindex("[") + 1 : -1].split()
    return float(x), float(y)


def _chords(apart: float) -> float:
    """The chords in mm that what is nearer than `apart` mm is mended on."""
    return min(TOLERANCE, FINE * apart / APART)


def _trouble(region: Region, apart: float, asked: Bools, finely: bool) -> Near | None:
    """Where outlines cross, or those of segments asked for (n,) come nearer than `apart` mm to any.

    Args:
        finely: whether crossings count that only the finest chords show, as they do where it is written.
    """
    near = too_near(region, apart, asked, slack=min(_ROUNDED, 0.1 * apart))
    if near is not None:
        return near
    seen = flat = None
    if apart != APART or not region.is_sound:
        seen = flat = region.flattened(_chords(apart))
    elif finely:
        seen = _doubtful(region)
    if seen is None or shapely.is_valid(body := seen.multipolygon()):
        return None
    flat = flat or region.flattened(FINE)
    # What only such chords see is told one place a polygon.
    polygons = np.append(seen.polygon_array(), body)
    place = np.array([_place(one) for one in polygons[~shapely.is_valid(polygons)]])
    edge = KDTree(flat.xy).query(place)[1]
    there, edge = np.stack([place, place], axis=1), np.asarray(edge, np.intp)
    alone = np.repeat(np.arange(2.0 * len(place)), 2).reshape(-1, 2)
    loop, segment = (np.tile(one, 2) for one in (loops_of(flat, edge), flat.segment[edge]))
    return Near(there, there, place, np.zeros(len(place)), alone, loop, segment)


def _parted(region: Region, near: Near, apart: float) -> tuple[Region, Region, Region]:
    """The pieces that no patch reaches, the holes of the others that none reaches, and what is left."""
    parts = shapely.linestrings(np.concatenate([near.first, near.second]))
    reach = 2.0 * apart * np.array([-1.0, -1.0, 1.0, 1.0])
    boxes = shapely.box(*(region.loop_boxes() + reach).T)
    touched = np.zeros(region.loop_count, bool)
    touched[near.loop] = True
    touched[shapely.STRtree(boxes).query(parts, predicate="intersects")[1]] = True
    polygon, _ = bezier.expand(np.diff(region.polygon_offsets))
    hurt = np.zeros(region.piece_count, bool)
    hurt[polygon[touched]] = True
    hurt_region = region.select_polygons(hurt)
    hurt_region, holes = set_aside(hurt_region, touched[hurt[polygon]] | occupied(hurt_region))
    return region.select_polygons(~hurt), holes, hurt_region


def _mended(region: Region, near: Near, apart: float, patient: bool) -> Region:
    """A region welded where the void between outlines is too thin, and cut where the solid is; if `patient`,
    not where it is welded as well.
    """
    chords = _chords(apart)
    flat = region.flattened(chords)
    body = flat.multipolygon()
    shapely.prepare(body)
    # Where they are nearest may be the very tip: whether solid or void lies between is asked amid both parts.
    amid = (near.first + near.second).mean(axis=1) / 2.0
    solid = np.asarray(shapely.contains_xy(body, amid)) & (near.gap > TOUCHING)
    # An outline that runs back along itself has nothing amid: with void on both sides it is a hair.
    way = unit(near.first[:, 1] - near.first[:, 0])
    aside = apart * np.stack([-way[:, 1], way[:, 0]], axis=1)
    along = near.first.mean(axis=1)
    bare = ~(shapely.contains_xy(body, along + aside) | shapely.contains_xy(body, along - aside))
    solid |= bare & (near.gap <= TOUCHING) & (bezier.farther(way) > 0.0)
    filling, cutting = _patches(near, ~solid, _WELDED * apart), _patches(near, solid, _CUT * apart)
    if patient:
        # Where thin voids end in front of each other, filling them leaves nothing thin between to be cut.
        cutting = np.delete(cutting, shapely.STRtree(filling).query(cutting, predicate="intersects")[0])
    welds, cuts = (region_of(united(some)) for some in (filling, cutting))
    flats = [flat, welds.flattened(chords), cuts.flattened(chords)]
    outcome = _quickly(*(one.multipolygon() for one in flats))
    if outcome is None:
        faces = faces_of(flats)
        points = places_in(faces)
        inside, welded, gone = (turns(one, points) > 0 for one in flats)
        outcome = outlined(faces[(inside | welded) & ~gone], flats)
    return restore(Edges.of([region, welds, cuts], flats), [outcome], chords=chords)[0]


def _quickly(body: Any, welds: Any, cuts: Any) -> Any | None:
    """What GEOS makes of a body; None where it cannot be filled or what came out cannot be right."""
    try:
        if (sound := filled(body)) is None:
            return None
        outcome = unfolded(shapely.difference(shapely.union(sound, welds), cuts))
    except shapely.GEOSException:
        return None
    if outcome is None:
        return None
    change = float(shapely.area(outcome)) - float(shapely.area(body))
    slack = 1e-6 + 1e-9 * float(shapely.area(body))
    true = -float(shapely.area(cuts)) - slack <= change <= float(shapely.area(welds)) + slack
    return outcome if true else None


def _patches(near: Near, which: Bools, reach: float) -> np.ndarray:
    """GEOS polygons that cover the near parts of chosen pairs (n,) and what lies between them.

    Parts that go on along an outline are one line: there are far fewer of those than pairs.
    """
    chosen = np.flatnonzero(np.tile(which, 2))
    chosen = chosen[np.argsort(near.along[chosen, 0], kind="stable")]
    at, loop = near.along[chosen], near.loop[chosen]
    reached = np.maximum.accumulate(at[:, 1])
    goes_on = (at[1:, 0] <= reached[:-1] + SAME_PLACE) & (loop[1:] == loop[:-1])
    run = np.repeat(np.cumsum(np.append(True, ~goes_on)[: len(at)]) - 1, 2)
    order = np.lexsort((at.ravel(), run))
    points = np.concatenate([near.first, near.second])[chosen].reshape(-1, 2)
    return np.asarray(shapely.buffer(shapely.linestrings(points[order], indices=run), reach, quad_segs=2))
