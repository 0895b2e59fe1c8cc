"""Random designs of foreign art and fonts: every size, clearance, gap, turn and chain of lines."""

from __future__ import annotations

import random
from typing import Any

from perigram.core.recipe.upgrade import from_version_1

from .sets import SETS, drawings

WORDS = ("AVENUE", "WHARF", "tide", "Gig & Oar", "No. 8", "MMXX", "harbour", "ROW", "Sál ö", "ii", "S", "B8")


def _about(rng: random.Random, low: float, high: float) -> float:
    """A size between two, each power of ten as likely as the next."""
    return float(f"{low * (high / low) ** rng.random():.4g}")


def _place(rng: random.Random, reach: float, on: str | None) -> dict[str, Any]:
    place: dict[str, Any] = {
        "x": round(rng.uniform(-0.3, 0.3) * reach, 3),
        "y": round(rng.uniform(-0.3, 0.3) * reach, 3),
        "on": on,
        "rotate": rng.choice([0, 0, 0, 90, 15, -7.3, 180, 33.33]),
        "flip": rng.random() < 0.2,
    }
    return place


def _letter(rng: random.Random, number: int, size: float, fonts: list[str]) -> dict[str, Any]:
    rows = [{"text": rng.choice(WORDS)} for _ in range(rng.choice([1, 1, 2]))]
    return {
        "id": f"l{number}",
        "kind": "letter",
        "rows": rows,
        "font": rng.choice(fonts),
        "size": size,
        "fit": rng.choice(["wide", "wide", "tall"]),
        "gap": rng.choice([0, 0, 0.3, -0.2, 0.001, round(size * 0.01, 3), -round(size * 0.005, 3)]),
        "spacing": rng.choice(["clear", "clear", "font"]),
        "row_gap": {"value": rng.choice([0, 0.5, 3, -2]), "of": "mm"},
        "align": rng.choice(["centre", "left", "even"]),
        "place": {"x": 0, "y": 0, "rotate": rng.choice([0, 0, 0, 12.5]), "flip": rng.random() < 0.1},
    }


def _art(rng: random.Random, number: int, size: float, on: str | None) -> dict[str, Any]:
    return {
        "id": f"l{number}",
        "kind": "art",
        "picture": "pic",
        "size": max(0.5, min(3000.0, size)),
        "by": rng.choice(["tall", "wide"]),
        "stretch": rng.choice([100, 100, 100, 60, 180]),
        "place": _place(rng, size, on),
    }


def _rail(rng: random.Random, size: float) -> dict[str, Any]:
    return {
        "shape": rng.choice(["level", "tilted", "arched", "waved", "own"]),
        "rise": rng.choice([-1, 1]) * round(size * rng.uniform(0.02, 0.15), 3),
        "top": rng.uniform(25, 75),
        "times": rng.choice([0.5, 1, 2, 3]),
        "ends_level": rng.random() < 0.5,
        "upside_down": rng.random() < 0.3,
        "points": [[x, round(size * rng.uniform(-0.08, 0.08), 3)] for x in (0, 0.3, 0.6, 1)],
    }


def _warp(rng: random.Random, of: list[str], size: float) -> dict[str, Any]:
    """A line that bends, rails or nets results by as much as most of them bear."""
    line: dict[str, Any] = {"id": "w", "of": of}
    kind = rng.choice(["bend", "rails", "net"])
    if kind == "bend":
        return {
            **line,
            "kind": "bend",
            "curve": rng.choice(["arc", "turn", "circle", "wave", "own"]),
            "rise": rng.choice([-1, 1]) * round(size * rng.uniform(0.02, 0.2), 3),
            "turn": rng.uniform(-90, 90),
            "diameter": max(5.0, min(6000.0, size * rng.uniform(0.6, 3))),
            "side": rng.choice(["outside", "inside"]),
            "clock": rng.uniform(0, 12),
            "height": round(size * rng.uniform(0.005, 0.05), 3),
            "times": rng.choice([0.5, 1, 2]),
            "on": rng.choice(["cap", "middle", "base"]),
            "letters": rng.choice(["bent", "bent", "turned"]),
            "fills": rng.choice([0, 0, 60]),
        }
    if kind == "rails":
        rails = {side: _rail(rng, size) for side in ("top", "bottom")}
        return {
            **line,
            "kind": "rails",
            **rails,
            "between": [_rail(rng, size / 2.0)],
            "apart": rng.choice([0, 0.3, 3]),
            **({"left": _rail(rng, size / 3.0)} if rng.random() < 0.3 else {}),
        }
    pulled = [[rng.uniform(-0.08, 0.08), rng.uniform(-0.15, 0.15)] for _ in range(12)]
    return {
        **line,
        "kind": "net",
        "rows": rng.choice([3, 4]),
        "columns": rng.choice([3, 4, 5]),
        "points": pulled,
    }


