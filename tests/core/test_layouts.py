"""Sheets laid out closely, taken apart at seams, and with help for weeding; judged with Shapely."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from perigram.core.errors import PerigramError
from perigram.core.formats.bundle import sheet_names
from perigram.core.formats.page import CutPly
from perigram.core.geometry import measure
from perigram.core.geometry.overlay import cut_away
from perigram.core.geometry.region import Region
from perigram.core.recipe.making import Sheets
from perigram.core.sheet.layout import lay_out, to_pack
from perigram.core.sheet.packing import Layouts, Room, nest
from perigram.core.sheet.sheet import Sheet, placing

from .material import EVERY, disc, row
from .test_sheets import pieces, plies, solid


def body(region: Region) -> shapely.Geometry:
    """A region flattened finer than overlays look, by the parity of its loops."""
    found = shapely.Polygon()
    for one in solid(region):
        found = shapely.symmetric_difference(found, one)
    return found


def check_laid(sheets: list[Sheet], how: Sheets, ply: CutPly) -> None:
    """All are there, on their sheets, apart, by what is drawn and not by boxes."""
    for sheet in sheets:
        laid = []
        for one in sheet.placed:
            item = sheet.items[one.item]
            matrix = placing(one, item)
            assert np.linalg.det(matrix[:, :2]) == pytest.approx(1.0)
            laid.append(body(item.work.transformed(matrix)))
        tree = shapely.STRtree(laid)
        for a, b in tree.query(laid, predicate="dwithin", distance=how.apart - 0.005).T:
            assert a == b
        x0, y0, x1, y1 = shapely.total_bounds(laid)
        assert min(x0, y0) >= how.edge - 1e-6
        assert x1 <= ply.width - how.edge + 1e-6
        assert y1 <= sheet.used - how.edge + 1e-6 <= ply.length
    area = sum(sheet.times * measure.area(sheet.work) for sheet in sheets)
    assert area == pytest.approx(how.copies * measure.area(ply.region), rel=1e-9)


@pytest.mark.parametrize(
    ("seed", "keeps", "turned", "length", "mirrored"),
    [
        (3, "pieces", True, 3000.0, False),
        (4, "pieces", False, 160.0, True),
        (5, "designs", True, 3000.0, True),
    ],
)
def test_nested_things_keep_their_distance_and_save_material(
    seed: int, keeps: str, turned: bool, length: float, mirrored: bool
) -> None:
    ply = CutPly("Figures", "Reed", "#5E7F57", mirrored, pieces(seed, 12), 300.0, length, "p")
    if keeps == "designs":
        ply = CutPly("Word", "Reed", "#5E7F57", mirrored, row(EVERY[0], "V", 90.0), 300.0, length, "p")
    how = Sheets(
        copies=3,
        layout="packed",
        keeps=keeps,
        turned=turned,
        apart=3.0,
        edge=5.0,
        marks="none",  # type: ignore[arg-type]
    )
    found: list[Layouts] = []
    ((_, items, wanted),) = to_pack([ply], how)
    best = nest(items, wanted, Room.of(ply, how), 4.0, found.append)
    sheets = lay_out([ply], how, {"p": best})
    check_laid(sheets, how, ply)
    boxes = lay_out([ply], how)
    used = [sum(sheet.times for sheet in laid[:-1]) * length + laid[-1].used for laid in (boxes, sheets)]
    assert used[1] < used[0]
    # The first thing shown is there at once, and each is closer than the one before.
    assert found[-1] == best
    if not turned:
        assert all(one.quarters == 0 for laid in best for one in laid)


@pytest.mark.parametrize("turned", [False, True])
def test_small_pieces_go_into_the_holes_of_large_ones(turned: bool) -> None:
    """Two rings with room for four of six discs each; what is left lies beside them."""
    ring = cut_away(disc(0.0, 0.0, 100.0), disc(0.0, 0.0, 80.0))
    small = [disc(400.0 + 60.0 * k, 0.0, 20.0) for k in range(6)]
    ply = CutPly("Rings", "Reed", "#5E7F57", True, Region.joined([ring, *small]), 220.0, 3000.0, "p")
    how = Sheets(copies=2, layout="packed", keeps="pieces", turned=turned, apart=4.0, edge=5.0, marks="none")
    ((_, items, wanted),) = to_pack([ply], how)
    best = nest(items, wanted, Room.of(ply, how), 3.0, lambda _: None)
    sheets = lay_out([ply], how, {"p": best})
    check_laid(sheets, how, ply)
    (sheet,) = sheets
    rings = [shapely.Polygon(body(one).exterior) for one in sheet.work.pieces() if measure.area(one) > 5000]
    discs = [body(one) for one in sheet.work.pieces() if measure.area(one) < 5000]
    assert sum(any(ring.contains(one) for ring in rings) for one in discs) >= 8
    # Two rings one after the other are as long as it gets.
    assert sheet.used <= 2 * 200.0 + 3 * 4.0 + 2 * 5.0


@given(
    st.sampled_from(EVERY),
    st.floats(150.0, 900.0),
    st.sampled_from(["butt", "overlap"]),
    st.sampled_from([(305.0, 305.0), (180.0, 3000.0), (120.0, 150.0)]),
    st.sampled_from(["none", "crosses", "corners"]),
    st.booleans(),
)
@settings(max_examples=15, deadline=None)
def test_parts_laid_together_again_are_the_design(
    font: str, size: float, split: str, sheet_size: tuple[float, float], marks: str, mirrored: bool
) -> None:
    word = row(font, "Rigg", 1.2 * size)
    backing = CutPly("Back", "Chalk", "#F4F0E6", mirrored, Region.joined([word]), *sheet_size)
    spot = CutPly("Spot", "Night", "#1F2733", not mirrored, disc(size / 2.0, 0.0, size / 8.0), *sheet_size)
    how = Sheets(split=split, overlap=8.0, marks=marks, copies=2)  # type: ignore[arg-type]
    try:
        sheets = lay_out([backing, spot], how)
    except PerigramError:
        # 64 parts at most: so small a sheet for so large a word is refused, as it should be.
        assume(False)
    assume(any(sheet.part for sheet in sheets))
    names = sheet_names("Rigg", sheets, "svg")
    assert len(set(names)) == len(sheets)
    assert all(name.endswith("cut 2 times.svg") for name in names)
    assert sheet_names("Rigg", [replace(sheets[0], times=1)], "svg")[0].endswith(f"{sheets[0].part}.svg")
    x0, y0, *_ = measure.union_box([measure.bounds(ply.region) for ply in (backing, spot)]) or (0.0, 0.0)
    # Places are hundredths of a mm.
    x0, y0 = np.floor(np.array([x0, y0]) * 100.0 + 1e-6) / 100.0
    marked_at: dict[str, list[np.ndarray]] = {}
    for ply in (backing, spot):
        whole, together, areas = body(ply.region), [], 0.0
        for sheet in (one for one in sheets if one.stock is ply):
            assert sheet.times == 2
            (item,) = sheet.items
            assert item.width <= ply.width - 2.0 * how.edge + 1e-6
            assert item.height <= ply.length - 2.0 * how.edge + 1e-6
            back = np.array([[-1.0, 0.0, item.width], [0.0, 1.0, 0.0]])
            upright, marked = (
                one.transformed(back) if ply.mirrored else one for one in (item.work, item.marks)
            )
            part, corner = body(upright), np.array(corner_of(sheet, sheets, how))
            together.append(shapely.transform(part, lambda xy, by=corner: xy + by + (x0, y0)))
            areas += part.area
            marked_at.setdefault(sheet.part, []).append(marked.start + corner)
            assert marked.is_empty or shapely.distance(part, body(marked)) > 1.0
        union = shapely.union_all(together)
        assert shapely.area(shapely.symmetric_difference(union, whole)) <= 1e-4 * whole.area + 0.05
        if split == "butt":
            assert areas == pytest.approx(whole.area, rel=1e-4)
    # Marks lie at the same place of the design in the same part of both plies, and on both sides of a seam.
    for one, *others in marked_at.values():
        assert all(np.allclose(np.sort(one, axis=0), np.sort(other, axis=0), atol=0.01) for other in others)
    every = [marks for found in marked_at.values() for marks in found[:1] if len(marks)]
    if every and len(marked_at) > 1:
        places = np.round(np.concatenate(every), 2)
        _, often = np.unique(places, axis=0, return_counts=True)
        assert often.max() > 1


def corner_of(sheet: Sheet, sheets: list[Sheet], how: Sheets) -> tuple[float, float]:
    """Where in the design a part begins, reckoned from how large the parts before it are."""
    over = how.overlap if how.split == "overlap" else 0.0
    around = 0.0 if how.marks == "none" else 11.0
    at = [0.0, 0.0]
    for axis, word in ((0, "column"), (1, "row")):
        for number in range(1, place(sheet.part, word)):
            sizes = {
                round((one.items[0].width, one.items[0].height)[axis], 6)
                for one in sheets
                if place(one.part, word) == number
            }
            (size,) = sizes
            # Beyond its first seam every part reaches over by half; the next begins half sooner.
            at[axis] += size - 2.0 * around - over
    return at[0] - around, at[1] - around


def place(part: str, word: str) -> int:
    """Which column or row a part is of, from 1."""
    words = part.split()
    return int(words[words.index(word) + 1]) if word in words else 1


@pytest.mark.parametrize("mirrored", [False, True])
@pytest.mark.parametrize("layout", ["registered", "packed"])
def test_lines_part_the_waste_and_touch_nothing_kept(mirrored: bool, layout: str) -> None:
    ply = CutPly("Word", "Reed", "#5E7F57", mirrored, row(EVERY[1], "Oak", 120.0), 420.0, 900.0, "p")
    how = Sheets(border=True, across=20.0, layout=layout, copies=3)  # type: ignore[arg-type]
    (sheet,) = lay_out([ply], how)
    assert len(sheet.lines) > 6
    kept = shapely.union_all([body(sheet.work), body(sheet.marks)])
    for line in sheet.lines:
        assert shapely.distance(shapely.linestrings(line), kept) >= 0.95
        assert np.hypot(*(line[1] - line[0])) >= 5.0
    frames = shapely.union_all(shapely.polygons([one.exterior for one in solid(sheet.borders)]))
    assert shapely.covers(shapely.buffer(frames, 1e-6), shapely.multilinestrings(list(sheet.lines)))
    # Beyond the gap kept, waste no line crosses is lower than the lines are apart.
    cut = shapely.union_all([shapely.buffer(shapely.linestrings(line), 1.2) for line in sheet.lines])
    waste = shapely.difference(frames, shapely.union_all([shapely.buffer(kept, 1.0), cut]))
    wide = [
        one for one in shapely.get_parts(waste) if shapely.bounds(one)[2] - shapely.bounds(one)[0] > 100.0
    ]
    assert all(shapely.bounds(one)[3] - shapely.bounds(one)[1] <= 60.0 for one in wide)


def test_a_frame_makes_every_sheets_contents_begin_at_the_same_place() -> None:
    sheets = lay_out(plies(), Sheets(frame=True, marks="none", layout="packed", edge=8.0))
    for sheet in sheets:
        box = measure.bounds(sheet.cut)
        assert box is not None
        assert box[:2] == (4.0, 4.0)
        assert box[2] == pytest.approx(sheet.stock.width - 4.0)
        # It lies round everything, so it is cut last.
        assert sheet.order[0][-1] == sheet.cut.loop_count - 1


def test_too_many_or_too_small_parts_are_refused() -> None:
    wide = CutPly("Wide", "Chalk", "#F4F0E6", False, disc(0.0, 0.0, 800.0), 100.0, 100.0)
    with pytest.raises(PerigramError, match="parts; up to 64"):
        lay_out([wide], Sheets(split="butt"))
    narrow = CutPly("Wide", "Chalk", "#F4F0E6", False, disc(0.0, 0.0, 800.0), 50.0, 100.0)
    with pytest.raises(PerigramError, match="too little for a part"):
        lay_out([narrow], Sheets(split="butt"))
