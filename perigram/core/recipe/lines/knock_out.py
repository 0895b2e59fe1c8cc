"""Knock out: things cleared out of others, and what was knocked out as it shows in them."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import partial
from typing import Annotated, Literal

from pydantic import Field, FiniteFloat

from perigram.core.combine.leavings import handed_over, within_reach, without_leavings
from perigram.core.geometry.clean import Removed
from perigram.core.geometry.overlay import cut_away, divide, overlap, weld
from perigram.core.geometry.region import Region
from perigram.core.recipe.growing import grown
from perigram.core.recipe.kinds import Kind, Naming, Note, Outcome, Start, Tools
from perigram.core.recipe.leaving import leaving, said_of
from perigram.core.recipe.parts import Made
from perigram.core.recipe.refs import is_lettering
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
    least: FiniteFloat = leaving()


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
    shown = {ref: tools.region(ref) for ref in line.of}
    if fits and len(line.of) == len(line.out_of) == 1:
        # Both halves of a butt fit from one cut, so that they meet to the bit.
        remains, within = divide(ground, tool)
        left, shown = {line.out_of[0]: remains}, {line.of[0]: within}
    else:
        left = {ref: cut_away(tools.region(ref), tool) for ref in line.out_of}
        shown = {ref: overlap(region, ground) for ref, region in shown.items()}
    for ref, within in shown.items():
        if within.is_empty and not tools.region(ref).is_empty:
            which = "The picture" if len(line.of) == 1 else "One of the things"
            notes.append(Note("look", f"{which} does not touch what it is knocked out of; nothing was cut."))
    if line.shows == "whole":
        shown = {ref: tools.region(ref) for ref in line.of}
    cut = _without_leavings(line, tools, ground, left, shown)
    results = {ref: _made(tools.inputs[ref], left[ref], cut.left[ref], _less(tool)) for ref in line.out_of}
    if line.shows != "not":
        by = partial(overlap, ground) if line.shows == "within" else _as_it_is
        for ref, region in cut.shown.items():
            made = _made(tools.inputs[ref], shown[ref], region, by)
            # No part of it reaches where it has taken the place of the words' leavings.
            results[ref] = replace(made, parts=tuple) if ref in cut.took else made
    return Outcome(results, [*said_of(cut.removed, line.least), *notes])


def _less(tool: Region) -> Callable[[Region], Region]:
    return lambda part: cut_away(part, tool)


def _as_it_is(part: Region) -> Region:
    return part


def _made(source: Made, cut: Region, cleared: Region, by: Callable[[Region], Region]) -> Made:
    """A source as it is after the cut; its parts without leavings where there were any."""
    if cleared is source.region:
        return source
    return source.reduced(cleared, by if cleared is cut else lambda part: overlap(part, cleared))


@dataclass(frozen=True)
class _Cut:
    """Both sides of a knockout, by what each is of; the leavings that went, and who took the words' place."""

    left: Mapping[str, Region]
    shown: Mapping[str, Region]
    removed: list[Removed]
    took: set[str]


def _without_leavings(
    line: KnockOut, tools: Tools, ground: Region, left: Mapping[str, Region], shown: Mapping[str, Region]
) -> _Cut:
    """Both sides without leavings; what was knocked out takes the place of the words' leavings.

    The clear line keeps its width there: it runs round what is left of the words.
    """
    cleared = {ref: without_leavings(region, tools.region(ref), line.least) for ref, region in left.items()}
    removed = [one for each in cleared.values() for one in each.removed]
    kept = {ref: each.region for ref, each in cleared.items()}
    if line.shows != "within":
        # A whole picture stays as it is: scraps of words round it would hang on by strands.
        return _Cut(kept, {} if line.shows == "not" else shown, removed, set())
    gone = weld([each.gone for each in cleared.values()])
    free = handed_over(gone, weld(list(kept.values())), line.clearance, ground)
    kept_shown, took = dict(shown), set[str]()
    for ref, region in shown.items():
        # The first that reaches there takes it; where none does it stays bare.
        mine = within_reach(free, tools.region(ref), max(line.clearance, 0.0)) if not free.is_empty else free
        if not mine.is_empty:
            region, free = weld([region, mine]), cut_away(free, mine)
            took.add(ref)
        own = without_leavings(region, tools.region(ref), line.least)
        region = own.region
        removed += own.removed
        kept_shown[ref] = region
    return _Cut(kept, kept_shown, removed, took)


def _room(line: KnockOut, tools: Tools, ref: str) -> tuple[Region, list[Note]]:
    return grown(tools, tools.region(ref), line.clearance, filled=line.holes == "filled")


def _starts(start: Start) -> dict[str, object]:
    """One thing out of another; with nothing chosen, the other is rather words than a picture."""
    tool, ground = start.pair(beside=[ref for ref in start.free if is_lettering(ref)])
    return {"of": tool, "out_of": ground}


def _called(kind: Kind, line: KnockOut, name: str, naming: Naming) -> str:
    return f"{naming.of(name)} less {naming.things(line.of)}" if name in line.out_of else naming.of(name)


KIND = Kind(
    KnockOut,
    name="Knock out",
    sentence="Knock {of} out of {out_of}, leaving {clearance} clear, its holes {holes}, showing it {shows}, "
    "leaving nothing under {least}",
    words=("knockout", "cut out", "subtract", "clear", "butt fit", "overlap", "punch"),
    results={},
    run=run,
    each=("out_of", "of"),
    not_cut={"of": ("shows", "not")},
    apart=("of", "out_of"),
    swaps=("of", "out_of"),
    called=_called,
    starts=_starts,
)
