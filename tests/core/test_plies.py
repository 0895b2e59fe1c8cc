"""Plies: one thing on one ply, and materials that can be told apart."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from perigram.core.recipe.design import Design
from perigram.core.recipe.edit import add_line, change_sources, remove_line
from perigram.core.recipe.evaluate import evaluate
from perigram.core.recipe.materials import CONTRAST, contrast
from perigram.core.recipe.plies import cut_twice, things_of
from perigram.library import DesignSources, load_design

from .test_sheets import DEMO

GROUNDS = ("#F2F0EA", "#2C4A63", "#B9B4AE", "#1B1B1D", "#7A1F2B", "#D9532C", "#5E7F57", "#808080")
KINDS = ("letter", "shape", "knock_out", "back", "ring", "weld", "slice", "cut_away", "let_in", "clean")


def test_contrast_is_as_published() -> None:
    """WCAG 2.2, contrast ratio: black on white 21:1; #767676 and #777777 on white 4.54 and 4.48."""
    assert contrast("#000000", "#FFFFFF") == pytest.approx(21.0)
    assert contrast("#767676", "#FFFFFF") == pytest.approx(4.54, abs=0.005)
    assert contrast("#FFFFFF", "#777777") == pytest.approx(4.48, abs=0.005)


@given(st.sampled_from(GROUNDS), st.lists(st.sampled_from(["letter", "shape", "back", "ring"]), max_size=9))
def test_new_plies_can_be_told_from_the_ground_and_their_neighbours(ground: str, kinds: list[str]) -> None:
    design = Design.model_validate({"ground": {"name": "Ground", "colour": ground}})
    for kind in kinds:
        before = {ply.id for ply in design.plies}
        design, _ = add_line(design, kind)
        materials = {one.id: one for one in design.materials}
        for at, ply in enumerate(design.plies):
            if ply.id in before:
                continue
            own = materials[ply.material]
            beside = [
                materials[one.material] for one in design.plies[max(at - 1, 0) : at + 2] if one is not ply
            ]
            assert all(contrast(own.colour, one.colour) >= CONTRAST for one in beside)
            assert contrast(own.colour, ground) >= CONTRAST
            assert all(own.kind == one.kind for one in beside)
            # Nothing is pressed over what bears no heat.
            assert at == len(design.plies) - 1 or not own.pressing.last


@given(st.data())
def test_however_lines_come_and_go_nothing_is_cut_twice(data: st.DataObject) -> None:
    design, _ = add_line(Design(), "letter")
    for _ in range(data.draw(st.integers(1, 9))):
        doing = data.draw(st.sampled_from(["add", "add", "add", "change", "remove", "off"]))
        if doing == "add":
            design, _ = add_line(design, data.draw(st.sampled_from(KINDS)))
        elif doing == "remove" and design.recipe:
            design = remove_line(design, data.draw(st.sampled_from(design.recipe)).id)
        elif doing == "off" and design.recipe:
            chosen = data.draw(st.sampled_from(design.recipe)).id
            recipe = [
                one.model_copy(update={"off": not one.off}) if one.id == chosen else one
                for one in design.recipe
            ]
            design = design.model_copy(update={"recipe": recipe})
        elif doing == "change":
            knockouts = [one for one in design.recipe if one.kind == "knock_out" and one.of and one.out_of]
            if knockouts:
                line = data.draw(st.sampled_from(knockouts))
                shows = data.draw(st.sampled_from(["within", "whole", "not"]))
                values = data.draw(
                    st.sampled_from([{"of": line.out_of, "out_of": line.of}, {"shows": shows}])
                )
                design = change_sources(design, line.id, values)
        assert cut_twice(design) == []


def test_what_lies_on_two_plies_is_said_by_the_check_with_a_mend() -> None:
    design = load_design(DEMO)
    top, *_, last = design.plies[::-1]
    twice = [
        ply.model_copy(update={"results": [*ply.results, *top.results]}) if ply is last else ply
        for ply in design.plies
    ]
    both = design.model_copy(update={"plies": twice})
    found = [one for one in evaluate(both, DesignSources(both)).findings if "cuts again" in one.text]
    assert len(found) == len(top.results)
    assert found[0].level == "look"
    assert found[0].mend
    assert (found[0].mend.result, found[0].mend.ply) == (top.results[0], top.id)
    # What was knocked out and the whole of it are one thing as well.
    line = next(one for one in design.recipe if one.kind == "knock_out")
    ref = f"{line.id}/{line.of[0]}"
    assert things_of(design)[ref] == things_of(design)[line.of[0]]
    # So are a weld and each thing in it.
    welded, weld = add_line(design, "weld")
    of = next(one for one in welded.recipe if one.id == weld).of
    assert len(of) > 1
    assert things_of(welded)[f"{weld}/weld"] == frozenset().union(*(things_of(welded)[ref] for ref in of))
    said = [ply.model_copy(update={"also": top.results}) if ply is twice[0] else ply for ply in twice]
    outright = design.model_copy(update={"plies": said})
    assert {one.level for one in cut_twice(outright)} == {"holds"}
