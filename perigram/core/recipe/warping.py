"""What lines that warp have in common: things mapped as one, letters that only turn, folds."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Protocol, TypeVar

import numpy as np
import shapely
from scipy.optimize import brentq
from shapely import affinity

from perigram.core.geometry import measure
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.flat import apart, prepared
from perigram.core.geometry.measure import Box, union_box
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.region import Region
from perigram.core.recipe.kinds import Tools
from perigram.core.recipe.parts import Made, Part
from perigram.core.warp.maps import Map, warped

#: Letters stand in rows: the path of any other part is shorter.
_LETTER = 2
#: What moves no node or handle by more than this many mm moves nothing.
_STILL = 1e-9
#: Letters are placed to this many mm.
_NEAR = 1e-4
#: Letters that only turn go along by these parts of their reach to be clear, and by so many of them at most.
_STEPS, _FARTHEST_STEPS = 4, 16
#: A row of such letters is set again so many times at most, until its middle is within so many mm.
_CENTRINGS, _CENTRED = 8, 0.005
#: What still holds is found by so many halvings of what was asked for.
_HALVINGS = 12


class Holding(Map, Protocol):
    """A map that knows whether it folds."""

    def holds_over(self, box: Box) -> bool: ...


M = TypeVar("M", bound=Holding)
#: How far a polygon is from something, in mm.
Room = Callable[[shapely.Polygon], float]


def group_box(tools: Tools, refs: Sequence[str]) -> Box | None:
    """The box of several results together."""
    return union_box([measure.bounds(tools.region(ref)) for ref in refs])


def mapped(made: Made, onto: Map | None) -> Made:
    """A result under a map, its parts as well; as it is where there is none."""
    if onto is None or _moves_nothing(made.region, onto):
        return made

    def parts() -> list[Part]:
        return [
            replace(part, region=warped(part.region, onto), frame=_framed(part.frame, onto))
            for part in made.parts()
        ]

    return Made(warped(made.region, onto), parts)


def _moves_nothing(region: Region, onto: Map) -> bool:
    """Whether a map leaves a region where it is: then it comes back bit for bit."""
    places = region.segments.reshape(-1, 2)
    return len(places) == 0 or float(np.abs(onto.points(places) - places).max()) < _STILL


def _framed(frame: Floats, onto: Map) -> Floats:
    """A frame under a map: where its origin goes, and as the map turns and stretches there."""
    origin = frame[None, :, 2]
    turned = onto.jacobian(origin)[0] @ frame[:, :2]
    return np.column_stack([turned, onto.points(origin)[0]])


def strongest(make: Callable[[float], M | None], box: Box) -> tuple[M | None, float]:
    """The map as asked for, or the strongest below it that does not fold over a box, and at what share.

    Args:
        make: the map at a share of what is asked for; none where there is none so strong.

    Returns:
        none where not even the weakest holds: then all is best left as it is.
    """

    def holds(share: float) -> M | None:
        found = make(share)
        return found if found is not None and found.holds_over(box) else None

    whole = holds(1.0)
    if whole is not None:
        return whole, 1.0
    low, high = 0.0, 1.0
    for _ in range(_HALVINGS):
        middle = (low + high) / 2.0
        low, high = (middle, high) if holds(middle) is not None else (low, middle)
    return holds(low), low


def has_letters(made: Made) -> bool:
    parts = made.parts()
    return len(parts) > 1 and all(len(part.path) == _LETTER for part in parts)


def turned(made: Made, onto: Map | None) -> Made:
    """A result whose letters go along a map but only turn, as clear of each other as they were.

    What is no letter turns as a whole.
    """
    if onto is None:
        return made
    parts = list(made.parts()) if has_letters(made) else []
    if not parts:
        box = measure.bounds(made.region)
        middle = ((box[0] + box[2]) / 2.0, box[3]) if box else (0.0, 0.0)
        return made.moved(_placing(onto, np.array(middle), 0.0))
    placed: list[Part] = []
    for row in dict.fromkeys(part.path[0] for part in parts):
        letters = [part for part in parts if part.path[0] == row]
        for part, matrix in zip(letters, _apart(letters, onto), strict=True):
            placed.append(
                replace(part, region=part.region.transformed(matrix), frame=_after(matrix, part.frame))
            )
    return Made(weld([part.region for part in placed]), lambda: placed)


def _after(matrix: Floats, frame: Floats) -> Floats:
    return np.asarray((np.vstack([matrix, [0, 0, 1]]) @ np.vstack([frame, [0, 0, 1]]))[:2])


def _placing(onto: Map, foot: Floats, by: float) -> Floats:
    """The (2, 3) map that moves what stands at `foot` as a map does `by` mm to its right, and turns it so."""
    at = (foot + (by, 0.0))[None]
    way = onto.jacobian(at)[0, :, 0]
    way = way / np.hypot(*way)
    turn = np.array([[way[0], -way[1]], [way[1], way[0]]])
    return np.column_stack([turn, onto.points(at)[0] - turn @ foot])


def _apart(letters: Sequence[Part], onto: Map) -> list[Floats]:
    """Where the letters of a row go so that neighbours are as far apart as before they were turned.

    How far they have to go depends on where the curve turns: so the row is set again until its ends are as
    far from where they would be one way as the other.
    """
    shifts = _shifts(letters, onto, 0.0)
    for _ in range(_CENTRINGS):
        middle = (shifts[0] + shifts[-1]) / 2.0
        if abs(middle) < _CENTRED:
            break
        shifts = _shifts(letters, onto, shifts[0] - middle)
    return [_placing(onto, part.frame[:, 2], by) for part, by in zip(letters, shifts, strict=True)]


def _shifts(letters: Sequence[Part], onto: Map, first: float) -> list[float]:
    """How far along each letter goes, in mm, if the first one goes so far."""
    feet = [part.frame[:, 2] for part in letters]
    flats = [part.region.multipolygon for part in letters]
    shifts = [first]
    before = _seen(flats[0], _placing(onto, feet[0], first))
    for i in range(1, len(letters)):
        gap = _room_round(flats[i - 1])(flats[i])
        reach = max(float(np.hypot(*np.ptp(part.region.start, axis=0))) for part in letters[i - 1 : i + 1])
        shift = shifts[-1]
        if gap > 0.0:
            around = _room_round(before)

            def miss(by: float, i: int = i, gap: float = gap, clear: Room = around) -> float:
                return clear(_seen(flats[i], _placing(onto, feet[i], by))) - gap

            # From where it would be it goes on until it is clear, or back until it is not.
            step = np.copysign(reach / _STEPS, -miss(shift))
            tries = shift + step * np.arange(_FARTHEST_STEPS)
            far = next((k for k in range(1, len(tries)) if miss(tries[k]) * step > 0.0), None)
            if far is not None:
                # The very places that were tried: at a corner those beside them may lie on its other side.
                low, high = sorted(tries[far - 1 : far + 1].tolist())
                shift = float(brentq(miss, low, high, xtol=_NEAR))
                # Past a corner a letter turns at once: of the two sides of it the one that is clear.
                if miss(shift) < -_NEAR:
                    shift = next(
                        (by for by in (shift + 2 * _NEAR, shift - 2 * _NEAR) if miss(by) >= 0.0), shift
                    )
        shifts.append(shift)
        before = _seen(flats[i], _placing(onto, feet[i], shift))
    return shifts


def _room_round(body: shapely.Geometry) -> Room:
    """How far a polygon is from others."""
    body, outline = prepared(body), prepared(shapely.boundary(body))
    return lambda other: 0.0 if shapely.intersects(body, other) else float(apart(outline, other))


def _seen(flat: shapely.Geometry, matrix: Floats) -> shapely.Geometry:
    (a, b, x), (c, d, y) = matrix.tolist()
    return affinity.affine_transform(flat, [a, b, c, d, x, y])
