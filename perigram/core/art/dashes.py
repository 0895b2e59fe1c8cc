"""Dashed paths cut into their dashes."""

from __future__ import annotations

import numpy as np

from perigram.core.art.outlines import Outlines
from perigram.core.errors import PictureError
from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Floats

#: Steps a curve is measured in; its length is then off by about a millionth.
_STEPS = 64
#: Dashes of one drawing that are cut one by one.
MOST_DASHES = 5_000


def dashed(outlines: Outlines, pattern: Floats, offset: float) -> Outlines:
    """The dashes of paths, each an open path; SVG 2, section 13.5.6.

    Args:
        pattern: lengths of dashes and gaps in turns, in the outlines' units; an odd number is said twice.
        offset: how far into the pattern each path begins.
    """
    if len(pattern) % 2:
        pattern = np.tile(pattern, 2)
    whole = float(pattern.sum())
    segments: list[Floats] = []
    curved: list[bool] = []
    starts = [0]
    for first, last in zip(outlines.starts[:-1], outlines.starts[1:], strict=True):
        path, bent = outlines.segments[first:last], outlines.curved[first:last]
        t = np.linspace(0.0, 1.0, _STEPS + 1)
        points = bezier.evaluate(np.repeat(path, len(t), axis=0), np.tile(t, len(path)))
        steps = np.hypot(*np.diff(points.reshape(len(path), -1, 2), axis=1).transpose(2, 0, 1))
        along = np.hstack([np.zeros((len(path), 1)), np.cumsum(steps, axis=1)])
        ends = np.cumsum(along[:, -1])
        begins = ends - along[:, -1]
        count = int(np.ceil(ends[-1] / whole)) + 1
        if count * len(pattern) / 2 + len(starts) > MOST_DASHES:
            raise PictureError(f"A dashed line of this drawing has more than {MOST_DASHES:,} dashes.")
        marks = np.concatenate([[0.0], np.cumsum(np.tile(pattern, count))]) - offset % whole
        for low, high in zip(marks[:-1:2], marks[1::2], strict=True):
            low, high = max(low, 0.0), min(high, float(ends[-1]))
            if high < low:
                continue
            # A dash of no length is a dot where caps are round or square; it lies on one segment.
            on = (ends > low) & (begins < high) if high > low else (begins <= low) & (low < ends)
            for i in np.flatnonzero(on):
                at = np.interp(np.array([low, high]) - begins[i], along[i], t)
                segments.append(bezier.subcurve(path[i : i + 1], at[:1], at[1:])[0])
                curved.append(bool(bent[i]))
            if len(segments) > starts[-1]:
                starts.append(len(segments))
    return Outlines(
        np.array(segments).reshape(-1, 4, 2),
        np.array(curved, bool),
        np.array(starts, np.intp),
        np.zeros(len(starts) - 1, bool),
    )
