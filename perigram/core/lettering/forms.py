"""What a font offers beyond its plain letters: OpenType features, and other forms of one letter."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from io import BytesIO

from fontTools.ttLib import TTFont

from perigram.core.lettering.fonts import Font
from perigram.core.lettering.letters import Own, ranged

#: What a feature is called; tags and meanings are those of OpenType's registered features.
NAMES = {
    "liga": "Ligatures",
    "dlig": "Rare ligatures",
    "hlig": "Old ligatures",
    "calt": "Forms by neighbour",
    "clig": "Ligatures by neighbour",
    "swsh": "Swashes",
    "cswh": "Swashes by neighbour",
    "salt": "Other forms",
    "init": "Beginnings of words",
    "fina": "Ends of words",
    "titl": "Titling",
    "hist": "Old forms",
    "smcp": "Small capitals",
    "c2sc": "Capitals as small capitals",
    "case": "Signs at capital height",
    "onum": "Old-style figures",
    "lnum": "Lining figures",
    "pnum": "Figures each its width",
    "tnum": "Figures of one width",
    "zero": "Slashed zero",
    "frac": "Fractions",
    "ordn": "Ordinals",
    "sups": "Raised",
    "subs": "Lowered",
    "ornm": "Ornaments",
    **{f"ss{n:02}": f"Style set {n}" for n in range(1, 21)},
    **{f"cv{n:02}": f"Letter variant {n}" for n in range(1, 100)},
}
#: Features that shaping uses unless they are switched off (OpenType, registered features).
ON_BY_DEFAULT = frozenset({"liga", "clig", "calt", "kern", "locl", "ccmp", "rlig", "mark", "mkmk"})
#: Features that give a letter other forms; "aalt" gathers all of a font's.
_FORMS = ("swsh", "cswh", "salt", "init", "fina", "titl", "hist", "smcp", "ornm", "zero", "onum", "aalt")
_MOST_FORMS = 40


@dataclass(frozen=True)
class Feature:
    """A feature of a font: its tag, what it is called, and whether it is on unless switched off."""

    tag: str
    name: str
    on: bool


@dataclass(frozen=True)
class Form:
    """Another form of a letter: the feature it comes from, which of that feature's, and its glyphs."""

    tag: str
    which: int
    glyphs: tuple[int, ...]

    @property
    def code(self) -> str:
        """As designs keep it: "salt", "aalt=3"."""
        return self.tag if self.which == 1 else f"{self.tag}={self.which}"


def features_of(font: Font) -> list[Feature]:
    """The features a font substitutes glyphs by that a designer would choose, in the order above.

    Style sets the font names itself go by that name (OpenType, GSUB feature parameters).
    """
    tables = TTFont(BytesIO(font.data), lazy=True)
    table = tables["GSUB"].table if "GSUB" in tables else None
    found: dict[str, str] = {}
    for record in table.FeatureList.FeatureRecord if table and table.FeatureList else []:
        named = getattr(record.Feature.FeatureParams, "UINameID", None)
        own = tables["name"].getDebugName(named) if named else None
        if record.FeatureTag in NAMES:
            found.setdefault(record.FeatureTag, own or NAMES[record.FeatureTag])
    return [Feature(tag, found[tag], tag in ON_BY_DEFAULT) for tag in NAMES if tag in found]


def changing(font: Font, text: str, offered: list[Feature], switched: Mapping[str, bool]) -> list[Feature]:
    """Those of the features that make a difference to the text as it is set now."""

    def glyphs(features: Mapping[str, bool]) -> list[tuple[int, float]]:
        return [(g.index, g.x) for g in font.shape(text, dict(features))]

    now = glyphs(switched)
    return [f for f in offered if glyphs({**switched, f.tag: not switched.get(f.tag, f.on)}) != now]


def forms_of(font: Font, text: str, at: int, tags: list[str], switched: Mapping[str, bool]) -> list[Form]:
    """The other forms a letter can take where it stands, each once.

    Args:
        at: the letter's first character in the text.
        tags: the features the font has.
    """

    def glyphs(own: Own) -> tuple[int, ...]:
        shaped = font.shape(text, ranged(switched, {at: own}, len(text)))
        return tuple(g.index for g in shaped if g.cluster == at)

    seen = {glyphs(Own())}
    forms: list[Form] = []
    for tag in [t for t in tags if t in _FORMS or t[:2] in ("ss", "cv")] + ["aalt"]:
        for which in range(1, _MOST_FORMS):
            form = glyphs(Own(form=(tag, which)))
            if form in seen:
                break
            seen.add(form)
            if form and 0 not in form:
                forms.append(Form(tag, which, form))
    return forms[:_MOST_FORMS]
