"""SVG drawings read as regions in mm, every closed shape a part of its own.

Unit rules are those of SVG 2 and CSS: 1 px is 1/96 in, and a drawing without a size of its own is
as many px large as its viewBox.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from io import StringIO
from xml.etree.ElementTree import Element, ParseError, tostring

import svgelements as se
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from perigram.core.errors import GeometryError, PictureError
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.pen import RegionPen
from perigram.core.geometry.region import Region

MM_PER_PX = 25.4 / 96.0
#: Exactly as CSS Values and Units defines them; the reader's own figures are rounded.
PX_PER_UNIT = {"mm": 96 / 25.4, "cm": 960 / 25.4, "in": 96.0, "pt": 96 / 72, "pc": 16.0, "Q": 24 / 25.4}
#: Larger drawings are refused; the reading of one this size takes some seconds.
MOST_BYTES = 5_000_000
MOST_SEGMENTS = 100_000
MOST_ELEMENTS = 20_000
#: Parts that enclose less than this many mm^2 are specks no one drew on purpose.
SPECK = 1e-4

_DRAWN = {"path", "rect", "circle", "ellipse", "polygon", "polyline", "line"}
_NUMERIC = {"x", "y", "width", "height", "r", "rx", "ry", "cx", "cy", "points", "x1", "x2", "y1", "y2"}
_PATH_DATA = re.compile(r"[\s,MmZzLlHhVvCcSsQqTtAa0-9eE+\-.]*\Z")
_LENGTHS = re.compile(r"[\s,0-9eE+\-.]*(px|mm|cm|in|pt|pc|em|ex|q|Q|rem|%)?\s*\Z|auto\Z")


@dataclass(frozen=True, eq=False)
class Part:
    """One closed shape of a picture, holes included."""

    name: str
    region: Region


@dataclass(frozen=True, eq=False)
class Drawing:
    """A picture as read: its parts in drawing order, and what was left out and why."""

    parts: list[Part]
    notes: list[str]

    def region(self, dropped: frozenset[int] = frozenset()) -> Region:
        """All parts but the dropped ones, welded."""
        return weld([part.region for i, part in enumerate(self.parts) if i not in dropped])


def read_svg(source: str) -> Drawing:
    """Read an SVG drawing.

    Raises:
        PictureError: when it is not SVG, too large, broken, or has nothing closed to cut.
    """
    if len(source) > MOST_BYTES:
        raise PictureError(
            f"This drawing is {len(source) / 1e6:.1f} MB; drawings up to "
            f"{MOST_BYTES / 1e6:.0f} MB can be read. Save it with fewer nodes, or without "
            "embedded pictures."
        )
    root = _checked_tree(source)
    try:
        tree = se.SVG.parse(StringIO(tostring(root, encoding="unicode")), reify=True, ppi=96.0)
        shapes = [e for e in tree.elements() if isinstance(e, se.Shape) and _is_shown(e)]
        parts, open_lines = _parts(shapes)
    except GeometryError as error:
        raise PictureError(f"A shape in this drawing cannot be cut. {error}") from error
    except (ValueError, TypeError, ArithmeticError, AttributeError, IndexError, RecursionError) as error:
        raise PictureError(
            "This drawing is broken: a shape in it could not be read. Open it in a drawing program "
            "and save it as plain SVG."
        ) from error
    notes = []
    if open_lines:
        notes.append(f"{open_lines} open or unfilled lines left out: they enclose nothing to cut.")
    if any(_local(e) == "text" for e in root.iter()):
        notes.append("Text left out: letter it here instead, so that it stays live.")
    if any(_local(e) == "image" for e in root.iter()):
        notes.append("Embedded pictures left out: they have no outlines to cut.")
    if not parts:
        raise PictureError(
            "This drawing has no closed shapes, so there is nothing to cut. "
            + (" ".join(notes) or "Draw filled or closed outlines and save it again.")
        )
    return Drawing(parts, notes)


def _checked_tree(source: str) -> Element:
    """The XML tree, once nothing in it can reach out, blow up or be misread."""
    try:
        root: Element = fromstring(source.encode(), forbid_entities=True, forbid_external=True)
    except DefusedXmlException as error:
        raise PictureError(
            "This drawing defines or refers to outside content, which is not read. Save it as plain SVG."
        ) from error
    except (ParseError, ValueError) as error:
        raise PictureError(
            "This file is not an SVG drawing, or it is damaged; its XML cannot be read."
        ) from error
    if _local(root) != "svg":
        raise PictureError(f"This file is not an SVG drawing; it is XML of another kind: {_local(root)}.")
    _check_numbers(root)
    if _expanded_size(root) > MOST_ELEMENTS:
        raise PictureError(
            f"This drawing repeats its shapes to more than {MOST_ELEMENTS:,} elements, or repeats "
            "one inside itself. Use fewer copies."
        )
    view_box = (root.get("viewBox") or "").replace(",", " ").split()
    for name, index in (("width", 2), ("height", 3)):
        size = root.get(name, "").strip()
        unit = size.lstrip("+-.0123456789eE")
        if len(view_box) == 4 and (not size or unit == "%" or size == "auto"):
            root.set(name, view_box[index])
        elif unit in PX_PER_UNIT:
            root.set(name, repr(float(size[: -len(unit)]) * PX_PER_UNIT[unit]))
    return root


def _check_numbers(root: Element) -> None:
    for element in root.iter():
        kind = _local(element)
        if kind not in _DRAWN and kind != "svg":
            continue
        data = element.get("d", "")
        if kind == "path" and not _PATH_DATA.match(data):
            bad = next(word for word in data.split() if not _PATH_DATA.match(word))
            raise PictureError(f"A path in this drawing has a broken number: “{bad[:24]}”.")
        for name in _NUMERIC & set(element.keys()):
            value = element.get(name, "").strip()
            if not _LENGTHS.match(value):
                raise PictureError(f"A {kind} in this drawing has a broken {name}: “{value[:24]}”.")


def _expanded_size(root: Element) -> int:
    """How many elements there are once every reuse is carried out; too many for a loop."""
    by_id = {e.get("id"): e for e in root.iter() if e.get("id")}
    known: dict[int, int] = {}
    busy: set[int] = set()

    def size(element: Element) -> int:
        key = id(element)
        if key in busy:
            return MOST_ELEMENTS + 1
        if key not in known:
            busy.add(key)
            total = 1 + sum(size(child) for child in element)
            if _local(element) == "use":
                target = next((v for k, v in element.items() if k.split("}")[-1] == "href"), "")
                if target.startswith("#") and target[1:] in by_id:
                    total += size(by_id[target[1:]])
            busy.discard(key)
            known[key] = min(total, MOST_ELEMENTS + 1)
        return known[key]

    try:
        return size(root)
    except RecursionError:
        return MOST_ELEMENTS + 1


def _parts(shapes: list[se.Shape]) -> tuple[list[Part], int]:
    parts: list[Part] = []
    open_lines = total = 0
    for shape in shapes:
        pen, closed = _drawn(shape)
        total += pen.segment_count
        if total > MOST_SEGMENTS:
            raise GeometryError(f"It has more than {MOST_SEGMENTS:,} segments; save it with fewer nodes.")
        filled = shape.fill is not None and shape.fill.value is not None
        if not filled and not closed:
            open_lines += 1
            continue
        rule = "evenodd" if _style(shape, "fill-rule") == "evenodd" else "nonzero"
        region = pen.region("evenodd" if rule == "evenodd" else "nonzero")
        pieces = region.pieces()
        for piece in pieces:
            label = shape.id or f"{type(shape).__name__.lower()} {len(parts) + 1}"
            parts.append(Part(str(label), piece))
    return parts, open_lines


def _drawn(shape: se.Shape) -> tuple[RegionPen, bool]:
    """The shape's outline in mm, and whether all of it was drawn closed."""
    pen, closed, start, at = RegionPen(), True, None, None
    # A turned rectangle or oval keeps its transform apart until it is a path.
    for segment in _cubics(se.Path(shape).reify()):
        if isinstance(segment, se.Move):
            closed = closed and (at is None or at == start)
            start = at = _point(segment.end)
            pen.move_to(at)
            continue
        at = _point(segment.end) if segment.end is not None else start
        if isinstance(segment, se.Close):
            pen.close()
            at = start
        elif isinstance(segment, se.Line):
            pen.line_to(_point(segment.end))
        elif isinstance(segment, se.QuadraticBezier):
            pen.quadratic_to(_point(segment.control), _point(segment.end))
        elif isinstance(segment, se.CubicBezier):
            pen.cubic_to(_point(segment.control1), _point(segment.control2), _point(segment.end))
    return pen, closed and (at is None or at == start)


def _cubics(path: se.Path) -> Iterator[se.PathSegment]:
    """The path's segments, arcs as cubics of at most an eighth of a turn (error 4e-6 of the radius)."""
    for segment in path:
        if isinstance(segment, se.Arc):
            pieces = max(1, round(abs(segment.sweep) / 0.785 + 0.49))
            yield from segment.as_cubic_curves(pieces)
        else:
            yield segment


def _point(point: se.Point) -> tuple[float, float]:
    return (float(point.x) * MM_PER_PX, float(point.y) * MM_PER_PX)


def _is_shown(shape: se.Shape) -> bool:
    return _style(shape, "display") != "none" and _style(shape, "visibility") not in {"hidden", "collapse"}


def _style(shape: se.Shape, name: str) -> str:
    return str(shape.values.get(name) or "")


def _local(element: Element) -> str:
    return str(element.tag).split("}")[-1]
