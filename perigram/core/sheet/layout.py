"""Plies laid on the sheets they are cut from, seen from the side that is cut."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence

import numpy as np

from perigram.core.errors import NOTHING_TO_CUT, PerigramError
from perigram.core.formats.page import CutPly
from perigram.core.geometry import measure
from perigram.core.geometry.finish import finished
from perigram.core.geometry.overlay import overlap
from perigram.core.geometry.region import Region
from perigram.core.recipe.making import LEAST, Sheets
from perigram.core.sheet import packing
from perigram.core.sheet.marks import box_region, marks_round, room
from perigram.core.sheet.packing import STEP, Layouts, fits, settled
from perigram.core.sheet.seams import Part, parts_of
from perigram.core.sheet.sheet import Item, Placed, Sheet, no_lines, sides
from perigram.core.sheet.weeding import lines_through


def lay_out(plies: Sequence[CutPly], how: Sheets, nested: Mapping[str, Layouts] | None = None) -> list[Sheet]:
    """The sheets that a design is cut from, ply by ply from the bottom.

    Args:
        nested: layouts found by `packing.nest` for what `to_pack` gives of some plies, by ply.

    Raises:
        PerigramError: where there is nothing to cut, or something is larger than its sheet.
    """
    plies, how = _there(plies), settled(how)
    if how.layout == "packed":
        return [sheet for ply in plies for sheet in _packed(ply, plies, how, nested or {})]
    return _registered(plies, how)


def to_pack(plies: Sequence[CutPly], how: Sheets) -> list[tuple[CutPly, tuple[Item, ...], list[int]]]:
    """For each ply its items, and which of them are to be laid, one number for each copy.

    Raises:
        PerigramError: as `lay_out`.
    """
    plies, how = _there(plies), settled(how)
    return [(ply, *_items(ply, plies, how)) for ply in plies]


def _there(plies: Sequence[CutPly]) -> Sequence[CutPly]:
    plies = [ply for ply in plies if not ply.region.is_empty]
    if not plies:
        raise PerigramError(NOTHING_TO_CUT)
    return plies


def _common_box(plies: Sequence[CutPly]) -> measure.Box:
    return _box_of([ply.region for ply in plies])


def _box_of(regions: Sequence[Region]) -> measure.Box:
    box = measure.union_box([measure.bounds(region) for region in regions])
    assert box is not None
    x0, y0, x1, y1 = box
    return _down(x0), _down(y0), _up(x1), _up(y1)


def _down(value: float) -> float:
    return float(np.floor(value / STEP + 1e-9) * STEP)


def _up(value: float) -> float:
    return float(np.ceil(value / STEP - 1e-9) * STEP)


def _item(region: Region, mirrored: bool, part: Part, how: Sheets, marked: bool = True) -> Item:
    """What lies in a part of the design, mirrored within it where it is cut from its back."""
    x0, y0, x1, y1 = _reach(part, how)
    around = room(how.marks) if marked else 0.0
    border = _border(how)
    inset = around + border
    width, height = x1 - x0 + 2.0 * inset, y1 - y0 + 2.0 * inset
    work = region.translated(inset - x0, inset - y0)
    marks = marks_round(how.marks, part).translated(inset - x0, inset - y0) if marked else Region.empty()
    if mirrored:
        over = np.array([[-1.0, 0.0, width], [0.0, 1.0, 0.0]])
        work, marks = work.transformed(over), marks.transformed(over)
    if not how.border:
        return Item(work, marks, Region.empty(), width, height)
    lines = no_lines()
    if how.across > 0.0:
        lines = lines_through(width, height, Region.joined([work, marks]), how.across)
    return Item(work, marks, box_region(width, height), width, height, lines)


def _border(how: Sheets) -> float:
    """How far off the work the rectangle round it is cut."""
    return _up(max(how.apart / 2.0, LEAST)) if how.border else 0.0


def _reach(part: Part, how: Sheets) -> measure.Box:
    """The box that is cut of a part: beyond its seams where parts lie over each other."""
    x0, y0, x1, y1 = part.box
    beyond = _up(how.overlap / 2.0) if how.split == "overlap" else 0.0
    left, top, right, bottom = (beyond * seam for seam in part.seams)
    return x0 - left, y0 - top, x1 + right, y1 + bottom


def _whole(box: measure.Box) -> Part:
    return Part(box, (False, False, False, False), "")


def _registered(plies: Sequence[CutPly], how: Sheets) -> list[Sheet]:
    """Every ply at the same places of as many sheets."""
    box = _common_box(plies)
    items = [_item(ply.region, ply.mirrored, _whole(box), how) for ply in plies]
    wide = min(ply.width for ply in plies) - 2.0 * how.edge
    long = min(ply.length for ply in plies) - 2.0 * how.edge
    width, height = items[0].width, items[0].height
    turned = not fits(width, height, wide, long) and fits(height, width, wide, long)
    if turned:
        width, height = height, width
    if not fits(width, height, wide, long):
        if how.split == "no":
            _refuse(items[0], plies[0], wide, long, "cut it in parts, ")
        return _in_parts(plies, box, how, wide, long)
    columns = int((wide + how.apart) / (width + how.apart) + 1e-9)
    rows = int((long + how.apart) / (height + how.apart) + 1e-9)
    each = columns * rows
    layouts = [
        tuple(
            Placed(
                0,
                how.edge + _up((width + how.apart) * (k % columns)),
                how.edge + _up((height + how.apart) * (k // columns)),
                int(turned),
            )
            for k in range(min(each, how.copies - first))
        )
        for first in range(0, how.copies, each)
    ]
    return [
        sheet for ply, item in zip(plies, items, strict=True) for sheet in _sheets(ply, (item,), layouts, how)
    ]


def _in_parts(
    plies: Sequence[CutPly], box: measure.Box, how: Sheets, wide: float, long: float
) -> list[Sheet]:
    """A design too large for its sheets in parts, one a sheet, the same parts of every ply."""
    around = room(how.marks) + _border(how)
    over = 2.0 * _up(how.overlap / 2.0) if how.split == "overlap" else 0.0
    largest = _down(wide - 2.0 * around - over), _down(long - 2.0 * around - over)
    if min(largest) < _SMALLEST_PART:
        raise PerigramError(
            f"The sheets leave {max(wide, 0.0):.1f} by {max(long, 0.0):.1f} mm within their edges, too "
            "little for a part with its marks and overlap. Choose larger sheets, smaller edges or no marks."
        )
    parts = parts_of(box, largest, [ply.region for ply in plies], STEP)
    if len(parts) > MOST_PARTS:
        raise PerigramError(
            f"That would take {len(parts)} parts; up to {MOST_PARTS} are laid out. Choose larger sheets, "
            "or make the design smaller."
        )
    made = []
    for ply in plies:
        cut = [(part, _within(ply.region, _reach(part, how))) for part in parts]
        cut = [(part, region) for part, region in cut if not region.is_empty]
        for number, (part, region) in enumerate(cut, 1):
            item = _item(region, ply.mirrored, part, how)
            placed = (Placed(0, how.edge, how.edge),)
            used = item.height + 2.0 * how.edge
            made.append(
                Sheet(
                    ply,
                    number,
                    len(cut),
                    how.copies,
                    (item,),
                    placed,
                    used,
                    _frame(ply, used, how),
                    part.name,
                )
            )
    return made


#: Parts of a design at most, and how wide in mm one is at least.
MOST_PARTS = 64
_SMALLEST_PART = 20.0


def _within(region: Region, box: measure.Box) -> Region:
    """What of a ply lies in a box, fit to be cut."""
    x0, y0, x1, y1 = box
    window = box_region(x1 - x0, y1 - y0).translated(x0, y0)
    return finished(overlap(region, window)).region


def _items(ply: CutPly, plies: Sequence[CutPly], how: Sheets) -> tuple[tuple[Item, ...], list[int]]:
    if how.keeps == "designs":
        # Where there are marks, all plies keep the same frame, so that marks still go over marks.
        box = _common_box(plies if how.marks != "none" else [ply])
        items: tuple[Item, ...] = (_item(ply.region, ply.mirrored, _whole(box), how),)
    else:
        items = tuple(
            _item(piece, ply.mirrored, _whole(_box_of([piece])), how, marked=False)
            for piece in ply.region.pieces()
        )
    wanted = [k for k in range(len(items)) for _ in range(how.copies)]
    if len(wanted) > packing.MOST_PIECES:
        raise PerigramError(
            f"{ply.name} has {len(wanted):,} pieces to lay; up to {packing.MOST_PIECES:,} can be packed. "
            "Keep designs together, or make fewer at a time."
        )
    wide, long = ply.width - 2.0 * how.edge, ply.length - 2.0 * how.edge
    for item in items:
        if not (
            fits(item.width, item.height, wide, long)
            or (how.turned and fits(item.height, item.width, wide, long))
        ):
            _refuse(item, ply, wide, long)
    return items, wanted


def _packed(ply: CutPly, plies: Sequence[CutPly], how: Sheets, nested: Mapping[str, Layouts]) -> list[Sheet]:
    """A ply's copies, or all of their pieces, laid close together on as few sheets as was found."""
    items, wanted = _items(ply, plies, how)
    found = nested.get(ply.id)
    if found is None:
        found = packing.by_boxes(items, wanted, packing.Room.of(ply, how))
    return _sheets(ply, items, found, how)


