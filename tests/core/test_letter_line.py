"""Rows of a Letter line: their own fonts, sizes and stretch, their case, and what is missing."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from fontTools.ttLib import TTFont

from perigram.core.geometry.measure import Box, area, bounds
from perigram.core.geometry.region import Region
from perigram.core.recipe.design import read_design
from perigram.core.recipe.evaluate import Proof, evaluate
from perigram.library import FONT_FOLDER, DesignSources, font_catalogue


def proof_of(**values: object) -> Proof:
    line = {"id": "l1", "kind": "letter", "font": "anton", "size": 100.0, **values}
    design = read_design({"format": "perigram", "version": 2, "recipe": [line]})
    return evaluate(design, DesignSources(design))


def letters(**values: object) -> Region:
    proof = proof_of(**values)
    assert [f.text for f in proof.findings if f.level == "stop"] == []
    return proof.results[0].region


def size(region: Region) -> tuple[float, float]:
    x0, y0, x1, y1 = bounds(region)  # type: ignore[misc]
    return x1 - x0, y1 - y0


def test_a_row_has_a_size_and_a_font_of_its_own() -> None:
    small = [{"text": "TIDE"}, {"text": "MILL", "size": 40}]
    assert size(letters(rows=[{"text": "TIDE"}]))[0] == pytest.approx(100, abs=1e-3)
    own = letters(rows=small, align="left")
    mill = letters(rows=[small[1]])
    foot = bounds(own)[3] - size(mill)[1] - 1e-6  # type: ignore[index]
    lower = own.select_polygons(np.array([bounds(p)[1] >= foot for p in own.pieces()]))  # type: ignore[index]
    assert size(mill)[0] == pytest.approx(40, abs=1e-3)
    assert size(own)[0] == pytest.approx(100, abs=1e-3)
    assert size(lower) == pytest.approx(size(mill))
    alone = letters(rows=[{"text": "MILL"}], font="lobster", size=40)
    assert area(letters(rows=[{"text": "MILL", "font": "lobster", "size": 40}])) == pytest.approx(area(alone))


def test_a_stretch_changes_proportions_but_neither_the_size_nor_the_gaps() -> None:
    plain, wide = (letters(rows=[{"text": "HILL", "stretch": s}], gap=2, fit="tall") for s in (100, 150))
    assert size(wide)[1] == pytest.approx(size(plain)[1], abs=1e-9)
    gaps = 3 * 2
    assert size(wide)[0] - gaps == pytest.approx(1.5 * (size(plain)[0] - gaps), abs=1e-3)


def test_capitals_and_title_case() -> None:
    for case, text in (("upper", "THE OLD SLIP"), ("title", "The Old Slip")):
        made = letters(rows=[{"text": "the old slip"}], case=case)
        assert area(made) == pytest.approx(area(letters(rows=[{"text": text}])), rel=1e-12)


@pytest.mark.parametrize("missing", ["Ω", "ß", "Ő", "Ж"])
def test_a_missing_character_is_named_with_fonts_that_have_it(missing: str) -> None:
    """Which fonts have it is read from their cmap tables by fontTools."""
    having = [
        entry.name
        for entry in font_catalogue()
        if ord(missing) in TTFont(FONT_FOLDER / entry.id / "font.ttf", lazy=True).getBestCmap()
    ]
    for entry in font_catalogue():
        if entry.name in having:
            continue
        says = [
            f.text
            for f in proof_of(font=entry.id, rows=[{"text": f"A{missing}"}]).findings
            if f.level == "stop"
        ]
        assert len(says) == 1
        assert f"“{missing}”" in says[0]
        assert all(name in says[0] for name in having[:3])
        assert having or "nor has any other font here" in says[0]
        break


@pytest.mark.parametrize("font", ["anton", "archivo-black", "lobster"])
@pytest.mark.parametrize("size", [30.0, 90.0])
def test_line_spacing_is_in_percent_of_the_fonts_own(font: str, size: float) -> None:
    """Line heights as OpenType has them: hhea, or OS/2 where fsSelection bit 7 says so; read by fontTools."""
    tables = TTFont(FONT_FOLDER / font / "font.ttf")
    hhea, os2 = tables["hhea"], tables["OS/2"]
    high = hhea.ascent - hhea.descent + hhea.lineGap
    if os2.fsSelection & 1 << 7:
        high = os2.sTypoAscender - os2.sTypoDescender + os2.sTypoLineGap
    capital = tables["glyf"][tables.getBestCmap()[ord("H")]].yMax
    own = size * high / capital
    rows = [{"text": "HAH"}, {"text": "HAH"}, {"text": "HAH", "above": {"value": 110, "of": "line"}}]
    proof = proof_of(rows=rows, font=font, size=size, fit="tall", row_gap={"value": 75, "of": "line"})
    first, second, third = proof.results[0].made.levels[::2]
    assert second - first == pytest.approx(0.75 * own, rel=1e-4)
    assert third - second == pytest.approx(1.10 * own, rel=1e-4)


def test_a_gap_between_rows_in_percent_is_of_the_lower_rows_height() -> None:
    rows = [{"text": "HHH"}, {"text": "HIH", "size": 20}]
    made = letters(rows=rows, size=50, fit="tall", row_gap={"value": 10, "of": "percent"})
    feet = sorted({round(bounds(p)[3], 6) for p in made.pieces()})  # type: ignore[index]
    heads = sorted({round(bounds(p)[1], 6) for p in made.pieces()})  # type: ignore[index]
    assert heads[1] - feet[0] == pytest.approx(0.1 * 20, abs=0.001)


@pytest.mark.parametrize(
    ("row", "says"),
    [
        ({"size": 0}, "Row 1 can be 1 to 3000 mm"),
        ({"stretch": 900}, "20 to 500 %"),
        ({"above": {"value": 600, "of": "line"}}, "-200 to 500 %, not 600 %"),
        ({"above": {"value": -300}}, "-200 to 500 mm, not -300 mm"),
    ],
)
def test_a_row_out_of_range_is_a_finding_on_its_line(row: dict[str, float], says: str) -> None:
    proof = proof_of(rows=[{"text": "TIDE", **row}, {"text": "MILL"}])
    (stop,) = [f for f in proof.findings if f.level == "stop"]
    assert says in stop.text
    assert stop.line == "l1"


@pytest.mark.parametrize("text", ["\0", "\u200b", "\u2060", " \u00a0 "])
def test_characters_that_draw_nothing_are_nothing_to_set(text: str) -> None:
    for font in ("anton", "great-vibes"):
        proof = proof_of(font=font, rows=[{"text": text}, {"text": "MILL"}, {"text": text}])
        alone = proof_of(font=font, rows=[{"text": "MILL"}])
        assert area(proof.results[0].region) == pytest.approx(area(alone.results[0].region))
        assert {part.path[0] for part in proof.results[0].made.parts()} == {1}
        nothing = proof_of(font=font, rows=[{"text": text}])
        assert nothing.results[0].region.is_empty
        assert nothing.findings, "that nothing came of it is said"


def test_flipping_mirrors_about_the_middle_and_comes_before_turning() -> None:
    plain = letters(rows=[{"text": "FLAG"}])
    flipped = letters(rows=[{"text": "FLAG"}], place={"x": 0, "y": 0, "flip": True})
    assert bounds(flipped) == pytest.approx(bounds(plain))
    assert area(flipped) == pytest.approx(area(plain))
    both = letters(rows=[{"text": "FLAG"}], place={"x": 3, "y": 4, "flip": True, "rotate": 90})
    assert sorted(map(tuple, both.start.round(6).tolist())) == sorted(
        map(tuple, flipped.rotated(90).translated(3, 4).start.round(6).tolist())
    )


@pytest.mark.parametrize("rotate", [0.0, 30.0])
@pytest.mark.parametrize(
    ("across", "down", "holds"),
    [
        ("left", "below", lambda a, b: (b[0] - a[0], b[1] - a[3])),
        ("right", "above", lambda a, b: (b[2] - a[2], a[1] - b[3])),
        ("before", "top", lambda a, b: (a[0] - b[2], b[1] - a[1])),
        ("after", "bottom", lambda a, b: (b[0] - a[2], b[3] - a[3])),
    ],
)
def test_relations_hold_when_what_they_hold_to_changes(
    across: str, down: str, holds: Callable[[Box, Box], tuple[float, float]], rotate: float
) -> None:
    place = {"x": 3, "y": 5, "on": "l1/letters", "across": across, "down": down, "rotate": rotate}
    for text in ("TIDE", "SLIPWAY"):
        recipe = [
            {
                "id": "l1",
                "kind": "letter",
                "font": "anton",
                "size": 30,
                "fit": "tall",
                "rows": [{"text": text}],
            },
            {"id": "l2", "kind": "shape", "figure": "heart", "width": 20, "height": 12, "place": place},
        ]
        design = read_design({"format": "perigram", "version": 2, "recipe": recipe})
        anchor, thing = (bounds(r.region) for r in evaluate(design, DesignSources(design)).results)
        assert holds(anchor, thing) == pytest.approx((3, 5), abs=1e-6)  # type: ignore[arg-type]
