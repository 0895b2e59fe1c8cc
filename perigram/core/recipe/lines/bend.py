"""Bend: words along an arc, a circle, a wave, the edge of something or a curve of one's own."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial
from itertools import pairwise
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, FiniteFloat

from perigram.core.geometry import measure
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.measure import Box
from perigram.core.recipe.kinds import Handle, Kind, Note, Outcome, Shaping, Tools, on_newest
from perigram.core.recipe.parts import Made
from perigram.core.recipe.values import Line, Ref, angle, length, limits, number, percent, slot
from perigram.core.recipe.warping import Holding, group_box, mapped, strongest, turned
from perigram.core.warp.arc import HIGHEST_TURN, Arc, most_rise, turn_for_rise
from perigram.core.warp.maps import Map
from perigram.core.warp.outline import around, place_at, sharpest_corner, twice_round
from perigram.core.warp.path import Along, Path, through, wave

#: Bent less than this many radians, or waved less than this many mm, words are as good as straight.
_FLAT = 1e-4
#: Curves that turn by more than this many radians at once have a corner, which nothing can be bent along.
_CORNER = np.radians(2.0)
_WHOSE_EDGE = "Along whose edge is not chosen yet: click “choose”."
_ONLY_TURN = ("Let letters only turn", {"letters": "turned"})
#: A curve of one's own before it is one, in shares of the words' width: a gentle hill.
_OWN = ((-0.5, 0.0), (-0.2, -0.1), (0.2, -0.1), (0.5, 0.0))

Point = tuple[FiniteFloat, FiniteFloat]


class Bend(Line):
    kind: Literal["bend"] = "bend"
    of: Annotated[list[Ref], Field(max_length=60)] = slot("refs", "What is bent", [])
    curve: Literal["arc", "radius", "turn", "circle", "wave", "edge", "own"] = slot(
        "choice",
        "Along what",
        "arc",
        choices={
            "arc": "an arc",
            "radius": "an arc by its radius",
            "turn": "an arc by its angle",
            "circle": "a circle",
            "wave": "a wave",
            "edge": "the edge of",
            "own": "a curve of its own",
        },
    )
    rise: FiniteFloat = length("Height of the arc", 40.0, low=-2000.0, high=2000.0, step=1.0)
    radius: FiniteFloat = length("Radius of the arc", 200.0, low=-20000.0, high=20000.0, step=1.0)
    turn: FiniteFloat = angle("Angle of the arc", 90.0, low=-355.0, high=355.0)
    diameter: FiniteFloat = length("Diameter of the circle", 200.0, low=5.0, high=6000.0, step=1.0)
    edge: Ref = slot("ref", "Along whose edge", "", optional=True)
    away: FiniteFloat = length("Distance from the edge", 5.0, low=0.0, high=500.0, step=0.5, measure=True)
    soft: FiniteFloat = length("Corners of the edge", 10.0, low=0.5, high=300.0, step=1.0)
    side: Literal["outside", "inside"] = slot(
        "choice",
        "On which side",
        "outside",
        choices={"outside": "on its outside", "inside": "on its inside"},
    )
    clock: FiniteFloat = number("Where on the clock", 12.0, low=0.0, high=12.0, step=0.25)
    height: FiniteFloat = length("Height of the wave", 30.0, low=0.0, high=1000.0, step=1.0)
    times: FiniteFloat = number("How many waves", 1.0, low=0.25, high=20.0, step=0.25)
    starts: Literal["up", "down"] = slot(
        "choice", "Which way first", "up", choices={"up": "up", "down": "down"}
    )
    on: Literal["cap", "middle", "base"] = slot(
        "choice",
        "What lies on the curve",
        "base",
        choices={"cap": "cap line", "middle": "middle", "base": "baseline"},
    )
    letters: Literal["bent", "turned"] = slot(
        "choice", "The letters", "bent", choices={"bent": "bend with it", "turned": "only turn"}
    )
    fills: FiniteFloat = percent("Spread over", 0.0, low=0.0, high=100.0, zero="their own length")
    #: a curve of one's own, in mm from where the words' middle lies flat, from left to right; one given twice
    #: in a row is a corner, for letters that only turn
    points: Annotated[list[Point], Field(max_length=40, json_schema_extra={"scales": "size"})] = []


@dataclass(frozen=True)
class _Flat:
    """The words before they are bent: their box, and the point of them that lies on the curve."""

    box: Box
    middle: tuple[float, float]

    @property
    def width(self) -> float:
        return self.box[2] - self.box[0]


def run(line: Bend, tools: Tools) -> Outcome:
    box = group_box(tools, line.of)
    if box is None:
        return Outcome({ref: tools.inputs[ref] for ref in line.of})
    flat = _Flat(box, ((box[0] + box[2]) / 2.0, _on(line, tools, box)))
    if line.curve == "edge":
        return _along_edge(line, tools, flat)
    wrong = _too_long(line, flat)
    onto, share = (None, 1.0) if _is_straight(line) else strongest(lambda by: _map(line, flat, by), box)
    notes = []
    if wrong:
        notes = [Note("stop", wrong, box)]
    elif share < 1.0:
        notes = [_fold(line, flat, share)]
    elif line.curve == "own" and line.letters == "bent" and _has_corners(line):
        notes = [
            Note("look", "Letters that bend go smoothly past corners; let them only turn to follow them")
        ]
    shown = onto or _level(flat)
    return Outcome(_put(line, tools, onto), notes, Shaping(_handles(line, flat, shown), [_base(flat, shown)]))


def _put(line: Bend, tools: Tools, onto: Map | None) -> dict[str, Made]:
    """By what it came from, everything under a map, bent with it or only turned."""
    put = mapped if line.letters == "bent" else turned
    return {ref: put(tools.inputs[ref], onto) for ref in line.of}


def _along_edge(line: Bend, tools: Tools, flat: _Flat) -> Outcome:
    """Words along the outline of another result, rounded as far as it takes for them not to fold."""
    if not line.edge:
        return Outcome(_put(line, tools, None), [Note("stop", _WHOSE_EDGE, flat.box)])
    edge = tools.region(line.edge)
    inside = line.side == "inside"
    soft, onto = line.soft, None
    while onto is None and soft <= limits(Bend, "soft")[1]:
        figure, dx, dy = edge.at_origin()
        key = ("around", figure.digest(), line.away, soft, inside)
        path = tools.memo(key, partial(around, figure, line.away, soft, inside))
        path = Path(path.cubics + (dx, dy))
        if flat.width > path.length:
            text = (
                f"These words are {flat.width:.0f} mm long, and along that edge only {path.length:.0f} "
                "mm fit. Make them smaller, or take them farther out."
            )
            return Outcome(_put(line, tools, None), [Note("stop", text, flat.box)])
        spread = line.fills / 100.0 * path.length / flat.width if line.fills else 1.0
        at = place_at(path, edge, np.radians(line.clock * 30.0))
        # The second time round begins where the first ends: words may reach over that.
        at += path.length if at < path.length / 2.0 else 0.0
        made = Along(twice_round(path), flat.middle, at, min(soft, flat.width / 8.0), spread)
        smooth = sharpest_corner(path) < _CORNER and made.holds_over(flat.box)
        onto = made if line.letters == "turned" or smooth else None
        taken, soft = soft, float(np.ceil(1.25 * soft))
    notes = []
    if onto is None:
        notes = [
            Note("stop", "These letters fold along that edge. Let them only turn.", flat.box, _ONLY_TURN)
        ]
    elif taken > line.soft:
        says = f"corners {taken:g} mm round"
        text = (
            f"At the corners of that edge the letters fold over each other; {says} hold, and are what shows."
        )
        notes = [Note("stop", text, flat.box, (f"Take {says}", {"soft": taken}))]
    shown = onto or _level(flat)
    handles = []
    if onto is not None:
        box = measure.bounds(edge) or flat.box
        handles = [_clock(line, onto.points(np.array([flat.middle]))[0], measure.middle(box))]
    return Outcome(_put(line, tools, onto), notes, Shaping(handles, [_base(flat, shown)]))


def _is_straight(line: Bend) -> bool:
    return (line.curve == "arc" and line.rise == 0.0) or (line.curve == "turn" and line.turn == 0.0)


def _level(flat: _Flat) -> Along:
    """Where words lie that are not bent."""
    x0, x1, y = flat.box[0], flat.box[2], flat.middle[1]
    path = through(np.array([[x0, y], [x1, y]]))
    return Along(path, flat.middle, path.length / 2.0, flat.width)


def _on(line: Bend, tools: Tools, box: Box) -> float:
    """The height of the words' baseline, cap line or the middle between; of a thing without, its box's."""
    levels = [level for ref in line.of for level in tools.inputs[ref].levels]
    low, high = (max(levels[::2]), min(levels[1::2])) if levels else (box[3], box[1])
    return {"base": low, "cap": high, "middle": (low + high) / 2.0}[line.on]


def _map(line: Bend, flat: _Flat, by: float) -> Holding | None:
    """The map at a share of what is asked for; none where no curve goes so far."""
    x, y = flat.middle
    if line.curve == "circle":
        # A larger circle bends less: at a share of nothing it is as good as straight.
        radius = line.diameter / 2.0 / max(by, 1e-3)
        inward = line.side == "inside"
        centre = (x, y - radius if inward else y + radius)
        at = np.radians(line.clock * 30.0)
        around = 2.0 * np.pi * radius
        # Longer words than go round are shown as long as they would have to be.
        spread = line.fills / 100.0 * around / flat.width if line.fills else min(1.0, around / flat.width)
        return Arc((x, y), centre, radius, float(at), inward, spread)
    if line.curve == "wave":
        try:
            path = wave(flat.width, line.height * by, line.times, line.starts == "up")
        except ValueError:
            return None
        return _along(path, line, flat, centred=True)
    if line.curve == "own":
        points = np.array(_points(line, flat)) * (1.0, by)
        return _along(through(points + (x, y), line.letters == "turned"), line, flat, centred=False)
    return _arc(_turn(line, flat), flat, by)


def _turn(line: Bend, flat: _Flat) -> float | None:
    """By how many radians an arc bends the words, down if below zero; None beyond what arcs can do."""
    if line.curve == "turn":
        return float(np.radians(line.turn))
    if line.curve == "radius":
        return float(flat.width / line.radius) if line.radius else None
    if line.rise == 0.0:
        return 0.0
    # What is asked for beyond the highest arc shows as that.
    highest = abs(line.rise) >= most_rise(flat.width)
    return float(
        np.sign(line.rise) * (HIGHEST_TURN if highest else turn_for_rise(flat.width, abs(line.rise)))
    )


def _arc(turn: float | None, flat: _Flat, by: float) -> Arc | None:
    turn = by * (turn if turn is not None else HIGHEST_TURN)
    radius = flat.width / max(abs(turn), _FLAT)
    x, y = flat.middle
    if turn >= 0.0:
        return Arc((x, y), (x, y + radius), radius)
    return Arc((x, y), (x, y - radius), radius, float(np.pi), inward=True)


def _along(path: Path, line: Bend, flat: _Flat, centred: bool) -> Along:
    """Along a path, the words' middle in the middle of its length."""
    if centred:
        middle = path.at(np.array([path.length / 2.0]))[0][0]
        path = Path(path.cubics + (np.array(flat.middle) - middle))
    spread = line.fills / 100.0 * path.length / flat.width if line.fills and line.curve == "own" else 1.0
    step = flat.width / max(4.0 * line.times, 4.0) if line.curve == "wave" else path.length / 12.0
    return Along(path, flat.middle, path.length / 2.0, step, spread)


