"""A picture of several colours as one material would show it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely

from perigram.core.art.painted import PAPER, Paint
from perigram.core.geometry.arrange import faces_of, outlined, places_in, within
from perigram.core.geometry.edges import Edges
from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.region import Region
from perigram.core.geometry.restore import restore

#: Paints whose lightness differs by less are one colour to the eye.
ALIKE = 0.12
#: Lightness and opacity are told apart in steps of this much.
_STEP = 0.04
#: Less than this share of what is painted is not worth a word, and is looked for so many mm coarse.
_WORTH, _COARSE = 2e-3, 0.5
#: What is thinner than this many mm, of a picture a metre across, is where two shapes were meant to meet.
_SLIVER = 0.2


def as_one_colour(shapes: Sequence[tuple[Region, Paint]]) -> Region:
    """What is cut of shapes painted over each other.

    Darker over lighter is cut, lighter over darker is cut out of it, as a person would do it; what looks
    like the paper and lies on it is not there. A picture that would vanish by that is cut whole.
    """
    runs = [(region, paint) for region, paint in _runs(shapes) if not region.is_empty]
    if len({paint for _, paint in runs}) < 2:
        return weld([region for region, _ in runs])
    regions = [region for region, _ in runs]
    flats = [region.flat for region in regions]
    faces = faces_of(flats)
    points = places_in(faces)
    # For each face how light it looks so far, and whether it is cut.
    top, cut = np.full(len(faces), PAPER), np.zeros(len(faces), bool)
    for inside, (_, paint) in zip(within(flats, points), runs, strict=True):
        shade = paint.over(top[inside])
        darker, lighter = shade <= top[inside] - ALIKE, shade >= top[inside] + ALIKE
        cut[inside] = darker | (cut[inside] & ~lighter)
        top[inside] = shade
    if not cut.any():
        return weld(regions)
    return without_hairs(restore(Edges.of(regions, flats), [outlined(faces[cut], flats)])[0], _SLIVER)


def shows_through(shapes: Sequence[tuple[Region, Paint]]) -> bool:
    """Whether faint paint lies on nothing that is seen better: more is cut then than meets the eye."""
    faint = [region for region, paint in shapes if paint.is_faint]
    if not faint:
        return False
    firm = _coarsely([region for region, paint in shapes if not paint.is_faint])
    alone = float(shapely.area(shapely.difference(_coarsely(faint), firm, grid_size=_COARSE)))
    return alone > _WORTH * (alone + float(shapely.area(firm)))


def _coarsely(regions: Sequence[Region]) -> Any:
    """About what regions cover together."""
    bodies = [region.flattened(_COARSE).multipolygon() for region in regions]
    return shapely.union_all(shapely.make_valid(np.array(bodies)), grid_size=_COARSE)


def _runs(shapes: Sequence[tuple[Region, Paint]]) -> list[tuple[Region, Paint]]:
    """Neighbours of about one paint as one."""
    runs: list[tuple[list[Region], Paint]] = []
    for region, exact in shapes:
        paint = _roughly(exact)
        if runs and runs[-1][1] == paint:
            runs[-1][0].append(region)
        else:
            runs.append(([region], paint))
    return [(weld(regions), paint) for regions, paint in runs]


def _roughly(paint: Paint) -> Paint:
    """A paint in steps, by which those that look alike are the same."""
    light, alpha = (round(share / _STEP) * _STEP for share in (paint.light, paint.alpha))
    return Paint(light, alpha, alpha)
