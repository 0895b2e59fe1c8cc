"""Letters set by hand, script joins, rows even on both sides, and a font's other forms."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from perigram.core.geometry.measure import Box, area, bounds
from perigram.core.lettering.forms import features_of
from perigram.core.recipe.design import read_design
from perigram.core.recipe.evaluate import Proof, evaluate
from perigram.core.recipe.letterforms import features, forms
from perigram.core.recipe.lines.letter import Letter
from perigram.core.recipe.parts import Part
from perigram.library import DesignSources, open_font

from .material import EVERY, SCRIPT, assert_keeps_its_promises, fine


def proof_of(*lines: dict[str, Any]) -> Proof:
    recipe = [{"id": f"l{i + 1}", "kind": "letter", "font": "anton", **line} for i, line in enumerate(lines)]
    design = read_design({"format": "perigram", "version": 2, "recipe": recipe})
    return evaluate(design, DesignSources(design))


def pieces(**values: Any) -> list[Part]:
    proof = proof_of({"size": 60, "fit": "tall", **values})
    assert [f.text for f in proof.findings if f.level == "stop"] == []
    return list(proof.results[0].made.parts())


def box(piece: Part) -> Box:
    found = bounds(piece.region)
    assert found
    return found


def boxes(found: list[Part]) -> np.ndarray:
    return np.array([box(piece) for piece in found])


def test_a_nudged_letter_moves_alone() -> None:
    plain = pieces(rows=[{"text": "TIDE"}, {"text": "MILL"}])
    moved = pieces(rows=[{"text": "TIDE", "own": [{"at": 1, "x": 2, "y": -3}]}, {"text": "MILL"}])
    apart = boxes(moved) - boxes(plain)
    # The block's own middle is where it was asked to be, so all shift back by half of what it grew.
    shift = apart[0]
    assert apart - shift == pytest.approx(
        np.array([[0, 0, 0, 0], [2, -3, 2, -3], *[[0, 0, 0, 0]] * 6]), abs=1e-9
    )


def test_a_turned_or_resized_letter_is_spaced_as_it_is() -> None:
    own = [{"at": 1, "turn": 20}, {"at": 2, "wide": 150, "tall": 120}]
    found = pieces(rows=[{"text": "TIDE", "own": own}], gap=0.7)
    apart = [fine(a.region).distance(fine(b.region)) for a, b in pairwise(found)]
    assert apart == pytest.approx([0.7] * 3, abs=0.01)
    plain = pieces(rows=[{"text": "TIDE"}], gap=0.7)
    size, was = (np.diff(boxes(one)[2].reshape(2, 2), axis=0)[0] for one in (found, plain))
    assert size / was == pytest.approx((1.5, 1.2), rel=1e-6)
    assert area(found[1].region) == pytest.approx(area(plain[1].region), rel=1e-9)


def test_places_are_those_of_the_row_as_typed() -> None:
    """Capitals of one small letter (ß), outer spaces and missing characters shift nothing."""
    row = {"text": "  weiß Ωgut", "own": [{"at": 8, "y": 9}]}
    proof = proof_of({"rows": [row], "case": "upper", "font": "archivo-black", "size": 100})
    found = {p.path[1]: p for p in proof.results[0].made.parts()}
    assert [found[at].name for at in (2, 3, 4, 5)] == ["W", "E", "I", "S"]
    assert found[8].name == "G"
    low = {at: box(p)[3] for at, p in found.items()}
    assert low[8] > low[9] + 8


@pytest.mark.parametrize("rotate", [0.0, 33.0])
@pytest.mark.parametrize("flip", [False, True])
def test_pieces_lie_where_the_lettering_lies(rotate: float, flip: bool) -> None:
    place = {"x": 12, "y": -5, "rotate": rotate, "flip": flip}
    values = {"rows": [{"text": "OAR"}, {"text": "HELM", "own": [{"at": 2, "turn": 9}]}], "place": place}
    proof = proof_of({"size": 80, **values})
    whole = fine(proof.results[0].region)
    for piece in proof.results[0].made.parts():
        assert_keeps_its_promises(piece.region)
        assert fine(piece.region).difference(whole.buffer(0.002)).is_empty
    parts = sum(area(p.region) for p in proof.results[0].made.parts())
    assert parts == pytest.approx(area(proof.results[0].region), rel=1e-6)
    assert bool(proof.results[0].made.levels) == (rotate == 0.0)


def test_levels_are_baselines_and_cap_heights() -> None:
    proof = proof_of({"rows": [{"text": "HHH"}, {"text": "HEH", "size": 20}], "size": 50, "fit": "tall"})
    upper, lower = proof.results[0].made.parts()[0], proof.results[0].made.parts()[3]
    for piece, at in ((upper, 0), (lower, 2)):
        foot, head = proof.results[0].made.levels[at : at + 2]
        assert box(piece)[1::2] == pytest.approx((head, foot), abs=1e-6)


@pytest.mark.parametrize("give", ["spaces", "gaps", "letters"])
@pytest.mark.parametrize("spacing", ["clear", "font"])
@pytest.mark.parametrize("font", ["anton", "pacifico", "bungee"])
def test_even_rows_end_level_on_both_sides(give: str, spacing: str, font: str) -> None:
    rows = [{"text": "AT THE OLD"}, {"text": "SALTMARSH WORKS"}, {"text": "CREEK"}]
    values = {"rows": rows, "align": "even", "gives": give, "spacing": spacing, "font": font, "gap": 0.5}
    found = pieces(**values)
    spans = [
        (min(box(p)[0] for p in found if p.path[0] == row), max(box(p)[2] for p in found if p.path[0] == row))
        for row in range(3)
    ]
    assert spans[0] == pytest.approx(spans[1], abs=0.001)
    assert spans[2] == pytest.approx(spans[1], abs=0.001)
    plain = pieces(**{**values, "align": "left"})
    heights = [b[3] - b[1] for b in boxes(found)]
    assert heights == pytest.approx([b[3] - b[1] for b in boxes(plain)], abs=1e-6)
    if give == "letters" and spacing == "clear" and font == "anton":
        first = [fine(p.region) for p in found if p.path[0] == 2]
        assert [a.distance(b) for a, b in pairwise(first)] == pytest.approx([0.5] * 4, abs=0.01)
    if give == "gaps":
        widths = [b[2] - b[0] for b in boxes(found)]
        assert widths == pytest.approx([b[2] - b[0] for b in boxes(plain)], abs=1e-6)


@pytest.mark.parametrize("font", [f for f in SCRIPT if open_font(f).joins])
def test_clear_gaps_leave_script_joined(font: str) -> None:
    """A word's letters hang together as the font joins them; words keep clear of each other."""
    as_set = pieces(font=font, rows=[{"text": "minimum"}], spacing="font", gap=0)
    clear = pieces(font=font, rows=[{"text": "minimum even"}], spacing="clear", gap=2)
    word = clear[: len(as_set)]
    assert boxes(word) - boxes(as_set) == pytest.approx(
        np.tile((boxes(word) - boxes(as_set))[0], (len(word), 1)), abs=0.3
    )
    other = [fine(p.region) for p in clear[len(as_set) :]]
    assert min(fine(p.region).distance(q) for p in word for q in other) > 2 - 0.01


