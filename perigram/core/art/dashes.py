"""The pen a shape is stroked with, and dashed paths cut into their dashes."""

from __future__ import annotations

from typing import Literal, cast

import numpy as np

from perigram.core.art.outlines import Outlines
from perigram.core.art.styles import Style
from perigram.core.art.units import Room
from perigram.core.errors import PictureError
from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Floats, Ints
from perigram.core.geometry.stroke import Pen

#: Steps a curve is measured in; its length is then off by about a millionth.
_STEPS = 64
#: Dashes of one drawing that are cut one by one.
MOST_DASHES = 5_000


def pen_of(style: Style, width: float) -> Pen:
    """The pen of a style (SVG 2, section 13.5); what is no cap, join or limit is as if unsaid."""
    try:
        limit = max(1.0, float(style["stroke-miterlimit"]))
    except ValueError:
        limit = 4.0
    cap = style["stroke-linecap"] if style["stroke-linecap"] in ("round", "square") else "butt"
    join = style["stroke-linejoin"] if style["stroke-linejoin"] in ("round", "bevel") else "miter"
    return Pen(
        width,
        cast(Literal["butt", "round", "square"], cap),
        cast(Literal["miter", "round", "bevel"], join),
        limit,
    )


def dashes_of(style: Style, room: Room) -> Floats | None:
    """The lengths of dashes and gaps; None for an unbroken line."""
    words = style["stroke-dasharray"].replace(",", " ").split()
    if words in ([], ["none"]):
        return None
    lengths = np.array([room.either(word) for word in words])
    return lengths if (lengths >= 0.0).all() and lengths.sum() > 0.0 else None


def dashed(outlines: Outlines, pattern: Floats, offset: float, most: int = MOST_DASHES) -> Outlines:
    """The dashes of paths, each an open path; SVG 2, section 13.5.6.

    Where a closed path ends within one dash and begins within another, the two are one.

    Args:
        pattern: lengths of dashes and gaps in turns, in the outlines' units; an odd number is said twice.
        offset: how far into the pattern each path begins.
        most: how many dashes there may be.

    Raises:
        PictureError: for more.
    """
    if len(pattern) % 2:
        pattern = np.tile(pattern, 2)
    whole = float(pattern.sum())
    segments, curved, sizes = [np.zeros((0, 4, 2))], [np.zeros(0, bool)], [np.zeros(0, np.intp)]
    dashes = 0
    for first, last, closed in zip(outlines.starts[:-1], outlines.starts[1:], outlines.closed, strict=True):
        path, bent = outlines.segments[first:last], outlines.curved[first:last]
        t = np.linspace(0.0, 1.0, _STEPS + 1)
        points = bezier.evaluate(np.repeat(path, len(t), axis=0), np.tile(t, len(path)))
        steps = bezier.length(np.diff(points.reshape(len(path), -1, 2), axis=1))
        along = np.hstack([np.zeros((len(path), 1)), np.cumsum(steps, axis=1)])
        ends = np.cumsum(along[:, -1])
        if ends[-1] < 1e-9:
            # Of a path of one place renderers show nothing.
            continue
        begins = ends - along[:, -1]
        count = int(np.ceil(ends[-1] / whole)) + 1
        dashes += count * len(pattern) // 2
        if dashes > most:
            raise PictureError(f"The dashed lines of this drawing have more than {MOST_DASHES:,} dashes.")
        marks = np.concatenate([[0.0], np.cumsum(np.tile(pattern, count))]) - offset % whole
        low, high = np.maximum(marks[:-1:2], 0.0), np.minimum(marks[1::2], ends[-1])
        # A dash that ends where the path begins is not seen, unless all of it is no longer than that.
        seen = (high > low) | ((high == low) & (marks[1::2] == marks[:-1:2]))
        low, high = low[seen], high[seen]
        # A dash of no length is a dot where caps are round or square; it lies on one segment.
        dot = high == low
        enter = np.searchsorted(ends, low, side="right")
        leave = np.where(
            dot, np.searchsorted(begins, low, side="right"), np.searchsorted(begins, high, side="left")
        )
        leave = np.where(dot, np.minimum(leave, enter + 1), leave)
        pieces = np.maximum(0, np.minimum(leave, len(path)) - enter)
        dash, place = bezier.expand(pieces)
        on = enter[dash] + place
        # One segment's lengths after another's, far enough apart to be looked up all at once.
        apart = 2.0 * float(along.max()) + 1.0
        lengths = (along + apart * np.arange(len(path))[:, None]).ravel()

        def parameter(at: Floats, on: Ints = on) -> Floats:
            own = np.clip(at - begins[on], 0.0, along[on, -1])  # noqa: B023
            return np.interp(own + apart * on, lengths, np.tile(t, len(path)))  # noqa: B023

        cut = bezier.subcurve(path[on], parameter(low[dash]), parameter(high[dash]))
        pieces = pieces[pieces > 0]
        if closed and len(pieces) > 1 and low[0] == 0.0 < high[0] and low[-1] < high[-1] == ends[-1]:
            pieces[-1] += pieces[0]
            cut, on = np.roll(cut, -pieces[0], axis=0), np.roll(on, -pieces[0])
            pieces = pieces[1:]
        segments.append(cut)
        curved.append(bent[on])
        sizes.append(pieces)
    count_each = np.concatenate(sizes)
    return Outlines(
        np.concatenate(segments),
        np.concatenate(curved),
        np.concatenate([[0], np.cumsum(count_each)]).astype(np.intp),
        np.zeros(len(count_each), bool),
    )
