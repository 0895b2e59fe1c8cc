"""SVG: path data, and files whose user unit is one millimetre."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from xml.sax.saxutils import escape, quoteattr

import numpy as np

from perigram.core.formats.page import PlyPage
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.region import Region
from perigram.core.sheet.sheet import Sheet

#: Rounded numbers in as few digits as say them; one format for a whole path is far quicker than many.
_MOVE, _LINE, _CURVE = "M%.10g %.10g", "L%.10g %.10g", "C%.10g %.10g %.10g %.10g %.10g %.10g"


def path_data(region: Region, decimals: int = 4) -> str:
    """The region as SVG path data in mm, a closed subpath for each loop."""
    if region.is_empty:
        return ""
    first, last = np.zeros((2, region.node_count), bool)
    first[region.loop_offsets[:-1]] = last[region.loop_offsets[1:] - 1] = True
    curved = ~region.straight
    # A line back to where its loop began is what Z says.
    going = curved | ~last
    said = np.stack([first, curved, curved, going], axis=1)
    drawn = np.where(curved, _CURVE, np.where(going, _LINE, ""))
    words = np.stack([np.where(first, _MOVE, ""), drawn, np.where(last, "Z", "")], axis=1)
    # Adding zero turns -0 into 0.
    numbers = np.round(region.segments[said], decimals) + 0.0
    return "".join(words.ravel().tolist()) % tuple(numbers.ravel().tolist())


def line_data(lines: Floats, decimals: int = 4) -> str:
    """Straight lines (n, 2, 2) as SVG path data."""
    return "".join(
        f"M{_number(a)} {_number(b)}L{_number(c)} {_number(d)}"
        for a, b, c, d in np.round(lines, decimals).reshape(-1, 4).tolist()
    )


def polyline_data(lines: Iterable[Floats]) -> str:
    """Polylines (k, 2) as SVG path data, to a hundredth of a mm: for screens."""
    return "".join(
        "M" + "L".join(f"{x:.2f} {y:.2f}" for x, y in line.tolist()) for line in lines if len(line)
    )


def _number(value: float) -> str:
    return f"{value:.10g}"


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


def write_sheet_svg(title: str, sheet: Sheet, unit: str) -> bytes:
    """An SVG file of one sheet, as large as what of it is used.

    Args:
        unit: "mm" or "in", which the file names; or how many dots an inch a reader takes that ignores units.
    """
    per_mm = {"mm": 1.0, "in": 1.0 / 25.4}.get(unit) or float(unit) / 25.4
    decimals = {"mm": 4, "in": 6}.get(unit, 5)
    size = (sheet.stock.width, sheet.used)
    width, height = (_number(round(side * per_mm, decimals)) for side in size)
    named = unit if unit in ("mm", "in") else ""
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}{named}" height="{height}{named}" '
        f'viewBox="0 0 {width} {height}">',
        f"<title>{escape(title)}</title>",
    ]
    fill = f'fill="{sheet.stock.colour}" fill-rule="evenodd"'
    line = f'fill="none" stroke="{sheet.stock.colour}" stroke-width="{_number(0.1 * per_mm)}"'
    for name, region, paint in (
        ("work", sheet.work, fill),
        ("marks", sheet.marks, fill),
        ("borders", sheet.borders, line),
        ("frame", sheet.frame, line),
    ):
        if not region.is_empty:
            data = path_data(region.scaled(per_mm, per_mm), decimals)
            lines.append(f'<path id="{name}" {paint} d={quoteattr(data)}/>')
    if len(sheet.lines):
        lines.append(f'<path id="lines" {line} d="{line_data(sheet.lines * per_mm, decimals)}"/>')
    lines.append("</svg>\n")
    return "\n".join(lines).encode()
