"""A font opened for lettering: its names, its coverage and its glyphs as outlines."""

from __future__ import annotations

import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from io import BytesIO
from typing import Any

import shapely
import uharfbuzz as hb
from fontTools.pens.boundsPen import ControlBoundsPen
from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen
from fontTools.ttLib import TTFont, TTLibError

from perigram.core.errors import FontError
from perigram.core.geometry.measure import Box
from perigram.core.geometry.pen import RegionPen
from perigram.core.geometry.region import Region
from perigram.core.lettering.outline import Outline

#: Glyphs are made into regions at this cap height in mm and scaled from there.
GLYPH_CAP_HEIGHT = 100.0
#: In joining scripts at least this share of a sample's small letters touch the next.
_JOINING = 0.6
_JOINING_SAMPLE = "minimum launched evening hidden"
#: Chords in mm that are near enough for that, at `GLYPH_CAP_HEIGHT`.
_JOINING_CHORDS = 0.05

#: Letters and symbols that are there to be blank: Unicode's fillers, and Braille without a dot.
_BLANK = frozenset("\u115f\u1160\u3164\uffa0\u2800")

#: Features of shaping: on, off or the number of an alternate, for all or for ranges of characters.
Features = Mapping[str, bool | int | Sequence[tuple[int, int, int]]]


@dataclass(frozen=True)
class Glyph:
    """One shaped glyph; distances in mm for a cap height of `GLYPH_CAP_HEIGHT`, y down."""

    index: int
    cluster: int
    x: float
    y: float
    advance: float


@dataclass(frozen=True)
class Axis:
    """What a variable font can be changed by, e.g. its weight; in the font's own units."""

    tag: str
    name: str
    low: float
    default: float
    high: float


class Font:
    """A font file opened with HarfBuzz, a variable one at a place on its axes.

    Raises:
        FontError: when the bytes are not a font with outlines.
    """

    def __init__(self, data: bytes, at: Mapping[str, float] | None = None) -> None:
        try:
            tables = TTFont(BytesIO(data), lazy=True)
            self.family = tables["name"].getBestFamilyName() or "Unnamed"
            self.coverage = frozenset(tables.getBestCmap() or {})
            declared = getattr(tables["OS/2"], "sCapHeight", 0) if "OS/2" in tables else 0
        except (TTLibError, KeyError, AttributeError, AssertionError) as error:
            raise FontError(
                "This file is not a font Perigram can read; TrueType and OpenType files work."
            ) from error
        self.data = data
        self._face = hb.Face(data)
        self._font = hb.Font(self._face)
        self.axes = tuple(
            Axis(a.tag, self._face.get_name(a.name_id) or a.tag, a.min_value, a.default_value, a.max_value)
            for a in self._face.axis_infos or []
        )
        if at and self.axes:
            self._font.set_variations({a.tag: _clamped(at[a.tag], a) for a in self.axes if a.tag in at})
        self.units_per_em = self._face.upem
        self._outlines: dict[int, Outline] = {}
        self._scale = 1.0
        self.cap_height = self._measured_cap_height() or declared or 0.7 * self.units_per_em
        self._scale = GLYPH_CAP_HEIGHT / self.cap_height

    @property
    def line_height(self) -> float:
        """From baseline to baseline as the font itself says, in mm for a cap height of `GLYPH_CAP_HEIGHT`."""
        extents = self._font.get_font_extents("ltr")
        return float(extents.ascender - extents.descender + extents.line_gap) * self._scale

    def at(self, axes: Mapping[str, float]) -> Font:
        """The font at a place on its axes; those it does not have are left alone."""
        return Font(self.data, axes)

    @property
    def covers(self) -> str:
        """Every character the font has a glyph for, controls and halves of pairs left out."""
        return "".join(
            c
            for c in map(chr, sorted(self.coverage))
            if unicodedata.category(c) not in ("Cc", "Cs") and self.draws(c)
        )

    def draws(self, character: str) -> bool:
        """Whether the font has a glyph for a character, with ink where there should be some."""
        if ord(character) not in self.coverage:
            return False
        if unicodedata.category(character)[0] not in "LNPS" or character in _BLANK:
            return True
        extents = self._font.get_glyph_extents(self._font.get_nominal_glyph(ord(character)) or 0)
        return extents is not None and (extents.width != 0 or extents.height != 0)

    def missing(self, text: str) -> list[str]:
        """Characters of the text that the font cannot draw, each once, in order."""
        return [c for c in dict.fromkeys(c for c in text if not c.isspace()) if not self.draws(c)]

    def shape(self, text: str, features: Features | None = None) -> list[Glyph]:
        """Glyphs of the text in visual order, kerned, ligated and reordered by HarfBuzz."""
        if not text:
            return []
        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        hb.shape(self._font, buffer, dict(features or {}))
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

    def outline(self, index: int) -> Outline:
        """A glyph's outline about its own origin, overlapping strokes welded."""
        if index not in self._outlines:
            self._outlines[index] = Outline(self._draw(index).region("nonzero"))
        return self._outlines[index]

    def glyph(self, index: int) -> Region:
        return self.outline(index).region

    def sketch(self, text: str, features: Features | None = None) -> tuple[str, Box | None]:
        """A text as the font draws it, for looking at: SVG path data and its box.

        Strokes are not welded, so this costs next to nothing; fill it by the nonzero rule.
        """
        svg, bounds = SVGPathPen(None, lambda value: f"{value:.1f}"), ControlBoundsPen(None)
        for glyph in self.shape(text, features):
            scale = (self._scale, 0.0, 0.0, -self._scale, glyph.x, glyph.y)
            for pen in (svg, bounds):
                self._font.draw_glyph_with_pen(glyph.index, TransformPen(pen, scale))
        return svg.getCommands(), bounds.bounds

    @cached_property
    def joins(self) -> bool:
        """Whether this is a joining script: most of its small letters touch the next one."""
        # Letters that join cross each other's outlines, so the strokes as drawn tell it and none is welded.
        glyphs = self.shape(_JOINING_SAMPLE)
        boxes = [(g, box) for g in glyphs if (box := self._font.get_glyph_extents(g.index)) and box.width]
        meeting = sum(
            a.x + (box.x_bearing + box.width) * self._scale >= b.x + other.x_bearing * self._scale
            for (a, box), (b, other) in zip(boxes, boxes[1:], strict=False)
        )
        if meeting < _JOINING * (len(boxes) - 1 - _JOINING_SAMPLE.count(" ")):
            return False
        lines = {index: self._draw(index).lines(_JOINING_CHORDS) for index in {g.index for g in glyphs}}
        drawn = [shapely.transform(lines[g.index], lambda xy, g=g: xy + (g.x, g.y)) for g in glyphs]
        pairs = [(a, b) for a, b in zip(drawn, drawn[1:], strict=False) if not (a.is_empty or b.is_empty)]
        touching = sum(bool(shapely.intersects(a, b)) for a, b in pairs)
        return bool(pairs) and touching >= _JOINING * len(pairs)

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


def _clamped(value: float, axis: Axis) -> float:
    return min(axis.high, max(axis.low, value))
