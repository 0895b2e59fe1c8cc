"""SVG drawings read as regions in mm, every closed shape a part of its own.

What is seen is what is cut: styles are cascaded, clips applied, strokes made into areas, and what is not
painted is not there. Unit rules are those of SVG 2 and CSS: 1 px is 1/96 in, and a drawing without a size of
its own is as many px large as its viewBox.
"""

from __future__ import annotations

import logging
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Literal
from xml.etree.ElementTree import Element, ParseError, TreeBuilder

import shapely
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import DefusedXMLParser

from perigram.core.art.one_colour import ALIKE, as_one_colour, shows_through
from perigram.core.art.paint import Layer, covered, shape_pieces
from perigram.core.art.painted import Paint, Painted
from perigram.core.art.scene import Scene
from perigram.core.art.styles import local
from perigram.core.errors import GeometryError, PictureError
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.region import Region

log = logging.getLogger(__name__)

#: Larger drawings are refused; the reading of one this size takes some seconds.
MOST_BYTES = 5_000_000
MOST_SEGMENTS = 100_000
MOST_ELEMENTS = 20_000
#: Parts that enclose less than this many mm^2 at the size they are made at are specks no one drew on purpose.
_SPECK = 1e-3

#: An internal entity whose value is plain text: XML 1.0, section 4.2.1.
_ENTITY = re.compile(r"<!ENTITY\s+([^\s%&<>\"']+)\s+((?:\"[^\"%&<]*\")|(?:'[^'%&<]*'))\s*>")
_TOO_DEEP = "This drawing is nested too deeply. Ungroup it and save it again."
_OUTSIDE = "This drawing defines or refers to outside content, which is not read. Save it as plain SVG."

#: What reading leaves to be said, by what it is about: for one and for several.
_SAYS = {
    "text": "Text left out: letter it here instead, so that it stays live.",
    "image": "Embedded pictures left out: they have no outlines to cut.",
    "foreignObject": "Embedded pages left out: they have no outlines to cut.",
    "mask": "A mask is not applied: what it hides is cut. Use a clip path, or cut the shapes themselves.",
    "clip-path": "A clip other than a clip path is not applied. Use a clip path in the drawing.",
    "filter": "Effects like blur and shadow left out: only outlines are cut.",
    "pattern": "A pattern is cut as a solid: expand it to shapes first to cut what it shows.",
    "moving": "What moves in this drawing stands still: it is cut as it is before it moves.",
    "marker": "Arrow heads and other markers left out: expand them to shapes first.",
    "faint": "Colour that fades out or is seen through is cut as a solid: leave those parts out if they "
    "should not show.",
    "outside": "Shapes from another file left out: put them into the drawing itself.",
    "broken": "A path is broken off: it is cut as far as it can be read.",
    "missing": "A shape the drawing refers to is not in it.",
}

Light = Literal["cut", "kept"]


