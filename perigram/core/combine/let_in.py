"""A word let into an outline: the outline opened where the word stands, or joined to it."""

from __future__ import annotations

import numpy as np
import shapely

from perigram.core.geometry import measure
from perigram.core.geometry.bezier import Bools
from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.flat import prepared
from perigram.core.geometry.offset import FARTHEST, grow
from perigram.core.geometry.overlay import cut_away, fill_holes, overlap, weld
from perigram.core.geometry.region import Region

#: Pieces nearer than this many mm meet.
_MEETS = 0.001


def room_of(word: Region, clear: float) -> Region:
    """Where a word stands: its letters and what lies between them, and so many mm round about."""
    box = measure.bounds(word)
    if box is None:
        return word
    # Closing by half the word's height bridges what lies between its letters and rows. Shrunk by so much
    # less, what was grown keeps the room round about: a disc rolling along it is as far away either way.
    half = min(FARTHEST, max(1.0, (box[3] - box[1]) / 2.0), FARTHEST - abs(clear))
    return grow(fill_holes(grow(fill_holes(word), half)), clear - half)


def opened(outline: Region, word: Region, clear: float) -> Region:
    """The outline less the room of a word."""
    return cut_away(outline, room_of(word, clear))


def joined(outline: Region, word: Region) -> Region:
    """The outline and the word as one: opened where the word stands, each end reaching to the nearest letter.

    What of the outline runs on within the word's room is kept from where it comes in up to the first
    letter it meets, and goes beyond that.
    """
    room = room_of(word, 0.0)
    around = cut_away(outline, room)
    within = cut_away(overlap(outline, room), word)
    if within.is_empty:
        return without_hairs(weld([around, word]))
    ends = within.flat.polygon_array()
    stays = _meet(around, ends) & _meet(word, ends)
    return without_hairs(weld([around, word, within.select_polygons(stays)]))


def _meet(region: Region, pieces: np.ndarray) -> Bools:
    """Which GEOS polygons meet a region."""
    if region.is_empty:
        return np.zeros(len(pieces), bool)
    return np.asarray(shapely.dwithin(prepared(region.multipolygon), pieces, _MEETS))
