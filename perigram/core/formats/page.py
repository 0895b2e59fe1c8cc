"""The page all cut files of a design share, and each ply laid on it."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from perigram.core.errors import NOTHING_TO_CUT, PerigramError
from perigram.core.geometry import measure
from perigram.core.geometry.finish import DECIMALS
from perigram.core.geometry.region import Region

#: Steps a mm that numbers are written in.
GRID = 10.0**DECIMALS


@dataclass(frozen=True, eq=False)
class CutPly:
    """What is cut from one material, where it lies in the design.

    Attributes:
        mirrored: cut from the back.
        width, length: in mm of the sheets or the stretch of roll it is cut from.
        id: of the ply.
    """

    name: str
    material: str
    colour: str
    mirrored: bool
    region: Region
    width: float
    length: float
    id: str = ""


@dataclass(frozen=True, eq=False)
class PlyPage:
    """One ply ready to be written: its region with the page's top left corner at the origin."""

    number: int
    count: int
    name: str
    material: str
    colour: str
    mirrored: bool
    region: Region
    width: float
    height: float

    def file_name(self, design: str, extension: str) -> str:
        """A name a person understands, safe on every system."""
        words = [design, f"{self.number} of {self.count}", self.name, self.material]
        words += ["mirrored"] if self.mirrored else []
        return f"{plain_name(' - '.join(words))}.{extension}"


def pages(plies: Sequence[CutPly]) -> list[PlyPage]:
    """The plies from bottom to top on one common page; those with nothing to cut are left out.

    Raises:
        PerigramError: when there is nothing to cut at all.
    """
    cut = [(ply, box) for ply in plies if (box := measure.bounds(ply.region))]
    if not cut:
        raise PerigramError(NOTHING_TO_CUT)
    boxes = np.array([box for _, box in cut])
    # On the grid that plies are on already, so that moving them to the page changes no number.
    left, top = (float(np.floor(v * GRID) / GRID) for v in boxes[:, :2].min(axis=0))
    width, height = (
        float(np.ceil((v - at) * GRID) / GRID)
        for v, at in zip(boxes[:, 2:].max(axis=0), (left, top), strict=True)
    )
    return [
        PlyPage(
            number,
            len(cut),
            ply.name,
            ply.material,
            ply.colour,
            ply.mirrored,
            _on_page(ply, left, top, width),
            width,
            height,
        )
        for number, (ply, _) in enumerate(cut, start=1)
    ]


def _on_page(ply: CutPly, left: float, top: float, width: float) -> Region:
    moved = ply.region.translated(-left, -top)
    if not ply.mirrored:
        return moved
    return moved.transformed(np.array([[-1.0, 0.0, width], [0.0, 1.0, 0.0]]))


def plain_name(text: str) -> str:
    """Letters, digits and a few marks only, accents taken off; never empty."""
    ascii_text = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode()
    return re.sub(r"[^A-Za-z0-9 ,._-]+", "", ascii_text).strip(" .")[:120] or "design"
