"""A font opened for lettering: its names, its coverage and its glyphs as regions."""

from __future__ import annotations

from dataclasses import dataclass
from io import BytesIO
from typing import Any

import uharfbuzz as hb
from fontTools.ttLib import TTFont, TTLibError

from perigram.core.errors import FontError
from perigram.core.geometry.pen import RegionPen
from perigram.core.geometry.region import Region

#: Glyphs are made into regions at this cap height in mm and scaled from there.
GLYPH_CAP_HEIGHT = 100.0


@dataclass(frozen=True)
class Glyph:
    """One shaped glyph; distances in mm for a cap height of `GLYPH_CAP_HEIGHT`, y down."""

    index: int
    cluster: int
    x: float
    y: float
    advance: float


class Font:
    """A font file opened with HarfBuzz.

    Raises:
        FontError: when the bytes are not a font with outlines.
    """

    def __init__(self, data: bytes) -> None:
        try:
            tables = TTFont(BytesIO(data), lazy=True)
            self.family = tables["name"].getBestFamilyName() or "Unnamed"
            self.coverage = frozenset(tables.getBestCmap() or {})
            declared = getattr(tables["OS/2"], "sCapHeight", 0) if "OS/2" in tables else 0
        except (TTLibError, KeyError, AttributeError, AssertionError) as error:
            raise FontError(
                "This file is not a font Perigram can read; TrueType and OpenType files work."
            ) from error
        self._face = hb.Face(data)
        self._font = hb.Font(self._face)
        self.units_per_em = self._face.upem
        self._regions: dict[int, Region] = {}
        self._scale = 1.0
        self.cap_height = self._measured_cap_height() or declared or 0.7 * self.units_per_em
        self._scale = GLYPH_CAP_HEIGHT / self.cap_height

    def missing(self, text: str) -> list[str]:
        """Characters of the text that the font has no glyph for, each once, in order."""
        wanted = dict.fromkeys(c for c in text if not c.isspace())
        return [c for c in wanted if ord(c) not in self.coverage]

    def shape(self, text: str, features: dict[str, bool] | None = None) -> list[Glyph]:
        """Glyphs of the text in visual order, kerned, ligated and reordered by HarfBuzz."""
        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        hb.shape(self._font, buffer, features or {})
        scale, pen_x, pen_y, glyphs = self._scale, 0.0, 0.0, []
        for info, position in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
            glyphs.append(
                Glyph(
                    info.codepoint,
                    info.cluster,
                    (pen_x + position.x_offset) * scale,
                    -(pen_y + position.y_offset) * scale,
                    position.x_advance * scale,
                )
            )
            pen_x += position.x_advance
            pen_y += position.y_advance
        return glyphs

    def glyph(self, index: int) -> Region:
        """A glyph's region about its own origin, overlapping strokes welded."""
        if index not in self._regions:
            self._regions[index] = self._draw(index).region("nonzero")
        return self._regions[index]

    def _draw(self, index: int) -> RegionPen:
        pen, scale = RegionPen(), self._scale

        def at(x: float, y: float) -> tuple[float, float]:
            return (x * scale, -y * scale)

        def move(x: float, y: float, _: Any) -> None:
            pen.move_to(at(x, y))

        def line(x: float, y: float, _: Any) -> None:
            pen.line_to(at(x, y))

        def quadratic(cx: float, cy: float, x: float, y: float, _: Any) -> None:
            pen.quadratic_to(at(cx, cy), at(x, y))

        def cubic(ax: float, ay: float, bx: float, by: float, x: float, y: float, _: Any) -> None:
            pen.cubic_to(at(ax, ay), at(bx, by), at(x, y))

        def close(_: Any) -> None:
            pen.close()

        draw = hb.DrawFuncs()
        draw.set_move_to_func(move)
        draw.set_line_to_func(line)
        draw.set_quadratic_to_func(quadratic)
        draw.set_cubic_to_func(cubic)
        draw.set_close_path_func(close)
        self._font.draw_glyph(index, draw, None)
        return pen

    def _measured_cap_height(self) -> float:
        """The height of the H in font units; fonts' own figure for it is often left wrong."""
        index = self._font.get_nominal_glyph(ord("H"))
        extents = self._font.get_glyph_extents(index) if index else None
        return float(extents.y_bearing) if extents else 0.0
