"""The press plan, against one worked by hand and as others read it on paper."""

from __future__ import annotations

import re

import numpy as np
import pypdfium2
import pytest

from perigram.core.press.page import Head, Shown, plan_pdf
from perigram.core.press.plan import Plan, Warned, press_plan
from perigram.core.press.seams import DRIFT, seams
from perigram.core.recipe.making import Pressing
from perigram.library import load_design, paper_fonts

from .material import box
from .test_sheets import DEMO, shirt


def test_the_shirts_press_plan_against_one_worked_by_hand() -> None:
    """Warm 4 s; tack three plies 4 s each, from the ground up; all together 10 s: 26 s under the press.

    The backing has been there for three tacks and the press, 22 s; the lettering 18 s; the flock 14 s, at its
    own gentler heat. By hand, from common practice.
    """
    design = load_design(DEMO)
    plan = press_plan(design, [ply.id for ply in design.plies])
    assert [(step.kind, step.seconds, step.heat) for step in plan.steps] == [
        ("warm", 4.0, 150.0),
        ("tack", 4.0, 150.0),
        ("tack", 4.0, 150.0),
        ("tack", 4.0, 145.0),
        ("press", 10.0, 145.0),
    ]
    assert [len(step.shown) for step in plan.steps] == [0, 1, 2, 3, 3]
    assert plan.seconds == 26.0
    assert [(one.seconds, one.most) for one in plan.heat] == [(22.0, 40.0), (18.0, 40.0), (14.0, 20.0)]
    assert plan.warnings == ()
    # Flock under another ply may not be pressed over, and too little heat allowed is said.
    flock = design.model_copy(update={"plies": [design.plies[2], *design.plies[:2]]})
    warned = press_plan(flock, [ply.id for ply in flock.plies]).warnings
    assert any(
        one.level == "stop" and "nothing may be pressed over Night flock" in one.text for one in warned
    )
    assert any(one.level == "look" and "gets 22 of the 20 s" in one.text for one in warned)


def test_one_ply_is_pressed_once_and_vinyl_is_laid_by_hand() -> None:
    design = load_design(DEMO)
    one = press_plan(design, [design.plies[1].id])
    assert [step.kind for step in one.steps] == ["warm", "press"]
    materials = [m.model_copy(update={"kind": "vinyl", "pressing": Pressing()}) for m in design.materials]
    by_hand = press_plan(design.model_copy(update={"materials": materials}), [ply.id for ply in design.plies])
    assert [step.kind for step in by_hand.steps] == ["lay"] * 3
    assert by_hand.seconds == 0.0
    assert press_plan(design, []).steps == ()


def test_plies_are_laid_from_the_ground_up_whatever_they_are_made_of() -> None:
    """Adhesive vinyl does not bear a press (common practice), and nothing goes beneath what is down."""
    design = load_design(DEMO)
    slate = design.materials[0].model_copy(update={"id": "slate", "name": "Slate matt", "kind": "vinyl"})
    for vinyl_at in range(3):
        plies = [
            ply.model_copy(update={"material": "slate"}) if at == vinyl_at else ply
            for at, ply in enumerate(design.plies)
        ]
        mixed = design.model_copy(update={"plies": plies, "materials": [*design.materials, slate]})
        plan = press_plan(mixed, [ply.id for ply in plies])
        laid = [step.ply for step in plan.steps if step.kind in ("tack", "lay")]
        assert laid == [ply.id for ply in plies]
        shown = [step.shown for step in plan.steps]
        assert all(set(a) <= set(b) for a, b in zip(shown, shown[1:], strict=False))
        stops = [one for one in plan.warnings if one.level == "stop"]
        # Over the vinyl something is pressed, unless it is the top ply; then all heat comes before it.
        assert [one.ply for one in stops] == ([plies[vinyl_at].id] if vinyl_at < 2 else [])
        assert all("adhesive vinyl is not pressed" in one.text and "Move" in one.text for one in stops)
        if vinyl_at == 2:
            assert [step.kind for step in plan.steps] == ["warm", "tack", "tack", "press", "lay"]


def written(plan: Plan, unit: str, title: str = "Weekend shirt") -> bytes:
    shown = [Shown(ply.ply.id, ply.material.colour, ply.region) for ply in shirt().plies]
    return plan_pdf(plan, Head(title, "on a heather grey tee", "#B9B4AE", unit), shown, paper_fonts())


