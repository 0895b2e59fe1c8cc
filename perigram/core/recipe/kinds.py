"""What a kind of line is, and what its function is given to work with."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, Protocol

from perigram.core.art.svg import Drawing
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.measure import Box
from perigram.core.geometry.region import Region
from perigram.core.lettering.fonts import Font
from perigram.core.recipe.parts import Made
from perigram.core.recipe.values import Line

Level = Literal["holds", "look", "stop"]


class Sources(Protocol):
    """Where fonts and pictures come from; raises FontError or PictureError for what is not there."""

    @property
    def state(self) -> str:
        """Another one whenever fonts come or go, or a name of one, or of a picture, stands for another."""
        ...

    def font(self, font_id: str, axes: Mapping[str, float]) -> Font:
        """A font, a variable one at a place on its axes."""
        ...

    def drawing(self, picture_id: str) -> Drawing: ...

    def fonts_with(self, characters: str) -> list[str]:
        """Names of fonts that have all of the characters."""
        ...


@dataclass(frozen=True)
class Note:
    """Something a line has to say: `stop` where it cannot be cut, `look` where it needs a look,
    `holds` for what it did.
    """

    level: Level
    text: str
    #: the box in mm it is about, where it has one
    place: Box | None = None
    #: what would put it right: how that is called, and values of its line
    mend: tuple[str, Mapping[str, str | float]] | None = None


@dataclass(frozen=True)
class Handle:
    """A point on the proof that a value of the line is pulled by.

    Attributes:
        value: the value, as a path into the line: "rise", "top.rise", "points.2".
        label: what it does, for who cannot see it.
        at: where it is, in mm.
        now: the value as it is: a number, or the two of a point.
        along: by how much a number changes for a mm to the right and a mm down; (0, 0) where the value is a
            point of two numbers that goes as it is pulled, times `scale`; `swapped`, its first number goes by
            what is pulled down.
        about: where it is turned about, for a number that goes by an angle: `along` is then its change for a
            whole turn clockwise, and 0.
        inverse: `along` is the change of one over the number: as an arc gets flat, its radius has no end.
        low, high: the range of the number.
        reads: what its figure reads as: "length", "angle", "number", "percent".
        grows: whether its list of points can have more or fewer of them.
        corners: whether a point of that list, given twice in a row, is a corner.
        partners: other points of its list that go with it: their number, and times what across and down.
        sets: values of the line that hold once it is pulled.
        fills: what is put into a list of the line where it is shorter than the value's place in it.
    """

    value: str
    label: str
    at: tuple[float, float]
    now: tuple[float, ...]
    along: tuple[float, float] = (0.0, 0.0)
    about: tuple[float, float] | None = None
    scale: tuple[float, float] = (1.0, 1.0)
    swapped: bool = False
    inverse: bool = False
    low: float = -1e9
    high: float = 1e9
    reads: str = "length"
    grows: bool = False
    corners: bool = False
    partners: tuple[tuple[int, float, float], ...] = ()
    sets: Mapping[str, float] = field(default_factory=dict)
    fills: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Shaping:
    """What shows on the proof while a line is chosen: its handles, and the curves they lie on.

    Attributes:
        curves: (n, 2) points each, in mm.
    """

    handles: list[Handle] = field(default_factory=list)
    curves: list[Floats] = field(default_factory=list)


class Pickable(Protocol):
    """A piece that can be picked; what a pick says of it is the business of the kinds that have them."""

    @property
    def region(self) -> Region: ...

    @property
    def pick(self) -> Any: ...


@dataclass(frozen=True)
class Outcome:
    """What a line makes: results by name, and notes; and how it is shaped and picked from by hand."""

    results: dict[str, Made]
    notes: list[Note] = field(default_factory=list)
    shaping: Shaping | None = None
    #: what can be picked of it on the proof, one by one
    pieces: Sequence[Pickable] = ()


@dataclass(frozen=True)
class Tools:
    """What a line's function works with besides its own values."""

    inputs: Mapping[str, Made]
    sources: Sources
    #: earlier lines whose values it takes over, by id
    others: Mapping[str, Line]
    #: Computes a value once for equal keys; for the costly part of a line that the rest leaves alone.
    memo: Callable[[Hashable, Callable[[], Any]], Any]

    def region(self, ref: str) -> Region:
        """A result the line refers to, as one."""
        return self.inputs[ref].region


