"""SVG: path data, and files whose user unit is one millimetre."""

from __future__ import annotations

from collections.abc import Sequence
from xml.sax.saxutils import escape, quoteattr

import numpy as np

from perigram.core.formats.page import PlyPage
from perigram.core.geometry.region import Region


def path_data(region: Region, decimals: int = 4) -> str:
    """The region as SVG path data in mm, a closed subpath for each loop."""
    if region.is_empty:
        return ""
    # Adding zero turns -0 into 0.
    numbers = np.round(region.segments, decimals) + 0.0
    words = [_number(n) for n in numbers.reshape(-1).tolist()]
    straight = region.straight.tolist()
    out: list[str] = []
    for loop in region.loop_slices():
        for i in range(loop.start, loop.stop):
            w = words[8 * i : 8 * i + 8]
            if i == loop.start:
                out.append(f"M{w[0]} {w[1]}")
            if not straight[i]:
                out.append(f"C{w[2]} {w[3]} {w[4]} {w[5]} {w[6]} {w[7]}")
            elif i < loop.stop - 1:
                out.append(f"L{w[6]} {w[7]}")
        out.append("Z")
    return "".join(out)


def _number(value: float) -> str:
    return f"{value:g}" if value == int(value) and abs(value) < 1e6 else f"{value:.6f}".rstrip("0")


def write_svg(title: str, plies: Sequence[PlyPage]) -> bytes:
    """An SVG file of one or more plies on their common page, true size."""
    width, height = _number(round(plies[0].width, 4)), _number(round(plies[0].height, 4))
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
        f'viewBox="0 0 {width} {height}">',
        f"<title>{escape(title)}</title>",
    ]
    for ply in plies:
        label = f"{ply.name}, {ply.material}" + (", mirrored" if ply.mirrored else "")
        lines += [
            f'<g id="ply-{ply.number}" fill="{ply.colour}" fill-rule="evenodd">',
            f"<title>{escape(label)}</title>",
            f"<path d={quoteattr(path_data(ply.region))}/>",
            "</g>",
        ]
    lines.append("</svg>\n")
    return "\n".join(lines).encode()
