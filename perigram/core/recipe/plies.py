"""Which plies cut what: a thing that lies on two would be cut twice."""

from __future__ import annotations

from collections.abc import Iterator

from perigram.core.check.findings import Finding, Mend
from perigram.core.recipe.design import Design, Ply
from perigram.core.recipe.lines import kind_of
from perigram.core.recipe.refs import ref_to


def things_of(design: Design) -> dict[str, str]:
    """By each result, the thing it is: the first result that it stands for, through all lines that are on.

    What is left of words is those words; what several were welded into is the first of them.

    Example: {"l1/letters": "l1/letters", "l3/l1/letters": "l1/letters"} for words with something knocked out.
    """
    things: dict[str, str] = {}
    for line in design.recipe:
        kind = kind_of(line)
        stands = {} if line.off else kind.stands_for(line)
        for name in kind.names(line):
            ref = ref_to(line.id, name)
            sources = [source for source, by in stands.items() if by == name]
            things[ref] = things.get(sources[0], sources[0]) if sources else ref
    return things


def cut_twice(design: Design) -> list[Finding]:
    """A finding for each thing that more than one ply cuts: one that needs a look, or, where that was said
    outright, one that holds.
    """
    things = things_of(design)
    findings: list[Finding] = []
    seen: dict[str, tuple[Ply, str]] = {}
    for ply, ref in _cut(design):
        thing = things.get(ref, ref)
        first = seen.setdefault(thing, (ply, ref))
        if first[0] is ply:
            continue
        if ref in ply.also or first[1] in first[0].also:
            text = f"{ply.name} and {first[0].name} both cut one thing, as was said"
            findings.append(Finding("holds", text, ply=ply.id))
        else:
            text = f"{ply.name} cuts again what {first[0].name} cuts. Cut it from one of them."
            mend = Mend(f"Only from {first[0].name}", "", "", {}, ref, ply.id)
            findings.append(Finding("look", text, ply=ply.id, mend=mend))
    return findings


def _cut(design: Design) -> Iterator[tuple[Ply, str]]:
    for ply in design.plies:
        for ref in ply.results:
            yield ply, ref
