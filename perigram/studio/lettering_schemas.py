"""What the calls on fonts, letters and glyphs take and give."""

from __future__ import annotations

from ninja import Schema

from perigram.studio.schemas import Drawn, LineIn


class AxisOut(Schema):
    tag: str
    name: str
    low: float
    default: float
    high: float


class FontOut(Schema):
    id: str
    name: str
    tags: list[str]
    #: brought in by the shop; what follows is known of such fonts
    own: bool = False
    kind: str = ""
    embedding: str = ""
    licence: str = ""
    characters: int = 0
    #: group of characters -> how many of how many it has
    coverage: dict[str, tuple[int, int]] = {}
    axes: list[AxisOut] = []


class FontPreview(Drawn):
    id: str


class FormOut(Drawn):
    """A form of a letter; no code for the plain one."""

    code: str | None
    name: str


class FeatureOut(Drawn):
    """A feature of the font, and the words as they would be with it switched over."""

    tag: str
    name: str
    on: bool
    changes: bool


class GlyphOut(Drawn):
    text: str
    name: str


class GlyphGroup(Schema):
    name: str
    glyphs: list[GlyphOut]


class LetterIn(LineIn):
    row: int
    at: int