def _points(line: Bend, flat: _Flat) -> list[tuple[float, float]]:
    if len(line.points) > 1:
        return list(line.points)
    return [(x * flat.width, y * flat.width) for x, y in _OWN]


def _has_corners(line: Bend) -> bool:
    return any(one == other for one, other in pairwise(line.points))


def _too_long(line: Bend, flat: _Flat) -> str | None:
    """Why the words cannot go round what they are to go round."""
    if line.curve == "circle" and not line.fills and flat.width > np.pi * line.diameter:
        return (
            f"These words are {flat.width:.0f} mm long, and round a circle {line.diameter:g} mm across only "
            f"{np.pi * line.diameter:.0f} mm fit. Make it {flat.width / np.pi + 0.5:.0f} mm across or more, "
            "or spread them over 100 % of it."
        )
    if line.curve == "arc" and abs(line.rise) > most_rise(flat.width):
        return (
            f"Words {flat.width:.0f} mm long make an arc at most {most_rise(flat.width):.0f} mm high, "
            f"not {abs(line.rise):g} mm. Bend them less, or along a circle."
        )
    if line.curve == "radius" and abs(line.radius) * 2.0 * np.pi < flat.width:
        return (
            f"These words are {flat.width:.0f} mm long, and round a radius of {abs(line.radius):g} mm only "
            f"{2.0 * np.pi * abs(line.radius):.0f} mm fit. Make it {flat.width / 2.0 / np.pi + 0.5:.0f} mm "
            "or more."
        )
    return None


