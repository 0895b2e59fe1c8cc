"""Plies laid on the sheets they are cut from, seen from the side that is cut."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import rectpack  # type: ignore[import-untyped]

from perigram.core.errors import PerigramError
from perigram.core.geometry import measure
from perigram.core.geometry.bezier import Floats, Ints
from perigram.core.geometry.region import Region
from perigram.core.recipe.evaluate import Proof
from perigram.core.recipe.making import Sheets
from perigram.core.sheet.marks import box_region, marks_for, room
from perigram.core.sheet.order import cut_order

#: Places on sheets are multiples of so many mm, which keeps numbers on the grid plies were checked on.
_STEP = 0.01
#: So many pieces at most are packed loosely: the packer takes seconds for more.
MOST_PIECES = 3_000


@dataclass(frozen=True, eq=False)
class Stock:
    """A ply, and the sheet or stretch of roll it is cut from: sides in mm."""

    name: str
    material: str
    colour: str
    mirrored: bool
    region: Region
    width: float
    length: float
    id: str = ""


@dataclass(frozen=True, eq=False)
class Item:
    """Something laid as it is: what is kept of it, and what is cut besides. Its top left corner is at 0, 0.

    Attributes:
        work: the ply or a piece of it, from the side it is cut from.
        marks, border: registration marks; the rectangle cut round it.
    """

    work: Region
    marks: Region
    border: Region
    width: float
    height: float


@dataclass(frozen=True)
class Placed:
    """Which item lies where: its top left corner in mm from the sheet's, and whether turned by a quarter."""

    item: int
    x: float
    y: float
    turned: bool


@dataclass(frozen=True, eq=False)
class Sheet:
    """One sheet of one ply, or several that are the same.

    Attributes:
        number, count: which of how many different sheets of its ply it is.
        times: how often it is cut.
        used: how much of its length is used up, edges included.
    """

    stock: Stock
    number: int
    count: int
    times: int
    items: tuple[Item, ...]
    placed: tuple[Placed, ...]
    used: float

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
    def cut(self) -> Region:
        """All outlines that are cut. Borders lie round the rest, so this promises nothing of solids."""
        return self._laid(lambda item: Region.joined([item.work, item.marks, item.border]))

    @cached_property
    def order(self) -> tuple[Ints, Ints]:
        """The loops of `cut` in the order they are cut in, and the segment each begins with."""
        return cut_order(self.cut)

    def _laid(self, of: Callable[[Item], Region]) -> Region:
        items = [(one, self.items[one.item]) for one in self.placed]
        return Region.joined([of(item).transformed(placing(one, item)) for one, item in items])


def placing(one: Placed, item: Item) -> Floats:
    """The (2, 3) map that lays an item where it lies."""
    if one.turned:
        return np.array([[0.0, -1.0, one.x + item.height], [1.0, 0.0, one.y]])
    return np.array([[1.0, 0.0, one.x], [0.0, 1.0, one.y]])


def stock_of(proof: Proof) -> list[Stock]:
    """The plies of a design as they are cut, each with its material.

    Raises:
        PerigramError: when something is in the way of cutting them.
    """
    proof.to_cut()
    return [
        Stock(
            ply.ply.name,
            ply.material.name,
            ply.material.colour,
            ply.material.mirrored,
            ply.region,
            ply.material.width,
            ply.material.length,
            ply.ply.id,
        )
        for ply in proof.plies
    ]


def lay_out(plies: Sequence[Stock], how: Sheets) -> list[Sheet]:
    """The sheets that a design is cut from, ply by ply from the bottom.

    Raises:
        PerigramError: where there is nothing to cut, or something is larger than its sheet.
    """
    plies = [ply for ply in plies if not ply.region.is_empty]
    if not plies:
        raise PerigramError("There is nothing to cut yet: give a ply a result to cut.")
    how = how.model_copy(update={"edge": _up(how.edge)})
    if how.layout == "packed":
        return [sheet for ply in plies for sheet in _packed(ply, plies, how)]
    return _registered(plies, how)


def _common_box(plies: Sequence[Stock]) -> measure.Box:
    box = measure.union_box([measure.bounds(ply.region) for ply in plies])
    assert box is not None
    x0, y0, x1, y1 = box
    return _down(x0), _down(y0), _up(x1), _up(y1)


def _down(value: float) -> float:
    return float(np.floor(value / _STEP + 1e-9) * _STEP)


def _up(value: float) -> float:
    return float(np.ceil(value / _STEP - 1e-9) * _STEP)


def _item(ply: Stock, box: measure.Box, how: Sheets, marked: bool) -> Item:
    """A ply in a box of the design, mirrored within it where it is cut from its back."""
    x0, y0, x1, y1 = box
    around = room(how.marks) if marked else 0.0
    border = _up(how.apart / 2.0) if how.border else 0.0
    inset = around + border
    width, height = x1 - x0 + 2.0 * inset, y1 - y0 + 2.0 * inset
    work = ply.region.translated(inset - x0, inset - y0)
    marks = Region.empty()
    if marked and around:
        marks = marks_for(how.marks, width - 2.0 * border, height - 2.0 * border).translated(border, border)
    if ply.mirrored:
        over = np.array([[-1.0, 0.0, width], [0.0, 1.0, 0.0]])
        work, marks = work.transformed(over), marks.transformed(over)
    return Item(work, marks, box_region(width, height) if how.border else Region.empty(), width, height)