@dataclass(frozen=True, eq=False)
class Part:
    """One closed shape of a picture, holes included, and what it is painted with."""

    name: str
    region: Region
    paint: Paint


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
        parts = [part for i, part in enumerate(self.parts) if i not in dropped]
        # Every part is one piece.
        together = Region.joined([part.region for part in parts])
        pieces = together.translated(-x, -y).scaled(self.scale, self.scale).pieces()
        large = [(piece, part.paint) for piece, part in zip(pieces, parts, strict=True)]
        made = weld([region for region, _ in large]) if light == "kept" else as_one_colour(large)
        return made.scaled(1.0 / self.scale, 1.0 / self.scale).translated(x, y)

    @property
    def has_light_parts(self) -> bool:
        """Whether any two parts differ so much in lightness that it counts what lies on what."""
        shades = [part.paint.shade for part in self.parts]
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
        painted = _few_enough(scene.painted())
        layers, back = covered(painted)
        parts = _parts(painted, layers, back)
        faint = shows_through([(region, paint) for _, region, paint in layers])
    except GeometryError as error:
        raise PictureError(f"A shape in this drawing cannot be cut. {error}") from error
    except PictureError:
        raise
    except RecursionError as error:
        raise PictureError(_TOO_DEEP) from error
    except (ValueError, TypeError, ArithmeticError, IndexError, shapely.GEOSException) as error:
        log.exception("A drawing could not be read")
        raise PictureError(
            "This drawing is broken: a shape in it could not be read. Open it in a drawing program "
            "and save it as plain SVG."
        ) from error
    said = {*scene.notes, *(["faint"] if faint else [])}
    notes = [text for key, text in _SAYS.items() if key in said]
    bare = scene.notes.get("unpainted", 0)
    remarks = (
        [f"{bare} shape{'s' * (bare > 1)} without paint left out: nothing of them is seen."] if bare else []
    )
    if not parts:
        raise PictureError(
            "This drawing has no closed shapes, so there is nothing to cut. "
            + (" ".join([*notes, *remarks]) or "Draw filled or stroked shapes and save it again.")
        )
    return Drawing(parts, notes, remarks, 1.0 / float(back[0, 0]), (float(back[0, 2]), float(back[1, 2])))


def _few_enough(painted: Iterable[Painted]) -> list[Painted]:
    """The shapes, counted as they come."""
    found, count = [], 0
    for one in painted:
        found.append(one)
        count += len(one.outlines.segments)
        if count > MOST_SEGMENTS:
            raise PictureError(
                f"This drawing has more than {MOST_SEGMENTS:,} segments; save it with fewer nodes."
            )
    return found


def _checked_tree(source: str) -> Element:
    """The XML tree, once nothing in it can reach out, blow up or be misread."""
    _refuse_entities(source)
    # Whatever encoding the file names, it has been decoded: what was looked for above is what is read.
    parser = DefusedXMLParser(
        target=TreeBuilder(), encoding="utf-8", forbid_entities=False, forbid_external=True
    )
    try:
        parser.feed(source.encode())
        root: Element = parser.close()
    except DefusedXmlException as error:
        raise PictureError(_OUTSIDE) from error
    except (ParseError, ValueError) as error:
        raise PictureError(
            "This file is not an SVG drawing, or it is damaged; its XML cannot be read."
        ) from error
    if local(root) != "svg":
        raise PictureError(f"This file is not an SVG drawing; it is XML of another kind: {local(root)}.")
    try:
        size = _expanded_size(root)
    except RecursionError as error:
        raise PictureError(_TOO_DEEP) from error
    if size > MOST_ELEMENTS:
        raise PictureError(
            f"This drawing repeats its shapes to more than {MOST_ELEMENTS:,} elements, or repeats "
            "one inside itself. Use fewer copies."
        )
    return root


def _refuse_entities(source: str) -> None:
    """Refuse entities but for short words of a drawing's own, as drawing programs define for their addresses.

    Their values name no other entity and are no markup, so what they come to is counted easily.
    """
    plain = _ENTITY.findall(source)
    if len(plain) != source.count("<!ENTITY"):
        raise PictureError(_OUTSIDE)
    if len(source) + sum(len(value) * source.count(f"&{name};") for name, value in plain) > MOST_BYTES:
        raise PictureError(
            f"This drawing repeats its words to more than {MOST_BYTES / 1e6:.0f} MB. Save it as plain SVG."
        )


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

    return size(root)


def _parts(painted: Sequence[Painted], layers: Sequence[Layer], back: Floats) -> list[Part]:
    """Pieces of painted shapes, bottom to top, in mm."""
    parts: list[Part] = []
    for shape, piece, paint in shape_pieces(layers, back, _SPECK):
        name = painted[shape].name
        parts.append(Part(name if name not in _PLAIN else f"{name} {len(parts) + 1}", piece, paint))
    return parts


_PLAIN = {"path", "rect", "circle", "ellipse", "polygon", "polyline", "line"}
