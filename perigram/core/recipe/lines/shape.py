"""Draw a ready shape or an ornament."""

from __future__ import annotations

from typing import Literal, get_args

from pydantic import FiniteFloat

from perigram.core.art import shapes
from perigram.core.recipe.kinds import Kind, Outcome, Side, Tools
from perigram.core.recipe.parts import Made
from perigram.core.recipe.placing import matched, placing
from perigram.core.recipe.values import Line, Place, length, number, percent, slot

FIGURES: tuple[str, ...] = get_args(shapes.Figure)
#: Figures with so many points, petals, teeth, lobes or turns; figures that are cut in deep, or thick.
POINTED = "star|burst|sun|flower|cog|scallop|polygon|waved bar|laurel|swirl|scrolls"
DEEP = (
    "star|burst|sun|flower|cog|cross|arrow|pennant|banner|ribbon|ticket|frame|scallop|crescent|ring|arc band"
    "|waved bar|laurel|swirl|scrolls|flourish"
)


class Shape(Line):
    kind: Literal["shape"] = "shape"
    figure: shapes.Figure = slot(
        "choice",
        "Shape",
        "heart",
        choices={name: f"{'an' if name[0] in 'ao' else 'a'} {name}" for name in FIGURES},
    )
    width: FiniteFloat = length("Width", 80.0, low=0.5, high=3000.0, step=1.0)
    height: FiniteFloat = length("Height", 80.0, low=0.5, high=3000.0, step=1.0)
    radius: FiniteFloat = length("Corner radius of a box", 6.0, low=0.0, high=1500.0, step=0.5)
    points: FiniteFloat = number("How many points", 5.0, low=1.0, high=60.0)
    depth: FiniteFloat = percent("How deep", 50.0, low=5.0, high=95.0)
    place: Place = slot("place", "Place", Place())


def run(line: Shape, tools: Tools) -> Outcome:
    wide, tall = matched(line.place, tools)
    shape = shapes.Shape(
        line.figure, wide or line.width, tall or line.height, line.radius, int(line.points), line.depth
    )
    region = tools.memo(("shape", shape), lambda: shapes.draw(shape))
    return Outcome({"shape": Made(region).moved(placing(region, line.place, tools))})


def _resized(line: Shape, ratio: float, side: Side) -> dict[str, float]:
    return {side: round(getattr(line, side) * ratio, 4)}


KIND = Kind(
    Shape,
    name="Draw a shape",
    sentence="Draw {figure} {width} by {height}[figure=rounded box:, corners {radius} round]"
    f"[figure={POINTED}:, {{points}} points][figure={DEEP}:, {{depth}} deep], {{place}}",
    words=(
        *FIGURES,
        "circle",
        "ellipse",
        "square",
        "rectangle",
        "figure",
        "ornament",
        "decoration",
        "clip art",
    ),
    results={"shape": "shape"},
    called=lambda kind, line, name, naming: line.figure.capitalize(),
    starts=lambda start: {"place": {"on": start.chosen[0]}} if start.chosen else {},
    run=run,
    ply="Shape",
    resized=_resized,
)
