"""SVG drawings read as regions in mm, every closed shape a part of its own.

What is seen is what is cut: styles are cascaded, clips applied, strokes made into areas, and what is not
painted is not there. Unit rules are those of SVG 2 and CSS: 1 px is 1/96 in, and a drawing without a size of
its own is as many px large as its viewBox.
"""

from __future__ import annotations

import logging
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal
from xml.etree.ElementTree import Element, ParseError

import numpy as np
import shapely
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from perigram.core.art.one_colour import ALIKE, as_one_colour
from perigram.core.art.outlines import Outlines
from perigram.core.art.scene import Area, Painted, Scene
from perigram.core.art.styles import local
from perigram.core.errors import GeometryError, PictureError
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.measure import piece_areas
from perigram.core.geometry.overlay import overlap, regularise, weld
from perigram.core.geometry.region import LIMIT, Region
from perigram.core.geometry.stroke import Pen, stroked

log = logging.getLogger(__name__)

MM_PER_PX = 25.4 / 96.0
#: Larger drawings are refused; the reading of one this size takes some seconds.
MOST_BYTES = 5_000_000
MOST_SEGMENTS = 100_000
MOST_ELEMENTS = 20_000
#: Drawings are read at this many mm across, so that strokes and clips are as exact however small they are.
_ACROSS = 1000.0
#: Parts that enclose less than this many mm^2 at that size are specks no one drew on purpose.
_SPECK = 1e-3

#: What reading leaves to be said, by what it is about: for one and for several.
_SAYS = {
    "text": "Text left out: letter it here instead, so that it stays live.",
    "image": "Embedded pictures left out: they have no outlines to cut.",
    "foreignObject": "Embedded pages left out: they have no outlines to cut.",
    "mask": "A mask is not applied: what it hides is cut. Use a clip path, or cut the shapes themselves.",
    "clip-path": "A clip other than a clip path is not applied. Use a clip path in the drawing.",
    "filter": "Effects like blur and shadow left out: only outlines are cut.",
    "pattern": "A pattern is cut as a solid: expand it to shapes first to cut what it shows.",
    "marker": "Arrow heads and other markers left out: expand them to shapes first.",
    "fading": "Colour that fades out is cut as a solid: leave those parts out if they should not show.",
    "outside": "Shapes from another file left out: put them into the drawing itself.",
    "missing": "A shape the drawing refers to is not in it.",
}

Light = Literal["cut", "kept"]


@dataclass(frozen=True, eq=False)
class Part:
    """One closed shape of a picture, holes included, and how light it looks, from 0 for black to 1."""

    name: str
    region: Region
    shade: float = 0.0


@dataclass(frozen=True, eq=False)
class Drawing:
    """A picture as read: its parts in drawing order, and what was left out and why.

    Attributes:
        remarks: what needs no second look.
        scale, middle: times so much about its middle (in mm), the picture is as large as it was read.
    """

    parts: list[Part]
    notes: list[str]
    remarks: list[str] = field(default_factory=list)
    scale: float = 1.0
    middle: tuple[float, float] = (0.0, 0.0)

    def region(self, dropped: frozenset[int] = frozenset(), light: Light = "cut") -> Region:
        """All parts but the dropped ones as one material shows them.

        Lighter parts are cut out of the darker ones they lie on, or, "kept", cut along with them.
        """
        x, y = self.middle
        large = [
            (part.region.translated(-x, -y).scaled(self.scale, self.scale), part.shade)
            for i, part in enumerate(self.parts)
            if i not in dropped
        ]
        made = weld([region for region, _ in large]) if light == "kept" else as_one_colour(large)
        return made.scaled(1.0 / self.scale, 1.0 / self.scale).translated(x, y)

    @property
    def has_light_parts(self) -> bool:
        """Whether any two parts differ so much in lightness that it counts what lies on what."""
        shades = [part.shade for part in self.parts]
        return max(shades, default=0.0) - min(shades, default=0.0) >= ALIKE


