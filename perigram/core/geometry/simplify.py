"""Outlines with more nodes than show at their size, drawn with fewer."""

from __future__ import annotations

import numpy as np
import shapely

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.fit import unit
from perigram.core.geometry.region import TOLERANCE, Region
from perigram.core.geometry.regularise import sound
from perigram.core.geometry.restore import redrawn

#: Outlines stay within this many mm of where they were.
WITHIN = TOLERANCE / 2.0
#: Curves shorter than so many mm that leave their chord by so many at most are as good as lines.
_SHORT, _FLAT = 20.0 * WITHIN, WITHIN / 5.0
#: What has fewer nodes is quickly worked on as it is; and so is what would keep more than that share of them.
_LEAST, _WORTH = 2000, 0.7


def simplified(region: Region) -> Region:
    """Polyline simplification (Douglas and Peucker 1973): lines in a row as few as stay `WITHIN` mm of them.

    A map cut as small as a stamp has its nodes a thousandth of a mm apart: no machine follows them, and all
    that is done with it takes ten times as long. Curves stay, but for those too short and flat to tell from
    their chords. What is not as dense as that comes back as it is, to the bit.
    """
    if region.node_count < _LEAST:
        return region
    lines = _as_lines(region)
    ends, run = _simplified_runs(region, lines)
    segments = np.concatenate([bezier.line_controls(*ends), region.segments[~lines]])
    if len(segments) > _WORTH * region.node_count:
        return region
    at = np.concatenate([run, np.flatnonzero(~lines)])
    order = np.argsort(at, kind="stable")
    loop = bezier.expand(np.diff(region.loop_offsets))[0][at[order]]
    return sound(redrawn(region, segments[order], order >= len(run), loop))


def _as_lines(region: Region) -> Bools:
    """Which segments (n,) are lines, or as good as lines."""
    segments = region.segments
    chord = segments[:, 3] - segments[:, 0]
    aside = np.abs(bezier.cross(unit(chord)[:, None], segments[:, 1:3] - segments[:, :1])).max(axis=1)
    length = bezier.length(np.diff(segments, axis=1)).sum(axis=1)
    # Of a curve that runs beyond its chord's ends, the chord is not all.
    flat = (aside <= _FLAT) & (length <= _SHORT) & (length <= 1.2 * bezier.length(chord))
    return np.asarray(region.straight | flat)


def _simplified_runs(region: Region, lines: Bools) -> tuple[tuple[Floats, Floats], Ints]:
    """Both ends (k, 2) of what stays of lines that follow each other, and where each one's run begins."""
    begins = np.append(True, ~(lines[1:] & lines[:-1]))
    begins[region.loop_offsets[:-1]] = True
    first = np.flatnonzero(begins & lines)
    run = np.searchsorted(first, np.flatnonzero(lines), side="right") - 1
    last = np.flatnonzero(lines)[np.append(run[1:] != run[:-1], True)] if len(run) else first
    points = np.concatenate([region.start[lines], region.end[last]])
    of = np.concatenate([run, np.arange(len(first))])
    order = np.argsort(of, kind="stable")
    paths = shapely.linestrings(points[order], indices=of[order])
    xy, path = shapely.get_coordinates(
        shapely.simplify(paths, WITHIN, preserve_topology=False), return_index=True
    )
    # What came back to where it began within the tolerance is gone.
    goes = (path[1:] == path[:-1]) & (xy[1:] != xy[:-1]).any(axis=1)
    return (xy[:-1][goes], xy[1:][goes]), first[path[:-1][goes]]
