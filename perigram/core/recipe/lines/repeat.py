"""Repeat: copies in a row, in a column, around a middle, mirrored."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, FiniteFloat

from perigram.core.geometry import measure
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.measure import Box
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.region import MOST_VERTICES
from perigram.core.recipe.kinds import Handle, Kind, Note, Outcome, Shaping, Start, Tools
from perigram.core.recipe.parts import Made, Part
from perigram.core.recipe.values import Line, Ref, length, limits, number, slot
from perigram.core.recipe.warping import group_box

Placing = Floats


class Repeat(Line):
    kind: Literal["repeat"] = "repeat"
    of: Annotated[list[Ref], Field(max_length=60)] = slot("refs", "What is repeated", [])
    how: Literal["row", "column", "circle", "around", "beside", "mirrored"] = slot(
        "choice",
        "How",
        "row",
        choices={
            "row": "in a row",
            "column": "in a column",
            "circle": "in a circle",
            "around": "around",
            "beside": "mirrored beside itself",
            "mirrored": "mirrored about",
        },
    )
    count: FiniteFloat = number("How many in all", 3.0, low=1.0, high=120.0)
    apart: FiniteFloat = length("Clear between them", 10.0, low=-1000.0, high=2000.0, step=0.5)
    about: Ref = slot("ref", "About what", "", optional=True)
    radius: FiniteFloat = length("Radius of the circle", 60.0, low=0.0, high=3000.0, step=1.0)
    turning: Literal["turned", "upright"] = slot(
        "choice", "Copies", "turned", choices={"turned": "turned with it", "upright": "upright"}
    )
    axis: Literal["sideways", "down", "both"] = slot(
        "choice",
        "Mirrored which way",
        "sideways",
        choices={"sideways": "left to right", "down": "top to bottom", "both": "both ways"},
    )


def run(line: Repeat, tools: Tools) -> Outcome:
    box = group_box(tools, line.of)
    if box is None:
        return Outcome({ref: tools.inputs[ref] for ref in line.of})
    if line.how in ("around", "mirrored") and not line.about:
        return Outcome({}, [Note("stop", "About what is not chosen yet: click “choose”.")])
    placings = _placings(line, box, tools)
    points = sum(len(tools.region(ref).flat.xy) for ref in line.of) * len(placings)
    if points > MOST_VERTICES:
        text = f"So many copies need {points:,} points; up to {MOST_VERTICES:,} can be worked on. Make fewer."
        return Outcome({}, [Note("stop", text)])
    results = {ref: _copied(tools.inputs[ref], placings) for ref in line.of}
    notes = []
    pieces = sum(tools.region(ref).piece_count for ref in line.of) * len(placings)
    welded = pieces - sum(made.region.piece_count for made in results.values())
    if welded > 0:
        notes = [Note("holds", f"Copies meet: {pieces} pieces became {pieces - welded}")]
    return Outcome(results, notes, Shaping(_handles(line, box)))


def _placings(line: Repeat, box: Box, tools: Tools) -> list[Placing]:
    about = measure.bounds(tools.region(line.about)) if line.about else None
    x, y = measure.middle(about or box)
    if line.how == "mirrored":
        return _mirrored(line, x, y)
    if line.how == "beside":
        return _mirrored(line, box[2] + line.apart / 2.0, box[3] + line.apart / 2.0)
    if line.how == "around":
        return _around(line, box, (x, y))
    if line.how == "circle":
        return _around(line, box, (x, y + line.radius))
    return _in_line(line, box)


def _copied(made: Made, placings: Sequence[Placing]) -> Made:
    """All copies as one; each part of each copy found by the copy's number first."""
    copies = [made.moved(matrix) for matrix in placings]

    def parts() -> list[Part]:
        return [
            replace(part, path=(number, *part.path))
            for number, copy in enumerate(copies)
            for part in copy.parts()
        ]

    return Made(weld([copy.region for copy in copies]), parts, made.levels)


