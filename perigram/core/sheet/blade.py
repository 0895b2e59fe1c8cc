"""Where a drag knife is led so that its tip follows the outlines.

The tip trails its holder by the knife's offset, as a castor does. Led ahead by that offset along the outline,
and round the corner in an arc about it, the holder makes the tip stand still while the blade turns (common
practice; the castor's path is a tractrix, which `tests/core/test_blade.py` integrates by itself).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from perigram.core.geometry.bezier import Floats

#: Arcs at corners are led in chords at most so many mm off them.
_SAGITTA = 0.005
#: The blade is pulled straight by a stroke so many times its offset long, once each way.
_PULLS = 8.0


def led(strokes: Sequence[Floats], offset: float, overcut: float) -> list[Floats]:
    """The ways (k, 2) of the holder for strokes (k, 2) in mm; with neither offset nor overcut the strokes.

    First it is pulled straight along two edges of the sheet, from its corner at 0, 0: nobody knows how the
    blade stands before.

    Args:
        offset: from the holder's middle to the tip.
        overcut: how far closed strokes go on past where they began.
    """
    longer = [_overcut(stroke, overcut) for stroke in strokes]
    if offset <= 0.0 or not longer:
        return longer
    reach = _PULLS * offset
    ways = [np.array([[0.0, reach], [0.0, 0.0], [reach, 0.0]])]
    heading = np.array([1.0, 0.0])
    for stroke in longer:
        way, heading = _led(stroke, offset, heading)
        ways.append(way)
    return ways


def _overcut(stroke: Floats, further: float) -> Floats:
    """A closed stroke that goes on along itself past its end."""
    if further <= 0.0 or (stroke[0] != stroke[-1]).any():
        return stroke
    gone = np.append(0.0, np.cumsum(np.hypot(*np.diff(stroke, axis=0).T)))
    end = min(further, float(gone[-1]))
    again = stroke[(gone > 0.0) & (gone < end)]
    last = [np.interp(end, gone, stroke[:, axis]) for axis in (0, 1)]
    return np.vstack([stroke, again, last])


def _led(stroke: Floats, offset: float, heading: Floats) -> tuple[Floats, Floats]:
    """The holder's way for one stroke, and how the blade stands at its end."""
    legs = np.diff(stroke, axis=0)
    long = np.hypot(*legs.T)
    there = long > 0.0
    if not there.any():
        return stroke + offset * heading, heading
    corners = stroke[np.append(True, there)]
    towards = legs[there] / long[there, None]
    angle = np.arctan2(*np.vstack([heading, towards]).T[::-1])
    turn = (np.diff(angle) + np.pi) % (2.0 * np.pi) - np.pi
    # As many chords round each corner as keep to the arc; after the last it stands at the next leg's angle.
    step = 2.0 * np.arccos(max(0.0, 1.0 - _SAGITTA / offset))
    count = np.maximum(1, np.ceil(np.abs(turn) / step - 1e-9).astype(int))
    corner = np.repeat(np.arange(len(turn)), count + 1)
    place = np.arange(len(corner)) - np.repeat(np.cumsum(count + 1) - (count + 1), count + 1)
    swung = angle[corner] + turn[corner] * place / count[corner]
    arcs = corners[corner] + offset * np.column_stack([np.cos(swung), np.sin(swung)])
    way = np.vstack([arcs, corners[-1] + offset * towards[-1]])
    return way, towards[-1]
