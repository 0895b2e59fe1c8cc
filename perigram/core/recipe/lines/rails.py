"""Rails: rows stretched between curves from left to right, neighbours sharing the rail between them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, FiniteFloat

from perigram.core.errors import GeometryError
from perigram.core.geometry import measure
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.measure import Box
from perigram.core.recipe.kinds import Handle, Kind, Note, Outcome, Shaping, Tools, on_newest
from perigram.core.recipe.parts import Made
from perigram.core.recipe.values import Line, Ref, Strict, length, limits, ranged, slot
from perigram.core.recipe.warping import group_box, has_letters, mapped, strongest
from perigram.core.warp.rails import Between, Rail, Sideways, Then, arched, drawn, level, tilted, waved

#: The least a row or a gap between two is high, in mm: what is nearer than can be cut apart is welded anyway.
_THINNEST = 0.002
#: Places across that tell how high and how low rails reach.
_SAMPLES = 64

Point = tuple[FiniteFloat, FiniteFloat]


class RailShape(Strict):
    """The curve of a rail about the height that the edge of a row has without it.

    `rise` is how much higher its right end is than its left (tilted), how high its top (arched) or how far it
    is from crest to trough (waved), in mm. `points` are shares of the way and mm above that height.
    """

    shape: Literal["level", "tilted", "arched", "waved", "own"] = "level"
    rise: FiniteFloat = ranged(30.0, -1000.0, 1000.0, step=1.0, scales="size")
    #: percent of the way at which an arch is highest
    top: FiniteFloat = ranged(50.0, 10.0, 90.0, step=1.0)
    times: FiniteFloat = ranged(1.0, 0.25, 20.0, step=0.25)
    starts: Literal["up", "down"] = "up"
    #: waves that grow from nothing and die away
    ends_level: bool = False
    #: moved up by so many mm as a whole
    moved: FiniteFloat = ranged(0.0, -1000.0, 1000.0, step=0.5, scales="size")
    points: Annotated[list[Point], Field(max_length=40, json_schema_extra={"scales": "second"})] = []
    #: as a rail of an earlier line: "l4/top", "l4/between.0"
    like: Annotated[str, Field(max_length=60)] | None = None
    upside_down: bool = False


class Rails(Line):
    kind: Literal["rails"] = "rails"
    of: Annotated[list[Ref], Field(max_length=60)] = slot("refs", "What runs between rails", [])
    top: RailShape = slot("rail", "Top rail", RailShape(shape="arched"))
    between: Annotated[list[RailShape], Field(max_length=40)] = slot("rails", "Rails between rows", [])
    bottom: RailShape = slot("rail", "Bottom rail", RailShape())
    apart: FiniteFloat = length("Gap between rows", 3.0, low=0.0, high=200.0, step=0.5, measure=True)
    left: RailShape = slot("rail", "Left side", RailShape())
    right: RailShape = slot("rail", "Right side", RailShape())


@dataclass(frozen=True)
class _Flat:
    """Rows before they are warped: the box of all, and each one's upper and lower edge, from the top down."""

    box: Box
    rows: list[tuple[float, float]]


def run(line: Rails, tools: Tools) -> Outcome:
    box = group_box(tools, line.of)
    if box is None:
        return Outcome({ref: tools.inputs[ref] for ref in line.of})
    line, gone = _taken_over(line, tools)
    flat = _Flat(box, _rows([tools.inputs[ref] for ref in line.of]))
    onto, share = strongest(lambda by: _map(line, flat, by), box)
    notes = [Note("stop", text) for text in gone]
    if share < 1.0:
        notes.append(Note("stop", _says_crossing(line, flat, share), box))
    results = {ref: mapped(tools.inputs[ref], onto) for ref in line.of}
    return Outcome(results, notes, _shaping(line, flat, share, onto))


_SIDES = ("top", "bottom", "left", "right")


def _reads(line: Rails) -> list[str]:
    shapes = [getattr(line, side) for side in _SIDES] + line.between
    return [shape.like.partition("/")[0] for shape in shapes if shape.like]