def _fold(line: Bend, flat: _Flat, share: float) -> Note:
    """That letters would fold over each other, and what would hold: offered, rounded to the safe side."""
    # A larger circle and a larger radius bend less; of all else less does.
    value, figure, says = {
        "arc": ("rise", np.sign(line.rise) * _rise(_turn(line, flat), flat, share), "{:g} mm high"),
        "radius": ("radius", line.radius / max(share, 1e-3), "a radius of {:g} mm"),
        "turn": ("turn", line.turn * share, "{:g}°"),
        "circle": ("diameter", line.diameter / max(share, 1e-3), "{:g} mm across"),
        "wave": ("height", line.height * share, "{:g} mm high"),
        "own": ("", share * 100.0, "a curve {:g} % as high"),
    }[line.curve]
    outward = np.ceil if line.curve in ("radius", "circle") else np.floor
    size = float(outward(abs(figure) * 10.0) / 10.0)
    folds = "Bent like this, the letters fold over each other on the inner side"
    if size == 0.0:
        return Note("stop", f"{folds}; only straight they do not, and so they show.", flat.box)
    held = float(np.copysign(size, figure))
    mend = (f"Take {says.format(size)}", {value: held}) if value else None
    return Note("stop", f"{folds}; {says.format(size)} holds, and is what shows.", flat.box, mend)


