"""Outlines of SVG's basic shapes and paths, as they are drawn: open or closed, crossing as they like."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from xml.etree.ElementTree import Element

import numpy as np
from fontTools.svgLib.path import parse_path

from perigram.core.art.styles import local
from perigram.core.art.units import Room, length
from perigram.core.errors import PictureError
from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints

#: Arcs are drawn by cubics of at most this angle; off by 6e-8 of the radius (Goldapp 1991).
_ARC = np.pi / 8.0
_CIRCLE, _ = bezier.unit_arcs(np.zeros(1), np.full(1, 2.0 * np.pi), _ARC)
_PATH_DATA = re.compile(r"[\s,MmZzLlHhVvCcSsQqTtAa0-9eE+\-.]*")
#: Where a command of path data begins; an e is of a number.
_COMMAND = re.compile(r"(?=[A-DF-Za-df-z])")

#: Of a path of more commands than this it is not looked for where an arc is wrong: that would take seconds.
_MOST_TRIED = 5_000

Point = tuple[float, float]


@dataclass(frozen=True, eq=False)
class Outlines:
    """Paths as drawn, in the units of the drawing.

    Attributes:
        segments: (n, 4, 2) control points.
        curved: (n,) false for lines.
        starts: (m + 1,) offsets of paths in the segments.
        closed: (m,) which paths were closed.
    """

    segments: Floats
    curved: Bools
    starts: Ints
    closed: Bools

    def mapped(self, matrix: Floats) -> Outlines:
        """The outlines under an affine map (2, 3)."""
        x, y = self.segments[..., 0], self.segments[..., 1]
        moved = [row[0] * x + row[1] * y + row[2] for row in matrix]
        return Outlines(np.stack(moved, axis=-1), self.curved, self.starts, self.closed)

    @property
    def box(self) -> tuple[Floats, Floats]:
        """The least and greatest coordinates of the control points."""
        points = self.segments.reshape(-1, 2)
        return points.min(axis=0), points.max(axis=0)


def mapped_each(outlines: Sequence[Outlines], matrices: Sequence[Floats]) -> list[Outlines]:
    """Outlines each under an affine map (2, 3) of its own, all in one go."""
    if not outlines:
        return []
    starts = np.cumsum([0] + [len(one.segments) for one in outlines])
    own = np.repeat(np.array(matrices), np.diff(starts), axis=0)[:, None]
    segments = np.concatenate([one.segments for one in outlines])
    moved = own[..., 0] * segments[..., :1] + own[..., 1] * segments[..., 1:] + own[..., 2]
    return [
        Outlines(moved[first:last], one.curved, one.starts, one.closed)
        for one, first, last in zip(outlines, starts, starts[1:], strict=False)
    ]


class OutlinePen:
    """Collects strokes in the manner of fontTools' pens.

    Attributes:
        broken: whether what it was to draw could only be read in part.
    """

    def __init__(self) -> None:
        self.broken = False
        self.clear()

    def clear(self) -> None:
        self._segments: list[tuple[Point, Point, Point, Point]] = []
        self._curved: list[bool] = []
        self._starts: list[int] = [0]
        self._closed: list[bool] = []
        self._first: Point = (0.0, 0.0)
        self._at: Point = (0.0, 0.0)

    def moveTo(self, to: Point) -> None:  # noqa: N802
        self._first = self._at = to

    def lineTo(self, to: Point) -> None:  # noqa: N802
        self._add(self._at, to, to, curved=False)

    def curveTo(self, control1: Point, control2: Point, to: Point) -> None:  # noqa: N802
        self._add(control1, control2, to)

    def qCurveTo(self, control: Point, to: Point) -> None:  # noqa: N802
        (x0, y0), (x1, y1), (x2, y2) = self._at, control, to
        self._add(
            (x0 + (x1 - x0) * 2 / 3, y0 + (y1 - y0) * 2 / 3),
            (x2 + (x1 - x2) * 2 / 3, y2 + (y1 - y2) * 2 / 3),
            to,
        )

    def arcTo(self, rx: float, ry: float, rotation: float, large: bool, sweep: bool, to: Point) -> None:  # noqa: N802
        """An elliptical arc; SVG 2, appendix B.2 has the formulas and what out-of-range values mean."""
        (x1, y1), (x2, y2) = self._at, to
        if (x1, y1) == (x2, y2):
            if len(self._segments) == self._starts[-1]:
                self.lineTo(to)
            return
        if rx == 0.0 or ry == 0.0:
            self.lineTo(to)
            return
        c, s = np.cos(np.radians(rotation)), np.sin(np.radians(rotation))
        dx, dy = (x1 - x2) / 2.0, (y1 - y2) / 2.0
        x, y = c * dx + s * dy, -s * dx + c * dy
        stretch = (x / rx) ** 2 + (y / ry) ** 2
        if stretch > 1.0:
            rx, ry = rx * stretch**0.5, ry * stretch**0.5
        left = max(0.0, (rx * ry) ** 2 - (rx * y) ** 2 - (ry * x) ** 2)
        factor = (left / ((rx * y) ** 2 + (ry * x) ** 2)) ** 0.5 * (1.0 if large != sweep else -1.0)
        cx, cy = factor * rx * y / ry, -factor * ry * x / rx
        start = np.arctan2((y - cy) / ry, (x - cx) / rx)
        turn = np.arctan2((-y - cy) / ry, (-x - cx) / rx) - start
        if sweep and turn < 0.0:
            turn += 2.0 * np.pi
        elif not sweep and turn > 0.0:
            turn -= 2.0 * np.pi
        cubics, _ = bezier.unit_arcs(np.array([start]), np.array([turn]), _ARC)
        middle = np.array([c * cx - s * cy + (x1 + x2) / 2.0, s * cx + c * cy + (y1 + y2) / 2.0])

        def placed(points: Floats) -> Floats:
            px, py = points[:, 0] * rx, points[:, 1] * ry
            return np.stack([c * px - s * py, s * px + c * py], axis=1) + middle

        first, second, ends = (placed(cubics[:, k]) for k in (1, 2, 3))
        ends[-1] = to
        for one, two, end in zip(first.tolist(), second.tolist(), ends.tolist(), strict=True):
            self._add(tuple(one), tuple(two), tuple(end))

    def oval(self, cx: float, cy: float, rx: float, ry: float) -> None:
        """A whole ellipse, from its right end round through its lower one."""
        made = _CIRCLE * (rx, ry) + (cx, cy)
        points = [[tuple(point) for point in cubic] for cubic in made.tolist()]
        self.moveTo(points[0][0])
        for _, one, two, end in points[:-1]:
            self._add(one, two, end)
        self._add(points[-1][1], points[-1][2], self._first)
        self.closePath()

    def closePath(self) -> None:  # noqa: N802
        if self._at != self._first:
            self.lineTo(self._first)
        self._end(True)

    def endPath(self) -> None:  # noqa: N802
        self._end(False)

    def end_open(self) -> None:
        """Ends a path that was broken off."""
        if len(self._segments) > self._starts[-1]:
            self._end(False)

    def outlines(self) -> Outlines:
        segments = np.array(self._segments, float).reshape(-1, 4, 2)
        return Outlines(
            segments,
            np.array(self._curved, bool),
            np.array(self._starts, np.intp),
            np.array(self._closed, bool),
        )

    def _add(self, control1: Point, control2: Point, to: Point, curved: bool = True) -> None:
        self._segments.append((self._at, control1, control2, to))
        self._curved.append(curved)
        self._at = to

    def _end(self, closed: bool) -> None:
        if len(self._segments) == self._starts[-1]:
            if not closed:
                # Moved to only: nothing is drawn.
                return
            # A path of one place: its round or square caps may show.
            self._add(self._at, self._at, self._at, curved=False)
        self._starts.append(len(self._segments))
        self._closed.append(closed)


def drawn(element: Element, room: Room, note: Callable[[str], None]) -> Outlines | None:
    """The outlines of a shape or path in its own units; None where it draws nothing.

    Args:
        note: told "broken" of a path that could only be read in part.

    Raises:
        PictureError: for broken numbers, naming the attribute.
    """
    pen = OutlinePen()

    def value(name: str, whole: float, otherwise: float = 0.0) -> float:
        try:
            return length(element.get(name), whole, otherwise, room.em)
        except PictureError as error:
            raise PictureError(
                f"A {local(element)} in this drawing has a broken {name}: “{(element.get(name) or '')[:24]}”."
            ) from error

    _DRAW[local(element)](element, pen, value, (room.wide, room.tall, room.across))
    made = pen.outlines()
    if pen.broken:
        note("broken")
    if len(made.segments) and not np.isfinite(made.segments).all():
        raise PictureError("A shape in this drawing cannot be cut. A coordinate is not a number.")
    return made if len(made.segments) else None


_Value = Callable[[str, float, float], float]
_Size = tuple[float, float, float]


def _path(element: Element, pen: OutlinePen, _: _Value, __: _Size) -> None:
    data = element.get("d", "").strip()
    if data in ("", "none") or (_PATH_DATA.fullmatch(data) and _parsed(data, pen)):
        return
    pen.broken = True
    if _partly_parsed(data, pen):
        return
    if not _PATH_DATA.fullmatch(data):
        bad = next(word for word in data.split() if not _PATH_DATA.fullmatch(word))
        raise PictureError(f"A path in this drawing has a broken number: “{bad[:24]}”.")
    raise PictureError(
        f"A path in this drawing is broken off or has a wrong command: “{data[:24]}…”. "
        "Open it in a drawing program and save it as plain SVG."
    )


def _parsed(data: str, pen: OutlinePen) -> bool:
    """Draws path data; whether there was nothing wrong with it."""
    try:
        parse_path(data, pen)
    except (ValueError, IndexError):
        return False
    return True


def _partly_parsed(data: str, pen: OutlinePen) -> bool:
    """Draws path data up to its first error (SVG 2, section 9.5.4), and tells if that is more than a line."""
    readable = _PATH_DATA.match(data)
    text = readable[0] if readable else ""
    if _drew(text, pen):
        return True
    # Arcs are looked at before anything is drawn: where one is wrong, what comes before it is looked for.
    commands = _COMMAND.split(text)
    if len(commands) > _MOST_TRIED:
        return False
    right = bisect_left(
        range(len(commands)), 1, key=lambda k: not _parsed("".join(commands[: k + 1]), OutlinePen())
    )
    return _drew("".join(commands[:right]), pen)


def _drew(data: str, pen: OutlinePen) -> bool:
    """Draws path data up to where it is wrong, and tells if that is more than a line."""
    pen.clear()
    _parsed(data, pen)
    pen.end_open()
    return len(pen.outlines().segments) > 1


def _polygon(element: Element, pen: OutlinePen, _: _Value, __: _Size, close: bool = True) -> None:
    words = element.get("points", "").replace(",", " ").split()
    try:
        numbers = [float(word) for word in words]
    except ValueError as error:
        raise PictureError(
            f"A {local(element)} in this drawing has a broken points: “{' '.join(words)[:24]}”."
        ) from error
    points = list(zip(numbers[::2], numbers[1::2], strict=False))
    if points:
        pen.moveTo(points[0])
        for point in points[1:]:
            pen.lineTo(point)
        (pen.closePath if close else pen.endPath)()


def _polyline(element: Element, pen: OutlinePen, value: _Value, size: _Size) -> None:
    _polygon(element, pen, value, size, close=False)


def _line(_: Element, pen: OutlinePen, value: _Value, size: _Size) -> None:
    pen.moveTo((value("x1", size[0], 0.0), value("y1", size[1], 0.0)))
    pen.lineTo((value("x2", size[0], 0.0), value("y2", size[1], 0.0)))
    pen.endPath()


def _rect(element: Element, pen: OutlinePen, value: _Value, size: _Size) -> None:
    x, y = value("x", size[0], 0.0), value("y", size[1], 0.0)
    w, h = value("width", size[0], 0.0), value("height", size[1], 0.0)
    if w <= 0.0 or h <= 0.0:
        return
    rx, ry = value("rx", size[0], -1.0), value("ry", size[1], -1.0)
    rx, ry = (rx if rx >= 0 else max(ry, 0.0)), (ry if ry >= 0 else max(rx, 0.0))
    rx, ry = (min(rx, w / 2), min(ry, h / 2)) if rx > 0.0 and ry > 0.0 else (0.0, 0.0)
    pen.moveTo((x + rx, y))
    pen.lineTo((x + w - rx, y))
    for via, to in (
        ((x + w, y + ry), (x + w, y + h - ry)),
        ((x + w - rx, y + h), (x + rx, y + h)),
        ((x, y + h - ry), (x, y + ry)),
        ((x + rx, y), None),
    ):
        if rx > 0.0:
            pen.arcTo(rx, ry, 0.0, False, True, via)
        if to:
            pen.lineTo(to)
    pen.closePath()


def _oval(element: Element, pen: OutlinePen, value: _Value, size: _Size) -> None:
    cx, cy = value("cx", size[0], 0.0), value("cy", size[1], 0.0)
    if local(element) == "circle":
        rx = ry = value("r", size[2], 0.0)
    else:
        rx, ry = value("rx", size[0], -1.0), value("ry", size[1], -1.0)
        rx, ry = (rx if rx >= 0 else ry), (ry if ry >= 0 else rx)
    if rx <= 0.0 or ry <= 0.0:
        return
    pen.oval(cx, cy, rx, ry)


_DRAW: dict[str, Callable[[Element, OutlinePen, _Value, _Size], None]] = {
    "path": _path,
    "rect": _rect,
    "circle": _oval,
    "ellipse": _oval,
    "polygon": _polygon,
    "polyline": _polyline,
    "line": _line,
}
SHAPES = frozenset(_DRAW)
