"""What a drawing paints, in order: its shapes with their paint, where they lie, and what clips them.

Walks an SVG tree as a renderer does (SVG 2, sections 5, 8 and 14): `use`, symbols, nested viewports, switch,
transforms, clip paths. What cannot be cut is named in notes.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from xml.etree.ElementTree import Element

import numpy as np

from perigram.core.art.dashes import MOST_DASHES, dashed, dashes_of, pen_of
from perigram.core.art.frames import fitted, moved, origin, scale, times, under, view_box
from perigram.core.art.outlines import SHAPES, drawn
from perigram.core.art.painted import Area, Paint, Painted, box_area, in_white, unveiled
from perigram.core.art.styles import INITIAL, SILHOUETTE, Style, Styles, local
from perigram.core.art.units import Room
from perigram.core.art.values import colour_of, light_of, share
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.measure import extents

_HREF = ("href", "{http://www.w3.org/1999/xlink}href")
_FRAME = ("x", "y", "width", "height")
_MOVING = {"animate", "animateMotion", "animateTransform", "set"}
_CONTAINERS = {"svg", "g", "a", "switch", "use", "symbol"}


@dataclass(frozen=True)
class _Around:
    """What an element is drawn in: its transform, style, opacity, room and clips; and how what clips, or what
    a box is asked of, looks instead: filled by the rule for clips.
    """

    matrix: Floats
    style: Style
    opacity: float
    room: Room
    clips: tuple[Area, ...]
    instead: Style = field(default_factory=dict)


class Scene:
    """A drawing's painted shapes, and the notes that reading them leaves."""

    def __init__(self, root: Element) -> None:
        self._root = root
        self._styles = Styles(root)
        self._parents = {child: parent for parent in root.iter() for child in parent}
        self._by_id = {e.get("id"): e for e in reversed(list(root.iter())) if e.get("id")}
        self.notes: dict[str, int] = {}
        self._areas: dict[tuple[int, bytes, Room], Area] = {}
        self._masks: dict[tuple[int, bytes, Room], Area | None] = {}
        self._boxes: dict[tuple[int, Room], Floats] = {}
        self._gradients = 0
        self._path: list[Element] = []
        self._dashes_left = MOST_DASHES
        self._room = Room(0.0, 0.0)

    def painted(self) -> Iterator[Painted]:
        """Every painted shape from bottom to top, in px of 1/96 in."""
        root = self._root
        view = view_box(root)
        style = self._styles.of(root, INITIAL)
        em = float(style["font-size"])
        usual = Room(view[2] if view else 300.0, view[3] if view else 150.0, em)
        wide = usual.x(_plain(root.get("width")), view[2] if view else 0.0)
        tall = usual.y(_plain(root.get("height")), view[3] if view else 0.0)
        if view and root.get("width") is None and root.get("height") is not None:
            wide = tall * view[2] / view[3]
        elif view and root.get("height") is None and root.get("width") is not None:
            tall = wide * view[3] / view[2]
        size = (wide or 300.0, tall or 150.0)
        matrix = fitted(root, view, *size) if view else np.eye(2, 3)
        clips: tuple[Area, ...] = ()
        if wide and tall and style["overflow"] not in ("visible", "auto"):
            clips = (box_area(np.eye(2, 3), 0.0, 0.0, wide, tall),)
        if style["display"] == "none":
            return
        if any(local(element) in _MOVING for element in root.iter()):
            self._note("moving")
        self._room = Room(view[2], view[3], em) if view else Room(*size, em)
        around = _Around(matrix, style, share(style["opacity"]), self._room, clips)
        yield from self._children(root, around)

    def _note(self, what: str) -> None:
        self.notes[what] = self.notes.get(what, 0) + 1

    def _children(self, element: Element, around: _Around) -> Iterator[Painted]:
        for child in element:
            yield from self._drawn(child, around)

    def _drawn(self, element: Element, around: _Around) -> Iterator[Painted]:
        kind = local(element)
        if kind not in SHAPES and kind not in _CONTAINERS:
            if kind in ("text", "image", "foreignObject"):
                style = self._styles.of(element, around.style)
                if style["display"] != "none" and style["visibility"] == "visible":
                    self._note(kind)
            return
        if kind == "symbol":
            return
        style = self._styles.of(element, around.style)
        if around.instead:
            style |= {**around.instead, "fill-rule": style["clip-rule"]}
        if style["display"] == "none":
            return
        opacity = around.opacity * share(style["opacity"])
        if opacity == 0.0 or not _applies(element):
            return
        room = replace(around.room, em=float(style["font-size"]))
        matrix = self._under(element, replace(around, style=style, room=room))
        if kind == "use":
            # Clips of what is used lie where that is moved to.
            matrix = moved(matrix, room.x(element.get("x")), room.y(element.get("y")))
        around = replace(around, style=style, opacity=opacity, matrix=matrix, room=room)
        if style["filter"] != "none":
            self._note("filter")
        clips = self._clipped(element, style, around)
        if clips is None:
            return
        yield from self._content(element, replace(around, clips=clips))

    def _under(self, element: Element, around: _Around) -> Floats:
        """The map of what an element shows, transformed about its origin."""
        text, about = around.style["transform"], around.style["transform-origin"]
        if not text or about == INITIAL["transform-origin"]:
            return under(around.matrix, text)
        low, room = np.zeros(2), around.room
        if around.style["transform-box"] not in ("view-box", "stroke-box"):
            box = self._onto_box(element, around)
            low, room = box[:, 2], Room(box[0, 0], box[1, 1], room.em)
        x, y = low + origin(about, room)
        return moved(under(moved(around.matrix, x, y), text), -x, -y)

    def _content(self, element: Element, around: _Around) -> Iterator[Painted]:
        """What an element shows where it lies."""
        kind = local(element)
        if kind in SHAPES:
            yield from self._shape(element, around)
        elif kind == "use":
            yield from self._used(element, around)
        elif kind == "svg":
            yield from self._viewport(element, element, around)
        elif kind == "switch":
            chosen = next((child for child in element if _applies(child)), None)
            if chosen is not None:
                yield from self._drawn(chosen, around)
        else:
            yield from self._children(element, around)

    def _shape(self, element: Element, around: _Around) -> Iterator[Painted]:
        style = around.style
        if style["visibility"] != "visible":
            return
        fill = self._paint(style["fill"], style, around.opacity * share(style["fill-opacity"]))
        stroke = self._paint(style["stroke"], style, around.opacity * share(style["stroke-opacity"]))
        width = around.room.either(style["stroke-width"], 1.0)
        if width <= 0.0:
            stroke = None
        outlines = drawn(element, around.room, self._note)
        if outlines is None:
            return
        if any(style[f"marker-{where}"] != "none" for where in ("start", "mid", "end")):
            self._note("marker")
        if fill is None and stroke is None:
            if style["fill"] == "none" and style["stroke"] == "none":
                self._note("unpainted")
            return
        if stroke is not None and style["vector-effect"] == "non-scaling-stroke":
            width /= max(scale(around.matrix), 1e-12)
        whole = Painted(
            element.get("id") or local(element),
            outlines,
            around.matrix,
            fill,
            stroke,
            "evenodd" if style["fill-rule"] == "evenodd" else "nonzero",
            pen_of(style, width),
            around.clips,
        )
        dashes = dashes_of(style, around.room) if stroke is not None else None
        if dashes is None:
            yield whole
            return
        broken = dashed(outlines, dashes, around.room.either(style["stroke-dashoffset"]), self._dashes_left)
        self._dashes_left -= len(broken.closed)
        if fill is not None:
            yield replace(whole, stroke=None)
        if len(broken.segments):
            yield replace(whole, outlines=broken, fill=None)

    def _paint(self, text: str, style: Style, opacity: float) -> Paint | None:
        """What `fill` or `stroke` paint with; None for what is not seen."""
        paint = self._painted_with(text, style, opacity)
        return paint if paint is not None and paint.is_seen else None

    def _painted_with(self, text: str, style: Style, opacity: float) -> Paint | None:
        if text.startswith("url("):
            target, _, rest = text[4:].partition(")")
            server = self._by_id.get(target.strip(" '\"#"))
            if server is None:
                return self._painted_with(rest.strip() or "none", style, opacity)
            if local(server) == "pattern":
                self._note("pattern")
                return Paint(0.5, opacity, opacity)
            stops = self._stops(server)
            if not stops:
                return None
            self._gradients += 1
            light, alpha = np.mean(stops, axis=0).tolist()
            return Paint(light, alpha * opacity, min(least for _, least in stops) * opacity)
        colour = colour_of(text, style["color"])
        if colour is None:
            return None
        alpha = colour[3] * opacity
        return Paint(light_of(colour), alpha, alpha)

    def _stops(self, gradient: Element, depth: int = 0) -> list[tuple[float, float]]:
        """How light and how opaque the stops of a gradient are, its own or those it refers to."""
        stops = [child for child in gradient if local(child) == "stop"]
        if not stops:
            other = self._by_id.get(_href(gradient))
            return self._stops(other, depth + 1) if other is not None and depth < 10 else []
        found = []
        for stop in stops:
            style = self._where_it_stands(stop)
            colour = colour_of(style["stop-color"], style["color"]) or (0.0, 0.0, 0.0, 1.0)
            found.append((light_of(colour), colour[3] * share(style["stop-opacity"])))
        return found

    def _used(self, element: Element, around: _Around) -> Iterator[Painted]:
        href = _href(element)
        target = self._by_id.get(href)
        if target is None:
            self._note("missing" if href else "outside")
            return
        if target in self._path:
            return
        self._path.append(target)
        if local(target) in ("symbol", "svg"):
            style = self._styles.of(target, around.style)
            if style["display"] != "none" or local(target) == "symbol":
                opacity = around.opacity * share(style["opacity"])
                matrix = under(around.matrix, style["transform"])
                room = replace(around.room, em=float(style["font-size"]))
                inner = replace(around, style=style, opacity=opacity, matrix=matrix, room=room)
                yield from self._viewport(target, element, inner)
        else:
            yield from self._drawn(target, around)
        self._path.pop()

    def _viewport(self, element: Element, sized: Element, around: _Around) -> Iterator[Painted]:
        """What a nested viewport shows; `sized` says how large it is where it says so."""
        room = around.room
        width = room.x(sized.get("width") or element.get("width"), room.wide)
        height = room.y(sized.get("height") or element.get("height"), room.tall)
        if width <= 0.0 or height <= 0.0:
            return
        matrix = around.matrix
        if local(element) == "svg":
            matrix = moved(matrix, room.x(element.get("x")), room.y(element.get("y")))
        clips = around.clips
        if around.style["overflow"] not in ("visible", "auto"):
            clips = (*clips, box_area(matrix, 0.0, 0.0, width, height))
        view = view_box(element)
        if view:
            matrix = times(matrix, fitted(element, view, width, height))
        wide, tall = (view[2], view[3]) if view else (width, height)
        inner = Room(wide, tall, room.em)
        yield from self._children(element, replace(around, matrix=matrix, room=inner, clips=clips))

    def _clipped(self, element: Element, style: Style, around: _Around) -> tuple[Area, ...] | None:
        """The areas an element shows within; None where it shows nothing."""
        clips = around.clips
        for name, kind in (("clip-path", "clipPath"), ("mask", "mask")):
            value = style[name]
            if value == "none" or not value.startswith("url("):
                if value != "none":
                    self._note(name)
                continue
            source = self._by_id.get(value[4:].partition(")")[0].strip(" '\"#"))
            if source is None or local(source) != kind or source in self._path:
                continue
            # What is used by many elements in one place is one area, unless it goes by the element's own box.
            key = (id(source), around.matrix.tobytes(), around.room)
            if kind == "clipPath":
                if key not in self._areas or self._by_box(source):
                    self._areas[key] = self._clip(source, element, around)
                clips = (*clips, self._areas[key])
                continue
            if key not in self._masks or self._by_box(source):
                self._masks[key] = self._mask(source, element, around)
            area = self._masks[key]
            if area is None:
                self._note("mask")
                continue
            clips = (*clips, area, self._mask_frame(source, element, around))
        return clips

    def _clip(self, source: Element, element: Element, around: _Around) -> Area:
        """What a clip path lets through."""
        inside = self._within(source, element, around, source.get("clipPathUnits"))
        inside = replace(inside, instead=SILHOUETTE)
        self._path.append(source)
        painted = [one for child in source if self._may_clip(child) for one in self._drawn(child, inside)]
        self._path.pop()
        return Area([(one.outlines.mapped(one.matrix), one.rule, one.clips) for one in painted])

    def _may_clip(self, element: Element) -> bool:
        """Whether an element is a shape, or uses one; groups do not clip (CSS Masking 1, section 6.1), and
        text, which does, is noted.
        """
        used = self._by_id.get(_href(element)) if local(element) == "use" else element
        return used is not None and local(used) in {*SHAPES, "text"}

    def _mask(self, source: Element, element: Element, around: _Around) -> Area | None:
        """What a mask lets through (CSS Masking 1, section 8); None for grey, fading and pictures.

        By light, what is painted nearly white lets through, and nearly black on top of it hides again; by
        alpha, all that is painted lets through.
        """
        inside = self._within(source, element, around, source.get("maskContentUnits"))
        # What leaves a note, as pictures and effects do, cannot be told light from dark.
        before, soft = dict(self.notes), self._gradients
        self._path.append(source)
        painted = [one for child in source for one in self._drawn(child, inside)]
        self._path.pop()
        if inside.style["mask-type"] == "alpha":
            painted = [in_white(one) for one in painted]
        painted = [unveiled(one) for one in painted]
        paints = [paint for one in painted for paint in (one.fill, one.stroke) if paint is not None]
        grey = any(paint.lets_through is None for paint in paints)
        if self.notes != before or self._gradients > soft or grey:
            return None
        return Area((), painted)

    def _by_box(self, source: Element) -> bool:
        """Whether what a clip path or mask lets through depends on the box of what it is for."""
        inner = self._where_it_stands(source)
        nested = any(inner[name] != "none" for name in ("clip-path", "mask"))
        units = source.get("clipPathUnits"), source.get("maskContentUnits")
        return nested or "objectBoundingBox" in units

    def _mask_frame(self, source: Element, element: Element, around: _Around) -> Area:
        """The box outside which a mask hides."""
        said = [source.get(name) for name in _FRAME]
        room, matrix = self._room_of(source, around), around.matrix
        if source.get("maskUnits") != "userSpaceOnUse":
            room, matrix = Room(1.0, 1.0), times(matrix, self._onto_box(element, around))
        otherwise = ("-10%", "-10%", "120%", "120%")
        x, y, width, height = (value or usual for value, usual in zip(said, otherwise, strict=True))
        return box_area(matrix, room.x(x), room.y(y), room.x(width), room.y(height))

    def _room_of(self, source: Element, around: _Around) -> Room:
        """What lengths in a clip path or mask are told by: where that stands."""
        parent = self._parents.get(source)
        while parent is not None and parent is not self._root:
            if local(parent) in ("svg", "symbol"):
                return around.room
            parent = self._parents.get(parent)
        return replace(self._room, em=float(self._where_it_stands(source)["font-size"]))

    def _where_it_stands(self, element: Element) -> Style:
        """The style of what is referred to: it inherits from where it stands, not from where it is used."""
        parent = self._parents.get(element)
        return self._styles.of(element, INITIAL if parent is None else self._where_it_stands(parent))

    def _within(self, source: Element, element: Element, around: _Around, units: str | None) -> _Around:
        """What the content of a clip path or mask is drawn in."""
        style = self._where_it_stands(source)
        matrix = under(around.matrix, style["transform"])
        if units == "objectBoundingBox":
            matrix = times(matrix, self._onto_box(element, around))
        self._path.append(source)
        clips = self._clipped(element, style, replace(around, clips=())) or ()
        self._path.pop()
        return _Around(matrix, style, 1.0, self._room_of(source, around), clips)

    def _onto_box(self, element: Element, around: _Around) -> Floats:
        """The map (2, 3) from a box of one by one onto that of an element, painted or not, in its units."""
        key = (id(element), around.room)
        if key in self._boxes:
            return self._boxes[key]
        instead = {**SILHOUETTE, "visibility": "visible", "clip-path": "none", "mask": "none"}
        style = {**around.style, **instead}
        inside = replace(around, matrix=np.eye(2, 3), clips=(), style=style, instead=instead)
        notes, self.notes = self.notes, {}
        corners = []
        for one in self._content(element, inside):
            # Of what is turned, renderers take the box that its own box is turned into.
            (x0, y0), (x1, y1) = extents(one.outlines.segments)
            box = np.array([[x0, y0, 1.0], [x1, y0, 1.0], [x1, y1, 1.0], [x0, y1, 1.0]])
            corners.append(box @ one.matrix.T)
        self.notes = notes
        low, high = np.zeros(2), np.zeros(2)
        if corners:
            low, high = np.min(corners, axis=(0, 1)), np.max(corners, axis=(0, 1))
        self._boxes[key] = np.column_stack([np.diag(high - low), low])
        return self._boxes[key]


def _plain(text: str | None) -> str | None:
    return None if text is not None and text.strip().endswith("%") and text.strip() == "100%" else text


def _href(element: Element) -> str:
    """The id of what an element refers to within the drawing."""
    target = next((element.get(name) for name in _HREF if element.get(name)), "") or ""
    return target.strip()[1:] if target.strip().startswith("#") else ""


def _applies(element: Element) -> bool:
    """Whether an element is for us: no extensions, and English or no language."""
    if not isinstance(element.tag, str) or element.get("requiredExtensions"):
        return False
    languages = element.get("systemLanguage")
    return languages is None or any(one.strip().lower().startswith("en") for one in languages.split(","))
