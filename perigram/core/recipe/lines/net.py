"""Net: several things as one, shaped by a net of points that are pulled."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field, FiniteFloat

from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.measure import Box
from perigram.core.recipe.kinds import Handle, Kind, Note, Outcome, Shaping, Start, Tools
from perigram.core.recipe.values import Line, Ref, number, slot
from perigram.core.recipe.warping import group_box, mapped, strongest
from perigram.core.warp import net
from perigram.core.warp.net import Net as Patch

Pull = tuple[FiniteFloat, FiniteFloat]


class Net(Line):
    kind: Literal["net"] = "net"
    of: Annotated[list[Ref], Field(max_length=60)] = slot("refs", "What is shaped", [])
    rows: FiniteFloat = number("Rows of points", 3.0, low=2.0, high=8.0)
    columns: FiniteFloat = number("Points in a row", 4.0, low=2.0, high=8.0)
    alike: Literal["none", "sides", "ends", "all"] = slot(
        "choice",
        "What is pulled alike",
        "sides",
        choices={
            "none": "each point by itself",
            "sides": "left and right alike",
            "ends": "top and bottom alike",
            "all": "all four sides alike",
        },
    )
    #: row by row from the top, how far each point is pulled, as shares of the box's width and height; as they
    #: were at `of_rows` by `of_columns`, should other numbers be asked for
    points: Annotated[list[Pull], Field(max_length=64)] = []
    of_rows: Annotated[int, Field(ge=2, le=8)] = 3
    of_columns: Annotated[int, Field(ge=2, le=8)] = 4


def run(line: Net, tools: Tools) -> Outcome:
    box = group_box(tools, line.of)
    if box is None:
        return Outcome({ref: tools.inputs[ref] for ref in line.of})
    flat, pulled = net.even(box, _rows(line), _columns(line)), control_of(line, box)

    def at(by: float) -> Patch:
        return Patch(box, flat + by * (pulled - flat))

    onto, share = strongest(at, box)
    notes = [] if share == 1.0 else [Note("stop", _says_fold(at(1.0), share), box)]
    results = {ref: mapped(tools.inputs[ref], onto) for ref in line.of}
    return Outcome(results, notes, _shaping(line, pulled, onto or at(0.0)))


def _rows(line: Net) -> int:
    return int(np.clip(round(line.rows), 2, 8))


def _columns(line: Net) -> int:
    return int(np.clip(round(line.columns), 2, 8))


def control_of(line: Net, box: Box) -> Floats:
    """The control points (rows, columns, 2) in mm, at the numbers the line asks for."""
    size = np.array([box[2] - box[0], box[3] - box[1]])
    control = net.even(box, line.of_rows, line.of_columns)
    if len(line.points) == line.of_rows * line.of_columns:
        control = control + np.array(line.points).reshape(control.shape) * size
    return net.resized(control, _rows(line), _columns(line))


def _says_fold(asked: Patch, share: float) -> str:
    place = asked.fold()
    where = f" about {place[0] * 100.0:.0f} % across and {place[1] * 100.0:.0f} % down" if place else ""
    percent = np.floor(share * 100.0)
    held = f"Pulled {percent:.0f} % as far" if percent else "Only as it lies"
    return f"The net folds over itself{where}. {held} it holds, and is what shows."


def _shaping(line: Net, control: Floats, onto: Patch) -> Shaping:
    x0, y0, x1, y1 = onto.box
    fine = np.linspace(0.0, 1.0, 33)
    rows, columns = control.shape[:2]
    across = [np.stack([x0 + fine * (x1 - x0), np.full(33, y)], axis=1) for y in np.linspace(y0, y1, rows)]
    down = [np.stack([np.full(33, x), y0 + fine * (y1 - y0)], axis=1) for x in np.linspace(x0, x1, columns)]
    pulled = (control - net.even(onto.box, rows, columns)) / (x1 - x0, y1 - y0)
    handles = [
        Handle(
            f"points.{row * columns + column}",
            f"Point {column + 1} of row {row + 1}",
            (float(control[row, column, 0]), float(control[row, column, 1])),
            (float(pulled[row, column, 0]), float(pulled[row, column, 1])),
            scale=(
                _free(column, columns, line.alike, "sides") / (x1 - x0),
                _free(row, rows, line.alike, "ends") / (y1 - y0),
            ),
            partners=_partners(line, row, column, rows, columns),
            sets={"of_rows": rows, "of_columns": columns},
        )
        for row in range(rows)
        for column in range(columns)
    ]
    return Shaping(handles, [onto.points(curve) for curve in [*across, *down]])


def _free(at: int, count: int, alike: str, way: str) -> float:
    """0 for a point that mirrors itself along a way, so that it stays in the middle; 1 for any other."""
    return 0.0 if alike in (way, "all") and 2 * at == count - 1 else 1.0


def _partners(
    line: Net, row: int, column: int, rows: int, columns: int
) -> tuple[tuple[int, float, float], ...]:
    """The points that mirror one: their numbers, and which way they go when it is pulled right and down."""
    over, under = line.alike in ("sides", "all"), line.alike in ("ends", "all")
    found: dict[int, tuple[float, float]] = {}
    for sideways in (False, True) if over else (False,):
        for upended in (False, True) if under else (False,):
            at = (rows - 1 - row if upended else row) * columns + (
                columns - 1 - column if sideways else column
            )
            if at != row * columns + column:
                found.setdefault(at, (-1.0 if sideways else 1.0, -1.0 if upended else 1.0))
    return tuple((at, x, y) for at, (x, y) in found.items())


def _starts(start: Start) -> dict[str, object]:
    """On what is chosen, or on everything that is cut."""
    return {"of": list(start.chosen or start.free)}


KIND = Kind(
    Net,
    name="Shape by a net",
    sentence="Shape {of} by a net of {columns} by {rows}, {alike}",
    words=(
        "net",
        "warp",
        "shape",
        "free",
        "pull",
        "bulge",
        "pinch",
        "mesh",
        "distort",
        "envelope",
        "stretch",
    ),
    results={},
    run=run,
    each=("of",),
    shapes=True,
    starts=_starts,
)
