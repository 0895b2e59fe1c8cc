"""Closed paths of any kind made into regions: fill rules."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
import shapely

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.arrange import faces_of, outlined, places_in, turns
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.bundle import apart, sorted_out
from perigram.core.geometry.edges import Edges
from perigram.core.geometry.flat import Flat
from perigram.core.geometry.overlay import refuse_tangles
from perigram.core.geometry.region import FINE, MOST_VERTICES, TOLERANCE, Region, check_coordinates
from perigram.core.geometry.restore import SPECK, offsets, restore

FillRule = Literal["nonzero", "evenodd", "positive"]

#: Of no more loops than this each is compared with each.
_FEW_LOOPS = 200
#: Loops are looked at together up to about this many chords.
_AT_ONCE = 100_000


def sound(region: Region) -> Region:
    """The region; or, where its curves cross by less than overlays can see, one in which they do not."""
    for tolerance in (FINE, FINE / 10.0):
        if region.is_sound:
            break
        hurt = _unsound(region)
        part = region.select_polygons(hurt)
        made = regularise(part.segments, ~part.straight, part.loop_offsets, "positive", tolerance)
        region = Region.joined([region.select_polygons(~hurt), made])
    return region


def _unsound(region: Region) -> Bools:
    """Which polygons (p,) cross themselves, meet others, or have such a one in the box round them."""
    polygons = region.flattened(FINE).polygon_array()
    tree = shapely.STRtree(polygons)
    own = ~shapely.is_valid(polygons)
    beside = np.zeros(len(own), bool)
    beside[tree.query(polygons[own])[1]] = True
    one, other = tree.query(polygons[~beside], predicate="intersects")
    one = np.flatnonzero(~beside)[one]
    beside[one[one != other]] = True
    return beside if beside.any() else ~beside


def regularise(
    segments: Floats,
    curved: Bools,
    loop_offsets: Ints,
    rule: FillRule = "nonzero",
    tolerance: float = TOLERANCE,
) -> Region:
    """Fill rule applied: the region that closed loops of any kind enclose.

    Loops may cross themselves and each other, coincide, be nested or run either way; zero-length
    segments and loops that enclose nothing vanish.

    Args:
        segments: (n, 4, 2) control points; lines with their controls anywhere.
        curved: (n,) false for lines.
        loop_offsets: (m + 1,) offsets of loops; each must end where it starts, to within rounding.
        rule: what counts as inside where loops overlap; "positive" counts only what loops of
            positive area go round, so that stretches turned inside out vanish.
        tolerance: how far in mm the chords that crossings are found on may be from the curves.

    Raises:
        GeometryError: for NaN, infinity or places out of reach.
    """
    check_coordinates(segments)
    raw = paths(segments, curved, loop_offsets)
    if raw.is_empty:
        return Region.empty()
    _refuse_many(raw)
    flat = raw.flattened(tolerance)
    if raw.loop_count <= _FEW_LOOPS:
        nested = _nested(raw, flat, rule)
        if nested is not None:
            return nested
    refuse_tangles(flat, flat)
    faces = faces_of([flat])
    if len(faces) == 0:
        return Region.empty()
    around = turns(flat, places_in(faces))
    inside = _filled(around, rule)
    return restore(Edges.of([raw], [flat]), [outlined(faces[inside], [flat])])[0]


def _filled(around: Ints, rule: FillRule) -> Bools:
    """Whether what loops go round so often is inside."""
    return {"nonzero": around != 0, "evenodd": around % 2 != 0, "positive": around > 0}[rule]


def _nested(raw: Region, flat: Flat, rule: FillRule) -> Region | None:
    """What loops enclose that lie beside or within each other, as most do; None where they cross or touch.

    Each of them is an outline whole, or none: where what lies within it is inside and what lies around it is
    not, or the other way round.
    """
    coordinates, rings = flat.closed()
    each = np.arange(len(rings))
    size = np.diff(flat.ring_offsets)
    area = np.add.reduceat(bezier.cross(flat.xy, flat.end), flat.ring_offsets[:-1]) / 2.0
    if size.min() < 3 or np.abs(area).min() <= SPECK:
        return None
    bodies = np.asarray(shapely.from_ragged_array(shapely.GeometryType.POLYGON, coordinates, (rings, each)))
    if not shapely.is_valid(bodies).all():
        return None
    within = np.zeros((len(bodies), len(bodies)), bool)
    if len(bodies) > 1:
        lines = shapely.get_exterior_ring(bodies)
        one, other = shapely.STRtree(lines).query(lines, predicate="intersects")
        if (one != other).any():
            return None
        inner, outer = shapely.STRtree(bodies).query(shapely.get_point(lines, 0), predicate="intersects")
        within[inner, outer] = inner != outer
    way = np.sign(area).astype(np.intp)
    around = (within * way).sum(axis=1)
    outside, inside = _filled(around, rule), _filled(around + way, rule)
    shell = inside & ~outside
    # A hole is of the innermost of the shells round it.
    holes = np.flatnonzero(outside & ~inside)
    smallest = np.argsort(np.abs(area), kind="stable")
    of = smallest[(within[holes] & shell)[:, smallest].argmax(axis=1)] if len(holes) else holes
    order = [one for k in np.flatnonzero(shell).tolist() for one in (k, *holes[of == k].tolist())]
    if not order:
        return Region.empty()
    polygons = offsets(np.bincount(of, minlength=len(bodies))[shell] + 1)
    return _in_order(raw, np.array(order), (way > 0) == shell, polygons)


def _in_order(raw: Region, order: Ints, forward: Bools, polygon_offsets: Ints) -> Region:
    """Some loops in an order, those not to be run `forward` (m,) the other way round."""
    sizes = np.diff(raw.loop_offsets)[order]
    loop, place = bezier.expand(sizes)
    ahead = forward[order][loop]
    segment = raw.loop_offsets[order][loop] + np.where(ahead, place, sizes[loop] - 1 - place)
    segments = raw.segments.take(segment, axis=0)
    segments[~ahead] = segments[~ahead, ::-1]
    return Region.from_loops(segments, ~raw.straight[segment], offsets(sizes), polygon_offsets)


def regularise_each(shapes: Sequence[tuple[Floats, Bools, Ints, FillRule]]) -> list[Region]:
    """Fill rules applied to many shapes, each by itself; plain loops, as most are, all in one go.

    Args:
        shapes: of each its segments, which are curved, its loops' offsets and its rule; see `regularise`.

    Raises:
        GeometryError: for NaN, infinity or places out of reach.
    """
    single = [k for k, (_, _, loops, rule) in enumerate(shapes) if len(loops) == 2 and rule != "positive"]
    found: dict[int, Region] = {}
    if len(single) > 1:
        segments = np.concatenate([shapes[k][0] for k in single])
        check_coordinates(segments)
        curved = np.concatenate([shapes[k][1] for k in single])
        sizes = np.array([len(shapes[k][0]) for k in single])
        raw, there = _real(segments, curved, np.concatenate([[0], np.cumsum(sizes)]).astype(np.intp))
        found = {k: Region.empty() for k, real in zip(single, there, strict=True) if not real}
        plain = _plain_loops(raw) if not raw.is_empty else []
        found |= {
            single[k]: region
            for k, region in zip(np.flatnonzero(there), plain, strict=True)
            if region is not None
        }
    rest = [k for k in range(len(shapes)) if k not in found]
    for rule in sorted({shapes[k][3] for k in rest}):
        found |= _bundled(shapes, [k for k in rest if shapes[k][3] == rule], rule)
    return [found[k] for k in range(len(shapes))]


def _bundled(
    shapes: Sequence[tuple[Floats, Bools, Ints, FillRule]], of: Sequence[int], rule: FillRule
) -> dict[int, Region]:
    """Some of the shapes made into regions, those that lie apart together."""
    filled = [k for k in of if len(shapes[k][0])]
    found = {k: Region.empty() for k in of}
    corners = [shapes[k][0].reshape(-1, 2) for k in filled]
    boxes = np.array([[*xy.min(axis=0), *xy.max(axis=0)] for xy in corners]).reshape(-1, 4)
    for group in apart(boxes, [len(xy) // 4 for xy in corners]):
        chosen = [shapes[filled[i]] for i in group]
        sizes = np.concatenate([np.diff(loops) for _, _, loops, _ in chosen])
        made = regularise(
            np.concatenate([segments for segments, _, _, _ in chosen]),
            np.concatenate([curved for _, curved, _, _ in chosen]),
            offsets(sizes),
            rule,
        )
        found |= zip((filled[i] for i in group), sorted_out(made, boxes[group]), strict=True)
    return found


def _plain_loops(raw: Region) -> list[Region | None]:
    """Each loop as a region, the right way round; None where it crosses itself or encloses nothing."""
    steps = np.where(raw.curved, bezier.steps_for(raw.curves, TOLERANCE), 1)
    chords = np.add.reduceat(steps, raw.loop_offsets[:-1])
    # So many at a time that what they are looked at by stays small.
    batch = np.cumsum(chords) // _AT_ONCE
    found: list[Region | None] = []
    for number in range(int(batch[-1]) + 1):
        part = raw.select_polygons(batch == number)
        flat = part.flattened(TOLERANCE)
        twice = np.add.reduceat(bezier.cross(flat.xy, flat.end), flat.ring_offsets[:-1])
        plain = (np.diff(flat.ring_offsets) >= 3) & (np.abs(twice) > 2.0 * SPECK)
        if plain.any():
            plain[plain] = shapely.is_valid(part.select_polygons(plain).flattened(TOLERANCE).polygon_array())
        found += [
            (piece if area > 0.0 else piece.reversed()) if fine else None
            for piece, area, fine in zip(part.pieces(), twice.tolist(), plain.tolist(), strict=True)
        ]
    return found


def _refuse_many(raw: Region) -> None:
    """Refuse curves that would need far too many chords, before they are made."""
    count = int(bezier.steps_for(raw.curves, TOLERANCE)[raw.curved].sum())
    if count > MOST_VERTICES:
        raise GeometryError(
            f"These outlines need {count:,} points; up to {MOST_VERTICES:,} can be worked on. "
            "Use less of the picture, or smooth it first."
        )


def paths(segments: Floats, curved: Bools, loop_offsets: Ints) -> Region:
    """Closed paths in a region's clothes, without its promises: only to be flattened and traced back."""
    return _real(segments, curved, loop_offsets)[0]


def _real(segments: Floats, curved: Bools, loop_offsets: Ints) -> tuple[Region, Bools]:
    """Closed paths as `paths` has them, and which (m,) of the loops are more than a place."""
    length = np.abs(np.diff(segments, axis=1)).sum(axis=(1, 2))
    real = length > 0.0
    loop, _ = bezier.expand(np.diff(loop_offsets))
    sizes = np.bincount(loop[real], minlength=len(loop_offsets) - 1)
    real &= (sizes > 1)[loop] | curved
    sizes = np.bincount(loop[real], minlength=len(loop_offsets) - 1)
    segments = segments[real].copy()
    straight = ~curved[real]
    segments[straight] = bezier.line_controls(segments[straight, 0], segments[straight, 3])
    offsets = np.concatenate([[0], np.cumsum(sizes[sizes > 0])]).astype(np.intp)
    region = Region.from_loops(segments, curved[real], offsets, np.arange(len(offsets)))
    return region, sizes > 0
