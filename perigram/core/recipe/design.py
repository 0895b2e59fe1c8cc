"""`Design`: the document. Its JSON is the file format, described in docs/file-format.md."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import Field, FiniteFloat, ValidationError, model_validator

from perigram.core.errors import PerigramError
from perigram.core.recipe.lines import AnyLine
from perigram.core.recipe.lines.rails import RailShape
from perigram.core.recipe.making import Pressing, Sheets
from perigram.core.recipe.things import called, free_name, listed, things_of
from perigram.core.recipe.upgrade import from_version_1
from perigram.core.recipe.values import UNITS, Line, OwnLetter, Place, Ref, Row, Strict, ranged

VERSION = 2
#: Letters a design can hold: so many are set within a few seconds.
MOST_LETTERS = 4_000

Colour = Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]
Id = Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,24}$")]
Name = Annotated[str, Field(min_length=1, max_length=120)]


class Ground(Strict):
    """What the design ends up on; the middle of what can be covered is the design's origin."""

    name: Name = "White cotton tee"
    colour: Colour = "#F2F0EA"
    #: mm that can be covered, where that is known
    width: FiniteFloat | None = ranged(None, 1.0, 20_000.0, step=5.0, gt=0.0, le=20_000.0)
    height: FiniteFloat | None = ranged(None, 1.0, 20_000.0, step=5.0, gt=0.0, le=20_000.0)


class Guides(Strict):
    """Lines to place things by, in mm from the design's origin: `x` are upright, `y` level."""

    x: Annotated[list[FiniteFloat], Field(max_length=60)] = []
    y: Annotated[list[FiniteFloat], Field(max_length=60)] = []


class Material(Strict):
    """What a ply is cut from. `smallest` is the thinnest strand in mm that still cuts and holds."""

    id: Id
    name: Name
    kind: Literal["htv", "vinyl", "card"] = "htv"
    finish: Literal["smooth", "matt", "gloss", "flock", "glitter", "metal", "puff"] = "smooth"
    colour: Colour
    mirrored: bool = True
    smallest: FiniteFloat = ranged(1.0, 0.0, 50.0)
    #: mm of the sheet it comes in, or of what is cut off the roll at most
    width: FiniteFloat = ranged(305.0, 20.0, 5_000.0, step=5.0, gt=0.0, le=5_000.0)
    length: FiniteFloat = ranged(500.0, 20.0, 50_000.0, step=5.0, gt=0.0, le=50_000.0)
    pressing: Pressing = Pressing()


class Ply(Strict):
    """What is cut from one material: the results welded into it."""

    id: Id
    name: Name
    #: whether the name was typed; one that was not follows what is cut
    typed: bool = True
    material: Id
    results: Annotated[list[Ref], Field(max_length=60)] = []
    #: those of them that another ply cuts as well, because that was asked for
    also: Annotated[list[Ref], Field(max_length=60)] = []
    hidden: bool = False


class Picture(Strict):
    """Art the recipe refers to. A design file carries the SVG text; a shop's database keeps it apart."""

    id: Annotated[str, Field(max_length=80)]
    name: Name
    svg: str | None = None


class Design(Strict):
    """A whole design. Lines come in order and never refer forward; plies run from bottom to top."""

    format: Literal["perigram"] = "perigram"
    version: Literal[2] = 2
    name: Name = "New design"
    unit: Literal["mm", "in"] = "mm"
    ground: Ground = Ground()
    guides: Guides = Guides()
    materials: Annotated[list[Material], Field(max_length=40)] = []
    pictures: Annotated[list[Picture], Field(max_length=60)] = []
    recipe: Annotated[list[AnyLine], Field(max_length=200)] = []
    plies: Annotated[list[Ply], Field(max_length=40)] = []
    #: by a thing that no ply cuts just now, the material it comes back to
    was_cut_from: Annotated[dict[Ref, Id], Field(max_length=400)] = {}
    sheets: Sheets = Sheets()

    @model_validator(mode="after")
    def _ids_are_unique(self) -> Design:
        for what, things in (("line", self.recipe), ("ply", self.plies), ("material", self.materials)):
            ids = [thing.id for thing in things]
            if len(set(ids)) < len(ids):
                raise ValueError(f"two entries share one {what} id")
        return self

    @model_validator(mode="after")
    def _made_names_follow(self) -> Design:
        if all(ply.typed for ply in self.plies):
            return self
        names, things = called(self.recipe, self.picture_names), things_of(self.recipe)
        taken = [ply.name for ply in self.plies if ply.typed]
        for at, ply in enumerate(self.plies):
            if not ply.typed:
                cut = [thing for ref in ply.results for thing in sorted(things.get(ref, ()))]
                name = free_name(listed([names[one] for one in cut if one in names]) or ply.name, taken)
                self.plies[at] = ply.model_copy(update={"name": name[:120]})
                taken.append(name)
        return self

    @property
    def picture_names(self) -> dict[str, str]:
        return {one.id: one.name for one in self.pictures}


