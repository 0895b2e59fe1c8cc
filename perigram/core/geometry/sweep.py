"""What a pen covers of a path, bit by bit: a strip along every chord, a wedge at every corner, caps.

Unlike a buffer it leaves nothing out where legs are shorter than the pen is wide: SVG 2, section 13.5, has
the stroke as what all of these cover together.
"""

from __future__ import annotations

import numpy as np
import shapely

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats

#: Arcs of a wedge are as many chords as this.
_ARC = 16
#: Curves that turn by more than this many radians from one chord to the next are swept round there.
_SMOOTH = 0.2


def swept(
    lines: np.ndarray, bends: Bools, rings: Bools, half: float, join: str, cap: str, limit: float
) -> np.ndarray:
    """Polygons that together cover what a pen does along lines of chords; they lap over each other.

    Args:
        lines: (n,) GEOS lines; rings end where they begin.
        bends: (v,) which of the lines' vertices lie within a curve, where pens turn without a join.
        rings: (n,) which lines go round.
        half: half the pen's width in mm.
        join: "miter", "round" or "bevel".
        cap: of lines that do not go round, "butt" or "round"; what a square adds is part of the line.
        limit: how far mitres reach, in widths of the pen.
    """
    xy, line = shapely.get_coordinates(lines, return_index=True)
    step = np.diff(xy, axis=0)
    real = (line[1:] == line[:-1]) & (step != 0.0).any(axis=1)
    start, end, step, line, bent = xy[:-1][real], xy[1:][real], step[real], line[:-1][real], bends[1:][real]
    ahead = step / bezier.length(step)[:, None]
    aside = half * _left(ahead)
    strips = shapely.polygons(np.stack([start + aside, end + aside, end - aside, start - aside], axis=1))
    # After each chord comes the next, or the first one again where a line goes round.
    last = np.flatnonzero(np.diff(line, append=-1))
    first = np.append(0, last[:-1] + 1)
    after = np.arange(len(line)) + 1
    after[last] = first
    on = np.ones(len(line), bool)
    on[last] = rings[line[last]]
    turn = np.abs(np.arctan2(bezier.cross(ahead, ahead[after]), bezier.dot(ahead, ahead[after])))
    around = on & (turn > _SMOOTH) & (bent | (join == "round"))
    made = [strips]
    for some, way in ((around, "round"), (on & ~around, "bevel" if join == "round" else join)):
        made.append(_wedges(end[some], ahead[some], ahead[after[some]], half, way, limit))
    if cap == "round":
        # A cap is the wedge of a way that turns back.
        first, last = first[~rings[line[first]]], last[~rings[line[last]]]
        for tips, outward in ((start[first], -ahead[first]), (end[last], ahead[last])):
            made.append(_wedges(tips, outward, -outward, half, "round", limit))
    return np.concatenate(made)


def _wedges(tips: Floats, before: Floats, after: Floats, half: float, join: str, limit: float) -> np.ndarray:
    """What fills the outer side of corners at tips (n, 2) between two ways (n, 2) of length 1."""
    turn = np.arctan2(bezier.cross(before, after), bezier.dot(before, after))
    side = np.where(turn >= 0.0, -half, half)[:, None]
    out, other = side * _left(before), side * _left(after)
    if join == "round":
        angles = np.linspace(0.0, 1.0, _ARC + 1) * turn[:, None]
        rim = np.cos(angles)[..., None] * out[:, None] + np.sin(angles)[..., None] * _left(out)[:, None]
    else:
        middle = 0.5 * (out + other)
        if join == "miter":
            # A mitre is 1 / cos(turn / 2) half widths long (SVG 2, section 13.5.4).
            cosine = np.cos(0.5 * turn)
            sharp = cosine * limit >= 1.0
            middle[sharp] /= cosine[sharp, None] ** 2
        rim = np.stack([out, middle, other], axis=1)
    corners = np.concatenate([tips[:, None], tips[:, None] + rim], axis=1)
    return np.asarray(shapely.polygons(corners[turn != 0.0]))


def _left(ways: Floats) -> Floats:
    """Ways (n, 2) turned a quarter round, from x to y."""
    return np.column_stack([-ways[:, 1], ways[:, 0]])
