"""Where things lie in a drawing: transforms, and viewBoxes laid into viewports."""

from __future__ import annotations

from xml.etree.ElementTree import Element

import numpy as np
import svgelements as se

from perigram.core.art.units import Room
from perigram.core.errors import PictureError
from perigram.core.geometry.bezier import Floats

#: What words say of where a transform's origin is.
_SIDES = {"left": "0%", "top": "0%", "center": "50%", "right": "100%", "bottom": "100%"}


def under(matrix: Floats, text: str) -> Floats:
    """A map (2, 3) after the transform that an element says.

    Raises:
        PictureError: for a transform that cannot be read.
    """
    if not text or text == "none":
        return matrix
    try:
        m = se.Matrix(text)
        own = np.array([[m.a, m.c, m.e], [m.b, m.d, m.f]], float)
    except (ValueError, TypeError, AttributeError) as error:
        raise PictureError(f"A transform in this drawing cannot be read: “{text[:24]}”.") from error
    if not np.isfinite(own).all():
        raise PictureError(f"A transform in this drawing is not a number: “{text[:24]}”.")
    return times(matrix, own)


def origin(text: str, room: Room) -> tuple[float, float]:
    """The point of a transform-origin in a box of some size; its corner for what is none.

    CSS Transforms 1, section 6: words or lengths, across and down, or words the other way round.
    """
    words = [_SIDES.get(word, word) for word in text.lower().split()[:2]]
    if len(words) == 1:
        words = ["50%", words[0]] if text.lower().strip() in ("top", "bottom") else [words[0], "50%"]
    elif text.lower().split()[0] in ("top", "bottom") or text.lower().split()[1] in ("left", "right"):
        words.reverse()
    try:
        return room.x(words[0]), room.y(words[1])
    except PictureError:
        return 0.0, 0.0


def times(a: Floats, b: Floats) -> Floats:
    """The map (2, 3) that does b first, and then a."""
    return a @ np.vstack([b, [0.0, 0.0, 1.0]])


def moved(matrix: Floats, x: float, y: float) -> Floats:
    """The map (2, 3) that moves by x and y first."""
    return times(matrix, np.array([[1.0, 0.0, x], [0.0, 1.0, y]]))


def scale(matrix: Floats) -> float:
    """How many times as long a map (2, 3) makes lines, on the whole."""
    return float(abs(matrix[0, 0] * matrix[1, 1] - matrix[0, 1] * matrix[1, 0])) ** 0.5


def view_box(element: Element) -> tuple[float, float, float, float] | None:
    """The x, y, width and height of an element's viewBox; None for none, or one that shows nothing.

    Raises:
        PictureError: for one that cannot be read.
    """
    words = (element.get("viewBox") or "").replace(",", " ").split()
    try:
        numbers = [float(word) for word in words]
    except ValueError as error:
        raise PictureError(f"This drawing has a broken viewBox: “{' '.join(words)[:24]}”.") from error
    if len(numbers) != 4 or not np.isfinite(numbers).all() or numbers[2] <= 0.0 or numbers[3] <= 0.0:
        return None
    return numbers[0], numbers[1], numbers[2], numbers[3]


def fitted(element: Element, view: tuple[float, float, float, float], width: float, height: float) -> Floats:
    """A viewBox laid into its viewport as preserveAspectRatio says; SVG 2, section 8.2."""
    x, y, w, h = view
    words = (element.get("preserveAspectRatio") or "xMidYMid").replace("defer", "").split()
    sx, sy = width / w, height / h
    align = words[0] if words else "xMidYMid"
    if align == "none":
        return np.array([[sx, 0.0, -x * sx], [0.0, sy, -y * sy]])
    by = max(sx, sy) if "slice" in words else min(sx, sy)
    share = {"Min": 0.0, "Mid": 0.5, "Max": 1.0}
    across, down = share.get(align[1:4], 0.5), share.get(align[5:8], 0.5)
    return np.array(
        [
            [by, 0.0, (width - w * by) * across - x * by],
            [0.0, by, (height - h * by) * down - y * by],
        ]
    )
