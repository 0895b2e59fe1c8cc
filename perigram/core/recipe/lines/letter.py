"""Letter: live rows of words."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, FiniteFloat

from perigram.core.geometry import measure
from perigram.core.geometry.region import Region
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
    place: Place = slot("place", "Place", Place())


def run(line: Letter, tools: Tools) -> Outcome:
    font = tools.sources.font(line.font)
    texts = [row.text.strip() for row in line.rows]
    notes: list[Note] = []
    missing = font.missing("".join(texts))
    if missing:
        shown = ", ".join(f"“{c}”" for c in missing[:6])
        notes.append(Note("stop", f"{font.family} has no {shown}. Choose a font that has, or other words."))
    texts = ["".join(c for c in text if c not in missing) for text in texts]
    values = line.model_dump_json(exclude={"id", "off", "place", "rows"})
    key = ("letter", tuple(texts), values)

    def block() -> Region:
        rows = [
            set_row(letters_of(font, text), line.size, line.fit, line.spacing, line.gap)
            for text in texts
            if text
        ]
        return stack_rows(rows, [_gap(line.row_gap, row) for row in rows], line.align)

    region = tools.memo(key, block)
    return Outcome({"letters": placed(region, line.place, tools)}, notes)


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
