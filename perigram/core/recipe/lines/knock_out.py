"""Knock out: things cleared out of others, and what was knocked out as it shows in them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, FiniteFloat

from perigram.core.geometry.overlay import cut_away, divide, overlap, weld
from perigram.core.geometry.region import Region
from perigram.core.recipe.growing import grown
from perigram.core.recipe.kinds import Kind, Note, Outcome, Start, Tools
from perigram.core.recipe.parts import Made
from perigram.core.recipe.refs import result_of
from perigram.core.recipe.values import Line, Ref, length, slot


class KnockOut(Line):
    kind: Literal["knock_out"] = "knock_out"
    of: Annotated[list[Ref], Field(max_length=60)] = slot("refs", "What is knocked out", [])
    out_of: Annotated[list[Ref], Field(max_length=60)] = slot("refs", "Out of what", [])
    clearance: FiniteFloat = length("Clearance", 1.5, low=-20.0, high=50.0, measure=True)
    holes: Literal["kept", "filled"] = slot(
        "choice", "Holes of what is knocked out", "kept", choices={"kept": "kept", "filled": "filled"}
    )
    shows: Literal["within", "whole", "not"] = slot(
        "choice",
        "What is knocked out shows",
        "within",
        choices={"within": "only within", "whole": "whole", "not": "not at all"},
        plies=True,
    )


def run(line: KnockOut, tools: Tools) -> Outcome:
    for ref in line.of:
        if ref in line.out_of:
            return Outcome({}, [Note("stop", "A thing cannot be knocked out of itself. Choose another.")])
    # Things themselves, what is cleared for each, and whether there is nothing between them.
    cleared, notes = [], list[Note]()
    fits = line.clearance == 0.0 and line.holes == "kept"
    for ref in line.of:
        room, says = (tools.region(ref), []) if fits else _room(line, tools, ref)
        cleared.append(room)
        notes += [one for one in says if one not in notes]
    tool, ground = weld(cleared), weld([tools.region(ref) for ref in line.out_of])
    results = {}
    shown = {ref: tools.region(ref) for ref in line.of}
    if fits and len(line.of) == len(line.out_of) == 1:
        # Both halves of a butt fit from one cut, so that they meet to the bit.
        remains, within = divide(ground, tool)
        results[line.out_of[0]] = _left(tools.inputs[line.out_of[0]], remains, tool)
        shown = {line.of[0]: within}
    else:
        for ref in line.out_of:
            results[ref] = _left(tools.inputs[ref], cut_away(tools.region(ref), tool), tool)
        shown = {ref: overlap(region, ground) for ref, region in shown.items()}
    for ref, within in shown.items():
        if within.is_empty and not tools.region(ref).is_empty:
            which = "The picture" if len(line.of) == 1 else "One of the things"
            notes.append(Note("look", f"{which} does not touch what it is knocked out of; nothing was cut."))
        whole = tools.inputs[ref]
        if line.shows == "within":
            results[ref] = whole.reduced(within, lambda part: overlap(part, ground))
        elif line.shows == "whole":
            results[ref] = whole
    return Outcome(results, notes)


def _room(line: KnockOut, tools: Tools, ref: str) -> tuple[Region, list[Note]]:
    return grown(tools, tools.region(ref), line.clearance, filled=line.holes == "filled")


def _left(made: Made, remains: Region, tool: Region) -> Made:
    return made.reduced(remains, lambda part: cut_away(part, tool))


def _starts(start: Start) -> dict[str, object]:
    """The newest thing out of the newest lettering before it, or out of what comes before it."""
    if len(start.free) < 2:
        return {}
    *earlier, newest = start.free
    words = [ref for ref in earlier if result_of(ref) == "letters"]
    return {"of": [newest], "out_of": [(words or earlier)[-1]]}


KIND = Kind(
    KnockOut,
    name="Knock out",
    sentence="Knock {of} out of {out_of}, leaving {clearance} clear, its holes {holes}, showing it {shows}",
    words=("knockout", "cut out", "subtract", "clear", "butt fit", "overlap", "punch"),
    results={},
    run=run,
    each=("out_of", "of"),
    not_cut={"of": ("shows", "not")},
    starts=_starts,
)
