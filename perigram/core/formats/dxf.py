"""DXF: one closed entity a loop, its unit declared in the header, y up."""

from __future__ import annotations

from io import StringIO

import ezdxf
import numpy as np
from ezdxf import units
from ezdxf.filemanagement import new
from ezdxf.layouts.layout import Modelspace

from perigram.core.formats.page import PlyPage, plain_name
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.region import Region


def write_dxf(ply: PlyPage) -> bytes:
    """A DXF R2000 file of one ply in mm."""
    return outlines_dxf(ply.region, ply.name, ply.height)


def outlines_dxf(
    region: Region, name: str, height: float, inches: bool = False, lines: Floats | None = None
) -> bytes:
    """A DXF R2000 file of a region's outlines on one layer.

    A loop of straight lines becomes a closed LWPOLYLINE; any other a closed cubic B-spline with a
    triple knot at every node, which is exactly the loop's Bezier segments in a row.

    Args:
        height: of the page in mm; DXF's y runs up from its foot.
        inches: the file's unit, mm if not.
        lines: (n, 2, 2) straight cuts besides.
    """
    # Without this, the library writes the time and random identifiers into the file.
    ezdxf.options.write_fixed_meta_data_for_testing = True
    document = new("R2000", units=units.IN if inches else units.MM)
    document.header["$MEASUREMENT"] = 0 if inches else 1
    layer = plain_name(name).replace(".", " ").replace(",", " ") or "ply"
    document.layers.add(layer)
    space = document.modelspace()
    scale = 1.0 / 25.4 if inches else 1.0
    flipped = (region.segments * [1.0, -1.0] + [0.0, height]) * scale
    straight = region.straight
    for loop in region.loop_slices():
        if straight[loop].all():
            corners = flipped[loop, 0].tolist()
            space.add_lwpolyline(corners, close=True, dxfattribs={"layer": layer})
        else:
            _add_spline(space, flipped[loop], layer)
    for start, end in [] if lines is None else (lines * [1.0, -1.0] + [0.0, height]) * scale:
        space.add_line(start.tolist(), end.tolist(), dxfattribs={"layer": layer})
    stream = StringIO()
    document.write(stream)
    return stream.getvalue().encode(document.output_encoding)


def _add_spline(space: Modelspace, segments: Floats, layer: str) -> None:
    count = len(segments)
    points = np.concatenate([segments[:, :3].reshape(-1, 2), segments[-1:, 3]])
    knots = np.repeat(np.arange(count + 1, dtype=float), 3)
    spline = space.add_spline(degree=3, dxfattribs={"layer": layer})
    spline.control_points = [(x, y, 0.0) for x, y in points.tolist()]
    spline.knots = [0.0, *knots.tolist(), float(count)]
    spline.dxf.flags = spline.CLOSED | 8
