"""Letter: live rows of words."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from string import capwords
from typing import Annotated, Literal

from pydantic import Field, FiniteFloat

from perigram.core.geometry import measure
from perigram.core.geometry.region import Region
from perigram.core.lettering.fonts import Font
from perigram.core.lettering.rows import letters_of, set_row, stack_rows
from perigram.core.recipe.kinds import Kind, Note, Outcome, Tools, placed
from perigram.core.recipe.values import Gap, Line, Place, Row, length, slot


class Letter(Line):
    kind: Literal["letter"] = "letter"
    rows: Annotated[list[Row], Field(max_length=40)] = slot("rows", "Rows", [Row(text="NEW WORDS")])
    font: Annotated[str, Field(max_length=80)] = slot("font", "Font", "anton")
    size: FiniteFloat = length("Size of each row", 200.0, low=1.0, high=3000.0, step=1.0)
    fit: Literal["wide", "tall"] = slot(
        "choice", "Rows share", "wide", choices={"wide": "wide", "tall": "tall"}
    )
    gap: FiniteFloat = length("Gap between letters", 0.8, low=-20.0, high=200.0)
    spacing: Literal["clear", "font"] = slot(
        "choice",
        "How letters are spaced",
        "clear",
        choices={"clear": "apart", "font": "beyond the font's"},
    )
    row_gap: Gap = slot("gap", "Gap between rows", Gap(), low=-200.0, high=500.0, step=0.5)
    align: Literal["left", "centre", "right"] = slot(
        "choice", "Rows stand", "centre", choices={"left": "left", "centre": "centred", "right": "right"}
    )
    #: edited with the rows
    case: Literal["typed", "upper", "title"] = "typed"
    place: Place = slot("place", "Place", Place())


def run(line: Letter, tools: Tools) -> Outcome:
    notes: list[Note] = []
    rows: list[tuple[Row, Font, str]] = []
    for number, row in enumerate(line.rows, 1):
        if row.size is not None and not 1.0 <= row.size <= 3000.0:
            notes.append(Note("stop", f"Row {number} can be 1 to 3000 mm, not {row.size:g} mm."))
            continue
        if not 20.0 <= row.stretch <= 500.0:
            notes.append(
                Note("stop", f"Row {number} can be stretched to 20 to 500 %, not {row.stretch:g} %.")
            )
            continue
        font = tools.sources.font(row.font or line.font)
        text = _CASES[line.case](row.text.strip())
        missing = font.missing(text)
        if missing:
            notes.append(Note("stop", _says_missing(font, missing, tools)))
        text = "".join(c for c in text if c not in missing)
        if text:
            rows.append((row, font, text))
    values = line.model_dump_json(exclude={"id", "off", "place"})

    def block() -> Region:
        made = [_row(line, row, font, text) for row, font, text in rows]
        return stack_rows(made, [_gap(line.row_gap, row) for row in made], line.align)

    region = tools.memo(("letter", values, tuple(text for _, _, text in rows)), block)
    return Outcome({"letters": placed(region, line.place, tools)}, notes)


_CASES: dict[str, Callable[[str], str]] = {"typed": str, "upper": str.upper, "title": capwords}


def _row(line: Letter, row: Row, font: Font, text: str) -> Region:
    """One row at its size; stretched, it is set narrower or wider first, so that gaps stay as they are."""
    share = row.stretch / 100.0
    letters = letters_of(font, text)
    if share != 1.0:
        letters = [
            replace(one, region=one.region.scaled(share, 1.0), space_before=share * one.space_before)
            for one in letters
        ]
    return set_row(letters, row.size or line.size, line.fit, line.spacing, line.gap)


def _says_missing(font: Font, missing: list[str], tools: Tools) -> str:
    shown = ", ".join(f"“{c}”" for c in missing[:6])
    having = tools.sources.fonts_with("".join(missing))
    if not having:
        return f"{font.family} has no {shown}, nor has any other font here. Use other words."
    names = " or ".join(having[:2]) if len(having) < 3 else f"{', '.join(having[:2])} or {having[2]}"
    return f"{font.family} has no {shown}. {names} {'has' if len(having) == 1 else 'have'}."


def _gap(gap: Gap, row: Region) -> float:
    """A row's gap to the one above in mm; a percentage is of its own height."""
    box = measure.bounds(row)
    if gap.of == "mm" or box is None:
        return gap.value
    return gap.value / 100.0 * (box[3] - box[1])


KIND = Kind(
    Letter,
    name="Letter",
    sentence="Letter {rows} in {font}, each row {size} {fit}, letters {gap} {spacing}, "
    "rows {row_gap} apart and {align}, {place}",
    words=("text", "words", "lettering", "type", "name", "font", "row"),
    results={"letters": "letters"},
    run=run,
    ply="Lettering",
)
