"""Curves to start a warp from, drawn with one's own words."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from perigram.core.geometry import measure
from perigram.core.geometry.region import Region
from perigram.core.recipe.design import Design
from perigram.core.recipe.evaluate import Proof
from perigram.core.recipe.values import Line

Values = dict[str, Any]


@dataclass(frozen=True, eq=False)
class Curve:
    """A curve to start from: its name, the values of the line that make it, and what comes of it."""

    name: str
    values: Values
    regions: Sequence[Region]


def _arched(rise: float, **more: Any) -> Values:
    return {"shape": "arched", "rise": round(rise, 1), **more}


def _waved(rise: float, **more: Any) -> Values:
    return {"shape": "waved", "rise": round(rise, 1), **more}


_LEVEL: Values = {"shape": "level"}
_SIDES: Values = {"left": _LEVEL, "right": _LEVEL}


def _bends(width: float, height: float) -> dict[str, Values]:
    return {
        "Hill": {"curve": "arc", "rise": round(0.18 * width, 1), "on": "base", "letters": "bent"},
        "Valley": {"curve": "arc", "rise": round(-0.14 * width, 1), "on": "cap", "letters": "bent"},
        "Rainbow": {"curve": "turn", "turn": 180.0, "on": "base", "letters": "bent"},
        "Round the outside": {
            "curve": "circle",
            "diameter": round(width / 1.9, 0),
            "side": "outside",
            "clock": 12.0,
            "letters": "turned",
        },
        "Round the inside": {
            "curve": "circle",
            "diameter": round(width / 1.4 + 2.0 * height, 0),
            "side": "inside",
            "clock": 6.0,
            "letters": "turned",
        },
        "Ripple": {
            "curve": "wave",
            "height": round(min(0.1 * width, 0.03 * width**2 / height), 1),
            "times": 1.0,
            "on": "middle",
            "letters": "bent",
        },
    }


def _rails(width: float, height: float) -> dict[str, Values]:
    much = min(0.7 * height, 0.25 * width)
    less = 0.5 * much
    return {
        "Arched over level": {"top": _arched(much), "bottom": _LEVEL, **_SIDES},
        "Bulged": {"top": _arched(less), "bottom": _arched(less, upside_down=True), **_SIDES},
        "Barrel": {
            "top": _arched(less),
            "bottom": _arched(less, upside_down=True),
            "left": _arched(less),
            "right": _arched(less),
        },
        "Waist": {"top": _arched(-less), "bottom": _arched(-less, upside_down=True), **_SIDES},
        "Flag": {"top": _waved(less), "bottom": _waved(less), **_SIDES},
        "Rising": {
            "top": {"shape": "tilted", "rise": round(much, 1)},
            "bottom": {"shape": "tilted", "rise": round(-less, 1)},
            **_SIDES,
        },
        "Nested waves": {
            "top": _LEVEL,
            "bottom": _LEVEL,
            "between": [_waved(0.12 * height), _waved(0.12 * height, upside_down=True)],
            **_SIDES,
        },
    }


def _pulled(rows: int, columns: int, points: Sequence[tuple[float, float]], alike: str) -> Values:
    return {
        "rows": rows,
        "columns": columns,
        "of_rows": rows,
        "of_columns": columns,
        "alike": alike,
        "points": list(points),
    }


def _nets(width: float, height: float) -> dict[str, Values]:
    still = (0.0, 0.0)
    return {
        "Pillow": _pulled(
            3,
            3,
            [still, (0, -0.4), still, (-0.1, 0), still, (0.1, 0), still, (0, 0.4), still],
            "all",
        ),
        "Pinched": _pulled(
            3,
            3,
            [
                (0, -0.15),
                (0, 0.35),
                (0, -0.15),
                (0.06, 0),
                still,
                (-0.06, 0),
                (0, 0.15),
                (0, -0.35),
                (0, 0.15),
            ],
            "all",
        ),
        "Fan": _pulled(2, 3, [(-0.12, 0), (0, -0.5), (0.12, 0), (0.1, 0), (0, -0.2), (-0.1, 0)], "sides"),
    }


#: By kind of line: names and values for words of a width and a height in mm.
CURVES: dict[str, Callable[[float, float], dict[str, Values]]] = {
    "bend": _bends,
    "rails": _rails,
    "net": _nets,
}


def curves_for(design: Design, line_id: str, prove: Callable[[Design], Proof]) -> list[Curve]:
    """The curves a line can start from, as they look with what it works on; none for other kinds of line."""
    at = next((i for i, one in enumerate(design.recipe) if one.id == line_id), None)
    if at is None:
        return []
    line = design.recipe[at]
    made = CURVES.get(line.kind)
    before = design.model_copy(update={"recipe": design.recipe[:at], "plies": []})
    given = {r.ref: r.region for r in prove(before).results}
    regions = [given[ref] for ref in getattr(line, "of", ()) if ref in given]
    box = measure.union_box([measure.bounds(region) for region in regions])
    if made is None or box is None:
        return []

    def drawn(name: str, values: Values) -> Curve:
        changed: Line = type(line).model_validate({**line.model_dump(), **values, "off": False})
        state = before.model_copy(update={"recipe": [*before.recipe, changed]})
        regions = [r.region for r in prove(state).results[len(given) :]]
        return Curve(name, changed.model_dump(mode="json", include=set(values)), regions)

    named = made(box[2] - box[0], box[3] - box[1])
    return [drawn(name, values) for name, values in named.items()]
