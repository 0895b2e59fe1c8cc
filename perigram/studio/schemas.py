"""What goes over the wire; the source of the interface's types."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from perigram.core.lettering.rows import Even, Fit
from perigram.core.recipe.arrange import How, To
from perigram.core.recipe.block import Align
from perigram.core.recipe.design import Design, Material
from perigram.core.recipe.evaluate import Care
from perigram.core.recipe.kinds import Side
from perigram.core.recipe.pieces import Anchor, Pick
from perigram.core.recipe.scale import Measures


class Session(Schema):
    user: str | None
    demo: bool
    #: who may make an account here
    sign_up: Literal["open", "invitation", "closed"]


class SignIn(Schema):
    user: str
    password: str


class NewAccount(Schema):
    user: Annotated[str, Field(max_length=150)]
    password: Annotated[str, Field(max_length=200)]
    invitation: Annotated[str, Field(max_length=40)] = ""


class NewPassword(Schema):
    old: Annotated[str, Field(max_length=200)]
    new: Annotated[str, Field(max_length=200)]


class PlyPicture(Schema):
    colour: str
    d: str


class ShelfPicture(Schema):
    ground: str
    box: tuple[float, float, float, float] | None
    plies: list[PlyPicture]


class ShelfEntry(Schema):
    id: UUID
    name: str
    updated: datetime
    picture: ShelfPicture


class RemovedEntry(ShelfEntry):
    removed: datetime


class PastState(Schema):
    id: int
    created: datetime
    set_aside: bool
    #: what it was called by hand, or nothing
    name: str
    picture: ShelfPicture


class StateName(Schema):
    name: Annotated[str, Field(max_length=120)]


class DesignState(Schema):
    id: UUID
    revision: int
    design: Design


class NewName(Schema):
    name: str


class SaveIn(Schema):
    base: Annotated[int, Field(ge=1, lt=2**31)]
    design: Design


class Saved(Schema):
    revision: int


class ProofIn(Schema):
    design: Design
    #: keys of paths the interface holds already; they are not sent again
    have: list[str] = []
    #: "rough": curves drawn by chords, as while something is dragged; "drawn": all but a look at the plies
    care: Care = "checked"


class StartOut(Schema):
    """A whole recipe to start from."""

    id: str
    name: str
    picture: ShelfPicture


class AddLineIn(Schema):
    design: Design
    kind: str
    picture: str | None = None
    #: results chosen by hand: a line works on these, and nothing else
    chosen: list[str] = Field(default=[], max_length=200)
    given: dict[str, float | str] = {}


class RemoveLineIn(Schema):
    design: Design
    line: str


class TakeStartIn(Schema):
    design: Design
    start: str
    word: str = Field("", max_length=40)


class OwnPlyIn(Schema):
    design: Design
    of: str


class ChangeLineIn(Schema):
    design: Design
    line: str
    values: dict[str, str | list[str]]


class EditedOut(Schema):
    design: Design
    #: the line to show as chosen
    line: str | None


class ResultOut(Schema):
    ref: str
    line: str
    name: str
    key: str
    d: str | None
    box: tuple[float, float, float, float] | None
    #: heights (y in mm) other things may be lined up with: baselines and cap heights
    levels: list[float]


class PlyOut(Schema):
    id: str
    name: str
    key: str
    d: str | None
    box: tuple[float, float, float, float] | None
    #: mm^2, mm, and counts
    area: float
    length: float
    pieces: int
    nodes: int
    #: boxes of outlines that are hard to weed; looked for when plies are checked
    small: list[tuple[float, float, float, float]]


class MendOut(Schema):
    label: str
    kind: str
    on: str
    values: dict[str, float | str]
    #: the result that is taken off the ply, where that mends it
    result: str
    ply: str


class FindingOut(Schema):
    level: Literal["holds", "look", "stop"]
    text: str
    line: str | None
    ply: str | None
    place: tuple[float, float, float, float] | None
    mend: MendOut | None


class HandleOut(Schema):
    """Where a value of a line is pulled by: see the core's `Handle`."""

    value: str
    label: str
    at: tuple[float, float]
    now: list[float]
    along: tuple[float, float]
    inverse: bool
    about: tuple[float, float] | None
    scale: tuple[float, float]
    swapped: bool
    low: float
    high: float
    reads: Literal["length", "angle", "number", "percent"]
    grows: bool
    corners: bool
    partners: list[tuple[int, float, float]]
    sets: dict[str, float | str]
    fills: dict[str, Any]


