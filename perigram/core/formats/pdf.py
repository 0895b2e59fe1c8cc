"""PDF: outlines as hairlines at true size, one layer a ply.

Source: ISO 32000-1, sections 8.5 (paths), 8.11 (optional content) and 14.11.2 (boxes); a point is 1/72 in.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from io import BytesIO

import numpy as np
import pikepdf
from pikepdf import Array, Dictionary, Name

from perigram.core.errors import PerigramError
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.region import Region

POINTS_PER_MM = 72.0 / 25.4
_HAIRLINE = 0.25
#: How many points long the sides of a page may be (annex C.2).
_LEAST, _MOST = 3.0, 14_400.0


@dataclass(frozen=True, eq=False)
class Layer:
    """Outlines and straight lines (n, 2, 2) in one colour, y down in mm from the page's top left corner."""

    name: str
    colour: str
    region: Region
    lines: Floats = field(default_factory=lambda: np.zeros((0, 2, 2)))


def write_pdf(title: str, width: float, height: float, layers: Sequence[Layer]) -> bytes:
    """A PDF of one page of the given size in mm; equal input gives equal bytes.

    Raises:
        PerigramError: for a page longer than there can be.
    """
    most, longer = _MOST / POINTS_PER_MM, max(width, height)
    if longer > most:
        raise PerigramError(
            f"A page of a PDF is at most {most:,.0f} mm long, and this sheet is {longer:,.0f} mm. "
            "Let the machine read SVG or DXF instead, or cut it in parts."
        )
    height = max(height, _LEAST / POINTS_PER_MM)
    pdf = pikepdf.new()
    across, down = (max(_LEAST, side * POINTS_PER_MM) for side in (width, height))
    pdf.add_blank_page(page_size=(across, down))
    page = pdf.pages[0]
    groups = [
        pdf.make_indirect(Dictionary(Type=Name.OCG, Name=pikepdf.String(layer.name))) for layer in layers
    ]
    content = [f"{_HAIRLINE} w 1 j"]
    for number, layer in enumerate(layers):
        red, green, blue = (int(layer.colour[i : i + 2], 16) / 255.0 for i in (1, 3, 5))
        content += [
            f"/OC /L{number} BDC",
            f"{red:.3f} {green:.3f} {blue:.3f} RG",
            _path(layer.region, height),
            _lines(layer.lines, height),
            "EMC",
        ]
    page.Contents = pdf.make_stream("\n".join(content).encode("ascii"))
    page.Resources = Dictionary(
        Properties=Dictionary({f"/L{number}": group for number, group in enumerate(groups)})
    )
    pdf.Root.OCProperties = Dictionary(
        OCGs=Array(groups), D=Dictionary(Order=Array(groups), ON=Array(groups))
    )
    pdf.docinfo["/Title"] = title
    out = BytesIO()
    pdf.save(out, deterministic_id=True, compress_streams=True)
    return out.getvalue()


def _lines(lines: Floats, height: float) -> str:
    points = (lines * [1.0, -1.0] + [0.0, height]) * POINTS_PER_MM
    return "\n".join("{:.5f} {:.5f} m {:.5f} {:.5f} l S".format(*line) for line in points.reshape(-1, 4))


def _path(region: Region, height: float) -> str:
    points = np.round((region.segments * [1.0, -1.0] + [0.0, height]) * POINTS_PER_MM, 5)
    straight = region.straight
    words: list[str] = []
    for loop in region.loop_slices():
        words.append("{:.5f} {:.5f} m".format(*points[loop.start, 0]))
        for k in range(loop.start, loop.stop):
            if straight[k]:
                words.append("{:.5f} {:.5f} l".format(*points[k, 3]))
            else:
                words.append("{:.5f} {:.5f} {:.5f} {:.5f} {:.5f} {:.5f} c".format(*points[k, 1:].ravel()))
        words.append("s")
    return "\n".join(words)
