"""What the calls on sheets, cutting and pressing take and give."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from perigram.core.recipe.design import Design, Material
from perigram.core.sheet.machine import Machine


class SheetsIn(Schema):
    design: Design


class NestIn(Schema):
    design: Design
    #: how long is looked for each ply
    seconds: Annotated[float, Field(ge=2.0, le=300.0, allow_inf_nan=False)] = 20.0


class NestingOut(Schema):
    #: "no": plies are not packed; "boxes": not nested yet; "working": what is shown may get better;
    #: "failed": it ended by itself, and nothing was found
    state: Literal["no", "boxes", "working", "done", "failed"]
    share: float
    #: mm of roll taken packed by boxes, and nested
    before: float
    after: float


class ItemOut(Schema):
    #: path data of what is kept, of marks, the border and lines through waste, about its top left corner
    d: str
    marks: str
    border: str
    lines: str
    width: float
    height: float


class PlacedOut(Schema):
    item: int
    #: a, b, c, d, e, f as SVG's matrix() takes them
    matrix: tuple[float, float, float, float, float, float]


class OutlineOut(Schema):
    d: str
    at: tuple[float, float]
    length: float


class FiguresOut(Schema):
    kept: float
    weeded: float
    whole: float
    cutting: float
    lifted: float
    pieces: int
    small: int
    seconds: float


class SheetOut(Schema):
    ply: str
    name: str
    material: str
    colour: str
    mirrored: bool
    #: whether what lies on it is turned by a quarter
    turned: bool
    number: int
    count: int
    #: how often it is cut
    times: int
    width: float
    length: float
    used: float
    #: what its file is called
    file: str
    items: list[ItemOut]
    placed: list[PlacedOut]
    #: outlines in the order they are cut in; none where there are too many to follow
    order: list[OutlineOut]
    #: path data of the frame along its edges
    frame: str
    #: which part of a design too large for one sheet it is
    part: str
    #: boxes of outlines that are hard to weed
    small: list[tuple[float, float, float, float]]
    figures: FiguresOut


class SheetsOut(Schema):
    sheets: list[SheetOut]
    nesting: NestingOut
    warnings: list[str]


class StepOut(Schema):
    kind: Literal["warm", "tack", "press", "lay"]
    title: str
    text: str
    ply: str | None
    shown: list[str]
    seconds: float | None
    heat: float | None


class HeatOut(Schema):
    ply: str
    seconds: float
    most: float


class WarningOut(Schema):
    #: "stop": it cannot be made as it is
    level: Literal["look", "stop"]
    ply: str | None
    text: str


class SeamOut(Schema):
    under: str
    over: str
    #: mm, and path data of where they meet
    length: float
    d: str


class PlanOut(Schema):
    #: where a little drift in laying would show what lies below
    seams: list[SeamOut]
    #: that drift, in mm
    drift: float
    steps: list[StepOut]
    heat: list[HeatOut]
    warnings: list[WarningOut]
    seconds: float


class MachinesIn(Schema):
    machines: Annotated[list[Machine], Field(min_length=1, max_length=20)]
    chosen: Annotated[str, Field(max_length=24)]


class MachinesOut(Schema):
    machines: list[Machine]
    #: whether the shop has said what it cuts with
    known: bool
    chosen: str
    #: what a machine may read, in words
    reads: dict[str, str]
    #: whether a cutter can be sent to from here
    wired: bool


class ChoicesIn(Schema):
    design: Design
    ply: str


class ChoiceOut(Schema):
    material: Material
    #: whether it is one of the design's
    own: bool
    #: what speaks against it there
    warns: list[str]


class MaterialsIn(Schema):
    materials: Annotated[list[Material], Field(max_length=100)]


class CutIn(Schema):
    revision: Annotated[int, Field(ge=1, lt=2**31)]
    #: which of the sheets, from 0
    sheet: Annotated[int, Field(ge=0, lt=10_000)]
    #: over the network, or from the memory stick, where it was written before
    by: Literal["wire", "stick"] = "wire"


class StickOut(Schema):
    #: the folder on the memory stick and the files written to it
    folder: str
    files: list[str]


class BladeIn(Schema):
    #: mm that the tip of the knife in the cutter trails by
    offset: Annotated[float, Field(ge=0.0, le=2.0, allow_inf_nan=False)]


class CutterOut(Schema):
    width: float
    length: float
    paused: bool
    blade: float
    #: HP-GL files on its memory stick
    stick: list[str]


class FoundOut(Schema):
    deviation: float
    missing: float
    twice: float
    mirrored: bool


class JobOut(Schema):
    id: UUID
    name: str
    created: datetime
    #: "lost": the cutter does not know of it any more
    state: Literal["waiting", "cutting", "paused", "out of material", "done", "lost"]
    share: float
    #: how it came out, once it is cut
    found: FoundOut | None


class JobSeen(JobOut):
    """A job with all that can be seen of it."""

    width: float
    length: float
    #: path data of what is wanted, and of what was cut so far
    wanted: str
    cut: str
    #: places of outlines that were not cut
    missed: list[tuple[float, float]]
