"""Which plies cut what: a thing that lies on two would be cut twice."""

from __future__ import annotations

from collections.abc import Iterator

from perigram.core.check.findings import Finding, Mend
from perigram.core.recipe.design import Design, Ply
from perigram.core.recipe.lines import kind_of
from perigram.core.recipe.refs import ref_to


def things_of(design: Design) -> dict[str, frozenset[str]]:
    """By each result, the things it is: the first results that it stands for, through all lines.

    What is left of words is those words; what several are welded into is all of them. A line that is
    switched off passes on what it stands for, so it counts as well.

    Example: {"l1/letters": {"l1/letters"}, "l3/l1/letters": {"l1/letters"}} for words with something knocked
    out of them by line 3.
    """
    things: dict[str, frozenset[str]] = {}
    for line in design.recipe:
        kind = kind_of(line)
        stands = kind.stands_for(line)
        for name in kind.names(line):
            ref = ref_to(line.id, name)
            sources = [things.get(source, frozenset({source})) for source, by in stands.items() if by == name]
            things[ref] = frozenset().union(*sources) or frozenset({ref})
    return things


def cut_twice(design: Design) -> list[Finding]:
    """A finding for each result of which another ply cuts the same thing: one that needs a look or, where
    that was said outright, one that holds.
    """
    things = things_of(design)
    findings: list[Finding] = []
    seen: dict[str, tuple[Ply, str]] = {}
    for ply, ref in _cut(design):
        firsts = [seen.setdefault(thing, (ply, ref)) for thing in sorted(things.get(ref, {ref}))]
        first, first_ref = next((one for one in firsts if one[0] is not ply), (ply, ref))
        if first is ply:
            continue
        if ref in ply.also or first_ref in first.also:
            text = f"{ply.name} and {first.name} both cut one thing, as was said"
            findings.append(Finding("holds", text, ply=ply.id))
        else:
            text = f"{ply.name} cuts again what {first.name} cuts. Cut it from one of them."
            mend = Mend(f"Only from {first.name}", "", "", {}, result=ref, ply=ply.id)
            findings.append(Finding("look", text, ply=ply.id, mend=mend))
    return findings


def _cut(design: Design) -> Iterator[tuple[Ply, str]]:
    """Each ply with each result it cuts, from the ground up."""
    for ply in design.plies:
        for ref in ply.results:
            yield ply, ref
