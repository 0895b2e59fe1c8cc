"""Results grown by a distance, each figure once wherever it lies."""

from __future__ import annotations

import numpy as np

from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.offset import PROMISED, grow, misses
from perigram.core.geometry.overlay import fill_holes
from perigram.core.geometry.parallel import Corners
from perigram.core.geometry.region import Region
from perigram.core.recipe.kinds import Note, Tools


def grown(
    tools: Tools,
    source: Region,
    distance: float,
    corners: Corners = "round",
    remains: float = 0.0,
    filled: bool = False,
) -> tuple[Region, list[Note]]:
    """The source grown, with its holes filled if asked for, and what to say where that could not be made
    as exact as promised.

    Computed once for a figure wherever it lies, so that moving one costs nothing here.
    """
    if source.is_empty or (distance == 0.0 and not filled):
        return source, []
    if distance == 0.0:
        return fill_holes(without_hairs(source)), []
    figure, x, y = source.at_origin()

    def make() -> tuple[Region, Floats]:
        # What is too thin to be cut is no part of what is grown: a hair would come out as broad as the rest,
        # and what only a hair closes is no hole.
        solid = without_hairs(figure)
        solid = fill_holes(solid) if filled else solid
        made = grow(solid, distance, corners, remains=remains)
        return made, misses(solid, made, distance) if corners == "round" else np.zeros((0, 2))

    made, places = tools.memo(("grown", figure.digest(), distance, corners, remains, filled), make)
    notes = []
    if len(places):
        px, py = (float(v) for v in places[0] + (x, y))
        what = "1 place" if len(places) == 1 else f"{len(places)} places"
        text = f"The outline is more than {PROMISED:g} mm off its distance in {what}"
        notes = [Note("look", text, (px, py, px, py))]
    return made.translated(x, y), notes
