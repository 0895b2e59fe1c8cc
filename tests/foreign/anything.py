"""Designs of any lines with any values their kinds allow, as the kinds themselves say what that is.

Where `designs` puts together what people do, these are put together by the fields of the lines: a kind or a
value that is new is tried without a word here.
"""

from __future__ import annotations

import random
from dataclasses import dataclass, field
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel

from perigram.core.recipe.design import VERSION, read_design
from perigram.core.recipe.lines import KINDS
from perigram.core.recipe.values import Line

from .sets import SETS, drawings

#: Words, and what no font or not every font has: another script, marks, a joiner, nothing.
_TEXTS = (
    "AVENUE",
    "tide",
    "Gig & Oar",
    "No. 8",
    "harbour",
    "ii",
    "B8",
    "Sál ö",
    "ffi",
    "e\u0301",
    "x",
    "MMXX",
    "W",
)
#: Lines that need no others.
_SOURCES = ("letter", "art", "shape")
#: Values that are references without being a value of a sentence.
_REFS = ("on", "as_wide", "as_tall", "of", "parents", "to")
#: What is said by a pattern only, by the value's name.
_WORDS = {
    "font": "fonts",
    "form": ("salt", "aalt=2", "ss01", "zero"),
    "features": ("smcp", "-liga", "ss01", "frac"),
    "text": _TEXTS,
}


@dataclass
class _Bench:
    """What a design is drawn from, and what is on it so far; `size` in mm is about how large things are."""

    rng: random.Random
    fonts: list[str]
    size: float
    pictures: list[str]
    refs: list[str] = field(default_factory=list)
    #: those that the line at hand works on already
    used: list[str] = field(default_factory=list)

    def ref(self) -> str:
        """A result, rather a late one, and seldom one that the line at hand works on already."""
        left = [one for one in self.refs if one not in self.used]
        some = left if left and self.rng.random() < 0.95 else self.refs
        found = self.rng.choice(some[-5:]) if some else ""
        self.used.append(found)
        return found

    def number(self, low: float, high: float, default: float | None) -> float:
        """Mostly what suits the size of things, else the default, an end of the range, or any number of it."""
        rng, how = self.rng, self.rng.random()
        if how < 0.25 and default is not None:
            return default
        if how < 0.3:
            return rng.choice([low, high])
        if how < 0.4 or high - low < 20.0:
            return round(rng.uniform(low, high), 3)
        about = rng.choice([-1.0, 1.0, 1.0]) * self.size * 10 ** rng.uniform(-3.0, 0.0)
        return float(f"{min(max(about, low), high):.4g}")

    def values(self, model: type[BaseModel], whole: dict[str, Any] | None = None) -> dict[str, Any]:
        """A value for each field of a model; `whole` is what is said of the model where it is a value itself."""
        found = {}
        for name, info in model.model_fields.items():
            extra = info.json_schema_extra if isinstance(info.json_schema_extra, dict) else {}
            if name == "value" and whole and "low" in whole:
                extra = whole
            found[name] = self.value(
                name, info.annotation, extra, info.get_default(call_default_factory=True)
            )
        return found

    def value(self, name: str, kind: Any, extra: dict[str, Any], default: Any) -> Any:
        rng, origin = self.rng, get_origin(kind)
        if origin is Annotated:
            return self.value(name, get_args(kind)[0], extra, default)
        if origin in (Union, UnionType):
            (kind,) = [one for one in get_args(kind) if one is not NoneType]
            return (
                None
                if rng.random() < 0.7 or (name in _REFS and not self.refs)
                else self.value(name, kind, extra, None)
            )
        if extra.get("slot") == "ref" or (name in _REFS and kind is str):
            return self.ref()
        if extra.get("slot") == "refs":
            return list(dict.fromkeys(self.ref() for _ in range(rng.choice([1, 1, 2, 3])) if self.refs))
        if extra.get("slot") == "picture":
            return rng.choice(self.pictures)
        if name in _WORDS and kind is str:
            return rng.choice(self.fonts if name == "font" else _WORDS[name])
        if origin is Literal:
            return rng.choice(get_args(kind))
        if origin is list:
            some = rng.choice([0, 1, 2, 4]) if name != "rows" else rng.choice([1, 1, 2, 3])
            return [self.value(name, get_args(kind)[0], extra, None) for _ in range(some)]
        if origin is tuple and name == "at":
            return [round(rng.random(), 3) for _ in "xy"]
        if origin is tuple:
            return [round(self.size * rng.uniform(-0.2, 0.2), 3) for _ in get_args(kind)]
        if isinstance(kind, type) and issubclass(kind, BaseModel):
            return self.values(kind, extra)
        if name == "rotate" and rng.random() < 0.5:
            return rng.choice([0.0, 90.0, 15.0])
        if kind is bool:
            return rng.random() < 0.15
        if kind is int:
            return rng.randint(0, 8)
        if kind is float:
            return self.number(extra.get("low", 20.0), extra.get("high", 200.0), default)
        return default


def _sorted_points(line: dict[str, Any]) -> None:
    """Puts curves of one's own in an order in which most of them hold."""
    if isinstance(line.get("points"), list):
        line["points"] = sorted(line["points"])


def anything(seed: int, fonts: list[str], sets: tuple[str, ...] = SETS) -> dict[str, Any]:
    """A design as its JSON: up to three sources, up to six lines over them, and up to three plies of any."""
    rng = random.Random(f"anything {seed}")
    pictures = [(name, rng.choice(list(drawings(name)))) for name in rng.choices(sets, k=2)]
    size = float(f"{5.0 * 400.0 ** rng.random():.4g}")
    bench = _Bench(rng, fonts, size, ["pic0", "pic1"])
    kinds = [rng.choice(_SOURCES) for _ in range(rng.randint(1, 3))]
    kinds += [rng.choice([one for one in KINDS if one not in _SOURCES]) for _ in range(rng.randint(1, 6))]
    recipe = []
    for number, kind in enumerate(kinds):
        model: type[Line] = KINDS[kind].model
        bench.used = []
        line = {**bench.values(model), "id": f"l{number}", "kind": kind, "off": False}
        _sorted_points(line)
        if kind == "net":
            line |= {
                "of_rows": 3,
                "of_columns": 4,
                "points": [[rng.uniform(-0.1, 0.1) for _ in "xy"] for _ in range(12)],
            }
        recipe.append(line)
        bench.refs += [f"l{number}/{name}" for name in KINDS[kind].names(model.model_validate(line))]
    plies = [
        {
            "id": f"p{i}",
            "name": f"ply {i}",
            "material": "m",
            "results": list({bench.ref() for _ in range(rng.choice([1, 1, 2]))}),
        }
        for i in range(rng.randint(1, 3))
    ]
    body = {
        "format": "perigram",
        "version": VERSION,
        "name": f"anything {seed}: {' '.join(kinds)}"[:110],
        "materials": [
            {"id": "m", "name": "Vinyl", "kind": "vinyl", "colour": "#202020", "mirrored": rng.random() < 0.3}
        ],
        "pictures": [
            {"id": f"pic{i}", "name": icon[:100], "svg": drawings(name)[icon]}
            for i, (name, icon) in enumerate(pictures)
        ],
        "recipe": recipe,
        "plies": plies,
    }
    read_design(body)
    return body
