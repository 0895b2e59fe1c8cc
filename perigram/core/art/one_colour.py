"""A picture of several colours as one material would show it."""

from __future__ import annotations

from collections.abc import Sequence

from perigram.core.geometry.clean import drop_slivers
from perigram.core.geometry.overlay import cut_away, divide, weld
from perigram.core.geometry.region import Region

#: Paints whose lightness differs by less are one colour to the eye.
ALIKE = 0.12
#: Lightness is told apart in steps of this much.
_STEP = 0.04
#: Lightness of the paper, on which nothing is cut.
PAPER = 1.0
#: What is thinner than this many mm is where two shapes were meant to meet.
_SLIVER = 0.02


def as_one_colour(shapes: Sequence[tuple[Region, float]]) -> Region:
    """What is cut of shapes painted over each other, each with its lightness from 0 to 1.

    Darker over lighter is cut, lighter over darker is cut out of it, as a person would do it; what looks
    like the paper and lies on it is not there. A picture that would vanish by that is cut whole.
    """
    runs = _runs(shapes)
    if len({shade for _, shade in runs}) < 2:
        return weld([region for region, _ in runs])
    # What shows so far, in pieces that do not overlap: how light each is and whether it is cut.
    shown: dict[tuple[float, bool], Region] = {}
    covered = Region.empty()
    for region, shade in runs:
        cut: list[Region] = []
        left: list[Region] = []
        bare = cut_away(region, covered)
        covered = weld([covered, region])
        (cut if shade < PAPER - ALIKE else left).append(bare)
        for (below, is_cut), there in list(shown.items()):
            outside, inside = divide(there, region)
            if inside.is_empty:
                continue
            shown[below, is_cut] = outside
            cuts = is_cut if abs(shade - below) < ALIKE else shade < below
            (cut if cuts else left).append(inside)
        for is_cut, parts in ((True, cut), (False, left)):
            made = weld([*parts, shown.get((shade, is_cut), Region.empty())])
            if not made.is_empty:
                shown[shade, is_cut] = made
    made = drop_slivers(weld([region for (_, is_cut), region in shown.items() if is_cut]), _SLIVER)
    return weld([region for region, _ in runs]) if made.is_empty else made


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
