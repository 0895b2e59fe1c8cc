"""How much of a picture an independent renderer sees elsewhere than where it is cut."""

from __future__ import annotations

from io import BytesIO
from xml.etree import ElementTree

import numpy as np
import resvg_py
from PIL import Image, ImageDraw
from scipy.ndimage import binary_erosion

from perigram.core.art.paint import MM_PER_PX
from perigram.core.art.svg import Drawing

from .judge import path_rings

#: Pixels across; what differs by less than one of them is how edges are rounded.
_ACROSS = 800


def rendered(source: str, size: tuple[float, float]) -> np.ndarray:
    """Which pixels are painted, by resvg."""
    wide, tall = _pixels(size)
    png = resvg_py.svg_to_bytes(svg_string=source, width=wide, height=tall, skip_system_fonts=True, dpi=96.0)
    image = np.asarray(Image.open(BytesIO(bytes(png))).convert("RGBA"))
    return image[:tall, :wide, 3] > 127


def lightness(source: str, places: list[tuple[float, float]]) -> list[float]:
    """How light a drawing looks on paper, from 0 to 1, at shares of its width and height, by resvg."""
    png = resvg_py.svg_to_bytes(svg_string=source, background="white", skip_system_fonts=True, dpi=96.0)
    image = np.asarray(Image.open(BytesIO(bytes(png))).convert("L"))
    tall, wide = image.shape
    return [float(image[int(y * tall), int(x * wide)]) / 255.0 for x, y in places]


def cut(data: str, size: tuple[float, float]) -> np.ndarray:
    """Which pixels path data in mm encloses by the even-odd rule."""
    wide, tall = _pixels(size)
    made = np.zeros((tall, wide), bool)
    for ring in path_rings(data, chord=0.002):
        if len(ring) < 3:
            continue
        image = Image.new("1", (wide, tall), 0)
        scaled = ring * wide / size[0] / MM_PER_PX - 0.5
        ImageDraw.Draw(image).polygon([(float(x), float(y)) for x, y in scaled], fill=1)
        made ^= np.asarray(image)
    return made


def strays(a: np.ndarray, b: np.ndarray) -> float:
    """The share of ink in which two pictures differ by more than a pixel along their edges."""
    return float(binary_erosion(a ^ b).sum()) / max(1, int(b.sum()))


def size_of(source: str) -> tuple[float, float]:
    """The width and height in px of a drawing with a viewBox whose size, if it has one, is in px."""
    root = ElementTree.fromstring(source)
    view = [float(v) for v in root.get("viewBox", "").replace(",", " ").split()]
    wide, tall = root.get("width"), root.get("height")
    if wide and tall and not (wide + tall).endswith("%"):
        return float(wide.removesuffix("px")), float(tall.removesuffix("px"))
    return view[2], view[3]


def _pixels(size: tuple[float, float]) -> tuple[int, int]:
    return _ACROSS, max(1, round(_ACROSS * size[1] / size[0]))


def off(source: str, drawing: Drawing, data: str) -> float:
    """The share of a drawing's ink that is cut elsewhere than it is seen."""
    size = size_of(source)
    return strays(cut(data, size), rendered(source, size))
