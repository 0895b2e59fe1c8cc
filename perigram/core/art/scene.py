"""What a drawing paints, in order: its shapes with their paint, where they lie, and what clips them.

Walks an SVG tree as a renderer does (SVG 2, sections 5, 8 and 14): `use`, symbols, nested viewports, switch,
transforms, clip paths. What cannot be cut is named in notes.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from xml.etree.ElementTree import Element

import numpy as np

from perigram.core.art.dashes import MOST_DASHES, dashed, dashes_of, pen_of
from perigram.core.art.frames import fitted, scale, times, under, view_box
from perigram.core.art.outlines import SHAPES, Outlines, drawn, length
from perigram.core.art.painted import DARK, LIGHT, Area, Painted, box_area, in_white
from perigram.core.art.styles import INITIAL, Style, Styles, colour_of, local, number, shade_of
from perigram.core.geometry.bezier import Floats

_HREF = ("href", "{http://www.w3.org/1999/xlink}href")
_FRAME = ("x", "y", "width", "height")
_CONTAINERS = {"svg", "g", "a", "switch", "use", "symbol"}


@dataclass(frozen=True)
class _Around:
    """What an element is drawn in: its transform, style, opacity, viewport and clips."""

    matrix: Floats
    style: Style
    opacity: float
    size: tuple[float, float]
    clips: tuple[Area, ...]


class Scene:
    """A drawing's painted shapes, and the notes that reading them leaves."""

    def __init__(self, root: Element) -> None:
        self._root = root
        self._styles = Styles(root)
        self._parents = {child: parent for parent in root.iter() for child in parent}
        self._by_id = {e.get("id"): e for e in reversed(list(root.iter())) if e.get("id")}
        self.notes: dict[str, int] = {}
        self._areas: dict[tuple[int, bytes], Area] = {}
        self._masks: dict[tuple[int, bytes], tuple[Area, ...] | None] = {}
        self._gradients = 0
        self._path: list[Element] = []
        self._dashes_left = MOST_DASHES

    def painted(self) -> Iterator[Painted]:
        """Every painted shape from bottom to top, in px of 1/96 in."""
        root = self._root
        view = view_box(root)
        wide = length(_plain(root.get("width")), view[2] if view else 300.0, view[2] if view else 0.0)
        tall = length(_plain(root.get("height")), view[3] if view else 150.0, view[3] if view else 0.0)
        if view and root.get("width") is None and root.get("height") is not None:
            wide = tall * view[2] / view[3]
        elif view and root.get("height") is None and root.get("width") is not None:
            tall = wide * view[3] / view[2]
        size = (wide or 300.0, tall or 150.0)
        matrix = fitted(root, view, *size) if view else np.eye(2, 3)
        clips: tuple[Area, ...] = ()
        if wide and tall and self._styles.of(root, INITIAL)["overflow"] not in ("visible", "auto"):
            clips = (box_area(np.eye(2, 3), 0.0, 0.0, wide, tall),)
        inner = (view[2], view[3]) if view else size
        around = _Around(matrix, INITIAL, 1.0, inner, clips)
        style = self._styles.of(root, INITIAL)
        if style["display"] == "none":
            return
        around = replace(around, style=style, opacity=number(style["opacity"], 1.0))
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
        if style["display"] == "none":
            return
        opacity = around.opacity * number(style["opacity"], 1.0)
        if opacity == 0.0:
            return
        around = replace(
            around,
            style=style,
            opacity=opacity,
            matrix=under(around.matrix, style["transform"]),
        )
        if style["filter"] != "none":
            self._note("filter")
        clips = self._clipped(element, style, around)
        if clips is None:
            return
        around = replace(around, clips=clips)
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
        fill = self._paint(style["fill"], style, around.opacity * number(style["fill-opacity"], 1.0))
        stroke = self._paint(style["stroke"], style, around.opacity * number(style["stroke-opacity"], 1.0))
        wide, tall = around.size
        width = length(style["stroke-width"], ((wide * wide + tall * tall) / 2.0) ** 0.5, 1.0)
        if width <= 0.0:
            stroke = None
        outlines = drawn(element, wide, tall)
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
        dashes = dashes_of(style, around.size) if stroke is not None else None
        if dashes is None:
            yield whole
            return
        broken = dashed(outlines, dashes, length(style["stroke-dashoffset"], 0.0), self._dashes_left)
        self._dashes_left -= len(broken.closed)
        if fill is not None:
            yield replace(whole, stroke=None)
        if len(broken.segments):
            yield replace(whole, outlines=broken, fill=None)

    def _paint(self, text: str, style: Style, opacity: float) -> float | None:
        """How light a paint looks on white paper; None for what is not seen."""
        if text.startswith("url("):
            target, _, rest = text[4:].partition(")")
            server = self._by_id.get(target.strip(" '\"#"))
            if server is None:
                return self._paint(rest.strip() or "none", style, opacity)
            if local(server) == "pattern":
                self._note("pattern")
                return 0.5 if opacity > 0.0 else None
            shades = self._stops(server)
            if not shades:
                return None
            self._gradients += 1
            if min(alpha for _, alpha in shades) < 0.1 and opacity > 0.0:
                self._note("fading")
            light, alpha = np.mean(shades, axis=0).tolist()
            return 1.0 - alpha * opacity * (1.0 - light) if alpha * opacity > 0.0 else None
        colour = colour_of(text, style)
        if colour is None or colour[3] * opacity == 0.0:
            return None
        return shade_of(colour, opacity)

    def _stops(self, gradient: Element, depth: int = 0) -> list[tuple[float, float]]:
        """How light and how opaque the stops of a gradient are, its own or those it refers to."""
        stops = [child for child in gradient if local(child) == "stop"]
        if not stops:
            other = self._by_id.get(_href(gradient))
            return self._stops(other, depth + 1) if other is not None and depth < 10 else []
        found = []
        for stop in stops:
            style = self._where_it_stands(stop)
            colour = colour_of(style["stop-color"], style) or (0.0, 0.0, 0.0, 1.0)
            found.append((shade_of((*colour[:3], 1.0)), colour[3] * number(style["stop-opacity"], 1.0)))
        return found

    def _used(self, element: Element, around: _Around) -> Iterator[Painted]:
        href = _href(element)
        target = self._by_id.get(href)
        if target is None:
            self._note("missing" if href else "outside")
            return
        if target in self._path:
            return
        x, y = length(element.get("x"), around.size[0]), length(element.get("y"), around.size[1])
        around = replace(around, matrix=times(around.matrix, np.array([[1.0, 0.0, x], [0.0, 1.0, y]])))
        self._path.append(target)
        if local(target) in ("symbol", "svg"):
            style = self._styles.of(target, around.style)
            if style["display"] != "none" or local(target) == "symbol":
                opacity = around.opacity * number(style["opacity"], 1.0)
                matrix = under(around.matrix, style["transform"])
                inner = replace(around, style=style, opacity=opacity, matrix=matrix)
                yield from self._viewport(target, element, inner)
        else:
            yield from self._drawn(target, around)
        self._path.pop()

    def _viewport(self, element: Element, sized: Element, around: _Around) -> Iterator[Painted]:
        """What a nested viewport shows; `sized` says how large it is where it says so."""
        wide, tall = around.size
        x, y = (
            (length(element.get("x"), wide), length(element.get("y"), tall))
            if element is sized
            else (0.0, 0.0)
        )
        width = length(sized.get("width") or element.get("width"), wide, wide)
        height = length(sized.get("height") or element.get("height"), tall, tall)
        if width <= 0.0 or height <= 0.0:
            return
        matrix = times(around.matrix, np.array([[1.0, 0.0, x], [0.0, 1.0, y]]))
        clips = around.clips
        if around.style["overflow"] not in ("visible", "auto"):
            clips = (*clips, box_area(matrix, 0.0, 0.0, width, height))
        view = view_box(element)
        if view:
            matrix = times(matrix, fitted(element, view, width, height))
        size = (view[2], view[3]) if view else (width, height)
        yield from self._children(element, replace(around, matrix=matrix, size=size, clips=clips))

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
            if kind == "clipPath":
                clips = (*clips, self._clip(source, element, around))
                continue
            # What is used by many elements in one place is one area, unless it goes by the element's own box.
            key = (id(source), around.matrix.tobytes())
            if key not in self._masks or self._by_box(source):
                self._masks[key] = self._mask(source, element, around)
            areas = self._masks[key]
            if areas is None:
                self._note("mask")
                continue
            clips = (*clips, *areas)
        return clips

    def _clip(self, source: Element, element: Element, around: _Around) -> Area:
        """What a clip path lets through."""
        units = source.get("clipPathUnits")
        # What is used by many elements in one place is one area.
        key = (id(source), around.matrix.tobytes())
        if units != "objectBoundingBox" and key in self._areas:
            return self._areas[key]
        inside = self._within(source, element, around, units)
        style, clips = inside.style, inside.clips
        shapes: list[tuple[Outlines, str, tuple[Area, ...]]] = []
        self._path.append(source)
        for child in source:
            rule = self._clip_rule(child, style)
            shapes += [
                (one.outlines.mapped(one.matrix), rule, one.clips) for one in self._drawn(child, inside)
            ]
            if local(child) in SHAPES:
                unpainted = self._unpainted(child, inside)
                if unpainted is not None:
                    shapes.append((unpainted, rule, clips))
        self._path.pop()
        made = Area(shapes)
        if units != "objectBoundingBox":
            self._areas[key] = made
        return made

    def _mask(self, source: Element, element: Element, around: _Around) -> tuple[Area, ...] | None:
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
        shades = [shade for one in painted for shade in (one.fill, one.stroke) if shade is not None]
        if self.notes != before or self._gradients > soft or any(DARK < shade < LIGHT for shade in shades):
            return None
        made = (Area((), painted),)
        frame = self._mask_frame(source, element, around)
        return (*made, frame) if frame is not None else made

    def _by_box(self, mask: Element) -> bool:
        """Whether what a mask lets through depends on the box of what it masks."""
        framed = any(mask.get(name) for name in _FRAME) and mask.get("maskUnits") != "userSpaceOnUse"
        inner = self._where_it_stands(mask)
        nested = any(inner[name] != "none" for name in ("clip-path", "mask"))
        return framed or nested or mask.get("maskContentUnits") == "objectBoundingBox"

    def _mask_frame(self, source: Element, element: Element, around: _Around) -> Area | None:
        """The box outside which a mask hides, where it says one."""
        said = [source.get(name) for name in _FRAME]
        if not any(said):
            return None
        low, span = np.zeros(2), np.array(around.size)
        matrix = around.matrix
        if source.get("maskUnits") != "userSpaceOnUse":
            low, high = self._box(element, around)
            matrix = times(
                matrix, np.array([[high[0] - low[0], 0.0, low[0]], [0.0, high[1] - low[1], low[1]]])
            )
            span = np.ones(2)
        otherwise = ("-10%", "-10%", "120%", "120%")
        x, y, width, height = (
            length(value or usual, float(span[k % 2]))
            for k, (value, usual) in enumerate(zip(said, otherwise, strict=True))
        )
        return box_area(matrix, x, y, width, height)

    def _where_it_stands(self, element: Element) -> Style:
        """The style of what is referred to: it inherits from where it stands, not from where it is used."""
        parent = self._parents.get(element)
        return self._styles.of(element, INITIAL if parent is None else self._where_it_stands(parent))

    def _within(self, source: Element, element: Element, around: _Around, units: str | None) -> _Around:
        """What the content of a clip path or mask is drawn in."""
        matrix = around.matrix
        if units == "objectBoundingBox":
            low, high = self._box(element, around)
            span = high - low
            matrix = times(matrix, np.array([[span[0], 0.0, low[0]], [0.0, span[1], low[1]]]))
        style = self._where_it_stands(source)
        matrix = under(matrix, style["transform"])
        self._path.append(source)
        clips = self._clipped(source, style, replace(around, clips=(), matrix=matrix)) or ()
        self._path.pop()
        return _Around(matrix, style, 1.0, around.size, clips)

    def _clip_rule(self, element: Element, style: Style) -> str:
        return "evenodd" if self._styles.of(element, style)["clip-rule"] == "evenodd" else "nonzero"

    def _unpainted(self, element: Element, around: _Around) -> Outlines | None:
        """A clipping shape counts whether it is painted or not."""
        style = self._styles.of(element, around.style)
        if style["display"] == "none" or style["visibility"] != "visible":
            return None
        if self._paint(style["fill"], style, number(style["fill-opacity"], 1.0)) is not None:
            return None
        outlines = drawn(element, *around.size)
        matrix = under(around.matrix, style["transform"])
        return outlines.mapped(matrix) if outlines else None

    def _box(self, element: Element, around: _Around) -> tuple[Floats, Floats]:
        """The box of an element in its own units, by its control points."""
        inside = replace(around, matrix=np.eye(2, 3), clips=())
        notes, self.notes = self.notes, {}
        if local(element) in SHAPES:
            found = [one for one in [drawn(element, *around.size)] if one]
        else:
            found = [one.outlines.mapped(one.matrix) for one in self._children(element, inside)]
        self.notes = notes
        if not found:
            return np.zeros(2), np.zeros(2)
        lows, highs = zip(*(one.box for one in found), strict=True)
        return np.min(lows, axis=0), np.max(highs, axis=0)


def _plain(text: str | None) -> str | None:
    return None if text is not None and text.strip().endswith("%") and text.strip() == "100%" else text


def _href(element: Element) -> str:
    """The id of what an element refers to within the drawing."""
    target = next((element.get(name) for name in _HREF if element.get(name)), "") or ""
    return target.strip()[1:] if target.strip().startswith("#") else ""


def _applies(element: Element) -> bool:
    """Whether a switch may choose an element: no extensions, and English or no language."""
    if not isinstance(element.tag, str) or element.get("requiredExtensions"):
        return False
    languages = element.get("systemLanguage")
    return languages is None or any(one.strip().lower().startswith("en") for one in languages.split(","))
