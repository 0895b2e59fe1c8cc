"""What a palette shows of a Letter line: other forms of one letter, and its font's features."""

from __future__ import annotations

from dataclasses import dataclass

from perigram.core.errors import PerigramError
from perigram.core.geometry.measure import Box
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.region import Region
from perigram.core.lettering.fonts import Font
from perigram.core.lettering.forms import NAMES, Feature, changing, features_of, forms_of
from perigram.core.lettering.letters import letters_of
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


@dataclass(frozen=True)
class FeatureShown:
    """A feature of a line's font: whether it is on, whether switching it over would change the words,
    and how they would look then: SVG path data and its box.
    """

    feature: Feature
    on: bool
    changes: bool
    sketch: tuple[str, Box | None]


def features(line: Letter, sources: Sources) -> list[FeatureShown]:
    """The features of a line's font, on the words of its rows."""
    font = sources.font(line.font, line.axes)
    text = " ".join("".join(c for c, _ in shown(row.text, line.case)) for row in line.rows if not row.font)
    missing = font.missing(text)
    text = "".join(c for c in text if c not in missing)[:40]
    switched = switches(line)
    offered = features_of(font)
    different = changing(font, text, offered, switched)
    found = []
    for feature in offered:
        on = switched.get(feature.tag, feature.on)
        sketch = font.sketch(text, {**switched, feature.tag: not on})
        found.append(FeatureShown(feature, on, feature in different, sketch))
    return found


def _text(line: Letter, row: int, sources: Sources) -> tuple[Font, str, list[int]]:
    if not 0 <= row < len(line.rows):
        raise PerigramError("This row is not there any more. Pick another letter.")
    font = sources.font(line.rows[row].font or line.font, line.axes)
    made = shown(line.rows[row].text, line.case)
    missing = font.missing("".join(c for c, _ in made))
    kept = [(c, at) for c, at in made if c not in missing]
    return font, "".join(c for c, _ in kept), [at for _, at in kept]