@pytest.mark.parametrize(("spacing", "gap"), [("font", 0.0), ("clear", 0.3)])
def test_gaps_in_a_script_are_found_and_closed(spacing: str, gap: float) -> None:
    """Looked for by distance between flattened letters, with every joining font over a pangram."""
    found = 0
    for font in (f for f in SCRIPT if open_font(f).joins):
        line = {"font": font, "rows": [{"text": "brawny quartz"}, {"text": "of jocks vexing"}], "size": 200}
        # As the font has them, or 0.3 mm clear: where it joins them anyway they stay joined.
        open_line = {**line, "spacing": spacing, "gap": gap}
        proof = proof_of(open_line)
        letters = [(p, fine(p.region)) for p in proof.results[0].made.parts()]
        texts = [line["rows"][i]["text"] for i in (0, 1)]  # type: ignore[index]
        gaps = [
            a.name + b.name
            for (a, shape_a), (b, shape_b) in pairwise(letters)
            if a.path[0] == b.path[0]
            and " " not in texts[a.path[0]][a.path[1] : b.path[1]]
            and shape_a.distance(shape_b) > 1e-3
        ]
        said = [f for f in proof.findings if "in the script" in f.text]
        count = sum(int(f.text.split()[0]) for f in said)
        assert count == len(gaps), (font, gaps, [f.text for f in said])
        told = [pair.split()[0] for f in said for pair in f.text.split(": ")[1].split(", ") if "–" in pair]
        assert {pair.replace("–", "") for pair in told} <= set(gaps)
        # The first three of a row are named.
        assert all(f.text.endswith(", …") is (int(f.text.split()[0]) > 3) for f in said)
        found += count
        if not said:
            continue
        assert said[0].mend
        assert said[0].mend.values == {"joins": "closed"}
        closed = proof_of({**open_line, "joins": "closed"})
        assert not [f for f in closed.findings if "in the script" in f.text]
        letters = [(p, fine(p.region)) for p in closed.results[0].made.parts()]
        for (a, shape_a), (b, shape_b) in pairwise(letters):
            if a.path[0] == b.path[0] and " " not in texts[a.path[0]][a.path[1] : b.path[1]]:
                assert shape_a.intersects(shape_b), (font, a.name, b.name)
        assert_keeps_its_promises(closed.results[0].region)
    assert found > 3, "the pangram is meant to open some"