def _moved(dx: float, dy: float) -> Placing:
    return np.array([[1.0, 0.0, dx], [0.0, 1.0, dy]])


def _in_line(line: Repeat, box: Box) -> list[Placing]:
    """Side by side, the middle of all where the one was."""
    count = int(line.count)
    row = line.how == "row"
    step = (box[2] - box[0] if row else box[3] - box[1]) + line.apart
    ways = [(i - (count - 1) / 2.0) * step for i in range(count)]
    return [_moved(by, 0.0) if row else _moved(0.0, by) for by in ways]


def _around(line: Repeat, box: Box, about: tuple[float, float]) -> list[Placing]:
    """Evenly round a middle, the first where it is."""
    middle, own = np.array(about), np.array(measure.middle(box))
    found, count = [], int(line.count)
    for i in range(count):
        c, s = np.cos(2.0 * np.pi * i / count), np.sin(2.0 * np.pi * i / count)
        turn = np.array([[c, -s], [s, c]])
        if line.turning == "turned":
            found.append(np.column_stack([turn, middle - turn @ middle]))
        else:
            found.append(_moved(*(turn @ (own - middle) + middle - own)))
    return found


def _mirrored(line: Repeat, x: float, y: float) -> list[Placing]:
    """The thing and its mirror images about an upright at x, a level at y, or both."""
    sideways = np.array([[-1.0, 0.0, 2.0 * x], [0.0, 1.0, 0.0]])
    down = np.array([[1.0, 0.0, 0.0], [0.0, -1.0, 2.0 * y]])
    both = np.array([[-1.0, 0.0, 2.0 * x], [0.0, -1.0, 2.0 * y]])
    others = {"sideways": [sideways], "down": [down], "both": [sideways, down, both]}[line.axis]
    return [_moved(0.0, 0.0), *others]


def _handles(line: Repeat, box: Box) -> list[Handle]:
    def handle(value: str, label: str, at: tuple[float, float], along: tuple[float, float]) -> Handle:
        low, high = limits(Repeat, value)
        return Handle(value, label, at, (float(getattr(line, value)),), along, low=low, high=high)

    x, y = measure.middle(box)
    if line.how == "circle":
        return [handle("radius", "Radius of the circle", (x, y + line.radius), (0.0, 1.0))]
    if line.how in ("row", "column") and line.count >= 2:
        far = (int(line.count) - 1) / 2.0
        row = line.how == "row"
        step = (box[2] - box[0] if row else box[3] - box[1]) + line.apart
        at = (x + far * step, y) if row else (x, y + far * step)
        return [handle("apart", "Clear between them", at, (1.0 / far, 0.0) if row else (0.0, 1.0 / far))]
    if line.how == "beside":
        down = line.axis == "down"
        at = (x, box[3] + line.apart) if down else (box[2] + line.apart, y)
        return [handle("apart", "Clear between them", at, (0.0, 1.0) if down else (1.0, 0.0))]
    return []


def _starts(start: Start) -> dict[str, object]:
    """The newest thing, or those chosen, about the newest of the others."""
    of = list(start.chosen or start.free[-1:])
    others = [ref for ref in start.free if ref not in of]
    return {"of": of, "about": next(iter(others[-1:]), "")}


KIND = Kind(
    Repeat,
    name="Repeat",
    sentence="Repeat {of} {how}[how=row|column: of {count}, {apart} apart]"
    "[how=circle: of {count}, its radius {radius}, {turning}][how=around: {about}, {count} times, {turning}]"
    "[how=beside:, {axis}, {apart} apart][how=mirrored: the middle of {about}, {axis}]",
    words=(
        "repeat",
        "copies",
        "array",
        "row",
        "grid",
        "mirror",
        "around",
        "circle",
        "rotate",
        "duplicate",
        "wreath",
    ),
    results={},
    run=run,
    each=("of",),
    shapes=True,
    starts=_starts,
)