@dataclass(frozen=True)
class Start:
    """What a new line finds on the bench.

    Attributes:
        free: results that no line has taken the place of yet, oldest first.
        on: the result it was asked for on, where it was.
        picture, height: the picture it is for, and how tall that is in mm.
    """

    free: Sequence[str] = ()
    on: str | None = None
    picture: str | None = None
    height: float | None = None


Side = Literal["width", "height"]


def by_size(line: Any, ratio: float, side: Side) -> dict[str, float]:
    """A line with one figure for its size, made so many times as large."""
    return {"size": round(line.size * ratio, 4)}


def on_newest(start: Start) -> dict[str, object]:
    """A line over several things begins with what it was asked for on, or the newest thing."""
    return {"of": [start.on] if start.on else list(start.free[-1:])}


def on_one(start: Start) -> dict[str, object]:
    """A line over one thing works on what it was asked for on, or the newest."""
    return {"of": start.on or (start.free[-1] if start.free else "")}


@dataclass(frozen=True)
class Kind:
    """One kind of line: its values, its sentence, the trade words it is found by, its function.

    In a sentence `{size}` is a value. `[figure=heart:words]` is said only where that value is so, and
    `[rows>1:words]` only where there are more than so many of it: what does not count is not said.
    """

    model: type[Line]
    name: str
    sentence: str
    words: tuple[str, ...]
    #: result name -> how it is called after "line 3" in a sentence
    results: dict[str, str]
    run: Callable[[Any, Tools], Outcome]
    #: result name -> the value whose result, or all of whose results, it takes the place of: plies pass
    #: over to it when a line is added, and back when it is removed
    replaces: dict[str, str] = field(default_factory=dict)
    #: earlier lines whose values a line takes over, by id; each is part of what its result depends on
    reads: Callable[[Any], list[str]] = lambda line: []
    #: values whose every result gives one of the line's, named after it and in its place
    each: tuple[str, ...] = ()
    #: values whose results are cut no more where another value is so: their plies let go of them
    not_cut: dict[str, tuple[str, str]] = field(default_factory=dict)
    #: whether what it works on shows as it was while it is chosen, and is taken hold of as it is afterwards
    shapes: bool = False
    #: whether a line has use for curves that chords cannot tell it, and so is never drawn roughly
    by_curves: Callable[[Any], bool] = lambda line: False
    #: how a new ply for this line's result is called, and whether it lies under all others
    ply: str = ""
    underneath: bool = False
    #: values of a new line that depend on what is on the bench
    starts: Callable[[Start], dict[str, object]] = lambda start: {}
    #: values of a line that is to be so many times as wide or tall; others follow in proportion
    resized: Callable[[Any, float, Side], dict[str, float]] = by_size

    @property
    def id(self) -> str:
        return str(self.model.model_fields["kind"].default)

    def let_go(self, line: Line) -> list[str]:
        """The results a line works on that are cut no more because of it."""
        values = [v for v, (other, asked) in self.not_cut.items() if getattr(line, other) == asked]
        given = [getattr(line, value) for value in values]
        return [ref for refs in given for ref in ([refs] if isinstance(refs, str) else refs) if ref]

    def named_after(self, line: Line) -> list[str]:
        """The results a line works on that each give one of its own, by that name."""
        gone = set(self.let_go(line))
        given = [ref for value in self.each for ref in getattr(line, value) if ref not in gone]
        return list(dict.fromkeys(given))

    def stands_for(self, line: Line) -> dict[str, str]:
        """By each result whose place a line takes, its own that does; empty for what is cut no more."""
        taken = dict.fromkeys(self.let_go(line), "")
        for name, value in self.replaces.items():
            given = getattr(line, value)
            taken |= dict.fromkeys([given] if isinstance(given, str) else given, name)
        return taken | {ref: ref for ref in self.named_after(line)}

    def names(self, line: Line) -> list[str]:
        """The names of a line's results."""
        return [*self.results, *self.named_after(line)]
