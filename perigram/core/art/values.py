"""Values of properties: which of them are any, and what colours look like.

CSS drops a declaration whose value is none of its property's (CSS Syntax 3, section 2.2), as if it had not
been said: what was said less urgently holds.
"""

from __future__ import annotations

import re
from functools import lru_cache
from typing import Any

import tinycss2.color5

from perigram.core.art.units import length
from perigram.core.errors import PictureError

#: What every property may say: what is said above, or nothing.
WIDE = frozenset({"inherit", "unset", "initial", "revert", "revert-layer"})
_WORDS = {
    "fill-rule": {"nonzero", "evenodd"},
    "clip-rule": {"nonzero", "evenodd"},
    "stroke-linecap": {"butt", "round", "square"},
    "stroke-linejoin": {"miter", "miter-clip", "round", "bevel", "arcs"},
    "visibility": {"visible", "hidden", "collapse"},
    "mask-type": {"luminance", "alpha"},
    "overflow": {"visible", "hidden", "scroll", "clip", "auto"},
    "vector-effect": {"none", "non-scaling-stroke", "non-scaling-size", "non-rotation", "fixed-position"},
    "transform-box": {"content-box", "border-box", "fill-box", "stroke-box", "view-box"},
}
#: Geometry, where rules say it: lengths, and a path's data.
_SIZES = {"x", "y", "cx", "cy", "r", "rx", "ry", "width", "height"}
_PATH = re.compile(r"\Apath\(\s*[\"'](.*)[\"']\s*\)\Z", re.DOTALL)
_PAINTS, _COLOURS = {"fill", "stroke"}, {"color", "stop-color"}
_SHARES = {"opacity", "fill-opacity", "stroke-opacity", "stop-opacity"}


@lru_cache(maxsize=10_000)
def read(name: str, text: str) -> str | None:
    """A value as the property has it, its words in small letters; None for what is none of its values.

    What is put together of custom properties is looked at when those are known.
    """
    text = text.strip()
    if not text:
        return None
    low = text.lower()
    if name in _SIZES:
        return _if(text, _lengths([text], least=None))
    if name == "d":
        path = _PATH.match(text)
        return path[1] if path else None
    if low in WIDE:
        return low
    if "var(" in low:
        return text
    if name in _WORDS:
        return low if low in _WORDS[name] else None
    if name in _PAINTS:
        known = low in ("none", "context-fill", "context-stroke") or low.startswith("url(")
        return text if known and low.startswith("url(") else low if known else _if(text, _parsed(text))
    if name in _COLOURS:
        return _if(text, _parsed(text))
    if name in _SHARES:
        return _if(text, _share(text))
    if name in ("stroke-width", "stroke-dashoffset"):
        return _if(text, _lengths([text], least=0.0 if name == "stroke-width" else None))
    if name == "stroke-dasharray":
        return low if low == "none" else _if(text, _lengths(text.replace(",", " ").split(), least=0.0))
    return low if low == "none" or name == "display" else text


def _if(text: str, found: object) -> str | None:
    return None if found is None else text


def _lengths(words: list[str], least: float | None) -> list[float] | None:
    """Lengths in px, percent being of 100; None where one is none, or less than it may be."""
    try:
        found = [length(word, 100.0) for word in words]
    except PictureError:
        return None
    return None if not words or (least is not None and min(found) < least) else found


def _share(text: str) -> float | None:
    try:
        return float(text[:-1]) / 100.0 if text.endswith("%") else float(text)
    except ValueError:
        return None


def share(text: str) -> float:
    """A number or percentage from 0 to 1, as opacities are; 1 for what is none."""
    found = _share(text)
    return 1.0 if found is None else min(1.0, max(0.0, found))


def colour_of(text: str, current: str) -> tuple[float, float, float, float] | None:
    """Red, green, blue and alpha from 0 to 1 of a colour; None for `none` and what is no colour.

    Args:
        current: what `currentColor` stands for.
    """
    found = _parsed(text.strip())
    if found == "currentcolor":
        found = _parsed(current.strip())
    # Of what is current where nothing is, black.
    return (0.0, 0.0, 0.0, 1.0) if isinstance(found, str) else found


@lru_cache(maxsize=1000)
def _parsed(text: str) -> Any:
    """A colour's red, green, blue and alpha, the word `currentcolor`, or None for what is no colour."""
    colour = tinycss2.color5.parse_color(text)
    if colour is None or isinstance(colour, str):
        return colour
    alpha = float(colour.alpha)
    if colour.space in ("lab", "lch", "oklab", "oklch"):
        return (*[_grey(colour.space, float(colour[0] or 0.0))] * 3, alpha)
    if colour.space in ("hsl", "hwb"):
        colour = colour.to("srgb")
    red, green, blue = (min(1.0, max(0.0, float(part or 0.0))) for part in tuple(colour)[:3])
    return red, green, blue, alpha


def _grey(space: str, lightness: float) -> float:
    """The grey of sRGB that is as light (CSS Color 4, sections 9 and 10.2)."""
    bright = lightness**3 if space.startswith("ok") else ((lightness + 16.0) / 116.0) ** 3
    bright = min(1.0, max(0.0, bright))
    return 12.92 * bright if bright <= 0.0031308 else 1.055 * bright ** (1.0 / 2.4) - 0.055


def light_of(colour: tuple[float, float, float, float]) -> float:
    """How light a colour is, from 0 for black to 1: luma of ITU-R BT.601."""
    red, green, blue, _ = colour
    return 0.299 * red + 0.587 * green + 0.114 * blue