def read_design(data: Any) -> Design:
    """A design from its parsed JSON, older versions brought up to date.

    Raises:
        PerigramError: naming the place in the file that is wrong.
    """
    if not isinstance(data, dict) or data.get("format") != "perigram":
        raise PerigramError("This is not a Perigram design file.")
    version = data.get("version")
    if not isinstance(version, int) or version < 1:
        raise PerigramError("This design file does not say which version it is.")
    if version > VERSION:
        raise PerigramError(
            f"This design was made by a newer Perigram (file version {version}); this one reads "
            f"up to version {VERSION}."
        )
    if version == 1:
        data = from_version_1(data)
    try:
        return Design.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        where = " › ".join(str(step) for step in first["loc"]) or "the whole file"
        raise PerigramError(f"This design file is damaged at {where}: {first['msg']}.") from error


def slots_of(line: Line) -> dict[str, str]:
    """By a value's name, what kind of value it is; values that stand in no sentence are left out."""
    extras = {name: field.json_schema_extra for name, field in type(line).model_fields.items()}
    return {
        name: str(extra["slot"])
        for name, extra in extras.items()
        if isinstance(extra, dict) and "slot" in extra
    }


def with_pictures(line: AnyLine, renamed: Mapping[str, str]) -> AnyLine:
    """A line that goes by other names for its pictures."""
    values = {name: getattr(line, name) for name, slot in slots_of(line).items() if slot == "picture"}
    changed = {name: renamed[value] for name, value in values.items() if value in renamed}
    return line.model_copy(update=changed) if changed else line


def letters_in(line: Line) -> int:
    """How many letters a line has to set."""
    rows = [row for name, kind in slots_of(line).items() if kind == "rows" for row in getattr(line, name)]
    return sum(len(row.text) for row in rows)


def references(line: Line) -> list[str]:
    """Every result a line refers to, in the order of its values."""
    found: list[str] = []
    for name, kind in slots_of(line).items():
        value = getattr(line, name)
        if kind == "ref":
            if value or not _can_be_left_out(line, name):
                found.append(value)
        elif kind == "refs":
            found.extend(value)
        elif kind == "place":
            found.extend(value.refs)
    return found


def _can_be_left_out(line: Line, name: str) -> bool:
    extra = type(line).model_fields[name].json_schema_extra
    return isinstance(extra, dict) and bool(extra.get("optional"))


def ranges() -> dict[str, dict[str, float]]:
    """By "model.value", the range and the step of each number that is edited beside a sentence."""
    found = {}
    for model in (Row, OwnLetter, Place, RailShape, Material, Ground, Sheets, Pressing):
        for name, field in model.model_fields.items():
            extra = field.json_schema_extra
            if isinstance(extra, dict) and "low" in extra:
                found[f"{model.__name__}.{name}"] = {k: float(str(extra[k])) for k in ("low", "high", "step")}
    return found


def out_of_range(line: Line) -> list[str]:
    """A sentence for each number of a line that lies outside its range."""
    sentences = []
    for name, field in type(line).model_fields.items():
        extra = field.json_schema_extra
        if not isinstance(extra, dict) or "low" not in extra:
            continue
        value = getattr(line, name)
        number = getattr(value, "value", value)
        low, high = extra["low"], extra["high"]
        if not low <= number <= high:
            unit = UNITS[str(extra.get("slot", "length"))] if getattr(value, "of", "mm") == "mm" else " %"
            sentences.append(f"{extra['label']} can be {low:g} to {high:g}{unit}, not {number:g}{unit}.")
    return sentences
