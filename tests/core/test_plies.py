"""Plies: one thing on one ply, and materials that can be told apart."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from perigram.core.geometry.measure import Box
from perigram.core.recipe.design import Design, read_design
from perigram.core.recipe.edit import Bench, add_line, change_sources, on_own_ply, remove_line
from perigram.core.recipe.evaluate import evaluate
from perigram.core.recipe.materials import CONTRAST, contrast
from perigram.core.recipe.plies import cut_twice
from perigram.core.recipe.things import called, things_of
from perigram.core.recipe.values import Row
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
    first = materials_of(design)
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
        for thing, material in materials_of(design).items():
            assert first.setdefault(thing, material) == material, "a thing keeps its material"


def materials_of(design: Design) -> dict[str, str]:
    """By each thing that one ply cuts by itself, the material."""
    things = things_of(design.recipe)
    return {
        thing: ply.material
        for ply in design.plies
        for ref in ply.results
        if len(things[ref]) == 1
        for thing in things[ref]
    }


def test_what_is_placed_beside_joins_the_ply_and_what_lies_over_opens_one() -> None:
    design, words = add_line(Design(), "letter")
    boxes = {f"{words}/letters": (-100.0, -20.0, 100.0, 20.0)}
    bench = Bench(boxes=boxes, seen=[(-106.0, -26.0, 106.0, 31.0)])
    design, second = add_line(design, "letter", bench=bench)
    row = design.recipe[-1]
    assert [ply.results for ply in design.plies] == [[f"{words}/letters", f"{second}/letters"]]
    assert (row.size, row.place.on, row.place.down) == (200.0, f"{words}/letters", "below")
    assert row.place.y == pytest.approx(11.0 + 8.0), "clear of all that shows"
    design, picture = add_line(
        design, "art", size=(40.0, 10.0), bench=Bench(chosen=[f"{words}/letters"], boxes=boxes)
    )
    assert (design.recipe[-1].size, design.recipe[-1].by) == (pytest.approx(133.3), "wide")
    assert design.plies[-1].results == [f"{picture}/art"]


def test_what_is_knocked_out_of_words_on_its_own_ply_gets_another() -> None:
    design, words = add_line(Design(), "letter")
    design, second = add_line(design, "letter")
    design, line = add_line(design, "knock_out")
    assert [ply.results for ply in design.plies] == [
        [f"{line}/{words}/letters"],
        [f"{line}/{second}/letters"],
    ]
    assert len({ply.material for ply in design.plies}) == 2
    # Laid on one ply by hand they stay there, whatever else of the line is changed.
    one, two = design.plies
    assert on_own_ply(design, two.results[0]) == design, "it is by itself already"
    merged = design.model_copy(
        update={"plies": [one.model_copy(update={"results": one.results + two.results})]}
    )
    whole = change_sources(merged, line, {"shows": "whole"})
    assert [ply.results for ply in whole.plies] == [[*one.results, *two.results]]
    swapped = change_sources(merged, line, {"of": [f"{words}/letters"], "out_of": [f"{second}/letters"]})
    assert len(swapped.plies) == 1


SMALL, LARGE, ASIDE = (-10.0, -10.0, 10.0, 10.0), (-50.0, -30.0, 50.0, 30.0), (40.0, -90.0, 70.0, 90.0)


@pytest.mark.parametrize(
    ("first", "second", "tool"),
    [(SMALL, LARGE, 0), (LARGE, SMALL, 1), (LARGE, ASIDE, 1), (ASIDE, LARGE, 1)],
)
@pytest.mark.parametrize(
    ("kind", "inner", "outer"),
    [("knock_out", "of", "out_of"), ("cut_away", "tool", "of"), ("let_in", "of", "into")],
)
def test_what_lies_within_or_on_top_is_the_tool(
    kind: str, inner: str, outer: str, first: Box, second: Box, tool: int
) -> None:
    design, one = add_line(Design(), "shape")
    design, other = add_line(design, "shape")
    refs = [f"{one}/shape", f"{other}/shape"]
    design, _ = add_line(design, "shape")
    boxes = dict(zip(refs, (first, second), strict=True))
    for chosen in (refs, refs[::-1]):
        made, _ = add_line(design, kind, bench=Bench(chosen=chosen, boxes=boxes))
        values = made.recipe[-1].model_dump()
        assert [values[inner]].pop() in (refs[tool], [refs[tool]]), "the third is left alone"
        assert [values[outer]].pop() in (refs[1 - tool], [refs[1 - tool]])


def test_results_are_called_as_a_person_would() -> None:
    design = load_design(DEMO)
    names = called(design.recipe, design.picture_names)
    assert [names[ref] for ply in design.plies for ref in ply.results] == [
        "Backing of REGATTA WEEKEND", "REGATTA WEEKEND less Lighthouse", "Lighthouse",
    ]  # fmt: skip
    twice, again = add_line(add_line(Design(), "letter")[0], "letter")
    assert called(twice.recipe, {})[f"{again}/letters"] == "NEW WORDS 2"


def test_made_names_follow_and_typed_ones_stay() -> None:
    design, _ = add_line(Design(), "letter")
    design, _ = add_line(design, "shape")
    named = [design.plies[0], design.plies[1].model_copy(update={"name": "Top", "typed": True})]
    line = design.recipe[0].model_copy(update={"rows": [Row(text="HARBOUR")]})
    recipe = [line, design.recipe[1].model_copy(update={"figure": "star"})]
    changed = design.model_copy(update={"plies": named, "recipe": recipe})
    assert [ply.name for ply in read_design(changed.model_dump()).plies] == ["HARBOUR", "Top"]


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
    assert things_of(design.recipe)[ref] == things_of(design.recipe)[line.of[0]]
    # So are a weld and each thing in it.
    welded, weld = add_line(design, "weld")
    of = next(one for one in welded.recipe if one.id == weld).of
    assert len(of) > 1
    assert things_of(welded.recipe)[f"{weld}/weld"] == frozenset().union(
        *(things_of(welded.recipe)[ref] for ref in of)
    )
    said = [ply.model_copy(update={"also": top.results}) if ply is twice[0] else ply for ply in twice]
    outright = design.model_copy(update={"plies": said})
    assert {one.level for one in cut_twice(outright)} == {"holds"}
