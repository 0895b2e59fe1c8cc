"""Things flipped, turned, sized and put where their place says."""

from __future__ import annotations

import numpy as np

from perigram.core.geometry import measure
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.region import Region
from perigram.core.recipe.kinds import Tools
from perigram.core.recipe.values import Place


def placing(region: Region, place: Place, tools: Tools) -> Floats:
    """The (2, 3) map that flips and turns a region about its middle and puts it where its place says."""
    box = measure.bounds(region)
    if box is None:
        return np.eye(2, 3)
    cx, cy = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
    c, s = np.cos(np.radians(place.rotate)), np.sin(np.radians(place.rotate))
    linear = np.array([[c, -s], [s, c]]) @ np.diag([-1.0 if place.flip else 1.0, 1.0])
    turned = np.column_stack([linear, (cx, cy) - linear @ (cx, cy)])
    anchor = measure.bounds(tools.region(place.on)) if place.on else None
    if anchor is None:
        turned[:, 2] += (place.x - cx, place.y - cy)
        return turned
    own = box
    if place.rotate or place.flip:
        own = measure.bounds(region.transformed(turned)) or box
    # Turning is about the middle it had; level middles are those of the boxes as they were before it.
    mine_x = box if place.across == "middle" else own
    mine_y = box if place.down == "middle" else own
    dx = _related(place.across, (mine_x[0], mine_x[2]), (anchor[0], anchor[2]), place.x)
    dy = _related(place.down, (mine_y[1], mine_y[3]), (anchor[1], anchor[3]), place.y)
    turned[:, 2] += (dx, dy)
    return turned


def matched(place: Place, tools: Tools) -> tuple[float | None, float | None]:
    """The width and height in mm a thing takes over from others, where it does."""
    wide, tall = (
        measure.bounds(tools.region(ref)) if ref else None for ref in (place.as_wide, place.as_tall)
    )
    return wide and wide[2] - wide[0], tall and tall[3] - tall[1]


def _related(how: str, own: tuple[float, float], anchor: tuple[float, float], by: float) -> float:
    """How far to move a thing from `own[0]` to `own[1]` so that it relates to the anchor as said."""
    if how in ("left", "top"):
        return anchor[0] + by - own[0]
    if how in ("right", "bottom"):
        return anchor[1] + by - own[1]
    if how in ("before", "above"):
        return anchor[0] - by - own[1]
    if how in ("after", "below"):
        return anchor[1] + by - own[0]
    return (anchor[0] + anchor[1]) / 2 + by - (own[0] + own[1]) / 2


def sizing(region: Region, wide: float | None, tall: float | None, stretch: float = 1.0) -> Floats:
    """The (2, 3) map that makes a region so many mm wide, tall or both; `stretch` is width over height
    where one of them leaves the other to follow.
    """
    box = measure.bounds(region)
    if box is None:
        return np.eye(2, 3)
    width, height = box[2] - box[0], box[3] - box[1]
    if wide and tall:
        return _scaling(wide / width, tall / height)
    if wide:
        return _scaling(wide / width, wide / width / stretch)
    share = (tall or height) / height
    return _scaling(share * stretch, share)


def _scaling(x: float, y: float) -> Floats:
    return np.array([[x, 0.0, 0.0], [0.0, y, 0.0]])