def _taken_over(line: Rails, tools: Tools) -> tuple[Rails, list[str]]:
    """The line with rails that are to be as others as those are, and what is wrong with such."""
    gone: list[str] = []

    def own(shape: RailShape) -> RailShape:
        if not shape.like:
            return shape
        found = _found(shape.like, tools)
        if found is None:
            gone.append(
                "A rail is to be as one that is not there any more. Choose another, or a shape of its own."
            )
            return RailShape()
        turned = found.upside_down != shape.upside_down
        return found.model_copy(update={"upside_down": turned, "moved": shape.moved, "like": None})

    changed = {side: own(getattr(line, side)) for side in _SIDES}
    between = [own(shape) for shape in line.between]
    return line.model_copy(update={**changed, "between": between}), list(dict.fromkeys(gone))


def _found(like: str, tools: Tools) -> RailShape | None:
    """The rail that another is to be like, through as many others as it takes."""
    turned = False
    while True:
        line_id, _, name = like.partition("/")
        line = tools.others.get(line_id)
        side, _, number = name.partition(".")
        if not isinstance(line, Rails) or side not in (*_SIDES, "between"):
            return None
        if side == "between":
            shapes = line.between
            shape = shapes[int(number)] if number.isdecimal() and int(number) < len(shapes) else RailShape()
        else:
            shape = getattr(line, side)
        if not shape.like:
            return shape.model_copy(update={"upside_down": shape.upside_down != turned})
        turned, like = turned != shape.upside_down, shape.like


def _rows(given: Sequence[Made]) -> list[tuple[float, float]]:
    """Upper and lower edges of rows of letters, and of whatever else lies beside none of them."""
    spans: list[tuple[float, float]] = []
    for made in given:
        if not has_letters(made):
            continue
        parts = made.parts()
        for row in dict.fromkeys(part.path[0] for part in parts):
            box = measure.union_box([measure.bounds(p.region) for p in parts if p.path[0] == row])
            if box:
                spans.append((box[1], box[3]))
    if not spans:
        boxes = [box for made in given if (box := measure.bounds(made.region))]
        spans = [(min(b[1] for b in boxes), max(b[3] for b in boxes))]
    return _merged(spans)