def _registered(plies: Sequence[Stock], how: Sheets) -> list[Sheet]:
    """Every ply at the same places of as many sheets."""
    box = _common_box(plies)
    items = [_item(ply, box, how, marked=True) for ply in plies]
    wide = min(ply.width for ply in plies) - 2.0 * how.edge
    long = min(ply.length for ply in plies) - 2.0 * how.edge
    width, height = items[0].width, items[0].height
    turned = not _fits(width, height, wide, long) and _fits(height, width, wide, long)
    if turned:
        width, height = height, width
    if not _fits(width, height, wide, long):
        _refuse(items[0], plies[0], wide, long)
    columns = int((wide + how.apart) / (width + how.apart) + 1e-9)
    rows = int((long + how.apart) / (height + how.apart) + 1e-9)
    each = columns * rows
    made = []
    for ply, item in zip(plies, items, strict=True):
        layouts = [
            tuple(
                Placed(
                    0,
                    how.edge + _up((width + how.apart) * (k % columns)),
                    how.edge + _up((height + how.apart) * (k // columns)),
                    turned,
                )
                for k in range(min(each, how.copies - first))
            )
            for first in range(0, how.copies, each)
        ]
        made += _sheets(ply, (item,), layouts, how)
    return made


def _packed(ply: Stock, plies: Sequence[Stock], how: Sheets) -> list[Sheet]:
    """A ply's copies, or all of their pieces, laid close together on as few sheets as the packer finds.

    Boxes round them are packed (maximal rectangles, best short side fit: Jylänki, A thousand ways to pack
    the bin, 2010), so nothing lies within anything else.
    """
    if how.keeps == "designs":
        # Where there are marks, all plies keep the same frame, so that marks still go over marks.
        box = _common_box(plies if how.marks != "none" else [ply])
        items: tuple[Item, ...] = (_item(ply, box, how, marked=True),)
        wanted = [0] * how.copies
    else:
        items = tuple(
            _item(piece, _common_box([piece]), how, marked=False)
            for piece in (
                Stock(ply.name, ply.material, ply.colour, ply.mirrored, one, ply.width, ply.length)
                for one in ply.region.pieces()
            )
        )
        wanted = [k for k in range(len(items)) for _ in range(how.copies)]
    if len(wanted) > MOST_PIECES:
        raise PerigramError(
            f"{ply.name} has {len(wanted):,} pieces to lay; up to {MOST_PIECES:,} can be packed. "
            "Keep designs together, or make fewer at a time."
        )
    wide, long = ply.width - 2.0 * how.edge, ply.length - 2.0 * how.edge
    for item in items:
        if not (
            _fits(item.width, item.height, wide, long)
            or (how.turned and _fits(item.height, item.width, wide, long))
        ):
            _refuse(item, ply, wide, long)
    packer = rectpack.newPacker(rotation=how.turned)
    steps = [(_steps(item.width + how.apart), _steps(item.height + how.apart)) for item in items]
    for k in wanted:
        packer.add_rect(*steps[k], k)
    packer.add_bin(_steps(wide + how.apart), _steps(long + how.apart), count=float("inf"))
    packer.pack()
    bins: dict[int, list[Placed]] = {}
    for number, x, y, w, h, k in packer.rect_list():
        turned = (w, h) != steps[k]
        bins.setdefault(number, []).append(
            Placed(k, how.edge + round(x * _STEP, 4), how.edge + round(y * _STEP, 4), turned)
        )
    return _sheets(ply, items, [tuple(placed) for placed in bins.values()], how)


def _sheets(
    ply: Stock, items: tuple[Item, ...], layouts: Sequence[tuple[Placed, ...]], how: Sheets
) -> list[Sheet]:
    """Sheets of one ply, those laid alike as one that is cut several times."""
    times = Counter(layouts)
    made = []
    for number, (placed, often) in enumerate(times.items(), 1):
        ends = [one.y + (items[one.item].width if one.turned else items[one.item].height) for one in placed]
        made.append(Sheet(ply, number, len(times), often, items, placed, max(ends) + how.edge))
    return made


def _steps(mm: float) -> int:
    return int(np.ceil(mm / _STEP - 1e-9))


def _fits(width: float, height: float, wide: float, long: float) -> bool:
    return width <= wide + 1e-9 and height <= long + 1e-9


def _refuse(item: Item, ply: Stock, wide: float, long: float) -> None:
    raise PerigramError(
        f"{ply.name} needs {item.width:.1f} by {item.height:.1f} mm with what lies round it; {ply.material} "
        f"leaves {max(wide, 0.0):.1f} by {max(long, 0.0):.1f} mm within its edges. Choose a wider sheet, "
        "smaller edges or no marks, or make the design smaller."
    )