@given(
    text=st.text("AaVgfiTj & ß'é", min_size=1, max_size=9),
    font=st.sampled_from([*EVERY[:6], *SCRIPT[:4]]),
    gap=st.floats(-1, 4),
    stretch=st.floats(40, 250),
    turn=st.floats(-180, 180),
    wide=st.floats(10, 500),
    spacing=st.sampled_from(["clear", "font"]),
    align=st.sampled_from(["left", "even"]),
)
def test_whatever_is_asked_comes_out_whole(
    text: str, font: str, gap: float, stretch: float, turn: float, wide: float, spacing: str, align: str
) -> None:
    own = [{"at": 0, "turn": turn, "wide": wide, "x": gap}]
    rows = [{"text": text, "stretch": stretch, "own": own}, {"text": "HI"}]
    proof = proof_of(
        {
            "rows": rows,
            "font": font,
            "gap": gap,
            "spacing": spacing,
            "align": align,
            "fit": "tall",
            "size": 30,
        }
    )
    assert_keeps_its_promises(proof.results[0].region)
    for piece in proof.results[0].made.parts():
        assert_keeps_its_promises(piece.region)


def test_a_line_as_wide_as_another_stays_so() -> None:
    for text in ("TIDE", "SALTMARSH"):
        for fit in ("wide", "tall"):
            lines = (
                {"rows": [{"text": text}], "fit": "tall", "size": 50},
                {
                    "rows": [{"text": "AT THE"}, {"text": "OLD MILL"}],
                    "fit": fit,
                    "gap": 2,
                    "place": {"as_wide": "l1/letters", "on": "l1/letters", "down": "below", "y": 4},
                },
            )
            first, second = (bounds(r.region) for r in proof_of(*lines).results)
            assert first
            assert second
            assert second[2] - second[0] == pytest.approx(first[2] - first[0], abs=0.001)
            assert second[1] - first[3] == pytest.approx(4, abs=1e-6)
    both = proof_of(
        {"rows": [{"text": "TIDE"}], "size": 50},
        {"rows": [{"text": "MILL"}], "place": {"as_wide": "l1/letters", "as_tall": "l1/letters"}},
    )
    sizes = [np.diff(np.array(bounds(r.region)).reshape(2, 2), axis=0) for r in both.results]
    assert sizes[0] == pytest.approx(sizes[1], abs=0.001)


