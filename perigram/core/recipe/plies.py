"""Which plies cut what: a thing that lies on two would be cut twice."""

from __future__ import annotations

from collections.abc import Iterator

from perigram.core.check.findings import Finding, Mend
from perigram.core.recipe.design import Design, Ply
from perigram.core.recipe.things import things_of


def cut_twice(design: Design) -> list[Finding]:
    """A finding for each result of which another ply cuts the same thing: one that needs a look or, where
    that was said outright, one that holds.
    """
    things = things_of(design.recipe)
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
