"""What the results of a recipe are: which things each stands for, and what it is called."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence

from perigram.core.recipe.kinds import Naming
from perigram.core.recipe.lines import kind_of
from perigram.core.recipe.refs import ref_to
from perigram.core.recipe.values import Line

#: Characters of a name; the end of a longer one is left out.
MOST = 80


def things_of(recipe: Sequence[Line]) -> dict[str, frozenset[str]]:
    """By each result, the things it is: the first results that it stands for, through all lines.

    What is left of words is those words; what several are welded into is all of them. A line that is
    switched off passes on what it stands for, so it counts as well.

    Example: {"l1/letters": {"l1/letters"}, "l3/l1/letters": {"l1/letters"}} for words with something knocked
    out of them by line 3.
    """
    things: dict[str, frozenset[str]] = {}
    for line in recipe:
        for ref, sources in _sources(line).items():
            of = [things.get(source, frozenset({source})) for source in sources]
            things[ref] = frozenset().union(*of) or frozenset({ref})
    return things


def covered(recipe: Sequence[Line]) -> dict[str, str]:
    """By each result that a later line has taken the place of, the result that stands there now.

    Empty where nothing does, as of what is cut no more.
    """
    return {
        source: ref_to(line.id, name) if name else ""
        for line in recipe
        for source, name in kind_of(line).stands_for(line).items()
        if source
    }


def called(recipe: Sequence[Line], pictures: Mapping[str, str]) -> dict[str, str]:
    """By each result, what a person would call it: "REGATTA", "Lighthouse", "REGATTA less Lighthouse".

    Two things of one name are told apart by a number; what stands for a thing goes on with its name.

    Args:
        recipe: lines in their order.
        pictures: names of pictures, by id.

    Example: {"l1/letters": "REGATTA", "l2/backing": "Backing of REGATTA"}.
    """
    names: dict[str, str] = {}
    things = things_of(recipe)

    def of(ref: str) -> str:
        return names.get(ref, "something")

    def made_of(refs: Sequence[str]) -> str:
        return listed([of(thing) for ref in refs for thing in sorted(things.get(ref, {ref}))])

    naming = Naming(of, made_of, lambda picture: pictures.get(picture, ""))
    for line in recipe:
        kind = kind_of(line)
        for ref, sources in _sources(line).items():
            name = _shortened(kind.called(kind, line, ref.partition("/")[2], naming))
            names[ref] = name if sources else free_name(name, names.values())
    return names


def listed(names: Sequence[str]) -> str:
    """Names in a row: "REGATTA and WEEKEND"; of more than two, the first and how many others there are."""
    given = list(dict.fromkeys(names))
    if len(given) > 2:
        return f"{given[0]} and {len(given) - 1} more"
    return " and ".join(given)


def _sources(line: Line) -> dict[str, list[str]]:
    """By each result of a line, the results that it stands for."""
    kind = kind_of(line)
    stands = kind.stands_for(line)
    return {
        ref_to(line.id, name): [source for source, by in stands.items() if by == name and source]
        for name in kind.names(line)
    }


def _shortened(name: str) -> str:
    return name if len(name) <= MOST else f"{name[: MOST - 1].rstrip()}…"


def free_name(name: str, taken: Collection[str]) -> str:
    """The name, numbered where another thing has it."""
    if name not in taken:
        return name
    return next(f"{name} {n}" for n in range(2, len(taken) + 3) if f"{name} {n}" not in taken)
