"""The look of every element of a drawing: presentation attributes, style sheets and inheritance.

Cascading is CSS 2.1's (section 6.4), with SVG's presentation attributes below all rules (SVG 2, section 6.6);
selectors are matched by cssselect2, declarations parsed by tinycss2.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from typing import Any
from xml.etree.ElementTree import Element

import cssselect2
import tinycss2

from perigram.core.art.units import length
from perigram.core.art.values import WIDE, read
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
    "transform-box": "view-box",
    "transform-origin": "0 0",
    "vector-effect": "none",
    "stop-color": "black",
    "stop-opacity": "1",
}
#: Attributes that rules may say instead (SVG 2, section 8.7): where and how large shapes are.
_GEOMETRY = ("x", "y", "cx", "cy", "r", "rx", "ry", "width", "height", "d")
#: A custom property put in, and what stands for it where it is not said.
_VAR = re.compile(r"var\(\s*(--[^\s,()]+)\s*(?:,((?:[^()]|\([^()]*\))*))?\)")
_MOST_PUT_IN, _LONGEST = 20, 10_000
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
        self._said: dict[Element, dict[str, str]] = {}
        self._cascade(root)
        for element, said in self._said.items():
            # How large a page shows the whole drawing says nothing of what it is.
            for name in _GEOMETRY if element is not root else ():
                if name in said:
                    element.set(name, said[name])

    def _cascade(self, root: Element) -> None:
        sheets = [e.text or "" for e in root.iter() if local(e) == "style"]
        rules = list(_rules("\n".join(sheets)))
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
        style |= {name: value for name, value in parent.items() if name.startswith("--")}
        style |= {name: value for name, value in said.items() if name.startswith("--")}
        for name, value in said.items():
            if name not in INITIAL:
                continue
            if "var(" in value:
                value = read(name, _put_in(value, style)) or "unset"
            if value in WIDE:
                keeps = value == "inherit" or (value != "initial" and name in _INHERITED)
                value = parent[name] if keeps else INITIAL[name]
            style[name] = value
        if "font-size" in said:
            style["font-size"] = str(_font_size(style["font-size"], float(parent["font-size"])))
        for name in _BY_FONT & said.keys():
            # What is below inherits how long that is, not the words for it.
            style[name] = _in_px(style[name], float(style["font-size"]))
        return style


def _put_in(value: str, custom: Style) -> str:
    """A value with custom properties put in (CSS Custom Properties 1, section 3); empty for one that is not
    there, or goes round.
    """
    for _ in range(_MOST_PUT_IN):
        made = _VAR.sub(lambda found: custom.get(found[1], found[2] or "").strip(), value)
        if made == value or len(made) > _LONGEST:
            break
        value = made
    return "" if "var(" in value else value


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
    given = ((name, read(name, value)) for name, value in element.attrib.items() if name in INITIAL)
    said = {name: value for name, value in given if value is not None}
    inline = (
        _declarations(tinycss2.parse_declaration_list(element.get("style", ""))) if element.attrib else []
    )
    layers = [*matched, inline]
    for urgent in (False, True):
        for layer in layers:
            said |= {name: value for name, value, important in layer if important == urgent}
    return said


def _declarations(nodes: Iterable[Any]) -> _Declarations:
    found = []
    for node in nodes:
        if node.type != "declaration":
            continue
        text = tinycss2.serialize(node.value).strip()
        if node.name.startswith("--"):
            found.append((node.name, text, node.important))
        elif (node.lower_name in INITIAL or node.lower_name in _GEOMETRY) and (
            value := read(node.lower_name, text)
        ) is not None:
            found.append((node.lower_name, value, node.important))
    return found


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
