"""Draw a ready shape."""

from __future__ import annotations

from typing import Literal

from pydantic import FiniteFloat

from perigram.core.art import shapes
from perigram.core.recipe.kinds import Kind, Outcome, Side, Tools
from perigram.core.recipe.parts import Made
from perigram.core.recipe.placing import matched, placing
from perigram.core.recipe.values import Line, Place, length, slot


class Shape(Line):
    kind: Literal["shape"] = "shape"
    figure: shapes.Figure = slot(
        "choice",
        "Shape",
        "heart",
        choices={"heart": "a heart", "oval": "an oval", "rounded box": "a rounded box"},
    )
    width: FiniteFloat = length("Width", 80.0, low=0.5, high=3000.0, step=1.0)
    height: FiniteFloat = length("Height", 80.0, low=0.5, high=3000.0, step=1.0)
    radius: FiniteFloat = length("Corner radius of a box", 6.0, low=0.0, high=1500.0, step=0.5)
    place: Place = slot("place", "Place", Place())


def run(line: Shape, tools: Tools) -> Outcome:
    wide, tall = matched(line.place, tools)
    region = shapes.draw(line.figure, wide or line.width, tall or line.height, line.radius)
    return Outcome({"shape": Made(region).moved(placing(region, line.place, tools))})


def _resized(line: Shape, ratio: float, side: Side) -> dict[str, float]:
    return {side: round(getattr(line, side) * ratio, 4)}


KIND = Kind(
    Shape,
    name="Draw a shape",
    sentence="Draw {figure} {width} by {height}[figure=rounded box:, corners {radius} round], {place}",
    words=("heart", "oval", "circle", "ellipse", "box", "rectangle", "rounded", "figure"),
    results={"shape": "shape"},
    run=run,
    ply="Shape",
    resized=_resized,
)
