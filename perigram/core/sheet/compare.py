"""What a machine says it cut, laid over what it was to cut."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from perigram.core.geometry.bezier import Floats

#: Outlines are looked at every so many mm.
_EVERY = 0.1
#: What is farther from the cut than this many mm was not cut; a cutter's own steps are 0.025.
_NEAR = 0.1
#: Cut lines that run along each other for more than this many mm in all were cut twice.
_OVERLAP = 1.0
#: So many places that were missed are told of.
_SHOWN = 400


@dataclass(frozen=True)
class Comparison:
    """How a cut came out.

    Attributes:
        deviation: how far in mm the cut is from the outlines at most.
        missing: mm of outline that were not cut.
        twice: mm that were cut more than once.
        mirrored: whether it fits only as its mirror image.
        missed: places on outlines that were not cut.
    """

    deviation: float
    missing: float
    twice: float
    mirrored: bool
    missed: tuple[tuple[float, float], ...] = ()

    @property
    def as_designed(self) -> bool:
        return self.missing == 0.0 and self.twice == 0.0 and not self.mirrored


def compare(wanted: Sequence[Floats], cut: Sequence[Floats], width: float) -> Comparison:
    """Compares strokes (k, 2) with lines that were cut, both in mm from the sheet's top left corner.

    Args:
        wanted: each as often as it is to be cut, overcuts too.
        width: of the sheet, for its mirror image.
    """
    straight = _compared(wanted, cut, False)
    if straight.missing == 0.0:
        return straight
    over = _compared(wanted, [line * [-1.0, 1.0] + [width, 0.0] for line in cut], True)
    return over if over.missing < straight.missing else straight


def _compared(wanted: Sequence[Floats], cut: Sequence[Floats], mirrored: bool) -> Comparison:
    lines = [line for line in cut if len(line) > 1]
    total = sum(_length(line) for line in wanted)
    if not lines:
        everywhere = np.concatenate(list(map(_along, wanted))) if wanted else np.zeros((0, 2))
        return Comparison(0.0, total, 0.0, mirrored, _some(everywhere))
    blades = shapely.multilinestrings([shapely.linestrings(line) for line in lines])
    outline = shapely.multilinestrings([shapely.linestrings(line) for line in wanted])
    on_outline = np.concatenate([_along(line) for line in wanted])
    on_cut = np.concatenate([_along(line) for line in lines])
    off = _away(on_outline, blades)
    missed = off > _NEAR
    stray = _away(on_cut, outline)
    again = _gone_again(lines, blades) - _gone_again(wanted, outline)
    return Comparison(
        float(max(off[~missed].max(initial=0.0), stray.max(initial=0.0))),
        total * float(missed.mean()),
        again if again > _OVERLAP else 0.0,
        mirrored,
        _some(on_outline[missed]),
    )


def _some(points: Floats) -> tuple[tuple[float, float], ...]:
    """Enough of many places (k, 2) to show them by."""
    shown = points[:: max(1, len(points) // _SHOWN)]
    return tuple((round(x, 2), round(y, 2)) for x, y in shown.tolist())


def _gone_again(lines: Sequence[Floats], together: shapely.Geometry) -> float:
    """How much of lines runs where another does: noded together it is there once."""
    return max(0.0, sum(map(_length, lines)) - float(shapely.length(shapely.unary_union(together))))


def _away(points: Floats, lines: shapely.Geometry) -> Floats:
    tree = shapely.STRtree(shapely.get_parts(_edges(lines)))
    _, away = tree.query_nearest(shapely.points(points), return_distance=True, all_matches=False)
    return np.asarray(away)


def _edges(lines: shapely.Geometry) -> shapely.Geometry:
    xy, of = shapely.get_coordinates(shapely.get_parts(lines), return_index=True)
    same = of[1:] == of[:-1]
    return shapely.multilinestrings(shapely.linestrings(np.stack([xy[:-1], xy[1:]], axis=1)[same]))


def _along(line: Floats) -> Floats:
    """Places (k, 2) every so often along a line, its corners among them."""
    step = np.hypot(*np.diff(line, axis=0).T)
    count = np.maximum(1, np.ceil(step / _EVERY)).astype(int)
    edge = np.repeat(np.arange(len(step)), count)
    place = np.arange(len(edge)) - np.repeat(np.cumsum(count) - count, count)
    share = (place / count[edge])[:, None]
    return np.asarray(line[edge] * (1.0 - share) + line[edge + 1] * share)


def _length(line: Floats) -> float:
    return float(np.hypot(*np.diff(line, axis=0).T).sum())
