"""What a sheet is: items laid on it, seen from the side that is cut, and the strokes that cut them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from perigram.core.formats.page import CutPly
from perigram.core.geometry.bezier import Floats, Ints
from perigram.core.geometry.region import Region
from perigram.core.sheet.order import ORIGIN, cut_order, lines_in_order, outlines_in_order, travel


def no_lines() -> Floats:
    return np.zeros((0, 2, 2))


@dataclass(frozen=True, eq=False)
class Item:
    """Something laid as it is: what is kept of it, and what is cut besides. Its top left corner is at 0, 0.

    Attributes:
        work: the ply or a piece of it, from the side it is cut from.
        marks, border: registration marks; the rectangle cut round it.
        width, height: of the box that lies clear of others.
        lines: (n, 2, 2) straight cuts through waste.
    """

    work: Region
    marks: Region
    border: Region
    width: float
    height: float
    lines: Floats = field(default_factory=no_lines)


@dataclass(frozen=True)
class Placed:
    """Which item lies where: its top left corner in mm from the sheet's, and quarters it is turned by."""

    item: int
    x: float
    y: float
    quarters: int = 0


@dataclass(frozen=True, eq=False)
class Sheet:
    """One sheet of one ply, or several that are the same.

    Attributes:
        number, count: which of how many different sheets of its ply it is.
        times: how often it is cut.
        used: how much of its length is used up, edges included.
        frame: a rectangle along its edges, or nothing.
        part: which part of a design too large for one sheet it is, or nothing.
    """

    stock: CutPly
    number: int
    count: int
    times: int
    items: tuple[Item, ...]
    placed: tuple[Placed, ...]
    used: float
    frame: Region = field(default_factory=Region.empty)
    part: str = ""

    @cached_property
    def work(self) -> Region:
        """What is kept, where it lies."""
        return self._laid(lambda item: item.work)

    @cached_property
    def marks(self) -> Region:
        """Registration marks, where they lie."""
        return self._laid(lambda item: item.marks)

    @cached_property
    def borders(self) -> Region:
        """Rectangles cut round what was laid, where they lie."""
        return self._laid(lambda item: item.border)

    @cached_property
    def lines(self) -> Floats:
        """(n, 2, 2) straight cuts through waste in the order and direction they are cut."""
        laid = [
            self.items[one.item].lines @ matrix[:, :2].T + matrix[:, 2]
            for one in self.placed
            for matrix in [placing(one, self.items[one.item])]
        ]
        return lines_in_order(np.concatenate([no_lines(), *laid]))

    @cached_property
    def cut(self) -> Region:
        """All outlines that are cut. Borders lie round the rest, so this promises nothing of solids."""
        inside = self._laid(lambda item: Region.joined([item.work, item.marks, item.border]))
        return Region.joined([inside, self.frame])

    @cached_property
    def order(self) -> tuple[Ints, Ints]:
        """The loops of `cut` in the order they are cut in, and the segment each begins with."""
        return cut_order(self.cut, self._from)

    @cached_property
    def _from(self) -> Floats:
        """Where the blade is when the first outline is gone for."""
        return np.asarray(self.lines[-1, 1]) if len(self.lines) else ORIGIN

    def strokes(self, tolerance: float) -> list[Floats]:
        """Polylines (k, 2) in the order they are cut: lines through waste while all is held, then loops."""
        return [*self.lines, *outlines_in_order(self.cut, self.order, tolerance)]

    @property
    def lifted(self) -> float:
        """How far in mm the blade goes lifted, from the sheet's corner on."""
        to_lines = self.lines[:, 0] - np.vstack([ORIGIN, self.lines[:, 1]])[:-1]
        return float(np.hypot(*to_lines.T).sum()) + travel(self.cut, self.order[1], self._from)

    def _laid(self, of: Callable[[Item], Region]) -> Region:
        items = [(one, self.items[one.item]) for one in self.placed]
        return Region.joined([of(item).transformed(placing(one, item)) for one, item in items])


#: By quarters turned: the directions that an item's x and y take, and where its corner goes in its own sides.
_TURNS = (
    ((1.0, 0.0, 0.0, 1.0), (0.0, 0.0)),
    ((0.0, -1.0, 1.0, 0.0), (0.0, 1.0)),
    ((-1.0, 0.0, 0.0, -1.0), (1.0, 1.0)),
    ((0.0, 1.0, -1.0, 0.0), (1.0, 0.0)),
)


def placing(one: Placed, item: Item) -> Floats:
    """The (2, 3) map that lays an item where it lies."""
    (a, c, b, d), (wide, high) = _TURNS[one.quarters]
    dx, dy = wide * item.width, high * item.height
    if one.quarters % 2:
        dx, dy = high * item.height, wide * item.width
    return np.array([[a, c, one.x + dx], [b, d, one.y + dy]])


def sides(one: Placed, item: Item) -> tuple[float, float]:
    """How wide and how high in mm an item lies."""
    return (item.height, item.width) if one.quarters % 2 else (item.width, item.height)
