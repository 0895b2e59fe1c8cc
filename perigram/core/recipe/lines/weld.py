"""Weld: several things made one."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field, FiniteFloat

from perigram.core.combine.joining import MOST_PIECES, apart, close_gaps
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.region import Region
from perigram.core.recipe.kinds import Kind, Note, Outcome, Start, Tools
from perigram.core.recipe.parts import Made
from perigram.core.recipe.values import Line, Ref, length, slot


class Weld(Line):
    kind: Literal["weld"] = "weld"
    of: Annotated[list[Ref], Field(max_length=60)] = slot("refs", "What is welded", [])
    close: FiniteFloat = length("Gaps closed", 0.0, low=0.0, high=50.0, measure=True)
    asked: Literal["any", "one"] = slot(
        "choice", "How many pieces", "any", choices={"any": "as many pieces as there are", "one": "one piece"}
    )


def run(line: Weld, tools: Tools) -> Outcome:
    region = weld([tools.region(ref) for ref in line.of])
    if line.close:
        figure, x, y = region.at_origin()
        key = ("closed", figure.digest(), line.close)
        region = tools.memo(key, lambda: close_gaps(figure, line.close)).translated(x, y)
    count = region.piece_count
    notes = [Note("holds", "One piece" if count == 1 else f"{count} pieces")]
    if line.asked == "one" and count > 1:
        notes = [_says_apart(region, count)]
    levels = [level for ref in line.of for level in tools.inputs[ref].levels]
    return Outcome({"weld": Made(region, levels=levels)}, notes)


def _says_apart(region: Region, count: int) -> Note:
    found = apart(region)
    if found is None:
        return Note("look", f"{count} pieces, not one; more than {MOST_PIECES} are not compared.")
    width = float(np.ceil(found.gap * 10.0 + 1.0) / 10.0)
    text = f"{count} pieces, not one: the widest gap between them is {found.gap:.2f} mm"
    mend = (f"Close gaps of {width:g} mm", {"close": width}) if width <= 50.0 else None
    return Note("look", text, found.place, mend)


def _starts(start: Start) -> dict[str, object]:
    """What is chosen or, of one thing, it and the newest other; else the two newest."""
    if len(start.chosen) > 1:
        return {"of": list(start.chosen)}
    if len(start.free) < 2:
        return {"of": list(start.free)}
    tool, of = start.pair()
    return {"of": [*start.chosen, *(ref for ref in (*of, *tool) if ref not in start.chosen)]}


KIND = Kind(
    Weld,
    name="Weld",
    sentence="Weld {of}, closing gaps under {close}, into {asked}",
    words=("weld", "union", "join", "merge", "unite", "combine", "one piece", "attach", "group"),
    results={"weld": "weld"},
    run=run,
    replaces={"weld": "of"},
    starts=_starts,
)
