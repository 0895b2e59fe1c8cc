"""Leavings: bits and strands that a cut left thinner than the material holds, dropped or handed over."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from perigram.core.geometry.bezier import Bools
from perigram.core.geometry.clean import Removed, as_box, narrow_pieces
from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.flat import prepared
from perigram.core.geometry.measure import piece_areas
from perigram.core.geometry.offset import grow
from perigram.core.geometry.overlay import cut_away, overlap, weld
from perigram.core.geometry.region import Region
from perigram.core.geometry.restore import region_of
from perigram.core.geometry.tidy import strand_parts
from perigram.core.geometry.union import united

#: A part was thick before the cut if at least this share of its area was.
_WAS_THICK = 0.4
#: A piece shorter than this many times the least width is a speck, even of what was thin before.
_SPECK = 2.0
#: What nobody sees from arm's length is dropped and not handed over: narrower than this many mm.
_UNSEEN = 0.25
#: Handed over, a part overlaps its new neighbour by this many mm, so that the two weld.
_LAP = 0.02
_ROUNDS = 4


@dataclass(frozen=True, eq=False)
class Cleared:
    """What is left of a cut without its leavings, the leavings, and what there is to say of each."""

    region: Region
    gone: Region
    removed: list[Removed]


def without_leavings(left: Region, source: Region, least: float, holding: bool = False) -> Cleared:
    """Drop from `left` what is thinner than `least` mm because it was cut out of `source`.

    What was as thin in the source stays: a hairline of a picture is its drawing. A rough region comes
    back as it is.

    Args:
        left: what a cut left of the source.
        source: the region before the cut; `left` lies within it.
        least: in mm; nothing is dropped at 0.
        holding: whether strands stay that hold pieces together, as those of a stencil do.

    Example:
        >>> corners = np.array([[0.0, 0.0], [20.0, 0.0], [20.0, 20.0], [0.0, 20.0]])
        >>> square = Region.from_rings(corners, np.array([0, 4]), np.array([0, 1]))
        >>> strip = cut_away(square, square.translated(0.4, 0.0))
        >>> without_leavings(strip, square, 1.0).region.is_empty
        True
    """
    gone: list[Region] = []
    removed: list[Removed] = []
    if least <= 0.0 or left.rough or left is source or left.is_empty:
        return Cleared(left, Region.empty(), [])
    # What only just was wide enough may not be once its neighbour is gone.
    for _ in range(_ROUNDS):
        bits = _new_bits(left, source, least)
        parts = left.select_polygons(bits)
        removed += _listed("bit", parts)
        left = left.select_polygons(~bits)
        thin = _new_strands(left, source, least)
        if holding and not thin.is_empty:
            thin = thin.select_polygons(~_holds(thin, left))
        removed += _listed("strand", thin)
        if not thin.is_empty:
            left = without_hairs(cut_away(left, thin))
        gone += [one for one in (parts, thin) if not one.is_empty]
        if thin.is_empty:
            break
    return Cleared(left, weld(gone), sorted(removed, key=lambda one: (one.area, one.place)))


def _new_bits(left: Region, source: Region, least: float) -> Bools:
    """Which pieces (p,) are bits now and were none in the source."""
    bits = narrow_pieces(left, least)
    if not bits.any():
        return bits
    shapes = left.flat.polygon_array()[bits]
    thick = _was_thick(shapes, source, least) | (_sizes(shapes) < _SPECK * least)
    new = bits.copy()
    new[bits] = thick & ~_whole(shapes, source)
    return new


def _whole(shapes: np.ndarray, source: Region) -> Bools:
    """Which shapes are pieces of the source that the cut did not touch."""
    bodies = source.flat.polygon_array()
    found = np.zeros(len(shapes), bool)
    own, theirs = shapely.STRtree(bodies).query(shapes, predicate="intersects")
    same = shapely.area(shapes[own]) > 0.98 * shapely.area(bodies[theirs])
    found[own[same]] = True
    return found


def _holds(thin: Region, left: Region) -> Bools:
    """Which strands lie between two pieces that come apart when all of them go."""
    strands = thin.flat.polygon_array()
    bodies = shapely.get_parts(shapely.difference(left.multipolygon, shapely.buffer(thin.multipolygon, _LAP)))
    strand, _ = shapely.STRtree(bodies).query(strands, predicate="dwithin", distance=3.0 * _LAP)
    return np.asarray(np.bincount(strand, minlength=len(strands)) > 1)


def _new_strands(left: Region, source: Region, least: float) -> Region:
    """The strands of a region that were thicker in the source."""
    parts = strand_parts(left, least)
    if parts.is_empty:
        return parts
    return parts.select_polygons(_was_thick(parts.flat.polygon_array(), source, least))


def _was_thick(shapes: np.ndarray, source: Region, least: float) -> Bools:
    """Which shapes lie, by a good share of their area, where a disc of the least width fits in the source."""
    boxes = shapely.bounds(shapes) + least * np.array([-2.0, -2.0, 2.0, 2.0])
    bodies = shapely.make_valid(source.flat.polygon_array())
    own, theirs = shapely.STRtree(bodies).query(shapely.box(*boxes.T), predicate="intersects")
    shares = np.zeros(len(shapes))
    for at in range(len(shapes)):
        near = shapely.clip_by_rect(shapely.union_all(bodies[theirs[own == at]]), *boxes[at])
        thick = shapely.buffer(shapely.buffer(near, -least / 2.0), least / 2.0)
        shape = shapely.make_valid(shapes[at])
        # What a neighbour handed over lies beside the source: it was never thin there.
        shares[at] = shapely.area(shapely.intersection(thick, shape)) + shapely.area(
            shapely.difference(shape, near)
        )
    return np.asarray(shares >= _WAS_THICK * shapely.area(shapes))


def _sizes(shapes: np.ndarray) -> np.ndarray:
    boxes = shapely.bounds(shapes)
    return np.hypot(boxes[:, 2] - boxes[:, 0], boxes[:, 3] - boxes[:, 1])


def _listed(what: Literal["bit", "strand"], parts: Region) -> list[Removed]:
    if parts.is_empty:
        return []
    boxes = shapely.bounds(parts.flat.polygon_array())
    return [
        Removed(what, as_box(box), float(size)) for box, size in zip(boxes, piece_areas(parts), strict=True)
    ]


def handed_over(gone: Region, left: Region, clear: float, ground: Region) -> Region:
    """What a neighbour takes of leavings, with the clear line round them, so that no bare ground is seen.

    It lies within `ground`, at least `clear` mm from what is left.

    Args:
        gone: leavings of `left`.
        clear: mm the neighbour keeps from what is left; what is negative counts as 0.
    """
    if gone.is_empty:
        return gone
    seen = gone.select_polygons(~narrow_pieces(gone, _UNSEEN))
    if seen.is_empty:
        return seen
    clear = max(clear, 0.0)
    taken = overlap(grow(seen, clear + _LAP) if clear else seen, ground)
    near = overlap(left, _around(seen, 2.0 * clear + 1.0))
    return cut_away(taken, grow(near, clear) if clear else near)


def within_reach(parts: Region, body: Region, clear: float) -> Region:
    """The pieces of `parts` that meet a body, or lie no farther from it than `clear` mm."""
    near = shapely.dwithin(parts.flat.polygon_array(), prepared(body.multipolygon), clear + _LAP)
    return parts.select_polygons(np.asarray(near))


def _around(parts: Region, edge: float) -> Region:
    """The boxes of a region's pieces, `edge` mm larger each way, as one."""
    boxes = parts.piece_boxes() + np.array([-edge, -edge, edge, edge])
    return region_of(united(shapely.box(*boxes.T)))
