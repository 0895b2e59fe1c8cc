"""The letters of a row: shaped clusters, each with what a hand has changed about it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from perigram.core.geometry.overlay import weld
from perigram.core.lettering.fonts import Features, Font, Glyph
from perigram.core.lettering.outline import Outline


@dataclass(frozen=True)
class Own:
    """What one letter has of its own: what a hand has changed about it.

    Attributes:
        x, y: moved by so many mm at the size it is cut.
        turn: degrees clockwise about its middle.
        wide, tall: its width and height over the font's own, about its middle on the baseline.
        form: the OpenType feature its other form comes from, and which of that feature's forms.
    """

    x: float = 0.0
    y: float = 0.0
    turn: float = 0.0
    wide: float = 1.0
    tall: float = 1.0
    form: tuple[str, int] | None = None


@dataclass(frozen=True, eq=False)
class Letter:
    """One shaped cluster at `GLYPH_CAP_HEIGHT`, placed as the font sets it.

    Attributes:
        at: its first character's place in the text.
        text: the characters it stands for.
        space_before: the width of the spaces before it.
        nudge: mm it is moved by at the size it is cut.
    """

    at: int
    text: str
    outline: Outline
    space_before: float = 0.0
    nudge: tuple[float, float] = (0.0, 0.0)

    def stretched(self, share: float) -> Letter:
        """Its width, and the space before it, times so much; the gaps between letters are not its own."""
        return replace(self, outline=self.outline.scaled(share, 1.0), space_before=share * self.space_before)


def letters_of(
    font: Font,
    text: str,
    features: Mapping[str, bool] | None = None,
    own: Mapping[int, Own] | None = None,
) -> list[Letter]:
    """The letters of a row, one a cluster, in visual order; spaces widen the gap that follows.

    Args:
        features: OpenType features switched on or off for the whole row.
        own: by a character's place in the text; one for a place within a ligature is left alone.
    """
    own = own or {}
    glyphs = font.shape(text, ranged(features or {}, own, len(text)))
    starts = sorted({g.cluster for g in glyphs})
    ends = dict(zip(starts, [*starts[1:], len(text)], strict=True))
    letters: list[Letter] = []
    space = 0.0
    for cluster in dict.fromkeys(g.cluster for g in glyphs):
        members = [g for g in glyphs if g.cluster == cluster]
        outline = _outline(font, members)
        if outline.region.is_empty:
            space += sum(g.advance for g in members)
            continue
        letter = Letter(cluster, text[cluster : ends[cluster]], outline, space)
        letters.append(_changed(letter, own[cluster]) if cluster in own else letter)
        space = 0.0
    return letters


def ranged(features: Mapping[str, bool], own: Mapping[int, Own], length: int) -> Features:
    """Features for the whole text and for single letters, as HarfBuzz takes them."""
    made: dict[str, list[tuple[int, int, int]]] = {
        tag: [(0, length, int(on))] for tag, on in features.items()
    }
    for at, one in own.items():
        if one.form:
            tag, which = one.form
            made.setdefault(tag, []).append((at, at + 1, which))
    return made


def _outline(font: Font, glyphs: Sequence[Glyph]) -> Outline:
    if len(glyphs) == 1:
        return font.outline(glyphs[0].index).moved(glyphs[0].x, glyphs[0].y)
    return Outline(weld([font.glyph(g.index).translated(g.x, g.y) for g in glyphs]))


def _changed(letter: Letter, own: Own) -> Letter:
    outline = letter.outline
    if (own.wide, own.tall) != (1.0, 1.0):
        middle = (outline.box[0] + outline.box[2]) / 2
        outline = outline.moved(-middle, 0.0).scaled(own.wide, own.tall).moved(middle, 0.0)
    if own.turn:
        x0, y0, x1, y1 = outline.box
        outline = Outline(outline.region.rotated(own.turn, (x0 + x1) / 2, (y0 + y1) / 2))
    return replace(letter, outline=outline, nudge=(own.x, own.y))
