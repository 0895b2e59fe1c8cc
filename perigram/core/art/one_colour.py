"""A picture of several colours as one material would show it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from perigram.core.geometry.arrange import faces_of, outlined, places_in, within
from perigram.core.geometry.edges import Edges
from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.region import Region
from perigram.core.geometry.restore import restore

#: Paints whose lightness differs by less are one colour to the eye.
ALIKE = 0.12
#: Lightness is told apart in steps of this much.
_STEP = 0.04
#: Lightness of the paper, on which nothing is cut.
PAPER = 1.0
#: What is thinner than this many mm, of a picture a metre across, is where two shapes were meant to meet.
_SLIVER = 0.2


def as_one_colour(shapes: Sequence[tuple[Region, float]]) -> Region:
    """What is cut of shapes painted over each other, each with its lightness from 0 to 1.

    Darker over lighter is cut, lighter over darker is cut out of it, as a person would do it; what looks
    like the paper and lies on it is not there. A picture that would vanish by that is cut whole.
    """
    runs = [(region, shade) for region, shade in _runs(shapes) if not region.is_empty]
    if len({shade for _, shade in runs}) < 2:
        return weld([region for region, _ in runs])
    regions = [region for region, _ in runs]
    flats = [region.flat for region in regions]
    faces = faces_of(flats)
    points = places_in(faces)
    # For each face how light it looks so far, and whether it is cut.
    top, cut = np.full(len(faces), PAPER), np.zeros(len(faces), bool)
    for inside, (_, shade) in zip(within(flats, points), runs, strict=True):
        darker, lighter = shade <= top[inside] - ALIKE, shade >= top[inside] + ALIKE
        cut[inside] = darker | (cut[inside] & ~lighter)
        top[inside] = shade
    if not cut.any():
        return weld(regions)
    return without_hairs(restore(Edges.of(regions, flats), [outlined(faces[cut], flats)])[0], _SLIVER)


def _runs(shapes: Sequence[tuple[Region, float]]) -> list[tuple[Region, float]]:
    """Neighbours of one lightness as one."""
    runs: list[tuple[list[Region], float]] = []
    for region, shade in shapes:
        shade = round(shade / _STEP) * _STEP
        if runs and runs[-1][1] == shade:
            runs[-1][0].append(region)
        else:
            runs.append(([region], shade))
    return [(weld(regions), shade) for regions, shade in runs]
