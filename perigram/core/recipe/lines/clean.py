"""Drop bits: pieces too narrow to hold and holes too narrow to weed, gone and listed."""

from __future__ import annotations

from typing import Literal

from pydantic import FiniteFloat

from perigram.core.geometry.clean import Removed, drop_bits
from perigram.core.recipe.kinds import Kind, Note, Outcome, Tools
from perigram.core.recipe.values import Line, Ref, length, slot


class Clean(Line):
    kind: Literal["clean"] = "clean"
    of: Ref = slot("ref", "What is cleaned", "")
    bits: FiniteFloat = length("Bits narrower than", 1.0, low=0.0, high=50.0)
    holes: FiniteFloat = length("Holes narrower than", 0.0, low=0.0, high=50.0)


def run(line: Clean, tools: Tools) -> Outcome:
    region, removed = drop_bits(tools.inputs[line.of], line.bits, line.holes)
    notes = [
        Note("holds", _sentence([r for r in removed if r.what == what], what, width, verb), first.place)
        for what, width, verb in (("bit", line.bits, "dropped"), ("hole", line.holes, "filled"))
        for first in [r for r in removed if r.what == what][:1]
    ]
    return Outcome({"clean": region}, notes)


def _sentence(removed: list[Removed], what: str, width: float, verb: str) -> str:
    count = f"1 {what}" if len(removed) == 1 else f"{len(removed)} {what}s"
    return f"{count} under {width:g} mm {verb}"


KIND = Kind(
    Clean,
    name="Drop bits",
    sentence="Drop bits of {of} under {bits} wide, fill holes under {holes}",
    words=("clean", "small", "specks", "thin", "weed", "remove", "tidy", "holes"),
    results={"clean": "rest"},
    run=run,
    replaces={"clean": "of"},
)
