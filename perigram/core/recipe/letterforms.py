"""What a palette shows of a Letter line: other forms of one letter, and its font's features."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from perigram.core.errors import PerigramError
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.region import Region
from perigram.core.lettering.fonts import Font
from perigram.core.lettering.forms import NAMES, Feature, changing, features_of, forms_of
from perigram.core.lettering.letters import letters_of
from perigram.core.lettering.rows import Setting, set_letters
from perigram.core.recipe.kinds import Sources
from perigram.core.recipe.lines.letter import Letter, shown, switches


@dataclass(frozen=True)
class DrawnForm:
    """A form of a letter: the code designs keep it by, none for the plain one; its name; its outline."""

    code: str | None
    name: str
    region: Region


def forms(line: Letter, row: int, at: int, sources: Sources) -> list[DrawnForm]:
    """The plain form of a letter and all others it can take where it stands.

    Raises:
        PerigramError: when there is no such letter.
    """
    font, text, places = _text(line, row, sources)
    if at not in places:
        raise PerigramError("This letter is not there any more. Pick another one.")
    place, switched = places.index(at), switches(line)
    plain = next((one for one in letters_of(font, text, switched) if one.at == place), None)
    if plain is None:
        return []
    tags = [feature.tag for feature in features_of(font)]
    others = [
        DrawnForm(
            form.code,
            NAMES.get(form.tag, "Another form"),
            weld([font.glyph(index) for index in form.glyphs]),
        )
        for form in forms_of(font, text, place, tags, switched)
    ]
    return [DrawnForm(None, "As the font sets it", plain.outline.region), *others]


def features(line: Letter, sources: Sources) -> list[tuple[Feature, bool, Region]]:
    """The features of a line's font: each, whether it changes the words, and the words with it
    switched over.
    """
    font = sources.font(line.font, line.axes)
    text = " ".join("".join(c for c, _ in shown(row.text, line.case)) for row in line.rows if not row.font)
    text = "".join(c for c in text if c not in font.missing(text))
    switched = switches(line)
    offered = features_of(font)
    different = changing(font, text, offered, switched)
    return [
        (f, f in different, _words(font, text[:40], {**switched, f.tag: not is_on(f, switched)}))
        for f in offered
    ]


def is_on(feature: Feature, switched: Mapping[str, bool]) -> bool:
    return switched.get(feature.tag, feature.on)


def _words(font: Font, text: str, switched: Mapping[str, bool]) -> Region:
    return weld(set_letters(letters_of(font, text, switched), Setting(10.0, "tall", "font")).bodies)


def _text(line: Letter, row: int, sources: Sources) -> tuple[Font, str, list[int]]:
    if not 0 <= row < len(line.rows):
        raise PerigramError("This row is not there any more. Pick another letter.")
    font = sources.font(line.rows[row].font or line.font, line.axes)
    made = shown(line.rows[row].text, line.case)
    missing = font.missing("".join(c for c, _ in made))
    kept = [(c, at) for c, at in made if c not in missing]
    return font, "".join(c for c, _ in kept), [at for _, at in kept]
