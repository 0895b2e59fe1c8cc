"""Let in: a word in an outline that is opened for it, clear of it or joined to it."""

from __future__ import annotations

from typing import Literal

from pydantic import FiniteFloat

from perigram.core.combine.joining import apart
from perigram.core.combine.let_in import joined, opened
from perigram.core.geometry.region import Region
from perigram.core.recipe.kinds import Kind, Naming, Note, Outcome, Start, Tools
from perigram.core.recipe.parts import Made
from perigram.core.recipe.refs import is_lettering
from perigram.core.recipe.values import Line, Ref, length, slot


class LetIn(Line):
    kind: Literal["let_in"] = "let_in"
    of: Ref = slot("ref", "What is let in", "")
    into: Ref = slot("ref", "Into what", "")
    how: Literal["clear", "joined"] = slot(
        "choice",
        "How they meet",
        "joined",
        choices={"clear": "clear of it", "joined": "joined to it"},
        plies=True,
    )
    clear: FiniteFloat = length("Clear of each other", 1.5, low=0.0, high=40.0, measure=True)


def run(line: LetIn, tools: Tools) -> Outcome:
    if line.of == line.into:
        return Outcome({}, [Note("stop", "A thing cannot be let into itself. Choose another.")])
    word, outline = tools.inputs[line.of], tools.inputs[line.into]
    if line.how == "clear":
        left = opened(outline.region, word.region, line.clear)
        results = {"into": Made(left)}
    else:
        left = joined(outline.region, word.region)
        results = {"into": Made(left, levels=word.levels)}
    notes = []
    if left is outline.region:
        notes.append(Note("look", "The word does not stand on the outline: nothing was opened."))
    if line.how == "joined":
        notes = [Note("holds", "One piece")] if left.piece_count == 1 else [_not_one(left)]
    return Outcome(results, notes)


def _not_one(left: Region) -> Note:
    found = apart(left)
    text = f"{left.piece_count} pieces, not one"
    if found is None:
        return Note("look", f"{text}. Put the word where it meets the outline.")
    return Note("look", f"{text}: the widest gap between them is {found.gap:.2f} mm", found.place)


def _starts(start: Start) -> dict[str, object]:
    """Words into what is none, else what lies within or on top into the other."""
    tool, into = start.pair()
    if not tool:
        return {}
    of, around = tool[0], into[0]
    if is_lettering(around) and not is_lettering(of):
        of, around = around, of
    return {"of": of, "into": around}


def _called(kind: Kind, line: LetIn, name: str, naming: Naming) -> str:
    return f"{naming.of(line.into)} with {naming.things([line.of])}"


KIND = Kind(
    LetIn,
    name="Let in",
    sentence="Let {of} into {into}, {how}[how=clear: by {clear}]",
    words=("let in", "insert", "split", "open", "oar", "outline", "monogram", "join", "break"),
    results={"into": "outline"},
    run=run,
    replaces={"into": "into"},
    not_cut={"of": ("how", "joined")},
    swaps=("of", "into"),
    called=_called,
    starts=_starts,
)