def _merged(spans: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Rows side by side as one, or one within another; those that only reach into each other parted in the
    middle.
    """
    rows: list[tuple[float, float]] = []
    for top, bottom in sorted(spans):
        if rows and (top < (rows[-1][0] + rows[-1][1]) / 2.0 or bottom <= rows[-1][1]):
            rows[-1] = (rows[-1][0], max(rows[-1][1], bottom))
        elif rows and top < rows[-1][1]:
            middle = (top + rows[-1][1]) / 2.0
            rows[-1] = (rows[-1][0], middle - _THINNEST / 2.0)
            rows.append((middle + _THINNEST / 2.0, bottom))
        else:
            rows.append((top, bottom))
    return rows


@dataclass(frozen=True, eq=False)
class _Warp:
    """Up and down first, then the sides; sound where neither folds."""

    upright: Between
    sides: Sideways | None

    @property
    def step(self) -> float:
        return self.whole.step

    @property
    def levels(self) -> Floats:
        return self.upright.levels

    @property
    def whole(self) -> Then | Between:
        return Then(self.upright, self.sides) if self.sides else self.upright

    def points(self, xy: Floats) -> Floats:
        return self.whole.points(xy)

    def jacobian(self, xy: Floats) -> Floats:
        return self.whole.jacobian(xy)

    def holds_over(self, box: Box) -> bool:
        if not self.upright.holds_over(box):
            return False
        if self.sides is None:
            return True
        # Between rails what is higher stays higher; what lies beyond the rows goes beyond the rails.
        x = np.linspace(box[0], box[2], _SAMPLES)
        highest, lowest = (
            self.upright.points(np.stack([x, np.full_like(x, y)], axis=1))[:, 1] for y in box[1::2]
        )
        top, bottom = float(highest.min()), float(lowest.max())
        # They may reach a little beyond where they were sampled.
        spare = 0.05 * (bottom - top)
        return self.sides.holds_over((box[0], top - spare, box[2], bottom + spare))


def _map(line: Rails, flat: _Flat, by: float) -> _Warp | None:
    """The map at a share of what is asked for; none where a rail bends too sharply for the gap."""
    x0, y0, x1, y1 = flat.box
    rails = _rails(line, flat, by)
    try:
        edges = [rails[0], *_edges(rails[1:-1], line.apart, flat, by), rails[-1]]
    except GeometryError:
        return None
    heights = np.array([y for row in flat.rows for y in row])
    upright = Between(heights, edges, min(_step(line, x1 - x0), 4.0 * (y1 - y0)))
    if (
        line.left.shape == "level"
        and line.right.shape == "level"
        and not (line.left.moved or line.right.moved)
    ):
        return _Warp(upright, None)
    if upright.crossing(x0, x1):
        return None
    across = Between(np.array([x0, x1]), _sides(line, flat, rails, by), _step(line, y1 - y0))
    return _Warp(upright, Sideways(across))


def _sides(line: Rails, flat: _Flat, rails: Sequence[Rail], by: float) -> list[Rail]:
    """The sides, stood on end: y for x, and what is outward for what is up."""
    x0, _, x1, _ = flat.box
    top, bottom = _reach(rails, flat.box)
    return [_rail(line.left, x0, top, bottom, by), _rail(line.right, x1, top, bottom, by, outward=-1.0)]


def _reach(rails: Sequence[Rail], box: Box) -> tuple[float, float]:
    """How high the first rail and how low the last one reaches over a box."""
    x = np.linspace(box[0], box[2], _SAMPLES)
    return float(rails[0].at(x).min()), float(rails[-1].at(x).max())


def _edges(between: Sequence[Rail], apart: float, flat: _Flat, by: float) -> list[Rail]:
    """The lower edge of the row above each rail and the upper edge of the one below it."""
    edges = []
    for rail, above, below in zip(between, flat.rows[:-1], flat.rows[1:], strict=True):
        now = below[0] - above[1]
        gap = now + by * (max(apart, _THINNEST) - now)
        edges += [rail.parallel(-gap / 2.0), rail.parallel(gap / 2.0)]
    return edges


def _rails(line: Rails, flat: _Flat, by: float) -> list[Rail]:
    """All rails from the top down; those not described are level, amid the rows they lie between."""
    x0, y0, x1, y1 = flat.box
    levels = [(a[1] + b[0]) / 2.0 for a, b in zip(flat.rows[:-1], flat.rows[1:], strict=True)]
    shapes = [line.top, *_between(line, flat), line.bottom]
    return [_rail(shape, y, x0, x1, by) for shape, y in zip(shapes, [y0, *levels, y1], strict=True)]


def _between(line: Rails, flat: _Flat) -> list[RailShape]:
    count = len(flat.rows) - 1
    return [*line.between[:count], *[RailShape()] * (count - len(line.between))]


def _rail(shape: RailShape, y: float, low: float, high: float, by: float, outward: float = 1.0) -> Rail:
    up = outward * (-1.0 if shape.upside_down else 1.0)
    y, rise = y - outward * by * shape.moved, up * by * shape.rise
    if shape.shape == "tilted":
        return tilted(y, low, high, rise)
    if shape.shape == "arched":
        return arched(y, low, high, rise, shape.top / 100.0)
    if shape.shape == "waved":
        return waved(y, low, high, rise, shape.times, shape.starts == "up", shape.ends_level)
    if shape.shape == "own" and len(shape.points) > 1:
        return drawn(y, low, high, [(x, up * by * height) for x, height in shape.points])
    return level(y, low, high)


def _step(line: Rails, across: float) -> float:
    times = [
        s.times for s in (line.top, *line.between, line.bottom, line.left, line.right) if s.shape == "waved"
    ]
    return across / max(4.0, 4.0 * max(times, default=1.0))


def _says_crossing(line: Rails, flat: _Flat, share: float) -> str:
    plain = line.model_copy(update={"left": RailShape(), "right": RailShape()})
    asked = _map(plain, flat, 1.0)
    place = asked.upright.crossing(flat.box[0], flat.box[2]) if asked else None
    if place:
        what = f"The rails cross {place[0] - flat.box[0]:.0f} mm from the left"
    else:
        what = "The sides cross" if asked else "A rail bends too sharply for the gap between its rows"
    percent = np.floor(share * 100.0)
    held = f"Rails {percent:.0f} % as high" if percent else "Only level rails"
    return f"{what}. {held} hold, and are what shows."


def _shaping(line: Rails, flat: _Flat, share: float, onto: _Warp | None) -> Shaping:
    """The rails as they are, with a handle where each is pulled."""
    x0, _, x1, _ = flat.box
    rails = _rails(line, flat, share)
    names = ["top", *[f"between.{i}" for i in range(len(rails) - 2)], "bottom"]
    shapes = [line.top, *_between(line, flat), line.bottom]
    x = np.linspace(x0, x1, 161)
    curves = [np.stack([x, rail.at(x)], axis=1) for rail in rails]
    handles = [
        one
        for name, shape, rail in zip(names, shapes, rails, strict=True)
        for one in _handles(name, shape, rail, x0, x1)
    ]
    if onto is None or onto.sides is None:
        return Shaping(handles, curves)
    moved = onto.sides.points(np.array([one.at for one in handles]).reshape(-1, 2))
    handles = [replace(one, at=(float(px), float(py))) for one, (px, py) in zip(handles, moved, strict=True)]
    sides, reach = _sides(line, flat, rails, share), _reach(rails, flat.box)
    for name, edge, shape, side in zip(
        ("left", "right"), (x0, x1), (line.left, line.right), sides, strict=True
    ):
        top, bottom = (float(rail.at(np.array([edge]))[0]) for rail in (rails[0], rails[-1]))
        y = np.linspace(top, bottom, 161)
        curves.append(np.stack([side.at(y), y], axis=1))
        way = 1.0 if name == "left" else -1.0
        for one in _handles(name, shape, side, *reach):
            # What is pulled up on a level rail is pulled outward here.
            turned, scale = (way * one.along[1], 0.0), (one.scale[0], way * one.scale[1])
            handles.append(replace(one, at=one.at[::-1], along=turned, scale=scale, swapped=True))
    return Shaping(
        handles, [*[onto.sides.points(curve) for curve in curves[: len(rails)]], *curves[len(rails) :]]
    )


def _called(name: str) -> str:
    side, _, number = name.partition(".")
    if number:
        return f"Rail under row {int(number) + 1}"
    return f"{side.capitalize()} rail" if side in ("top", "bottom") else f"{side.capitalize()} side"


def _handles(name: str, shape: RailShape, rail: Rail, low: float, high: float) -> list[Handle]:
    called, up = _called(name), -1.0 if shape.upside_down else 1.0
    fills = RailShape().model_dump(mode="json")

    def handle(value: str, label: str, share: float, along: tuple[float, float]) -> Handle:
        x = low + share * (high - low)
        least, most = limits(RailShape, value)
        y = float(rail.at(np.array([x]))[0])
        now = (float(getattr(shape, value)),)
        path, says = f"{name}.{value}", f"{called}: {label}"
        return Handle(path, says, (x, y), now, along, low=least, high=most, fills=fills)

    if shape.shape == "tilted":
        ends = ((1.0, -2.0 * up), (0.0, 2.0 * up))
        return [handle("rise", "how far it tilts", share, (0.0, along)) for share, along in ends]
    if shape.shape == "arched":
        return [handle("rise", "how high it arches", shape.top / 100.0, (0.0, -up))]
    if shape.shape == "waved":
        way = up * (1.0 if shape.starts == "up" else -1.0)
        crest, trough = 0.25 / shape.times, 0.75 / shape.times
        found = [handle("rise", "how high it waves", crest, (0.0, -2.0 * way))]
        if trough <= 1.0:
            found.append(handle("rise", "how low it waves", trough, (0.0, 2.0 * way)))
        return found
    if shape.shape == "own":
        return [
            Handle(
                f"{name}.points.{i}",
                f"{called}: point {i + 1}",
                (low + x * (high - low), float(rail.at(np.array([low + x * (high - low)]))[0])),
                (x, height),
                scale=(1.0 / (high - low), -up),
                grows=True,
            )
            for i, (x, height) in enumerate(shape.points)
        ]
    level = replace(handle("rise", "", 0.5, (0.0, -up)), now=(0.0,))
    arches: dict[str, float | str] = {f"{name}.shape": "arched", f"{name}.top": 50.0}
    bends = replace(level, label=f"{called}: bend it", sets=arches)
    tilts = [
        replace(handle("rise", "tilt it", share, (0.0, along)), now=(0.0,), sets={f"{name}.shape": "tilted"})
        for share, along in ((1.0, -2.0 * up), (0.0, 2.0 * up))
    ]
    return [bends, *tilts, handle("moved", "how far it is moved up", 0.25, (0.0, -1.0))]


KIND = Kind(
    Rails,
    name="Run between rails",
    sentence="Run {of} between rails: top {top}, {between}bottom {bottom}, "
    "rows {apart} apart, left side {left}, right side {right}",
    words=(
        "rails",
        "warp",
        "arch",
        "wave",
        "bulge",
        "tilt",
        "nest",
        "top",
        "bottom",
        "stretch",
        "envelope",
        "distort",
    ),
    results={},
    run=run,
    each=("of",),
    shapes=True,
    reads=_reads,
    starts=on_newest,
)
