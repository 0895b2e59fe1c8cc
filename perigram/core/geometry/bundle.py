"""Shapes that lie apart, worked on together: one call for many small ones."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np
import shapely

from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.flat import boxes_of
from perigram.core.geometry.region import Region

#: Shapes of about this many segments at most are worked on together.
_AT_ONCE = 2000


def apart(boxes: Floats, sizes: Sequence[int]) -> Iterator[list[int]]:
    """Boxes (n, 4) in groups of which no two meet, none of many more than `_AT_ONCE` by their sizes."""
    lines = boxes_of(boxes[:, :2], boxes[:, 2:])
    near: list[list[int]] = [[] for _ in lines]
    for a, b in shapely.STRtree(lines).query(lines).T.tolist():
        if b < a:
            near[a].append(b)
    group = np.zeros(len(lines), np.intp)
    for k, others in enumerate(near):
        taken = {int(group[other]) for other in others}
        group[k] = next(number for number in range(len(taken) + 1) if number not in taken)
    for number in range(int(group.max(initial=-1)) + 1):
        members = np.flatnonzero(group == number)
        batch = np.cumsum([sizes[int(k)] for k in members]) // _AT_ONCE
        yield from (members[batch == one].tolist() for one in np.unique(batch))


def sorted_out(region: Region, boxes: Floats) -> list[Region]:
    """The pieces of a region by the box (n, 4) each lies in; no two boxes meet."""
    if region.is_empty or len(boxes) == 1:
        return [region] * len(boxes)
    # Not the middle of a piece's control points: curves that were cut keep all of theirs.
    first = region.loop_offsets[region.polygon_offsets[:-1]]
    nearest = shapely.STRtree(shapely.box(*boxes.T)).nearest(shapely.points(region.start[first]))
    of: list[list[Region]] = [[] for _ in boxes]
    for piece, box in zip(region.pieces(), nearest.tolist(), strict=True):
        of[box].append(piece)
    return [Region.joined(pieces) for pieces in of]
