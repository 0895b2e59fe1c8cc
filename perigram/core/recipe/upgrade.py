"""Documents of older versions brought up to date, as parsed JSON, before they are looked at closely."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from perigram.core.recipe.refs import line_of, ref_to, result_of

#: How a knockout of version 1 called its results, and the value each stood for.
_STOOD_FOR = {"remains": "target", "shows": "picture"}


def from_version_1(data: dict[str, Any]) -> dict[str, Any]:
    """Knockouts took one thing out of one other; now of several, results named after what they come from."""
    renamed: dict[str, str] = {}

    def new(ref: Any) -> Any:
        if not isinstance(ref, str) or "/" not in ref:
            return ref
        inner = ref_to(line_of(ref), new(result_of(ref)))
        return renamed.get(inner, inner)

    recipe = data.get("recipe", [])
    lines = [_with_refs(line, new, renamed) for line in recipe] if isinstance(recipe, list) else recipe
    plies = data.get("plies", [])
    if isinstance(plies, list):
        plies = [_ply(ply, new) for ply in plies]
    return {**data, "version": 2, "recipe": lines, "plies": plies}


def _with_refs(line: Any, new: Callable[[Any], Any], renamed: dict[str, str]) -> Any:
    if not isinstance(line, dict):
        return line
    line = dict(line)
    if "of" in line:
        of = line["of"]
        line["of"] = [new(ref) for ref in of] if isinstance(of, list) else new(of)
    if isinstance(line.get("place"), dict):
        place = line["place"]
        line["place"] = place | {k: new(place[k]) for k in ("on", "as_wide", "as_tall") if k in place}
    if line.get("kind") == "knock_out":
        for name, value in _STOOD_FOR.items():
            source = new(line.pop(value, ""))
            line["out_of" if value == "target" else "of"] = [source] if source else []
            if source:
                renamed[ref_to(str(line.get("id")), name)] = ref_to(str(line.get("id")), str(source))
    return line


def _ply(ply: Any, new: Callable[[Any], Any]) -> Any:
    if not isinstance(ply, dict) or not isinstance(ply.get("results"), list):
        return ply
    return {**ply, "results": [new(ref) for ref in ply["results"]]}
