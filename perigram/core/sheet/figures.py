"""What a sheet takes: material, cutting, weeding, time."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from perigram.core.geometry import measure
from perigram.core.sheet.layout import Sheet
from perigram.core.sheet.machine import Machine
from perigram.core.sheet.order import travel


@dataclass(frozen=True)
class Figures:
    """Areas in mm^2, lengths in mm, seconds.

    Attributes:
        kept: what stays on the goods.
        weeded: what is lifted off around it, within the boxes that were laid.
        whole: what of the length used up is left whole.
        cutting, lifted: how far the blade goes down and up.
        pieces, small: pieces kept, and those among them whose box is narrower than `SMALL` mm.
        seconds: by the machine's speeds; acceleration is not counted.
    """

    kept: float
    weeded: float
    whole: float
    cutting: float
    lifted: float
    pieces: int
    small: int
    seconds: float


#: Pieces under this many mm are hard to weed around (common practice).
SMALL = 5.0


def small_places(sheet: Sheet, most: int = 500) -> list[measure.Box]:
    """The boxes of outlines that are hard to weed: small pieces to keep and small holes to lift out."""
    region = sheet.work
    controls = region.curves[region.curve]
    low = np.minimum.reduceat(controls.min(axis=1), region.loop_offsets[:-1], axis=0)
    high = np.maximum.reduceat(controls.max(axis=1), region.loop_offsets[:-1], axis=0)
    narrow = np.flatnonzero((high - low).max(axis=1) < SMALL)[:most]
    return [
        (float(x0), float(y0), float(x1), float(y1))
        for (x0, y0), (x1, y1) in zip(low[narrow], high[narrow], strict=True)
    ]


def figures(sheet: Sheet, machine: Machine) -> Figures:
    boxes = [sheet.items[one.item] for one in sheet.placed]
    laid = sum(item.width * item.height for item in boxes)
    kept = sum(measure.area(item.work) for item in boxes)
    cutting = sum(
        sum(measure.length(part) for part in (item.work, item.marks, item.border) if not part.is_empty)
        for item in boxes
    )
    lifted = travel(sheet.cut, sheet.order[1])
    sizes = sheet.work.piece_boxes()
    narrow = (sizes[:, 2:] - sizes[:, :2]).max(axis=1) < SMALL
    return Figures(
        kept,
        laid - kept,
        max(0.0, sheet.stock.width * sheet.used - laid),
        cutting,
        lifted,
        sheet.work.piece_count,
        int(narrow.sum()),
        cutting / machine.speed + lifted / machine.travel,
    )
