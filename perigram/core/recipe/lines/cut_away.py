"""Cut away and keep within: things less others, and what of them lies within others."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal

from pydantic import Field, FiniteFloat

from perigram.core.combine.leavings import without_leavings
from perigram.core.geometry.clean import Removed
from perigram.core.geometry.overlay import cut_away, overlap, weld
from perigram.core.geometry.region import Region
from perigram.core.recipe.kinds import Kind, Naming, Note, Outcome, Start, Tools
from perigram.core.recipe.leaving import leaving, said_of
from perigram.core.recipe.values import Line, Ref, slot

_CUT = {"not": "not cut itself", "cut": "cut as well"}


class CutAway(Line):
    kind: Literal["cut_away"] = "cut_away"
    tool: Annotated[list[Ref], Field(max_length=60)] = slot("refs", "What is cut away", [])
    of: Annotated[list[Ref], Field(max_length=60)] = slot("refs", "From what", [])
    also: Literal["not", "cut"] = slot("choice", "What is cut away is", "not", choices=_CUT, plies=True)
    least: FiniteFloat = leaving()


class KeepWithin(Line):
    kind: Literal["keep_within"] = "keep_within"
    of: Annotated[list[Ref], Field(max_length=60)] = slot("refs", "What is kept", [])
    tool: Annotated[list[Ref], Field(max_length=60)] = slot("refs", "Within what", [])
    also: Literal["not", "cut"] = slot("choice", "What it is kept within is", "not", choices=_CUT, plies=True)
    least: FiniteFloat = leaving()


def _done(line: CutAway | KeepWithin, tools: Tools, by: Callable[[Region, Region], Region]) -> Outcome:
    """Each thing under an overlay with all tools together, its parts as well."""
    if set(line.of) & set(line.tool):
        return Outcome({}, [Note("stop", "A thing stands on both sides of this line. Choose another.")])
    tool = weld([tools.region(ref) for ref in line.tool])
    results, notes, removed = {}, list[Note](), list[Removed]()
    for ref in line.of:
        made = tools.inputs[ref]
        left = by(made.region, tool)
        if left is not made.region:
            cleared = without_leavings(left, made.region, line.least, holding=True)
            left = cleared.region
            removed += cleared.removed
        results[ref] = made.reduced(left, lambda part: by(part, tool))
        if left is made.region and not left.is_empty:
            notes.append(Note("look", "One of these does not meet what is cut away; nothing of it went."))
    if line.also == "cut":
        results |= {ref: tools.inputs[ref] for ref in line.tool}
    return Outcome(results, [*said_of(removed, line.least), *dict.fromkeys(notes)])


def _cut(line: CutAway, tools: Tools) -> Outcome:
    return _done(line, tools, cut_away)


def _kept(line: KeepWithin, tools: Tools) -> Outcome:
    return _done(line, tools, overlap)


def _starts(start: Start) -> dict[str, object]:
    tool, of = start.pair()
    return {"tool": tool, "of": of}


def _less(kind: Kind, line: CutAway, name: str, naming: Naming) -> str:
    return f"{naming.of(name)} less {naming.things(line.tool)}" if name in line.of else naming.of(name)


def _within(kind: Kind, line: KeepWithin, name: str, naming: Naming) -> str:
    return f"{naming.of(name)} within {naming.things(line.tool)}" if name in line.of else naming.of(name)


CUT_AWAY = Kind(
    CutAway,
    name="Cut away",
    sentence="Cut {tool} away from {of}; what is cut away is {also}, leaving nothing under {least}",
    words=("subtract", "difference", "minus", "remove", "cut out", "punch", "hole", "erase"),
    results={},
    run=_cut,
    each=("of", "tool"),
    not_cut={"tool": ("also", "not")},
    swaps=("of", "tool"),
    called=_less,
    starts=_starts,
)

KEEP_WITHIN = Kind(
    KeepWithin,
    name="Keep within",
    sentence="Keep of {of} what lies within {tool}, which is {also}, leaving nothing under {least}",
    words=("intersect", "overlap", "clip", "crop", "mask", "inside", "common"),
    results={},
    run=_kept,
    each=("of", "tool"),
    not_cut={"tool": ("also", "not")},
    swaps=("of", "tool"),
    called=_within,
    starts=_starts,
)
