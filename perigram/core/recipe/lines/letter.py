"""Letter: live rows of words."""

from __future__ import annotations

import unicodedata
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, Field, FiniteFloat

from perigram.core.errors import GeometryError
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.region import Region
from perigram.core.geometry.regularise import sound
from perigram.core.lettering.fonts import GLYPH_CAP_HEIGHT, Font
from perigram.core.lettering.letters import Letter as Shaped
from perigram.core.lettering.letters import Own, letters_of
from perigram.core.lettering.rows import (
    LEAST_SCALE,
    Even,
    Lead,
    SetRow,
    Setting,
    open_joins,
    root,
    set_even,
    set_letters,
    stack,
)
from perigram.core.recipe.kinds import Kind, Naming, Note, Outcome, Start, Tools
from perigram.core.recipe.parts import Made, Part
from perigram.core.recipe.placing import matched, placing
from perigram.core.recipe.values import Gap, Line, OwnLetter, Place, Row, length, limits, slot

#: Letters set so many times larger than glyphs are read are looked at once more.
_LARGE = 3.0
#: New words lie so many mm below what is there.
_BELOW = 8.0
#: Characters of words by which they are called.
_LONG = 32
#: An OpenType feature switched on ("dlig") or off ("-liga").
Switch = Annotated[str, Field(pattern=r"^-?[A-Za-z0-9]{4}$")]
AxisTag = Annotated[str, Field(pattern=r"^[ -~]{4}$")]


class Letter(Line):
    kind: Literal["letter"] = "letter"
    rows: Annotated[list[Row], Field(max_length=40)] = slot("rows", "Rows", [Row(text="NEW WORDS")])
    font: Annotated[str, Field(max_length=80)] = slot("font", "Font", "anton")
    size: FiniteFloat = length("Size of each row", 200.0, low=1.0, high=3000.0, step=1.0)
    fit: Literal["wide", "tall"] = slot(
        "choice", "Rows share", "wide", choices={"wide": "wide", "tall": "tall"}
    )
    # As tight as they go: what still weeds cleanly in most materials (common practice).
    gap: FiniteFloat = length("Gap between letters", 0.3, low=-20.0, high=200.0, measure=True)
    spacing: Literal["clear", "font"] = slot(
        "choice",
        "How letters are spaced",
        "clear",
        choices={"clear": "apart", "font": "beyond the font's"},
    )
    row_gap: Gap = slot("gap", "Gap between rows", Gap(), low=-200.0, high=500.0, step=0.5, scales="measure")
    align: Literal["left", "centre", "right", "even"] = slot(
        "choice",
        "Rows stand",
        "centre",
        choices={"left": "left", "centre": "centred", "right": "right", "even": "even on both sides"},
    )
    place: Place = slot("place", "Place", Place())
    # Edited with the rows, the font and the letters:
    case: Literal["typed", "upper", "title"] = "typed"
    #: what gives way in rows that are even on both sides
    gives: Even = "gaps"
    #: gaps within the words of a joining script: as the font has them, or closed
    joins: Literal["font", "closed"] = "font"
    features: Annotated[list[Switch], Field(max_length=60)] = []
    #: where a variable font is on its axes
    axes: Annotated[dict[AxisTag, FiniteFloat], Field(max_length=40)] = {}


@dataclass(frozen=True)
class _Words:
    """A row ready to be set; `at` are the places its characters have in the row as typed."""

    number: int
    row: Row
    font: Font
    text: str
    at: tuple[int, ...]
    setting: Setting


@dataclass(frozen=True, eq=False)
class _Block:
    """Rows as set, where each goes, and what is kept of the height they come to."""

    rows: list[SetRow]
    places: list[tuple[float, float]]

    @property
    def box(self) -> tuple[float, float]:
        boxes = [
            np.array(row.shape.bounds) + (x, y, x, y)
            for row, (x, y) in zip(self.rows, self.places, strict=True)
        ]
        low, high = np.min(boxes, axis=0), np.max(boxes, axis=0)
        return float(high[2] - low[0]), float(high[3] - low[1])

    @property
    def levels(self) -> list[float]:
        """Baseline and cap line of each row."""
        return [
            level
            for row, (_, y) in zip(self.rows, self.places, strict=True)
            for level in (y, y - row.scale * GLYPH_CAP_HEIGHT)
        ]

    def bodies(self) -> list[list[Region]]:
        return [row.placed(*place) for row, place in zip(self.rows, self.places, strict=True)]