def _warped(rng: random.Random, body: dict[str, Any], size: float) -> None:
    """Puts a warp into a design: of what comes first, or of what is cut last."""
    recipe, plies = body["recipe"], body["plies"]
    first = rng.random() < 0.5
    of = ["l1/letters"] + (["l2/art"] if rng.random() < 0.5 else [])
    if not first:
        of = [ref for ply in plies for ref in ply["results"]]
    line = _warp(rng, of, size)
    new = {ref: f"w/{ref}" for ref in of}
    for thing in (recipe[2:] if first else []) + plies:
        for key, value in thing.items():
            if key in ("picture", "target", "of", "results"):
                thing[key] = (
                    [new.get(ref, ref) for ref in value] if isinstance(value, list) else new.get(value, value)
                )
    recipe.insert(2 if first else len(recipe), line)


def _combine(rng: random.Random, body: dict[str, Any], size: float, name: str = "c") -> None:
    """Puts a line at a design's end that combines what its plies cut, those plies cutting what it makes."""
    plies, line = body["plies"], {"id": name}
    refs = [ref for ply in plies for ref in ply["results"]]
    one, other = refs[0], refs[-1]
    small = round(max(0.1, min(16.0, size * 0.02)), 3)
    kinds = ["weld", "ring", "bridge", "texture", "repeat", "keep_parts"]
    kind = rng.choice(kinds + ["slice", "cut_away", "keep_within", "let_in"] * (one != other))
    made = {ref: f"{name}/{ref}" for ref in refs}
    if kind == "weld":
        line |= {"of": refs, "close": rng.choice([0, 0, small])}
        made = dict.fromkeys(refs, f"{name}/weld")
    elif kind == "ring":
        inner = rng.choice([0.0, small, -small, 2 * small])
        line |= {"of": refs, "inner": inner, "outer": inner + small, "holes": rng.choice(["kept", "filled"])}
        made = dict.fromkeys(refs, f"{name}/ring")
    elif kind == "bridge":
        line |= {"of": one, "width": small, "each": rng.choice([1, 2, 3])}
        made = {one: f"{name}/bridged"}
    elif kind == "texture":
        pattern = rng.choice(["scales", "stripes", "dots", "checks", "waves", "bricks"])
        tile = {
            "size": max(0.5, min(500.0, 3 * small)),
            "clear": rng.choice([0.1, small]),
            "turn": rng.uniform(-90, 90),
        }
        line |= {"of": one, "pattern": pattern, "least": rng.choice([0.0, small]), **tile}
        made = {one: f"{name}/" + rng.choice(["texture", "rest"])}
    elif kind == "repeat":
        how = rng.choice(["row", "circle", "beside"])
        line |= {"of": refs, "how": how, "count": rng.choice([2, 3, 5]), "apart": rng.choice([0, 3, -small])}
        line["radius"] = max(0.0, min(3000.0, size))
    elif kind == "keep_parts":
        line |= {"of": one}
        made = {one: f"{name}/parts"}
    elif kind == "slice":
        line |= {"of": [one, other]}
        made = {ref: f"{name}/{ref}" for ref in (one, other)}
    elif kind == "let_in":
        line |= {"of": one, "into": other, "how": rng.choice(["clear", "joined"]), "clear": min(small, 40.0)}
        made = {other: f"{name}/into"}
    else:
        line |= {"of": [one], "tool": [other], "also": "cut"}
        made = {ref: f"{name}/{ref}" for ref in (one, other)}
    body["recipe"].append({**line, "kind": kind})
    for ply in plies:
        ply["results"] = list(dict.fromkeys(made.get(ref, ref) for ref in ply["results"]))


