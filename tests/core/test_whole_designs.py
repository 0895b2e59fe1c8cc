"""Designs put together and changed at random: whatever is done, what can be cut keeps its promises, and
what was kept from earlier evaluations never shows.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, get_args

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from perigram.core.art.shapes import Figure
from perigram.core.errors import PerigramError
from perigram.core.formats.bundle import cut_files
from perigram.core.recipe.cache import Cache
from perigram.core.recipe.design import Design
from perigram.core.recipe.edit import add_line, remove_line
from perigram.core.recipe.evaluate import Proof, evaluate
from perigram.core.recipe.lines import kind_of
from perigram.library import DesignSources

from .material import assert_keeps_its_promises, holds_finely

FONTS = ["anton", "alfa-slab-one", "pacifico", "black-ops-one", "no-such-font"]
FORMS = ["salt", "swsh", "aalt=2", "zero", "ss01"]
# Letters, accents that come by themselves, spaces of no width, signs of another direction, nothing at all.
WORDS = st.text("AVTo fi&\u0301ß水\u200bא", max_size=6)
LENGTH = st.sampled_from([-1.0, 0.0, 0.3, 2.5, 40.0, 5000.0])

COMBINE = [
    "weld",
    "cut_away",
    "keep_within",
    "slice",
    "keep_parts",
    "move_pieces",
    "ring",
    "let_in",
    "bridge",
    "texture",
    "repeat",
]

Draw = Callable[[st.SearchStrategy[Any]], Any]


def references(design: Design) -> st.SearchStrategy[str]:
    made = [f"{line.id}/{name}" for line in design.recipe for name in kind_of(line).names(line)]
    return st.sampled_from([*made, "l99/letters", ""])


def added(design: Design, draw: Draw) -> Design:
    plain = ["letter", "letter", "letter", "shape", "shape", "shape", "knock_out", "back", "clean"]
    kind = draw(st.sampled_from([*plain, *COMBINE]))
    return add_line(design, kind)[0]


def with_values(design: Design, at: int, **values: Any) -> Design:
    body = design.model_dump(mode="json")
    body["recipe"][at] |= values
    return Design.model_validate(body)


def changed(design: Design, draw: Draw) -> Design:
    """One value of one line, in its range or out of it."""
    if not design.recipe:
        return design
    at = draw(st.integers(0, len(design.recipe) - 1))
    refs = references(design)
    place = st.fixed_dictionaries(
        {"x": LENGTH, "y": LENGTH, "on": st.none() | refs, "rotate": st.sampled_from([0.0, 30.0, -90.0])},
        optional={
            "flip": st.booleans(),
            "as_wide": refs,
            "down": st.sampled_from(["below", "top", "middle"]),
        },
    )
    own = st.fixed_dictionaries(
        {"at": st.integers(0, 8), "x": LENGTH, "turn": st.floats(-180, 180)},
        optional={"wide": st.floats(5, 520), "tall": st.floats(5, 520), "form": st.sampled_from(FORMS)},
    )
    lead = st.fixed_dictionaries(
        {"value": st.floats(-30, 210), "of": st.sampled_from(["mm", "percent", "line"])}
    )
    row = st.fixed_dictionaries(
        {"text": WORDS},
        optional={
            "stretch": st.floats(15, 520),
            "own": st.lists(own, max_size=2),
            "above": lead,
            "size": LENGTH,
            "fit": st.sampled_from(["wide", "tall"]),
            "spacing": st.sampled_from(["clear", "font"]),
        },
    )
    some = st.lists(refs, max_size=2)
    at_ = st.tuples(st.floats(-0.5, 1.5), st.floats(-0.5, 1.5))
    anchor = st.fixed_dictionaries({"of": refs, "part": st.sampled_from([[], [0, 0], [0, 1]]), "at": at_})
    pick = st.fixed_dictionaries({"anchor": anchor, "parents": some, "share": st.floats(0, 1), "to": refs})
    values = {
        "letter": {
            "rows": st.lists(row, max_size=3),
            "font": st.sampled_from(FONTS),
            "gap": LENGTH,
            "row_gap": lead,
            "gives": st.sampled_from(["spaces", "gaps", "letters"]),
            "case": st.sampled_from(["typed", "upper", "title"]),
            "features": st.lists(st.sampled_from(["dlig", "-liga", "swsh", "salt", "zero"]), max_size=2),
            "align": st.sampled_from(["left", "centre", "even"]),
            "fit": st.sampled_from(["wide", "tall"]),
            "joins": st.sampled_from(["font", "closed"]),
            "place": place,
        },
        "shape": {
            "width": LENGTH,
            "figure": st.sampled_from(get_args(Figure)),
            "points": st.sampled_from([1.0, 5.0, 60.0]),
            "place": place,
        },
        "knock_out": {
            "clearance": LENGTH,
            "out_of": st.lists(refs, max_size=2),
            "of": st.lists(refs, max_size=2),
            "shows": st.sampled_from(["within", "whole", "not"]),
        },
        "back": {"distance": LENGTH, "corners": st.sampled_from(["round", "mitred"]), "of": st.lists(refs)},
        "clean": {"bits": LENGTH, "strands": LENGTH, "of": refs},
        "weld": {"of": some, "close": LENGTH, "asked": st.sampled_from(["any", "one"])},
        "cut_away": {"of": some, "tool": some, "also": st.sampled_from(["not", "cut"])},
        "keep_within": {"of": some, "tool": some, "also": st.sampled_from(["not", "cut"])},
        "slice": {"of": some, "picks": st.lists(pick, max_size=2)},
        "keep_parts": {"of": refs, "keep": st.sampled_from(["all", "only"]), "picks": st.lists(pick)},
        "move_pieces": {
            "of": refs,
            "picks": st.lists(pick),
            "across": LENGTH,
            "turn": LENGTH,
            "size": st.sampled_from([5.0, 100.0, 130.0]),
        },
        "ring": {"of": some, "inner": LENGTH, "outer": LENGTH},
        "let_in": {"of": refs, "into": refs, "how": st.sampled_from(["clear", "joined"]), "clear": LENGTH},
        "bridge": {"of": refs, "width": LENGTH, "gone": st.lists(anchor), "own": st.lists(anchor)},
        "texture": {"of": refs, "size": st.sampled_from([0.0, 2.5, 40.0]), "clear": LENGTH, "turn": LENGTH},
        "repeat": {
            "of": some,
            "how": st.sampled_from(["row", "circle", "around", "mirrored"]),
            "about": refs,
        },
    }[design.recipe[at].kind]
    field = draw(st.sampled_from(sorted(values)))
    return with_values(design, at, **{field: draw(values[field])})


def switched(design: Design, draw: Draw) -> Design:
    if not design.recipe:
        return design
    at = draw(st.integers(0, len(design.recipe) - 1))
    return with_values(design, at, off=not design.recipe[at].off)


def removed(design: Design, draw: Draw) -> Design:
    if len(design.recipe) < 3:
        return design
    return remove_line(design, draw(st.sampled_from([line.id for line in design.recipe])))


def says(proof: Proof) -> list[tuple[str, str, str | None]]:
    return [(f.level, f.text, f.line or f.ply) for f in proof.findings]


@given(st.data())
@settings(max_examples=80)
def test_designs_changed_at_random_keep_their_promises(data: st.DataObject) -> None:
    design, cache = Design(), Cache(4_000_000)
    for _ in range(data.draw(st.integers(2, 9), label="steps")):
        step = data.draw(st.sampled_from([added, added, changed, changed, changed, switched, removed]))
        design = step(design, data.draw)
        drawn = evaluate(
            design,
            DesignSources(design),
            cache,
            care=data.draw(st.sampled_from(["drawn", "rough"]), label="care"),
        )
        assert not drawn.is_cuttable

    warm = evaluate(design, DesignSources(design), cache)
    again = Design.model_validate_json(design.model_dump_json())
    cold = evaluate(again, DesignSources(again))
    assert says(warm) == says(cold)
    assert [(p.key, p.region.digest()) for p in warm.plies] == [
        (p.key, p.region.digest()) for p in cold.plies
    ]
    assert [r.region.digest() for r in warm.results] == [r.region.digest() for r in cold.results]
    for ply in cold.plies:
        assert_keeps_its_promises(ply.region)
        assert holds_finely(ply.region)
    if cold.is_cuttable:
        assert cut_files("design", warm.to_cut(), ["svg", "dxf"]) == cut_files(
            "design", cold.to_cut(), ["svg", "dxf"]
        )
    else:
        with pytest.raises(PerigramError):
            cut_files("design", cold.to_cut(), ["svg"])
