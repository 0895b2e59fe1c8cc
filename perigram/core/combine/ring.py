"""Bands at a distance from an outline."""

from __future__ import annotations

from perigram.core.geometry.clean import Removed, drop_bits
from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.offset import grow
from perigram.core.geometry.overlay import cut_away
from perigram.core.geometry.region import Region

#: What would be left narrower than this share of the band is no band.
_NARROW = 0.6


def ring(region: Region, inner: float, outer: float) -> tuple[Region, list[Removed]]:
    """What lies between two offsets of a region, and what of that was too narrow to be a band.

    The inner edge is closed by a disc: where two of its walls come nearer to each other than a band would be
    they are one, so that no strand is left between them.

    Args:
        inner, outer: how far in mm its edges lie from the region's own; below zero inside it.
    """
    band = outer - inner
    # A hole the band all but fills is filled: what would be left of it is a pinhole.
    outside = grow(region, outer, remains=band) if outer else region
    radius = _NARROW * band / 2.0
    # Offsets outward add up, so that the first two are one.
    wide = grow(region, inner + radius) if inner >= 0.0 else grow(grow(region, inner), radius)
    whole = without_hairs(cut_away(outside, grow(wide, -radius)))
    return drop_bits(whole, _NARROW * band, _NARROW * band if inner > 0.0 else 0.0)
