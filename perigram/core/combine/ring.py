"""Bands at a distance from an outline."""

from __future__ import annotations

from perigram.core.geometry.clean import Removed, drop_bits
from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.offset import grow
from perigram.core.geometry.overlay import cut_away
from perigram.core.geometry.region import Region
from perigram.core.geometry.tidy import drop_strands

#: Where a band is narrower than this share of itself two of its edges have run into each other.
_NARROW = 0.6


def ring(region: Region, inner: float, outer: float) -> tuple[Region, list[Removed]]:
    """What lies between two offsets of a region, and what of that was too narrow to be a band.

    Args:
        inner, outer: how far in mm its edges lie from the region's own; below zero inside it.
    """
    band = outer - inner
    # A hole the band all but fills is filled: what would be left of it is a pinhole.
    outside = grow(region, outer, remains=band) if outer else region
    inside = grow(region, inner) if inner else region
    whole = without_hairs(cut_away(outside, inside))
    kept, strands = drop_strands(whole, _NARROW * band)
    kept, bits = drop_bits(kept, _NARROW * band, _NARROW * band if inner > 0.0 else 0.0)
    return kept, sorted([*strands, *bits], key=lambda one: (one.area, one.place))
