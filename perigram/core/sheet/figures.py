"""What a sheet takes: material, cutting, weeding, time."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from perigram.core.geometry import measure
from perigram.core.sheet.machine import Machine
from perigram.core.sheet.sheet import Sheet
from perigram.core.sheet.weeding import SMALL


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


def figures(sheet: Sheet, machine: Machine) -> Figures:
    boxes = [sheet.items[one.item] for one in sheet.placed]
    laid = sum(item.width * item.height for item in boxes)
    kept = sum(measure.area(item.work) for item in boxes)
    cutting = sum(
        sum(measure.length(part) for part in (item.work, item.marks, item.border) if not part.is_empty)
        for item in boxes
    )
    cutting += float(np.hypot(*np.diff(sheet.lines, axis=1)[:, 0].T).sum())
    cutting += 0.0 if sheet.frame.is_empty else measure.length(sheet.frame)
    lifted = sheet.lifted
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