def read_svg(source: str) -> Drawing:
    """Read an SVG drawing.

    Raises:
        PictureError: when it is not SVG, too large, broken, or has nothing to cut.
    """
    if len(source) > MOST_BYTES:
        raise PictureError(
            f"This drawing is {len(source) / 1e6:.1f} MB; drawings up to "
            f"{MOST_BYTES / 1e6:.0f} MB can be read. Save it with fewer nodes, or without "
            "embedded pictures."
        )
    root = _checked_tree(source)
    scene = Scene(root)
    try:
        painted = list(scene.painted())
        if sum(len(one.outlines.segments) for one in painted) > MOST_SEGMENTS:
            raise PictureError(
                f"This drawing has more than {MOST_SEGMENTS:,} segments; save it with fewer nodes."
            )
        parts, scale, middle = _parts(painted)
    except GeometryError as error:
        raise PictureError(f"A shape in this drawing cannot be cut. {error}") from error
    except PictureError:
        raise
    except RecursionError as error:
        raise PictureError("This drawing is nested too deeply. Ungroup it and save it again.") from error
    except (ValueError, TypeError, ArithmeticError, IndexError, shapely.GEOSException) as error:
        log.exception("A drawing could not be read")
        raise PictureError(
            "This drawing is broken: a shape in it could not be read. Open it in a drawing program "
            "and save it as plain SVG."
        ) from error
    notes = [text for key, text in _SAYS.items() if key in scene.notes]
    bare = scene.notes.get("unpainted", 0)
    remarks = (
        [f"{bare} shape{'s' * (bare > 1)} without paint left out: nothing of them is seen."] if bare else []
    )
    if not parts:
        raise PictureError(
            "This drawing has no closed shapes, so there is nothing to cut. "
            + (" ".join([*notes, *remarks]) or "Draw filled or stroked shapes and save it again.")
        )
    return Drawing(parts, notes, remarks, scale, middle)


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
    if local(root) != "svg":
        raise PictureError(f"This file is not an SVG drawing; it is XML of another kind: {local(root)}.")
    if _expanded_size(root) > MOST_ELEMENTS:
        raise PictureError(
            f"This drawing repeats its shapes to more than {MOST_ELEMENTS:,} elements, or repeats "
            "one inside itself. Use fewer copies."
        )
    return root


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
            if local(element) == "use":
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


def _parts(painted: Sequence[Painted]) -> tuple[list[Part], float, tuple[float, float]]:
    """Pieces of painted shapes, bottom to top, in mm; how much larger they were read, and their middle."""
    boxes = [one.outlines.mapped(one.matrix).box for one in painted]
    if not boxes:
        return [], 1.0, (0.0, 0.0)
    frames = [_frame(one) for one in painted]
    low = np.min([np.maximum(box[0], frame[0]) for box, frame in zip(boxes, frames, strict=True)], axis=0)
    high = np.max([np.minimum(box[1], frame[1]) for box, frame in zip(boxes, frames, strict=True)], axis=0)
    across = float((high - low).max())
    if not np.isfinite(across):
        raise GeometryError("A coordinate is not a number; the shape cannot be cut.")
    if across * MM_PER_PX > LIMIT:
        raise GeometryError(
            f"A coordinate lies beyond {LIMIT / 1000:.0f} m; make it smaller or move it nearer."
        )
    # In working units: so many mm a px, from the corner of what is seen.
    by = _ACROSS / across if across > 1e-6 else 1.0
    middle = (low + high) / 2.0
    onto = np.array([[by, 0.0, -by * middle[0]], [0.0, by, -by * middle[1]]])
    areas: dict[int, Region] = {}
    home = MM_PER_PX / by
    back = np.array([[home, 0.0, MM_PER_PX * middle[0]], [0.0, home, MM_PER_PX * middle[1]]])
    parts: list[Part] = []
    for one, box, frame in zip(painted, boxes, frames, strict=True):
        if (box[1] + 2.0 * _reach(one) < frame[0]).any() or (box[0] - 2.0 * _reach(one) > frame[1]).any():
            continue
        matrix = onto @ np.vstack([one.matrix, [0.0, 0.0, 1.0]])
        layers: list[tuple[Region, float]] = []
        if one.fill is not None:
            layers.append((_filled(one.outlines.mapped(matrix), one.rule), one.fill))
        if one.stroke is not None:
            layers.append((_stroke(one, matrix), one.stroke))
        if len(layers) == 2 and abs(layers[0][1] - layers[1][1]) < 0.005:
            layers = [(weld([region for region, _ in layers]), layers[0][1])]
        for region, shade in layers:
            for area in one.clips:
                region = _within(region, area, onto, areas)
            for piece, size in zip(region.pieces(), piece_areas(region), strict=True):
                if size > _SPECK:
                    label = one.name if one.name not in _PLAIN else f"{one.name} {len(parts) + 1}"
                    parts.append(Part(label, piece.transformed(back), shade))
    return parts, 1.0 / home, (float(MM_PER_PX * middle[0]), float(MM_PER_PX * middle[1]))