@pytest.mark.parametrize(
    ("side", "texts", "gaps"), [("as_wide", ["MMXX", "T"], 3), ("as_tall", ["M", "M"], 1)]
)
def test_rows_whose_gaps_alone_are_larger_than_what_they_match_say_so(
    side: str, texts: list[str], gaps: int
) -> None:
    """Gaps are in mm and do not shrink with the letters: at any gap they match, or say that they cannot."""
    for gap in (0.0, 1.0, 1.5, 2.5, 4.0, 11.5, 11.9, 12.1, 200.0):
        proof = proof_of(
            {"rows": [{"text": "I"}], "size": 12, "fit": "tall"},
            {
                "rows": [{"text": text} for text in texts],
                "fit": "tall",
                "size": 200,
                "gap": gap,
                "row_gap": {"value": gap, "of": "mm"},
                "place": {side: "l1/letters"},
            },
        )
        axis = 0 if side == "as_wide" else 1
        boxes = [bounds(result.region) for result in proof.results]
        asked, *found = [box[axis + 2] - box[axis] for box in boxes if box]
        if gaps * gap < asked - 0.01:
            assert found == [pytest.approx(asked, abs=0.006)]
        else:
            (says,) = [f.text for f in proof.findings if f.level == "stop" and f.line == "l2"]
            assert "their gaps alone come to" in says


def test_other_forms_are_offered_and_taken() -> None:
    line = Letter.model_validate({"id": "l1", "font": "pacifico", "rows": [{"text": "otter"}]})
    sources = DesignSources(read_design({"format": "perigram", "version": 2}))
    offered = forms(line, 0, 1, sources)
    assert offered[0].code is None
    assert len(offered) > 1
    assert len({area(form.region) for form in offered}) == len(offered), "each form is another drawing"
    for form in offered[1:]:
        row = {"text": "otter", "own": [{"at": 1, "form": form.code}]}
        found = pieces(font="pacifico", rows=[row], spacing="font", gap=0)
        scale = (60 / 100) ** 2
        assert area(found[1].region) == pytest.approx(area(form.region) * scale, rel=1e-6)


def test_features_say_whether_they_change_the_words() -> None:
    sources = DesignSources(read_design({"format": "perigram", "version": 2}))
    line = Letter.model_validate({"id": "l1", "font": "anton", "rows": [{"text": "Tide 10"}]})
    shown = {one.feature.tag: one for one in features(line, sources)}
    assert shown["zero"].changes
    assert not shown["dlig"].changes
    assert shown["liga"].on
    assert not shown["zero"].on
    slashed = Letter.model_validate({**line.model_dump(), "features": ["zero"]})
    assert {one.feature.tag: one.on for one in features(slashed, sources)}["zero"]
    assert [f.tag for f in features_of(open_font("oleo-script"))] == []
    empty = Letter.model_validate({**line.model_dump(), "rows": [{"text": " "}]})
    assert not any(one.changes for one in features(empty, sources))


@pytest.mark.parametrize("turn", [35, 90, 180, -120])
def test_a_letter_turns_about_the_middle_of_its_box(turn: float) -> None:
    """Set as the font has it, its neighbour stays, and it lies where turning it there takes it."""
    plain, anchor = pieces(rows=[{"text": "FE"}], spacing="font")
    turned, moved = pieces(rows=[{"text": "FE", "own": [{"at": 0, "turn": turn}]}], spacing="font")
    x0, y0, x1, y1 = box(plain)
    wanted = bounds(plain.region.rotated(turn, (x0 + x1) / 2, (y0 + y1) / 2))
    assert wanted
    # The block is centred anew; what counts is how the letter lies to its neighbour.
    assert np.subtract(box(turned), box(moved)) == pytest.approx(np.subtract(wanted, box(anchor)), abs=1e-6)
