"""A drag knife led by a machine: where its tip goes, by integrating how a castor trails."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from perigram.core.formats.hpgl import TOLERANCE
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.region import Region
from perigram.core.sheet.blade import led
from perigram.core.sheet.order import cut_order, outlines_in_order

from .material import EVERY, away, row

#: The holder is moved in steps of so many mm.
_STEP = 0.004


def tip_of(ways: list[Floats], offset: float, heading: float) -> list[Floats]:
    """Where the tip goes: pulled towards the holder at every small step, not turned while lifted.

    In the limit of small steps that is the tractrix of the holder's way, as of all that is dragged along.
    """
    direction = np.array([np.cos(heading), np.sin(heading)])
    made = []
    for way in ways:
        tip = way[0] - offset * direction
        path = [tip]
        for start, end in zip(way[:-1], way[1:], strict=True):
            steps = max(1, int(np.ceil(np.hypot(*(end - start)) / _STEP)))
            for share in np.arange(1, steps + 1) / steps:
                holder = start + (end - start) * share
                direction = holder - tip
                direction = direction / np.hypot(*direction)
                tip = holder - offset * direction
                path.append(tip)
        made.append(np.array(path))
    return made


def far(line: Floats, target: Floats) -> float:
    return float(away(shapely.linestrings(target), shapely.points(line)).max())


@given(
    st.sampled_from(EVERY),
    st.sampled_from(["Q&k", "W8s", "reef"]),
    st.floats(0.15, 0.9),
    st.floats(-3.1, 3.1),
)
@settings(max_examples=8, deadline=None)
def test_the_tip_stays_on_the_outline(font: str, text: str, offset: float, heading: float) -> None:
    region: Region = row(font, text, 40.0).translated(15.0, 50.0)
    strokes = outlines_in_order(region, cut_order(region), TOLERANCE)
    ways = led(strokes, offset, 0.0)
    pull, *tips = tip_of(ways, offset, heading)
    # Pulled straight along the sheet's edges, within its corner.
    assert np.abs(pull).max() <= 9.0 * offset
    for tip, stroke in zip(tips, strokes, strict=True):
        assert far(tip, stroke) <= 0.05
        assert far(stroke, tip) <= 0.05
    # Not led, the knife cuts corners by more than that.
    bare = tip_of([strokes[0] + [0.0, 0.0]], offset, heading)
    assert max(far(bare[0], strokes[0]), far(strokes[0], bare[0])) > 0.05


@pytest.mark.parametrize("offset", [0.0, 0.3])
def test_overcut_goes_past_the_start_and_lines_end_where_they_end(offset: float) -> None:
    square = np.array([[10.0, 10.0], [30.0, 10.0], [30.0, 30.0], [10.0, 30.0], [10.0, 10.0]])
    line = np.array([[40.0, 10.0], [60.0, 10.0]])
    ways = led([square, line], offset, 2.0)[1 if offset else 0 :]
    tips = tip_of(ways, offset, 0.0) if offset else ways
    assert np.allclose(tips[0][-1], [12.0, 10.0], atol=0.05)
    assert np.allclose(tips[1][-1], [60.0, 10.0], atol=0.05)
    # More than once round is not gone.
    round_and_round = led([square], 0.0, 500.0)[0]
    assert np.hypot(*np.diff(round_and_round, axis=0).T).sum() == pytest.approx(160.0)


def test_with_neither_nothing_is_changed() -> None:
    square = np.array([[10.0, 10.0], [30.0, 10.0], [30.0, 30.0], [10.0, 10.0]])
    assert (led([square], 0.0, 0.0)[0] == square).all()
    assert led([], 0.3, 1.0) == []
