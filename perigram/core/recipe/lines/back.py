"""Back: a filled ply underneath, grown from everything above it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, FiniteFloat

from perigram.core.geometry.offset import grow
from perigram.core.geometry.overlay import fill_holes, weld
from perigram.core.recipe.kinds import Kind, Outcome, Tools
from perigram.core.recipe.values import Line, Ref, length, slot


class Back(Line):
    kind: Literal["back"] = "back"
    of: Annotated[list[Ref], Field(max_length=60)] = slot("refs", "What is backed", [])
    distance: FiniteFloat = length("Distance", 6.0, low=-20.0, high=50.0, step=0.5)
    holes: Literal["filled", "kept"] = slot(
        "choice", "Holes of the backing", "filled", choices={"filled": "filled", "kept": "kept"}
    )


def run(line: Back, tools: Tools) -> Outcome:
    grown = grow(weld([tools.inputs[ref] for ref in line.of]), line.distance)
    return Outcome({"backing": fill_holes(grown) if line.holes == "filled" else grown})


KIND = Kind(
    Back,
    name="Back",
    sentence="Back {of} by {distance}, holes {holes}",
    words=("backing", "offset", "outline", "border", "grow", "background", "shadow", "contour"),
    results={"backing": "backing"},
    run=run,
    ply="Backing",
    underneath=True,
)