class ShapingOut(Schema):
    handles: list[HandleOut]
    #: SVG path data of the curves they lie on
    curves: list[str]


class ProofOut(Schema):
    results: list[ResultOut]
    plies: list[PlyOut]
    findings: list[FindingOut]
    #: line -> how it is shaped by hand, where it can be
    shapings: dict[str, ShapingOut]
    #: what a person would call each result, those of lines that cannot be carried out too
    called: dict[str, str]
    bounds: tuple[float, float, float, float] | None
    cuttable: bool
    #: whether plies have been looked at; if not, findings are of lines alone
    checked: bool


class PictureShape(Schema):
    name: str
    d: str


class PictureOut(Schema):
    id: str
    name: str
    #: natural size in mm
    width: float
    height: float
    box: tuple[float, float, float, float]
    parts: list[PictureShape]
    notes: list[str]


class Drawn(Schema):
    """Something drawn, with its box in mm."""

    d: str
    box: tuple[float, float, float, float] | None


class PartOut(Drawn):
    """A part of a result where it lies: a letter by its row and its first character's place in it."""

    path: list[int]
    name: str


class CurveOut(Schema):
    """A curve to start from: the values that make it, and what is worked on, drawn with it."""

    name: str
    values: dict[str, Any]
    d: str
    box: tuple[float, float, float, float] | None


class PieceOut(Drawn):
    """Something that can be picked on the proof, and the pick that says where it goes now."""

    name: str
    pick: Pick


class AnchorIn(Schema):
    design: Design
    of: str
    at: tuple[float, float]


class AnchorOut(Schema):
    anchor: Anchor


class ScaleIn(Schema):
    design: Design
    side: Side
    #: in mm
    size: float
    measures: Measures = "kept"


class HabitsOut(Schema):
    unit: Literal["mm", "in"]
    fonts: list[str]


class ArrangeIn(Schema):
    design: Design
    lines: list[str]
    how: How
    to: To
    #: as relations that hold from now on
    hold: bool = False


class LineIn(Schema):
    design: Design
    line: str


class PiecesIn(LineIn):
    #: "rough" where what is shown is
    care: Care = "drawn"


class PartsIn(Schema):
    design: Design
    #: the result whose parts are asked for
    of: str


class BlockIn(LineIn):
    fit: Fit
    align: Align
    gives: Even


class SlotOut(Schema):
    field: str
    slot: Literal[
        "length",
        "angle",
        "number",
        "percent",
        "choice",
        "rail",
        "rails",
        "rows",
        "font",
        "gap",
        "place",
        "picture",
        "parts",
        "ref",
        "refs",
        "picks",
        "anchors",
    ]
    label: str
    low: float | None = None
    high: float | None = None
    step: float | None = None
    choices: dict[str, str] | None = None
    #: what stands in the sentence for none
    zero: str | None = None
    #: whether what plies cut depends on it
    plies: bool = False
    #: whether its line does without it
    optional: bool = False


class KindOut(Schema):
    id: str
    name: str
    sentence: str
    words: list[str]
    results: dict[str, str]
    #: result name -> the value whose result, or all of whose results, it takes the place of
    replaces: dict[str, str]
    #: the values whose every result gives one, named after it and in its place
    each: list[str]
    #: values whose results are cut no more where another value is so
    not_cut: dict[str, tuple[str, str]]
    #: whether what it works on shows as it was while it is chosen, and is taken hold of as it is afterwards
    shapes: bool
    #: two values whose things can change places
    swaps: tuple[str, str] | None
    slots: list[SlotOut]
    #: a line of this kind as it is when added, without its id
    blank: dict[str, Any]


class RangeOut(Schema):
    low: float
    high: float
    step: float


class FinishOut(Schema):
    name: str
    #: whether nothing may be pressed over it
    last: bool


class MaterialKindOut(Schema):
    name: str
    mirrored: bool
    smallest: float


class BasicsOut(Schema):
    """What the interface needs to know of designs before it opens one."""

    kinds: list[KindOut]
    #: by "model.value": numbers that are edited beside sentences
    ranges: dict[str, RangeOut]
    material_kinds: dict[str, MaterialKindOut]
    finishes: dict[str, FinishOut]
    #: what a new design, the first material of one, and any further material are at first
    blank: Design
    first_material: Material
    fresh_material: Material


class ProblemOut(Schema):
    title: str
    status: int
    detail: str