def run(line: Letter, tools: Tools) -> Outcome:
    words, notes = _read(line, tools)
    if not words:
        return Outcome({"letters": Made(Region.empty())}, notes)
    wide, tall = matched(line.place, tools)
    key = ("letter", wide, tall, *(_key(line, one) for one in words))

    def make() -> tuple[_Block, Region]:
        block = _fitted(line, words, wide, tall, tools)
        region = weld([body for row in block.bodies() for body in row])
        # Outlines of a glyph that touch as it was drawn may cross by what shows at this size.
        large = any(row.scale > _LARGE for row in block.rows)
        return block, sound(region) if large else region

    block, region = tools.memo(key, make)
    stretch = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
    if wide and tall:
        stretch[1, 1] = tall / block.box[1]
    matrix = placing(region.transformed(stretch), line.place, tools)
    full = matrix @ np.vstack([stretch, [0.0, 0.0, 1.0]])
    for one, row, place in zip(words, block.rows, block.places, strict=True):
        notes += _says_open_joins(one, row, place, full)
    made = Made(region, lambda: _parts(words, block), block.levels)
    return Outcome({"letters": made.moved(full)}, notes)


def _parts(words: list[_Words], block: _Block) -> list[Part]:
    """Every letter where it stands in the block."""
    return [
        Part((one.number - 1, one.at[letter.at]), letter.text, body, _standing(body, place[1]))
        for one, row, place, bodies in zip(words, block.rows, block.places, block.bodies(), strict=True)
        for letter, body in zip(row.letters, bodies, strict=True)
    ]


def _standing(body: Region, baseline: float) -> Floats:
    """The frame of a letter that stands upright on a baseline."""
    low, high = body.start[:, 0].min(), body.start[:, 0].max()
    return np.array([[1.0, 0.0, (low + high) / 2.0], [0.0, 1.0, baseline]])


def _read(line: Letter, tools: Tools) -> tuple[list[_Words], list[Note]]:
    """The rows with something to set, and what is wrong with the others."""
    words: list[_Words] = []
    notes: list[Note] = []
    for number, row in enumerate(line.rows, 1):
        wrong = _out_of_range(number, row)
        if wrong:
            notes += [Note("stop", text) for text in wrong]
            continue
        font = tools.sources.font(row.font or line.font, line.axes)
        made = composed(shown(row.text, line.case), font)
        missing = font.missing("".join(c for c, _ in made))
        if missing:
            notes.append(Note("stop", _says_missing(font, missing, tools)))
        made = [(c, at) for c, at in made if c not in missing]
        if made:
            setting = Setting(
                row.size or line.size,
                row.fit or line.fit,
                row.spacing or line.spacing,
                line.gap if row.gap is None else row.gap,
                script=font.joins,
                closed=line.joins == "closed" and font.joins,
            )
            text, at = "".join(c for c, _ in made), tuple(at for _, at in made)
            words.append(_Words(number, row, font, text, at, setting))
    # Characters can be there and draw nothing: joiners, marks of direction.
    return [one for one in words if _letters(line, one, 1.0, tools)], notes


def _out_of_range(number: int, row: Row) -> list[str]:
    wrong = []

    def outside(value: float | None, model: type[BaseModel], name: str) -> str | None:
        low, high = limits(model, name)
        return None if value is None or low <= value <= high else f"{low:g} to {high:g}"

    if span := outside(row.size, Row, "size"):
        wrong.append(f"Row {number} can be {span} mm, not {row.size:g} mm.")
    if span := outside(row.stretch, Row, "stretch"):
        wrong.append(f"Row {number} can be stretched to {span} %, not {row.stretch:g} %.")
    if row.above and (span := outside(row.above.value, Row, "above")):
        unit = "mm" if row.above.of == "mm" else "%"
        wrong.append(f"The gap above row {number} can be {span} {unit}, not {row.above.value:g} {unit}.")
    if span := outside(row.gap, Row, "gap"):
        wrong.append(f"The letters of row {number} can be {span} mm apart, not {row.gap:g} mm.")
    for own in row.own:
        if span := outside(own.wide, OwnLetter, "wide") or outside(own.tall, OwnLetter, "tall"):
            wrong.append(f"A letter of row {number} can be {span} % of its size.")
        if outside(own.x, OwnLetter, "x") or outside(own.y, OwnLetter, "y"):
            wrong.append(f"A letter of row {number} can be moved by up to {limits(OwnLetter, 'x')[1]:g} mm.")
    return wrong


_CASES: dict[str, Callable[[str, bool], str]] = {
    "typed": lambda c, _: c,
    "upper": lambda c, _: c.upper(),
    "title": lambda c, first: c.upper() if first else c.lower(),
}