_PLAIN = {"path", "rect", "circle", "ellipse", "polygon", "polyline", "line"}


def _reach(one: Painted) -> float:
    """How far in px strokes reach from their path at most."""
    if one.stroke is None:
        return 0.0
    largest = float(np.hypot(*one.matrix[:, :2]).max())
    return one.pen.width / 2.0 * max(one.pen.limit, 1.5) * largest


def _frame(one: Painted) -> tuple[Floats, Floats]:
    """The box in px that clips leave of a shape at most; without end where there are none."""
    low, high = np.full(2, -np.inf), np.full(2, np.inf)
    for area in one.clips:
        boxes = [outlines.box for outlines, _, _ in area.shapes]
        if boxes:
            low = np.maximum(low, np.min([box[0] for box in boxes], axis=0))
            high = np.minimum(high, np.max([box[1] for box in boxes], axis=0))
    return low, high


def _filled(outlines: Outlines, rule: str) -> Region:
    """What outlines enclose, open ones closed by a line."""
    starts, ends = outlines.starts[:-1], outlines.starts[1:]
    segments, curved, sizes = [], [], []
    for first, last in zip(starts, ends, strict=True):
        own = outlines.segments[first:last]
        segments.append(own)
        curved.append(outlines.curved[first:last])
        gap = (own[-1, 3] != own[0, 0]).any()
        if gap:
            segments.append(np.array([[own[-1, 3], own[-1, 3], own[0, 0], own[0, 0]]]))
            curved.append(np.zeros(1, bool))
        sizes.append(last - first + gap)
    loops = np.concatenate([[0], np.cumsum(sizes)]).astype(np.intp)
    return regularise(
        np.concatenate(segments), np.concatenate(curved), loops, "evenodd" if rule == "evenodd" else "nonzero"
    )


def _stroke(one: Painted, matrix: Floats) -> Region:
    """The area of a stroke: made in the shape's own units, so that it is stretched as they are."""
    by = float(abs(np.linalg.det(matrix[:, :2]))) ** 0.5
    if by < 1e-9 or not np.isfinite(by):
        return Region.empty()
    large = one.outlines.mapped(np.array([[by, 0.0, 0.0], [0.0, by, 0.0]]))
    pen = Pen(one.pen.width * by, one.pen.cap, one.pen.join, one.pen.limit)
    made = stroked(large.segments, large.curved, large.starts, large.closed, pen)
    rest = np.column_stack([matrix[:, :2] / by, matrix[:, 2]])
    return made.transformed(rest) if not made.is_empty else made


def _within(region: Region, area: Area, onto: Floats, areas: dict[int, Region]) -> Region:
    """What of a region a clip lets through; its own bits where that is all of it."""
    if region.is_empty:
        return region
    if id(area) not in areas:
        shapes = []
        for outlines, rule, clips in area.shapes:
            shape = _filled(outlines.mapped(onto), rule)
            for inner in clips:
                shape = _within(shape, inner, onto, areas)
            shapes.append(shape)
        areas[id(area)] = weld(shapes)
    clip = areas[id(area)]
    low, high = region.curves.min(axis=(0, 1)), region.curves.max(axis=(0, 1))
    if clip.node_count == 4 and clip.piece_count == 1 and clip.straight.all():
        inside = (clip.start.min(axis=0) <= low + 1e-9).all() and (
            clip.start.max(axis=0) >= high - 1e-9
        ).all()
        upright = (np.abs(clip.end - clip.start).min(axis=1) < 1e-9).all()
        if inside and upright:
            return region
    return overlap(region, clip)