def _sheets(
    ply: CutPly, items: tuple[Item, ...], layouts: Sequence[tuple[Placed, ...]], how: Sheets
) -> list[Sheet]:
    """Sheets of one ply, those laid alike as one that is cut several times."""
    times = Counter(layouts)
    made = []
    for number, (placed, often) in enumerate(times.items(), 1):
        used = max(one.y + sides(one, items[one.item])[1] for one in placed) + how.edge
        made.append(Sheet(ply, number, len(times), often, items, placed, used, _frame(ply, used, how)))
    return made


def _frame(ply: CutPly, used: float, how: Sheets) -> Region:
    """A rectangle halfway between the work and the sheet's edges."""
    if not how.frame:
        return Region.empty()
    off = _down(how.edge / 2.0)
    return box_region(ply.width - 2.0 * off, _up(used) - 2.0 * off).translated(off, off)


def _refuse(item: Item, ply: CutPly, wide: float, long: float, also: str = "") -> None:
    raise PerigramError(
        f"{ply.name} needs {item.width:.1f} by {item.height:.1f} mm with what lies round it; {ply.material} "
        f"leaves {max(wide, 0.0):.1f} by {max(long, 0.0):.1f} mm within its edges. Choose a wider sheet or "
        f"mat, smaller edges or no marks, {also}or make the design smaller."
    )