def shown(text: str, case: str) -> list[tuple[str, int]]:
    """The characters to set, each with the place of the one it stands for; outer spaces left out."""
    made: list[tuple[str, int]] = []
    for at, c in enumerate(text):
        first = at == 0 or text[at - 1].isspace()
        made += [(one, at) for one in _CASES[case](c, first)]
    inked = [i for i, (c, _) in enumerate(made) if not c.isspace()]
    return made[inked[0] : inked[-1] + 1] if inked else []


def composed(made: list[tuple[str, int]], font: Font) -> list[tuple[str, int]]:
    """Letters typed as a letter and an accent after it, as the font's one letter where it has that."""
    out: list[tuple[str, int]] = []
    for c, at in made:
        one = unicodedata.normalize("NFC", out[-1][0] + c) if out and unicodedata.combining(c) else ""
        if len(one) == 1 and ord(one) in font.coverage:
            out[-1] = (one, out[-1][1])
        else:
            out.append((c, at))
    return out


def switches(line: Letter) -> dict[str, bool]:
    """The line's OpenType features switched on or off."""
    return {tag.lstrip("-"): not tag.startswith("-") for tag in line.features}


def _key(line: Letter, words: _Words) -> tuple[object, ...]:
    """All that a row as set depends on, and the block it stands in."""
    row = words.row.model_dump_json()
    shared = (line.align, line.gives, line.row_gap.model_dump_json())
    return (*_shaped(line, words), words.at, words.setting, row, *shared)


def _shaped(line: Letter, words: _Words) -> tuple[object, ...]:
    """All that shaping a row depends on but what a hand did."""
    axes = tuple(sorted(line.axes.items()))
    return (words.row.font or line.font, axes, words.text, *line.features)


def _set(line: Letter, words: _Words, factor: float, tools: Tools) -> SetRow:
    """One row at its size; stretched, it is set narrower or wider first, so that gaps stay as they are."""
    setting = words.setting if factor == 1.0 else _times(words.setting, factor)

    def make() -> SetRow:
        letters = _letters(line, words, factor, tools)
        share = words.row.stretch / 100.0
        return set_letters([one.stretched(share) for one in letters] if share != 1.0 else letters, setting)

    row: SetRow = tools.memo(("row", factor, _key(line, words)), make)
    return row


def _letters(line: Letter, words: _Words, factor: float, tools: Tools) -> list[Shaped]:
    own = _own(words, factor)
    key = ("letters", *_shaped(line, words), tuple(own.items()))
    letters: list[Shaped] = tools.memo(key, lambda: letters_of(words.font, words.text, switches(line), own))
    return letters


def _times(setting: Setting, factor: float) -> Setting:
    return Setting(
        setting.size * factor, setting.fit, setting.spacing, setting.gap, setting.script, setting.closed
    )


def _own(words: _Words, factor: float) -> dict[int, Own]:
    """What a hand changed, by places in the text that is set."""
    own = {one.at: one for one in words.row.own}
    return {
        place: _from(own[at], factor)
        for place, at in enumerate(words.at)
        if at in own and at not in words.at[:place]
    }


def _from(own: OwnLetter, factor: float) -> Own:
    form = None
    if own.form:
        tag, _, which = own.form.partition("=")
        form = (tag, int(which or 1))
    return Own(own.x * factor, own.y * factor, own.turn, own.wide / 100.0, own.tall / 100.0, form)


def _stacked(line: Letter, words: list[_Words], factor: float, tools: Tools) -> _Block:
    rows = [_set(line, one, factor, tools) for one in words]
    kept = [(one, row) for one, row in zip(words, rows, strict=True)]
    if line.align == "even":
        width = max(row.width for row in rows)
        kept = [
            (
                one,
                set_even(row, _times(one.setting, factor), width, line.gives)
                if row.width < width - 1e-6
                else row,
            )
            for one, row in kept
        ]
    leads = [_lead(one.row.above or line.row_gap, row, one.font) for one, row in kept]
    rows = [row for _, row in kept]
    return _Block(rows, stack(rows, leads, "left" if line.align == "even" else line.align))


