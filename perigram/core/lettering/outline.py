"""An outline with what spacing needs of it, so that none of it is worked out twice."""

from __future__ import annotations

from functools import cached_property

import numpy as np
import shapely

from perigram.core.geometry import measure
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.measure import Box
from perigram.core.geometry.region import Region

#: Letters are compared on outlines flattened this finely in mm at `GLYPH_CAP_HEIGHT`: two of them stay
#: inside the promised 0.01 mm up to capitals 250 mm tall.
FINE = 0.002


class Outline:
    """A region, its fine polygon and its box; moving or scaling one carries over what is known."""

    def __init__(self, region: Region) -> None:
        self.region = region

    @cached_property
    def polygon(self) -> shapely.MultiPolygon:
        return self.region.flattened(FINE).multipolygon()

    @cached_property
    def box(self) -> Box:
        """Its box in mm; a point at the origin where there is no ink."""
        return measure.bounds(self.region) or (0.0, 0.0, 0.0, 0.0)

    def moved(self, dx: float, dy: float) -> Outline:
        return self._mapped(np.array([[1.0, 0.0, dx], [0.0, 1.0, dy]]))

    def scaled(self, sx: float, sy: float) -> Outline:
        return self._mapped(np.array([[sx, 0.0, 0.0], [0.0, sy, 0.0]]))

    def _mapped(self, matrix: Floats) -> Outline:
        """Under a map that keeps boxes upright: positive scaling and moving."""
        if self.region.is_empty or np.array_equal(matrix, [[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]]):
            return self
        made = Outline(self.region.transformed(matrix))
        scale, shift = np.diag(matrix[:, :2]), matrix[:, 2]
        made.polygon = shapely.transform(self.polygon, lambda xy: xy * scale + shift)
        (x0, y0), (x1, y1) = (np.array(self.box).reshape(2, 2) * scale + shift).tolist()
        made.box = (x0, y0, x1, y1)
        return made