def design(seed: int, fonts: list[str], sets: tuple[str, ...] = SETS) -> dict[str, Any]:
    """A design as its JSON; the same for the same seed and material.

    Its lines' ids say what they are: "l1" letters, "l2" art, "l3" a knockout, "l4" a backing, "l5" clean, and
    "w" a warp, which every third design has, and "c" one that combines, which every other third has.
    """
    rng = random.Random(seed)
    # One drawing of seventy thousand nodes is enough now and then.
    name = rng.choices(sets, [0.2 if one == "map" else 1.0 for one in sets])[0]
    icon = rng.choice(list(drawings(name)))
    size = _about(rng, 5.0, 2000.0)
    recipe: list[dict[str, Any]] = [_letter(rng, 1, size, fonts)]
    recipe.append(_art(rng, 2, size * rng.choice([0.3, 0.6, 1.0]), "l1/letters"))
    plies = {"letters": ["l1/letters"], "art": ["l2/art"]}
    if rng.random() < 0.75:
        shape = {
            "clearance": rng.choice([0, 0, 0.5, 1.5, -0.4, -0.05, round(size * 0.01, 3), 0.01]),
            "holes": rng.choice(["kept", "filled"]),
            "shows": rng.choice(["within", "whole"]),
        }
        turned = rng.random() < 0.3
        picture, target = ("l1/letters", "l2/art") if turned else ("l2/art", "l1/letters")
        recipe.append({"id": "l3", "kind": "knock_out", "picture": picture, "target": target, **shape})
        plies = {"letters": ["l3/remains"], "art": ["l3/shows"]}
    if rng.random() < 0.6:
        of = [ref for refs in plies.values() for ref in refs]
        recipe.append(
            {
                "id": "l4",
                "kind": "back",
                "of": of if rng.random() < 0.7 else of[:1],
                "distance": rng.choice([0.5, 0.5, 2, 6, round(max(0.05, min(50, size * 0.03)), 3), -0.3]),
                "holes": rng.choice(["filled", "kept"]),
                "corners": rng.choice(["round", "round", "mitred"]),
            }
        )
        plies["backing"] = ["l4/backing"]
    if rng.random() < 0.35:
        what = rng.choice(list(plies))
        recipe.append(
            {
                "id": "l5",
                "kind": "clean",
                "of": plies[what][0],
                "bits": rng.choice([0, 0.5, 1.0]),
                "strands": rng.choice([0, 0, 0.2, 0.6]),
                "holes": rng.choice([0, 0.5]),
                "smooth": rng.choice([0, 0, 0.02, 0.1]),
            }
        )
        plies[what] = ["l5/clean"]
    if rng.random() < 0.15:
        plies = {"all": [ref for refs in plies.values() for ref in refs]}
    material = {
        "id": "m",
        "name": "Vinyl",
        "kind": "vinyl",
        "colour": "#202020",
        "mirrored": rng.random() < 0.3,
    }
    body = {
        "format": "perigram",
        "version": 1,
        "name": f"seed {seed} {name} {icon}"[:110],
        "materials": [material],
        "pictures": [{"id": "pic", "name": icon[:100], "svg": drawings(name)[icon]}],
        "recipe": recipe,
        "plies": [
            {"id": f"p-{key}", "name": key, "material": "m", "results": refs} for key, refs in plies.items()
        ],
    }
    if seed % 3 == 0:
        _warped(random.Random(seed), body, size)
    if seed % 3 == 1:
        body = from_version_1(body)
        _combine(random.Random(seed), body, size)
    return body


def chained(seed: int, fonts: list[str], sets: tuple[str, ...] = SETS) -> dict[str, Any]:
    """A design of two to five more lines, each of what plies cut before it: warps, combining lines, clean.

    Its lines' ids begin with "w" for a warp and "c" for the others.
    """
    rng = random.Random(seed)
    body = from_version_1(design(3 * seed + 2, fonts, sets))
    size = body["recipe"][0]["size"]
    for number in range(rng.randint(2, 5)):
        refs = [ref for ply in body["plies"] for ref in ply["results"]]
        kind = rng.choice(["warp", "combine", "combine", "combine", "clean"])
        if kind == "combine":
            _combine(rng, body, size, f"c{number}")
            continue
        if kind == "warp":
            line = {**_warp(rng, refs, size), "id": f"w{number}"}
            new = {ref: f"w{number}/{ref}" for ref in refs}
        else:
            line = {
                "id": f"c{number}",
                "kind": "clean",
                "of": refs[0],
                "bits": 0.5,
                "strands": 0.2,
                "holes": 0.5,
            }
            new = {refs[0]: f"c{number}/clean"}
        body["recipe"].append(line)
        for ply in body["plies"]:
            ply["results"] = [new.get(ref, ref) for ref in ply["results"]]
    return body
