"""The page all cut files of a design share, and each ply laid on it."""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass

import numpy as np

from perigram.core.errors import PerigramError
from perigram.core.geometry.finish import DECIMALS
from perigram.core.geometry.region import Region
from perigram.core.recipe.evaluate import PlyProof, Proof

#: Steps a mm that numbers are written in.
GRID = 10.0**DECIMALS


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


def pages(proof: Proof) -> list[PlyPage]:
    """The plies from bottom to top on one common page.

    Raises:
        PerigramError: when there is nothing to cut, or something in the way of cutting it.
    """
    stops = [f.text for f in proof.findings if f.level == "stop"]
    if stops:
        raise PerigramError("Not cut-ready yet: " + " ".join(stops))
    box = proof.bounds
    cut = [p for p in proof.plies if not p.region.is_empty]
    if box is None or not cut:
        raise PerigramError("There is nothing to cut yet: give a ply a result to cut.")
    # On the grid that plies are on already, so that moving them to the page changes no number.
    left, top = (float(np.floor(v * GRID) / GRID) for v in box[:2])
    width, height = (
        float(np.ceil((v - at) * GRID) / GRID) for v, at in zip(box[2:], (left, top), strict=True)
    )
    return [
        PlyPage(
            number,
            len(cut),
            proof_ply.ply.name,
            proof_ply.material.name,
            proof_ply.material.colour,
            proof_ply.material.mirrored,
            _on_page(proof_ply, left, top, width),
            width,
            height,
        )
        for number, proof_ply in enumerate(cut, start=1)
    ]


def _on_page(ply: PlyProof, left: float, top: float, width: float) -> Region:
    moved = ply.region.translated(-left, -top)
    if not ply.material.mirrored:
        return moved
    return moved.transformed(np.array([[-1.0, 0.0, width], [0.0, 1.0, 0.0]]))


def plain_name(text: str) -> str:
    """Letters, digits and a few marks only, accents taken off; never empty."""
    ascii_text = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode()
    return re.sub(r"[^A-Za-z0-9 ,._-]+", "", ascii_text).strip(" .")[:120] or "design"
