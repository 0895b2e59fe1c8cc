"""Knock out: a picture cleared out of words, and the picture as it shows in them."""

from __future__ import annotations

from typing import Literal

from pydantic import FiniteFloat

from perigram.core.geometry.overlay import cut_away, divide, overlap
from perigram.core.recipe.growing import grown
from perigram.core.recipe.kinds import Kind, Note, Outcome, Start, Tools
from perigram.core.recipe.refs import result_of
from perigram.core.recipe.values import Line, Ref, length, slot


class KnockOut(Line):
    kind: Literal["knock_out"] = "knock_out"
    picture: Ref = slot("ref", "What is knocked out", "")
    target: Ref = slot("ref", "Out of what", "")
    clearance: FiniteFloat = length("Clearance", 1.5, low=-20.0, high=50.0)
    holes: Literal["kept", "filled"] = slot(
        "choice", "Holes of the picture", "kept", choices={"kept": "kept", "filled": "filled"}
    )
    shows: Literal["within", "whole"] = slot(
        "choice",
        "The picture shows",
        "within",
        choices={"within": "only within the words", "whole": "whole"},
    )


def run(line: KnockOut, tools: Tools) -> Outcome:
    of, out_of = tools.inputs[line.picture], tools.inputs[line.target]
    picture, target = of.region, out_of.region
    cleared, notes = picture, list[Note]()
    if line.clearance == 0.0 and line.holes == "kept":
        # Both halves of a butt fit from one cut, so that they meet to the bit.
        remains, within = divide(target, picture)
    else:
        cleared, notes = grown(tools, picture, line.clearance, filled=line.holes == "filled")
        remains = cut_away(target, cleared)
        within = overlap(picture, target)
    left = out_of.reduced(remains, lambda part: cut_away(part, cleared))
    shows = of.reduced(within, lambda part: overlap(part, target)) if line.shows == "within" else of
    if within.is_empty:
        text = "The picture does not touch what it is knocked out of; nothing was cut."
        notes = [*notes, Note("look", text)]
    return Outcome({"remains": left, "shows": shows}, notes)


def _starts(start: Start) -> dict[str, object]:
    """The newest thing out of the newest lettering before it, or out of what comes before it."""
    if len(start.free) < 2:
        return {}
    *earlier, newest = start.free
    words = [ref for ref in earlier if result_of(ref) == "letters"]
    return {"picture": newest, "target": (words or earlier)[-1]}


KIND = Kind(
    KnockOut,
    name="Knock out",
    sentence="Knock {picture} out of {target}, leaving {clearance} clear, "
    "its holes {holes}, showing it {shows}",
    words=("knockout", "cut out", "subtract", "clear", "slice", "butt fit", "overlap", "punch"),
    results={"remains": "words", "shows": "picture"},
    run=run,
    replaces={"remains": "target", "shows": "picture"},
    starts=_starts,
)