def _rise(turn: float | None, flat: _Flat, by: float) -> float:
    angle_ = abs(turn if turn is not None else HIGHEST_TURN) * by
    return float(flat.width * (1.0 - np.cos(angle_ / 2.0)) / max(angle_, 1e-9))


def _base(flat: _Flat, onto: Map) -> Floats:
    """The curve the words lie on."""
    x = np.linspace(flat.box[0], flat.box[2], 121)
    return onto.points(np.stack([x, np.full_like(x, flat.middle[1])], axis=1))


def _handles(line: Bend, flat: _Flat, onto: Map) -> list[Handle]:
    x, y = flat.middle
    left, middle, right = onto.points(np.array([[flat.box[0], y], [x, y], [flat.box[2], y]]))

    def handle(
        value: str, label: str, at: Floats, along: tuple[float, float], reads: str = "length"
    ) -> Handle:
        low, high = limits(Bend, value)
        now = (float(getattr(line, value)),)
        return Handle(value, label, (float(at[0]), float(at[1])), now, along, low=low, high=high, reads=reads)

    if line.curve == "arc":
        # The middle stays where it is: it is the ends that sink as it rises.
        return [handle("rise", "Height of the arc", end, (0.0, 1.0)) for end in (left, right)]
    if line.curve == "turn":
        # d(angle) / d(sagitta) of a flat arc as long as the words.
        rate = 8.0 * 180.0 / np.pi / flat.width
        return [handle("turn", "Angle of the arc", end, (0.0, rate), "angle") for end in (left, right)]
    if line.curve == "radius":
        # The sagitta of a flat arc as long as the words is that length squared over 8 R; both hang together.
        bends = (0.0, 8.0 / flat.width**2)
        ends = [handle("radius", "Radius of the arc", end, bends) for end in (left, right)]
        return [replace(end, inverse=True) for end in ends]
    if line.curve == "circle" and isinstance(onto, Arc):
        cx, cy = onto.centre
        far = np.array([cx, cy + (onto.radius if line.side == "outside" else -onto.radius)])
        rim = handle(
            "diameter", "Diameter of the circle", far, (0.0, 1.0 if line.side == "outside" else -1.0)
        )
        return [rim, _clock(line, middle, (cx, cy))]
    if line.curve == "wave":
        crest = flat.box[0] + flat.width / (4.0 * line.times)
        at = onto.points(np.array([[crest, y]]))[0]
        return [handle("height", "Height of the wave", at, (0.0, -2.0 if line.starts == "up" else 2.0))]
    points = _points(line, flat)
    return [
        Handle(
            f"points.{i}",
            f"Point {i + 1} of the curve" + (", a corner" if twins else ""),
            (px + x, py + y),
            (px, py),
            grows=True,
            corners=True,
            partners=tuple((twin, 1.0, 1.0) for twin in twins),
        )
        for i, (px, py) in enumerate(points)
        for twins in [[k for k in (i - 1, i + 1) if 0 <= k < len(points) and points[k] == (px, py)]]
    ]


def _clock(line: Bend, at: Floats, about: tuple[float, float]) -> Handle:
    low, high = limits(Bend, "clock")
    place, now = (float(at[0]), float(at[1])), (line.clock,)
    label = "Where the words' middle is"
    return Handle("clock", label, place, now, (12.0, 0.0), about, low=low, high=high, reads="number")


KIND = Kind(
    Bend,
    name="Bend",
    sentence="Bend {of} along {curve}[curve=arc: {rise} high][curve=radius: of {radius}]"
    "[curve=turn: of {turn}][curve=circle: {diameter} across, {side}, at {clock} o’clock]"
    "[curve=wave: {height} high, {times} times, {starts} first]"
    "[curve=edge: {edge}, {side}, {away} off it, corners {soft} round, at {clock} o’clock], on the {on}, "
    "letters {letters}[curve=circle|edge|own:, spread over {fills}]",
    words=(
        "bend",
        "arc",
        "arch",
        "curve",
        "circle",
        "round",
        "wave",
        "warp",
        "rainbow",
        "along",
        "path",
        "distort",
    ),
    results={},
    run=run,
    each=("of",),
    shapes=True,
    by_curves=lambda line: line.curve == "edge",
    starts=on_newest,
)
