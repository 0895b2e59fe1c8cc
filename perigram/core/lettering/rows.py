"""Rows of letters set at a size, their letters and rows at clear gaps from one another."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from perigram.core.errors import GeometryError
from perigram.core.geometry import measure
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.region import Region
from perigram.core.lettering.fonts import GLYPH_CAP_HEIGHT, Font
from perigram.core.lettering.spacing import slide

Spacing = Literal["clear", "font"]
Fit = Literal["wide", "tall"]
Align = Literal["left", "centre", "right"]

#: Letters are compared on outlines flattened this finely in mm, well inside the promised 0.01 mm.
FINE = 0.001


@dataclass(frozen=True, eq=False)
class Letter:
    """One shaped cluster: its region at `GLYPH_CAP_HEIGHT`, placed as the font sets it."""

    cluster: int
    region: Region
    space_before: float


def letters_of(font: Font, text: str, features: dict[str, bool] | None = None) -> list[Letter]:
    """The letters of a row, one a cluster, in visual order; spaces widen the gap that follows."""
    letters: list[Letter] = []
    space = 0.0
    glyphs = font.shape(text, features)
    for cluster in dict.fromkeys(g.cluster for g in glyphs):
        members = [g for g in glyphs if g.cluster == cluster]
        region = weld([font.glyph(g.index).translated(g.x, g.y) for g in members])
        if region.is_empty:
            space += sum(g.advance for g in members)
        else:
            letters.append(Letter(cluster, region, space))
            space = 0.0
    return letters


def set_row(letters: Sequence[Letter], size: float, fit: Fit, spacing: Spacing, gap: float) -> Region:
    """One row, its letters welded where they overlap; see `placed_letters`."""
    return weld(placed_letters(letters, size, fit, spacing, gap))


def placed_letters(
    letters: Sequence[Letter], size: float, fit: Fit, spacing: Spacing, gap: float
) -> list[Region]:
    """The letters of one row, its baseline at y = 0 and its left edge at x = 0.

    Args:
        size: width of the ink, or cap height, in mm.
        spacing: "clear": `gap` is the smallest distance between neighbours' outlines;
            "font": letters stand as the font sets them, `gap` mm farther apart.

    Raises:
        GeometryError: when the gaps alone are wider than the row.
    """
    if not letters:
        return []
    if fit == "tall":
        scale = size / GLYPH_CAP_HEIGHT
        return _assembled(letters, scale, _shifts(letters, scale, spacing, gap))
    # The width is nearly linear in the scale, gaps being fixed: a few secant steps settle it.
    scale = size / max(_width(letters, _shifts(letters, 1.0, spacing, 0.0)), 1e-9)
    last: tuple[float, float] | None = None
    for _ in range(12):
        shifts = _shifts(letters, scale, spacing, gap)
        miss = _width(letters, shifts) * scale - size
        if abs(miss) < 1e-4:
            break
        slope = (miss - last[1]) / (scale - last[0]) if last and last[0] != scale else 0.0
        last = (scale, miss)
        # Less gap than the letters' own width leaves little to scale: fall back on proportion.
        natural = (miss + size) / scale
        scale -= miss / (slope if slope > 0.1 * natural else natural)
        if not 1e-5 < scale < 1e4:
            raise GeometryError(
                f"Letters {gap:g} mm apart do not fit a row {size:g} mm wide; "
                "use a wider row or a smaller gap."
            )
    return _assembled(letters, scale, shifts)


def stack_rows(rows: Sequence[Region], gaps: Sequence[float], align: Align) -> Region:
    """Rows one under another, each clear of the one above by its gap (mm), as one region."""
    placed: list[Region] = []
    for row, gap in zip(rows, gaps, strict=True):
        box = measure.bounds(row)
        if box is None:
            continue
        x = {"left": box[0], "centre": (box[0] + box[2]) / 2, "right": box[2]}[align]
        row = row.translated(-x, 0.0)
        if placed:
            shift = slide(
                np.array([placed[-1].flattened(FINE).multipolygon()]),
                np.array([row.flattened(FINE).multipolygon()]),
                np.array([gap]),
                (0.0, 1.0),
            )
            row = row.translated(0.0, float(shift[0]))
        placed.append(row)
    return weld(placed)


def _shifts(letters: Sequence[Letter], scale: float, spacing: Spacing, gap: float) -> Floats:
    """How far each letter moves from where the font sets it, in glyph units (mm over scale)."""
    count = len(letters)
    if spacing == "font":
        return np.arange(count, dtype=float) * (gap / scale)
    shapes = np.array([_polygons(letter.region) for letter in letters])
    spaces = np.array([letter.space_before for letter in letters])
    # A letter keeps clear of its neighbour and, across small marks, of the letter before that.
    pairs = [(i - back, i) for back in (1, 2) for i in range(back, count)]
    if not pairs:
        return np.zeros(count)
    first, second = np.array(pairs).T
    wanted = gap / scale + np.array([spaces[a + 1 : b + 1].sum() for a, b in pairs])
    contact = slide(shapes[first], shapes[second], wanted, (1.0, 0.0))
    by_pair = dict(zip(pairs, contact, strict=True))
    shift = np.zeros(count)
    for i in range(1, count):
        shift[i] = shift[i - 1] + by_pair[i - 1, i]
        if i > 1:
            shift[i] = max(shift[i], shift[i - 2] + by_pair[i - 2, i])
    return shift


def _polygons(region: Region) -> shapely.MultiPolygon:
    return region.flattened(FINE).multipolygon()


def _boxes(letters: Sequence[Letter]) -> Floats:
    return np.array([measure.bounds(letter.region) for letter in letters])


def _width(letters: Sequence[Letter], shifts: Floats) -> float:
    boxes = _boxes(letters)
    return float((boxes[:, 2] + shifts).max() - (boxes[:, 0] + shifts).min())


def _assembled(letters: Sequence[Letter], scale: float, shifts: Floats) -> list[Region]:
    left = float((_boxes(letters)[:, 0] + shifts).min())
    return [
        letter.region.translated(dx - left, 0.0).scaled(scale, scale)
        for letter, dx in zip(letters, shifts, strict=True)
    ]