def _fitted(
    line: Letter, words: list[_Words], wide: float | None, tall: float | None, tools: Tools
) -> _Block:
    """The block at its own size, or at the size that makes it as wide or tall as asked.

    Raises:
        GeometryError: when gaps in mm, which do not shrink with the letters, leave it larger than that.
    """
    block = _stacked(line, words, 1.0, tools)
    asked = wide or tall
    if asked is None:
        return block
    side = 0 if wide else 1
    now = block.box[side]

    def miss(factor: float) -> float:
        nonlocal block
        block = _stacked(line, words, factor, tools)
        if factor <= LEAST_SCALE and block.box[side] > asked:
            raise GeometryError(
                f"These rows cannot be {asked:.4g} mm {('wide', 'tall')[side]}: their gaps alone come to "
                f"{block.box[side]:.4g} mm. Take gaps nearer to 0 mm, or let the rows be larger."
            )
        return block.box[side] - asked

    root(miss, asked / now, now, LEAST_SCALE)
    return block


def _lead(gap: Gap, row: SetRow, font: Font) -> Lead:
    """A gap to the row above at the size the row is set."""
    if gap.of == "line":
        return Lead(gap.value / 100.0 * row.scale * font.line_height, "baseline")
    return Lead(gap.value if gap.of == "mm" else gap.value / 100.0 * row.height)


def _says_missing(font: Font, missing: list[str], tools: Tools) -> str:
    shown = ", ".join(_named(c) for c in missing[:6])
    having = tools.sources.fonts_with("".join(missing))
    if any(ord(c) in font.coverage for c in missing):
        shown += " that it can draw"
    if not having:
        return f"{font.family} has no {shown}, nor has any other font here. Use other words."
    names = " or ".join(having[:2]) if len(having) < 3 else f"{', '.join(having[:2])} or {having[2]}"
    return f"{font.family} has no {shown}. {names} {'has' if len(having) == 1 else 'have'}."


def _named(character: str) -> str:
    """A character as it can be read: those without ink or a place of their own by code and name."""
    if unicodedata.category(character)[0] not in "CMZ":
        return f"“{character}”"
    name = unicodedata.name(character, "").lower()
    return f"U+{ord(character):04X}" + (f" ({name})" if name else "")


def _says_open_joins(words: _Words, row: SetRow, place: tuple[float, float], matrix: Floats) -> list[Note]:
    """Where the script of a row does not join though it should."""
    if not words.setting.script or words.setting.closed:
        return []
    if words.setting.spacing == "font" and words.setting.gap > 0.0:
        # Tracked apart on purpose: it is no surprise that nothing joins.
        return []
    found = open_joins(row)
    if not found:
        return []
    pairs = [f"{row.letters[i].text}–{row.letters[i + 1].text} {round(apart, 2):g} mm" for i, apart in found]
    what = "1 gap" if len(pairs) == 1 else f"{len(pairs)} gaps"
    first = row.bodies[found[0][0] + 1].translated(*place).transformed(matrix)
    x0, y0 = (float(v) for v in first.start.min(axis=0))
    x1, y1 = (float(v) for v in first.start.max(axis=0))
    more = ", …" if len(pairs) > 3 else ""
    text = f"{what} in the script of “{words.text}”: {', '.join(pairs[:3])}{more}"
    close = "Close it" if len(pairs) == 1 else "Close them"
    return [Note("look", text, (x0, y0, x1, y1), (close, {"joins": "closed"}))]


def _starts(start: Start) -> dict[str, object]:
    """Below all that shows, held to what lies lowest there and as wide; else on what comes last."""
    feet = {start.boxes[ref][3]: ref for ref in start.free if ref in start.boxes}
    if not feet:
        return {"place": {"on": start.free[-1], "down": "below", "y": _BELOW}} if start.free else {}
    lowest = feet[max(feet)]
    left, _, right, foot = start.boxes[lowest]
    room = max([foot, *(box[3] for box in start.seen)]) - foot
    low, high = limits(Letter, "size")
    return {
        "size": min(max(round(right - left, 1), low), high),
        "place": {"on": lowest, "down": "below", "y": round(room + _BELOW, 1)},
    }


def _called(kind: Kind, line: Letter, name: str, naming: Naming) -> str:
    words = " ".join(row.text.strip() for row in line.rows if row.text.strip())
    return (words if len(words) <= _LONG else f"{words[: _LONG - 1].rstrip()}…") or "Words"


KIND = Kind(
    Letter,
    name="Letter",
    sentence="Letter {rows} in {font}, [rows>1:each row ]{size} {fit}, letters {gap} {spacing}, "
    "[rows>1:rows {row_gap} and {align}, ]{place}",
    words=("text", "words", "lettering", "type", "name", "font", "script", "row"),
    results={"letters": "letters"},
    run=run,
    ply="Lettering",
    called=_called,
    starts=_starts,
)
