"""A shop's cutting machine: how large, how fast, how it is fed, and what it reads."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field, FiniteFloat

from perigram.core.formats.page import CutPly
from perigram.core.recipe.values import Strict, ranged

#: What a machine reads; SVG for readers that know units, or that take so many dots for an inch.
Reads = Literal["svg-mm", "svg-in", "svg-72", "svg-90", "svg-96", "dxf-mm", "dxf-in", "pdf", "hpgl"]
READS: dict[Reads, str] = {
    "svg-mm": "SVG in mm",
    "svg-in": "SVG in inches",
    "svg-72": "SVG, 72 dots an inch",
    "svg-90": "SVG, 90 dots an inch",
    "svg-96": "SVG, 96 dots an inch",
    "dxf-mm": "DXF in mm",
    "dxf-in": "DXF in inches",
    "pdf": "PDF",
    "hpgl": "HP-GL",
}


class Machine(Strict):
    """One of the shop's machines, as its owner says it is."""

    id: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,24}$")]
    name: Annotated[str, Field(min_length=1, max_length=80)]
    #: what fits in, in mm
    width: FiniteFloat = ranged(610.0, 20.0, 5_000.0, step=5.0, gt=0.0, le=5_000.0)
    length: FiniteFloat = ranged(3_000.0, 20.0, 50_000.0, step=5.0, gt=0.0, le=50_000.0)
    #: mm a second cutting, and lifted
    speed: FiniteFloat = ranged(40.0, 1.0, 2_000.0, step=1.0, ge=1.0, le=2_000.0)
    travel: FiniteFloat = ranged(200.0, 1.0, 2_000.0, step=1.0, ge=1.0, le=2_000.0)
    #: material as it is, or pieces of it on a carrier that sticks; how much of that can be cut on, in mm
    fed: Literal["free", "mat"] = "free"
    mat_width: FiniteFloat = ranged(305.0, 20.0, 5_000.0, step=5.0, gt=0.0, le=5_000.0)
    mat_length: FiniteFloat = ranged(305.0, 20.0, 50_000.0, step=5.0, gt=0.0, le=50_000.0)
    reads: Reads = "svg-mm"
    #: HP-GL: mm that a drag knife's tip trails its holder by, and that outlines are cut past their start
    blade: FiniteFloat = ranged(0.0, 0.0, 2.0, step=0.05)
    overcut: FiniteFloat = ranged(0.0, 0.0, 20.0, step=0.5)


#: Made-up machines every shop starts with; the first is what it has until it says so.
STARTERS = (
    Machine(id="home", name="Home cutter", reads="svg-mm"),
    Machine(id="sandpiper", name="Sandpiper 24", reads="hpgl"),
    Machine(id="plover", name="Plover 12", width=305.0, length=305.0, speed=60.0, fed="mat", reads="svg-mm"),
)


def as_fed(plies: Sequence[CutPly], machine: Machine) -> list[CutPly]:
    """Plies with the sheets they are cut from as they go into a machine: on a mat, no larger than that.

    A machine counts from the corner of what can be cut on, which is where the material is laid (common
    practice), so nothing is moved.
    """
    if machine.fed == "free":
        return list(plies)
    wide, long = machine.mat_width, machine.mat_length
    return [replace(ply, width=min(ply.width, wide), length=min(ply.length, long)) for ply in plies]
