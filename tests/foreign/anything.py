"""Designs of any lines with any values their kinds allow, as the kinds themselves say what that is.

Where `designs` puts together what people do, these are put together from the fields of the lines: a kind or
a value that is new is tried without a word here.
"""

from __future__ import annotations

import random
from dataclasses import dataclass, field
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel

from perigram.core.recipe.design import VERSION
from perigram.core.recipe.lines import KINDS

from .sets import SETS, drawings

#: Lines that need no others.
_SOURCES = ("letter", "art", "shape")
#: Texts that the fields only say the form of, by the value's name.
_TEXTS = {
    "text": (
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
        "W",
    ),
    "form": ("salt", "aalt=2", "ss01", "zero"),
    "features": ("smcp", "-liga", "ss01", "frac"),
}
#: Values that are references without being values of a sentence.
_REFS = ("on", "as_wide", "as_tall", "of", "parents", "to")


@dataclass
class _Bench:
    """What a design is drawn from, and the results it has so far; things are about `size` mm large."""

    rng: random.Random
    fonts: list[str]
    size: float
    pictures: list[str]
    refs: list[str] = field(default_factory=list)
    #: those that the line at hand works on already
    used: list[str] = field(default_factory=list)

    def values(self, model: type[BaseModel], as_value: dict[str, Any] | None = None) -> dict[str, Any]:
        """A value for each field of a model; `as_value` is what is said of it where it is a value itself."""
        found = {}
        for name, info in model.model_fields.items():
            extra = info.json_schema_extra if isinstance(info.json_schema_extra, dict) else {}
            if name == "value" and as_value and "low" in as_value:
                extra = as_value
            default = info.get_default(call_default_factory=True)
            found[name] = self._value(name, info.annotation, extra, default)
        return found

    def _value(self, name: str, kind: Any, extra: dict[str, Any], default: Any) -> Any:
        rng, origin = self.rng, get_origin(kind)
        if origin is Annotated:
            return self._value(name, get_args(kind)[0], extra, default)
        if origin in (Union, UnionType):
            (kind,) = [one for one in get_args(kind) if one is not NoneType]
            left_out = rng.random() < 0.7 or (name in _REFS and not self.refs)
            return None if left_out else self._value(name, kind, extra, None)
        if extra.get("slot") == "refs":
            return list(dict.fromkeys(self._ref() for _ in range(rng.choice([1, 1, 2, 3])) if self.refs))
        if extra.get("slot") == "picture":
            return rng.choice(self.pictures)
        if origin is Literal:
            return rng.choice(get_args(kind))
        if origin is list:
            count = rng.choice([1, 1, 2, 3] if name == "rows" else [0, 1, 2, 4])
            values = [self._value(name, get_args(kind)[0], extra, None) for _ in range(count)]
            # Curves of one's own go from left to right.
            return sorted(values) if name == "points" else values
        if origin is tuple:
            reach = (0.0, 1.0) if name == "at" else (-0.2 * self.size, 0.2 * self.size)
            return [round(rng.uniform(*reach), 3) for _ in get_args(kind)]
        if isinstance(kind, type) and issubclass(kind, BaseModel):
            return self.values(kind, extra)
        return self._plain(name, kind, extra, default)

    def _plain(self, name: str, kind: Any, extra: dict[str, Any], default: Any) -> Any:
        rng = self.rng
        if kind is str and (extra.get("slot") == "ref" or name in _REFS):
            return self._ref()
        if kind is str and name == "font":
            return rng.choice(self.fonts)
        if kind is str and name in _TEXTS:
            return rng.choice(_TEXTS[name])
        if kind is bool:
            return rng.random() < 0.15
        if kind is int:
            return rng.randint(0, 8)
        if kind is float and name == "rotate" and rng.random() < 0.5:
            return rng.choice([0.0, 90.0, 15.0])
        if kind is float:
            return self._number(extra.get("low", 20.0), extra.get("high", 200.0), default)
        return default

    def _ref(self) -> str:
        """A result, rather a late one, and seldom one that the line at hand works on already."""
        left = [one for one in self.refs if one not in self.used]
        some = left if left and self.rng.random() < 0.95 else self.refs
        found = self.rng.choice(some[-5:]) if some else ""
        self.used.append(found)
        return found

    def _number(self, low: float, high: float, default: float | None) -> float:
        """Mostly what suits the size of things, else the default, an end of the range or anything in it."""
        rng, how = self.rng, self.rng.random()
        if how < 0.25 and default is not None:
            return default
        if how < 0.3:
            return rng.choice([low, high])
        if how < 0.4 or high - low < 20.0:
            return round(rng.uniform(low, high), 3)
        about = rng.choice([-1.0, 1.0, 1.0]) * self.size * 10 ** rng.uniform(-3.0, 0.0)
        return float(f"{min(max(about, low), high):.4g}")


def anything(seed: int, fonts: list[str], sets: tuple[str, ...] = SETS) -> dict[str, Any]:
    """A design as its JSON: up to three sources, up to six lines over them, and up to three plies of any.

    The same for the same seed and material, and the same kinds.
    """
    rng = random.Random(f"anything {seed}")
    pictures = [(name, rng.choice(list(drawings(name)))) for name in rng.choices(sets, k=2)]
    bench = _Bench(rng, fonts, float(f"{5.0 * 400.0 ** rng.random():.4g}"), ["pic0", "pic1"])
    kinds = [rng.choice(_SOURCES) for _ in range(rng.randint(1, 3))]
    kinds += [rng.choice([one for one in KINDS if one not in _SOURCES]) for _ in range(rng.randint(1, 6))]
    recipe = []
    for number, kind in enumerate(kinds):
        bench.used = []
        line = {**bench.values(KINDS[kind].model), "id": f"l{number}", "kind": kind, "off": False}
        if kind == "net":
            # As many points as the net has, each pulled by a share of its box.
            pulled = [[rng.uniform(-0.1, 0.1), rng.uniform(-0.1, 0.1)] for _ in range(12)]
            line |= {"of_rows": 3, "of_columns": 4, "points": pulled}
        recipe.append(line)
        read = KINDS[kind].model.model_validate(line)
        bench.refs += [f"l{number}/{name}" for name in KINDS[kind].names(read)]
    plies = [
        {
            "id": f"p{i}",
            "name": f"ply {i}",
            "material": "m",
            "results": list(dict.fromkeys(bench._ref() for _ in range(rng.choice([1, 1, 2])))),
        }
        for i in range(rng.randint(1, 3))
    ]
    material = {"id": "m", "name": "Vinyl", "kind": "vinyl", "colour": "#202020"}
    return {
        "format": "perigram",
        "version": VERSION,
        "name": f"seed {seed} of anything: {' '.join(kinds)}"[:110],
        "materials": [material | {"mirrored": rng.random() < 0.3}],
        "pictures": [
            {"id": f"pic{i}", "name": icon[:100], "svg": drawings(name)[icon]}
            for i, (name, icon) in enumerate(pictures)
        ],
        "recipe": recipe,
        "plies": plies,
    }
