"""Patterns of tiles laid over an area."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from perigram.core.art.shapes import oval
from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier, measure
from perigram.core.geometry.bezier import Bools, Floats
from perigram.core.geometry.offset import grow
from perigram.core.geometry.overlay import cut_away, weld
from perigram.core.geometry.region import MOST_VERTICES, Region
from perigram.core.warp.path import hermite

Pattern = Literal["scales", "stripes", "dots", "checks", "waves", "bricks"]

#: More tiles than this are refused: nobody weeds so many.
MOST_TILES = 20_000


@dataclass(frozen=True)
class Over:
    """What tiles are laid over: a disc about the origin, and which of its places (n, 2) tiles are wanted at,
    within so many mm of them.
    """

    radius: float
    wanted: Callable[[Floats, float], Bools] = lambda places, reach: np.ones(len(places), bool)


def laid(pattern: Pattern, over: Over, size: float, clear: float) -> Region:
    """Tiles of a pattern all over, the middle of one at the origin.

    Args:
        size: how wide a tile is in mm; how broad a stripe or a wave is.
        clear: between tiles, in mm, above zero.

    Raises:
        GeometryError: where that would be more than `MOST_TILES`, or points than can be worked on.
    """
    makers: dict[Pattern, Callable[[Over, float, float], Region]] = {
        "scales": _scales,
        "stripes": _stripes,
        "dots": _dots,
        "checks": _checks,
        "waves": _waves,
        "bricks": _bricks,
    }
    return makers[pattern](over, size, clear)


def tiled(tile: Region, over: Over, step: tuple[float, float], shifted: float) -> Region:
    """A tile about the origin, repeated: every other row shifted by a share of a step.

    Raises:
        GeometryError: where that would be more than `MOST_TILES`, or points than can be worked on.
    """
    own = measure.bounds(tile)
    if own is None:
        return tile
    reach = float(np.hypot(own[2] - own[0], own[3] - own[1])) / 2.0
    dx, dy = step
    across, down = (int(np.ceil((over.radius + reach) / one)) + 1 for one in step)
    if (2 * across + 1) * (2 * down + 1) > 20 * MOST_TILES:
        raise _too_many()
    column, row = np.meshgrid(np.arange(-across, across + 1), np.arange(-down, down + 1))
    places = np.stack([(column + shifted * (row % 2)).ravel() * dx, row.ravel() * dy], axis=1)
    places = places[over.wanted(places, reach)]
    if len(places) > MOST_TILES or len(places) * len(tile.flat.xy) > MOST_VERTICES:
        raise _too_many()
    return copies(tile, places) if len(places) else Region.empty()


def _too_many() -> GeometryError:
    return GeometryError("So fine a texture is more than can be cut. Make its tiles larger, or fill less.")


def copies(region: Region, places: Floats) -> Region:
    """A region moved to each of some places (n, 2); copies must not meet."""
    n, loops = len(places), np.diff(region.loop_offsets)
    segments = (places[:, None, None, None, :] + region.segments[None]).reshape(-1, 4, 2)
    loop_offsets = np.concatenate([[0], np.cumsum(np.tile(loops, n))])
    polygon_offsets = np.concatenate([[0], np.cumsum(np.tile(np.diff(region.polygon_offsets), n))])
    curved = np.tile(~region.straight, n)
    return Region.from_loops(segments, curved, loop_offsets.astype(np.intp), polygon_offsets.astype(np.intp))


def _rectangle(width: float, height: float) -> Region:
    x, y = width / 2.0, height / 2.0
    corners = np.array([[-x, -y], [x, -y], [x, y], [-x, y]])
    return Region.from_rings(corners, np.array([0, 4]), np.array([0, 1]))


def _scales(over: Over, size: float, clear: float) -> Region:
    r = size / 2.0
    disc = oval(size, size)
    above = weld([disc.translated(-r, -r), disc.translated(r, -r)])
    return tiled(grow(cut_away(disc, above), -clear / 2.0), over, (size, r), 0.5)


def _stripes(over: Over, size: float, clear: float) -> Region:
    width = 2.0 * over.radius + 2.0 * size
    return tiled(_rectangle(width, size), over, (3.0 * width, size + clear), 0.0)


def _dots(over: Over, size: float, clear: float) -> Region:
    step = size + clear
    return tiled(oval(size, size), over, (step, step * np.sqrt(3.0) / 2.0), 0.5)


def _checks(over: Over, size: float, clear: float) -> Region:
    side = size - clear
    if side <= 0.0:
        return Region.empty()
    return tiled(_rectangle(side, side), over, (2.0 * size, size), 0.5)


def _bricks(over: Over, size: float, clear: float) -> Region:
    return tiled(_rectangle(size, size / 2.0), over, (size + clear, size / 2.0 + clear), 0.5)


def _waves(over: Over, size: float, clear: float) -> Region:
    """Bands between two sine waves: three times as long as high, half as high as the band is broad."""
    half, quarter = over.radius + size, 0.75 * size
    count = 2 * int(np.ceil(half / quarter)) + 2
    x = (np.arange(count + 1) - count / 2.0) * quarter
    rate, rise = np.pi / 2.0 / quarter, 0.25 * size
    points = np.stack([x, rise * np.sin(rate * x)], axis=1)
    slopes = np.stack([np.ones_like(x), rise * rate * np.cos(rate * x)], axis=1)
    top = hermite(points, slopes, quarter) - (0.0, size / 2.0)
    bottom = (top + (0.0, size))[::-1, ::-1]
    ends = bezier.line_controls(np.array([top[-1, 3], bottom[-1, 3]]), np.array([bottom[0, 0], top[0, 0]]))
    segments = np.concatenate([top, ends[:1], bottom, ends[1:]])
    curved = np.ones(len(segments), bool)
    curved[[len(top), -1]] = False
    band = Region.from_loops(segments, curved, np.array([0, len(segments)]), np.array([0, 1]))
    # Where they are steepest, bands are nearer to each other than straight up.
    return tiled(band, over, (10.0 * half, size + clear * float(np.hypot(1.0, rise * rate))), 0.0)
