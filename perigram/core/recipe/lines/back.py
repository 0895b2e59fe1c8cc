"""Back: a filled ply underneath, grown from everything above it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, FiniteFloat

from perigram.core.geometry.overlay import fill_holes, weld
from perigram.core.geometry.parallel import Corners
from perigram.core.recipe.growing import grown
from perigram.core.recipe.kinds import Kind, Outcome, Tools
from perigram.core.recipe.parts import Made
from perigram.core.recipe.values import Line, Ref, length, slot


class Back(Line):
    kind: Literal["back"] = "back"
    of: Annotated[list[Ref], Field(max_length=60)] = slot("refs", "What is backed", [])
    distance: FiniteFloat = length("Distance", 6.0, low=-20.0, high=50.0, step=0.5, measure=True)
    holes: Literal["filled", "kept"] = slot(
        "choice", "Holes of the backing", "filled", choices={"filled": "filled", "kept": "kept"}
    )
    corners: Corners = slot(
        "choice", "Corners of the backing", "round", choices={"round": "round", "mitred": "sharp"}
    )
    remains: FiniteFloat = length("Remains narrower than", 0.0, low=0.0, high=50.0, step=0.5, measure=True)


def run(line: Back, tools: Tools) -> Outcome:
    source = weld([tools.region(ref) for ref in line.of])
    backing, notes = grown(tools, source, line.distance, line.corners, line.remains)
    return Outcome({"backing": Made(fill_holes(backing) if line.holes == "filled" else backing)}, notes)


KIND = Kind(
    Back,
    name="Back",
    sentence="Back {of} by {distance}, corners {corners}, holes {holes}, dropping remains under {remains}",
    words=("backing", "offset", "outline", "border", "grow", "background", "shadow", "contour"),
    results={"backing": "backing"},
    run=run,
    # Which corners stay sharp depends on the curves beside them.
    by_curves=lambda line: line.corners == "mitred",
    ply="Backing",
    underneath=True,
    # Everything that is cut.
    starts=lambda start: {"of": list(start.chosen or start.free)},
)