@pytest.mark.parametrize(("unit", "size"), [("mm", (210.0, 297.0)), ("in", (8.5 * 25.4, 11.0 * 25.4))])
def test_the_plan_on_paper_says_what_the_plan_says(unit: str, size: tuple[float, float]) -> None:
    """Read by PDFium; A4 is 210 by 297 mm (ISO 216)."""
    design = load_design(DEMO)
    plan = press_plan(design, [ply.id for ply in design.plies])
    content = written(plan, unit)
    assert content == written(plan, unit)
    document = pypdfium2.PdfDocument(content)
    assert len(document) == 1
    page = document[0]
    assert np.allclose(np.array(page.get_size()) * 25.4 / 72.0, size, atol=0.01)
    text = " ".join(page.get_textpage().get_text_bounded().split())
    for step in plan.steps:
        assert step.title in text
        assert step.text.split(".")[0] in text
    assert re.findall(r"(\d+) s\b", text)[0] == "26"
    # In each picture as many plies as lie there by then, on their ground.
    pictures = sum(1 + len(step.shown) for step in plan.steps)
    filled = [one for one in page.get_objects() if one.type == pypdfium2.raw.FPDF_PAGEOBJ_PATH]
    assert len(filled) == pictures + len(plan.steps) + 1
    boxes = [one.get_bounds() for one in filled]
    grounds = [b for b in boxes if b[2] - b[0] == pytest.approx(32.0 * 72 / 25.4, abs=0.1)]
    assert len(grounds) == len(plan.steps)
    seen = 0
    for x0, y0, x1, y1 in grounds:
        inside = [b for b in boxes if b[1] >= y0 - 0.1 and b[3] <= y1 + 0.1 and b[2] - b[0] < x1 - x0 - 1]
        # All together they lie in the middle, as large as the ground leaves room for.
        if inside:
            seen += 1
            left, low, right, high = (f(b[k] for b in inside) for k, f in enumerate((min, min, max, max)))
            assert (left + right) / 2 == pytest.approx((x0 + x1) / 2, abs=0.2)
            assert (low + high) / 2 == pytest.approx((y0 + y1) / 2, abs=0.2)
            assert 0.8 < max((right - left) / (x1 - x0), (high - low) / (y1 - y0)) < 0.9
    assert seen == sum(bool(step.shown) for step in plan.steps)


def test_a_long_plan_takes_more_pages_and_any_name_is_set() -> None:
    design = load_design(DEMO)
    plan = press_plan(design, [ply.id for ply in design.plies])
    long = Plan(plan.steps * 5, plan.heat, (Warned("look", "Mind the heat " * 30),), plan.seconds)
    document = pypdfium2.PdfDocument(written(long, "mm", "Żółć & Ångström " * 8))
    assert len(document) == 3
    text = " ".join(page.get_textpage().get_text_bounded() for page in document)
    assert "Żółć & Ångström" in text
    assert "Look out: Mind the heat" in " ".join(text.split())
    assert len(pypdfium2.PdfDocument(written(Plan((), (), (), 0.0), "mm"))) == 1


def test_seams_are_where_drift_would_show() -> None:
    """Two boxes side by side, meeting, apart, overlapped and backed; lengths by hand."""
    left, meets = box(0, 0, 40, 60), box(40, 0, 30, 60)
    (seam,) = seams([left, meets])
    # Their common side, and as far round the corners as the drift reaches.
    assert (seam.under, seam.over) == (0, 1)
    assert seam.length == pytest.approx(60.0 + 2 * DRIFT, abs=0.05)
    assert all(abs(line[:, 0] - 40.0).max() <= DRIFT + 1e-6 for line in seam.lines)
    assert seams([left, box(40.3, 0, 30, 60)])[0].length == pytest.approx(60.0, abs=1.5)
    assert seams([left, box(41, 0, 30, 60)]) == []
    # Laid well over each other, only the short ways where outlines cross are near.
    assert seams([left, box(30, -5, 30, 70)]) == []
    # Backed far enough on both sides nothing below would show; backed too little it would.
    assert [(one.under, one.over) for one in seams([box(-5, -5, 80, 70), left, meets])] == []
    assert len(seams([box(-5, -5, 45.2, 70), left, meets])) == 3
