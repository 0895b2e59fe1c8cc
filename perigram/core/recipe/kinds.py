"""What a kind of line is, and what its function is given to work with."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, Protocol

from perigram.core.art.svg import Drawing
from perigram.core.geometry import measure
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
        sets: values of the line, by their paths, that hold once it is pulled.
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
    sets: Mapping[str, float | str] = field(default_factory=dict)
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
class Naming:
    """What a kind names its results with.

    Attributes:
        of: what a result is called.
        things: what the things that results are, are called together: "REGATTA and WEEKEND".
        picture: what a picture is called, by its id; empty for one that is not there.
    """

    of: Callable[[str], str]
    things: Callable[[Sequence[str]], str]
    picture: Callable[[str], str]


@dataclass(frozen=True)
class Start:
    """What a new line finds on the bench.

    Attributes:
        free: results that no line has taken the place of yet, oldest first.
        chosen: those of them that were chosen by hand, in that order.
        picture, width, height: the picture it is for, and its size in mm as drawn.
        boxes: where results lie, by reference; not all need be there.
        seen: the boxes of all that shows, what lies under the rest as well.
        order: results that plies cut, from the ground up.
    """

    free: Sequence[str] = ()
    chosen: Sequence[str] = ()
    picture: str | None = None
    width: float = 0.0
    height: float = 0.0
    boxes: Mapping[str, Box] = field(default_factory=dict)
    seen: Sequence[Box] = ()
    order: Sequence[str] = ()

    def pair(self, beside: Sequence[str] = ()) -> tuple[list[str], list[str]]:
        """What is let in, cut away or knocked out, and what that is done to; empty without two things.

        Of two things it is the one that lies within the other or, where neither does, the one on top. With
        more than two chosen it is done to all the others. Nothing chosen means the newest thing and the one
        before it, of `beside` if there are any.
        """
        chosen = list(self.chosen)
        if len(chosen) < 2:
            first = chosen[-1] if chosen else next(iter(self.free[-1:]), None)
            others = [ref for ref in self.free if ref != first]
            other = next((ref for ref in reversed(others) if ref in beside), next(iter(others[-1:]), None))
            if first is None or other is None:
                return [], []
            chosen = [other, first]
        inner = [one for one in chosen if any(self._within(one, other) for other in chosen if other != one)]
        top = max(inner or chosen, key=self._height_of)
        return [top], [ref for ref in chosen if ref != top]

    def _height_of(self, ref: str) -> tuple[int, int]:
        """How high a result lies: by its ply, then by its place in the recipe."""
        on_ply = self.order.index(ref) if ref in self.order else -1
        return on_ply, self.free.index(ref) if ref in self.free else -1

    def _within(self, one: str, other: str) -> bool:
        """Whether a thing lies within another's box, or sticks out of a larger one by little."""
        a, b = self.boxes.get(one), self.boxes.get(other)
        if a is None or b is None or measure.box_area(a) >= measure.box_area(b):
            return False
        slack = 0.05 * max(b[2] - b[0], b[3] - b[1])
        return min(a[0] - b[0], a[1] - b[1], b[2] - a[2], b[3] - a[3]) >= -slack


Side = Literal["width", "height"]


def by_size(line: Any, ratio: float, side: Side) -> dict[str, float]:
    """A line with one figure for its size, made so many times as large."""
    return {"size": round(line.size * ratio, 4)}


def on_newest(start: Start) -> dict[str, object]:
    """A line over several things begins with those chosen, or the newest thing."""
    return {"of": list(start.chosen or start.free[-1:])}


def on_one(start: Start) -> dict[str, object]:
    """A line over one thing works on the one chosen, or the newest."""
    return {"of": next(iter([*start.chosen[:1], *start.free[-1:]]), "")}


def as_sources(kind: Kind, line: Line, name: str, naming: Naming) -> str:
    """What stands for others is called as they are, and what is made of them by its kind: "Ring of heart"."""
    if name not in kind.results:
        return naming.of(name)
    given: str | Sequence[str] = getattr(line, kind.replaces.get(name, "of"), ())
    refs = [given] if isinstance(given, str) else given
    if name in kind.replaces:
        return naming.of(refs[0]) if len(refs) == 1 else naming.things(refs)
    word = kind.results[name].capitalize()
    return f"{word} of {naming.things(refs)}" if any(refs) else word


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
    #: what a result of a line is called, by the kind, the line and the result's name
    called: Callable[[Kind, Any, str, Naming], str] = as_sources
    #: a value whose results lie in the place of what another value has, and so are cut from another ply
    apart: tuple[str, str] | None = None
    #: two values whose things can change places
    swaps: tuple[str, str] | None = None
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
