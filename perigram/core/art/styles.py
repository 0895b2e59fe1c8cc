"""The look of every element of a drawing: presentation attributes, style sheets and inheritance.

Cascading is CSS 2.1's (section 6.4), with SVG's presentation attributes below all rules (SVG 2, section 6.6);
selectors are matched by cssselect2, declarations parsed by tinycss2.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from functools import lru_cache
from typing import Any
from xml.etree.ElementTree import Element

import cssselect2
import tinycss2
import tinycss2.color3

from perigram.core.art.units import length
from perigram.core.errors import PictureError

#: Properties that count for what is cut, with their initial values; those of the first kind are inherited.
_INHERITED = {
    "fill": "black",
    "fill-rule": "nonzero",
    "fill-opacity": "1",
    "clip-rule": "nonzero",
    "stroke": "none",
    "stroke-width": "1",
    "stroke-opacity": "1",
    "stroke-linecap": "butt",
    "stroke-linejoin": "miter",
    "stroke-miterlimit": "4",
    "stroke-dasharray": "none",
    "stroke-dashoffset": "0",
    "visibility": "visible",
    "color": "black",
    "font-size": "16",
    "marker-start": "none",
    "marker-mid": "none",
    "marker-end": "none",
}
_OWN = {
    "display": "inline",
    "opacity": "1",
    "clip-path": "none",
    "mask": "none",
    "mask-type": "luminance",
    "filter": "none",
    "overflow": "hidden",
    "transform": "",
    "vector-effect": "none",
    "stop-color": "black",
    "stop-opacity": "1",
}
#: Lengths that may go by the size of the font.
_BY_FONT = {"stroke-width", "stroke-dasharray", "stroke-dashoffset"}
_EM = re.compile(r"[+-]?[\d.]+(?:e[+-]?\d+)?e[mx]\b", re.IGNORECASE)
#: What things that clip, or that a box is asked of, look like: they count whether painted or not.
SILHOUETTE = {
    "fill": "black",
    "fill-opacity": "1",
    "stroke": "none",
    "opacity": "1",
    "filter": "none",
    "marker-start": "none",
    "marker-mid": "none",
    "marker-end": "none",
}
INITIAL: Mapping[str, str] = {**_INHERITED, **_OWN}

Style = Mapping[str, str]
_Declarations = list[tuple[str, str, bool]]


def local(element: Element) -> str:
    """An element's name without its namespace; empty for comments and the like."""
    return element.tag.split("}")[-1] if isinstance(element.tag, str) else ""


class Styles:
    """What is said of each element of a tree, and what that comes to below a parent."""

    def __init__(self, root: Element) -> None:
        sheets = [e.text or "" for e in root.iter() if local(e) == "style"]
        rules = list(_rules("\n".join(sheets)))
        self._said: dict[Element, dict[str, str]] = {}
        if not rules:
            for element in root.iter():
                self._said[element] = _cascaded(element, [])
            return
        matcher = cssselect2.Matcher()
        for selectors, declarations in rules:
            for selector in selectors:
                matcher.add_selector(selector, declarations)
        for wrapped in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
            matched = [m[3] for m in matcher.match(wrapped) if m[2] is None]
            self._said[wrapped.etree_element] = _cascaded(wrapped.etree_element, matched)

    def of(self, element: Element, parent: Style) -> dict[str, str]:
        """Every property of an element drawn below a parent of the given style."""
        said = self._said[element]
        style = {name: parent[name] for name in _INHERITED} | _OWN
        for name, value in said.items():
            if value in ("inherit", "unset", "initial", "revert"):
                keeps = value == "inherit" or (value != "initial" and name in _INHERITED)
                value = parent[name] if keeps else INITIAL[name]
            style[name] = value
        if "font-size" in said:
            style["font-size"] = str(_font_size(style["font-size"], float(parent["font-size"])))
        for name in _BY_FONT & said.keys():
            # What is below inherits how long that is, not the words for it.
            style[name] = _in_px(style[name], float(style["font-size"]))
        return style


def _font_size(text: str, above: float) -> float:
    """A font's size in px, told by that of the element above where it is; that one where it is not told."""
    try:
        return length(text, above, above, above)
    except PictureError:
        return above


def _in_px(text: str, em: float) -> str:
    """A text with its lengths by a font of that size in px."""
    return _EM.sub(lambda found: str(length(found[0], 0.0, em=em)), text)


def _cascaded(element: Element, matched: list[_Declarations]) -> dict[str, str]:
    """The declarations that win: attributes, rules by specificity and order, the style attribute; then
    all that is important, in the same order.
    """
    said = {name: value.strip() for name, value in element.attrib.items() if name in INITIAL}
    inline = (
        _declarations(tinycss2.parse_declaration_list(element.get("style", ""))) if element.attrib else []
    )
    layers = [*matched, inline]
    for urgent in (False, True):
        for layer in layers:
            said |= {name: value for name, value, important in layer if important == urgent}
    return said


def _declarations(nodes: Iterable[Any]) -> _Declarations:
    return [
        (node.lower_name, tinycss2.serialize(node.value).strip(), node.important)
        for node in nodes
        if node.type == "declaration" and node.lower_name in INITIAL
    ]


def _rules(sheet: str) -> Iterator[tuple[list[Any], _Declarations]]:
    """Selectors and declarations of a style sheet, in order, also of rules for the screen or for print."""
    nodes = tinycss2.parse_stylesheet(sheet, skip_comments=True, skip_whitespace=True)
    while nodes:
        node = nodes.pop(0)
        if node.type == "at-rule" and node.lower_at_keyword == "media" and node.content is not None:
            if re.fullmatch(r"\s*(all|screen)?\s*", tinycss2.serialize(node.prelude).lower()):
                nodes[:0] = tinycss2.parse_rule_list(node.content, skip_comments=True, skip_whitespace=True)
        elif node.type == "qualified-rule":
            declarations = _declarations(tinycss2.parse_declaration_list(node.content))
            try:
                selectors = cssselect2.compile_selector_list(node.prelude)
            except cssselect2.SelectorError:
                continue
            if declarations:
                yield selectors, declarations


def number(text: str, otherwise: float) -> float:
    """A number or percentage between 0 and 1, as opacities are."""
    try:
        value = float(text[:-1]) / 100.0 if text.endswith("%") else float(text)
    except ValueError:
        return otherwise
    return min(1.0, max(0.0, value))


def colour_of(text: str, style: Style) -> tuple[float, float, float, float] | None:
    """Red, green, blue and alpha from 0 to 1 of a colour; None for `none` and what is no colour."""
    text = text.strip()
    if text.lower() == "currentcolor":
        text = style["color"]
    found = _parsed(text)
    if found is None or isinstance(found, str):
        return (0.0, 0.0, 0.0, 1.0) if found == "currentColor" else None
    return (found.red, found.green, found.blue, found.alpha)


@lru_cache(maxsize=1000)
def _parsed(text: str) -> Any:
    return tinycss2.color3.parse_color(text)


def shade_of(colour: tuple[float, float, float, float], opacity: float = 1.0) -> float:
    """How light a colour looks on white paper, from 0 for black to 1: luma of ITU-R BT.601 over white."""
    red, green, blue, alpha = colour
    luma = 0.299 * red + 0.587 * green + 0.114 * blue
    return 1.0 - alpha * opacity * (1.0 - luma)
