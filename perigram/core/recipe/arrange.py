"""Lines aligned, spread evenly and matched in size: as plain moves, or as relations that hold."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Literal, get_args

from perigram.core.errors import PerigramError
from perigram.core.geometry.measure import Box
from perigram.core.recipe.design import Design
from perigram.core.recipe.kinds import Side
from perigram.core.recipe.lines import AnyLine, kind_of
from perigram.core.recipe.refs import ref_to
from perigram.core.recipe.values import Place

Align = Literal["left", "centre", "right", "top", "middle", "bottom"]
Spread = Literal["centres across", "centres down", "space across", "space down"]
Match = Literal["width", "height"]
How = Literal[Align, Spread, Match]
To = Literal["each other", "design", "ground"]

#: Where every line's own result lies; lines that come to nothing are left out.
Boxes = Callable[[Design], dict[str, Box]]

_ACROSS = {"left": (0, "left", 0.0), "centre": (0, "middle", 0.5), "right": (0, "right", 1.0)}
_DOWN = {"top": (1, "top", 0.0), "middle": (1, "middle", 0.5), "bottom": (1, "bottom", 1.0)}
_EDGES = {**_ACROSS, **_DOWN}
_ROUNDS = 6


def arrange(design: Design, chosen: Sequence[str], how: How, to: To, hold: bool, boxes: Boxes) -> Design:
    """The design with the chosen lines aligned, spread or matched.

    Against each other, the first of them in the recipe stays and the others follow; with `hold` they
    do so from now on. Locked lines stay where they are.

    Raises:
        PerigramError: when there are too few lines to do it with, or one that is turned cannot be held.
    """
    now = boxes(design)
    lines = [one for one in design.recipe if one.id in chosen and one.id in now and _place(one)]
    if how in get_args(Spread):
        return _spread(design, lines, how, to, now, boxes)
    movable = [one for one in lines if not one.locked]
    if to != "each other":
        target = _target(design, to, now)
        return (
            _matched(design, movable, how, target, boxes)
            if how in get_args(Match)
            else _aligned(design, movable, how, target, boxes)
        )
    if len(lines) < 2:
        raise PerigramError("Choose two things or more: Shift and a click adds one.")
    first = lines[0]
    others = [one for one in movable if one.id != first.id]
    if hold:
        for one in others:
            design = _held(design, one, first, how, boxes)
        return design
    if how in get_args(Match):
        return _matched(design, others, how, now[first.id], boxes)
    return _aligned(design, others, how, now[first.id], boxes)


def moved(place: Place, dx: float, dy: float) -> Place:
    """A place so many mm to the right and down: a gap on the far side grows the other way."""
    x = place.x + (-dx if place.on and place.across == "before" else dx)
    y = place.y + (-dy if place.on and place.down == "above" else dy)
    return place.model_copy(update={"x": round(x, 4), "y": round(y, 4)})


def _place(line: AnyLine) -> Place | None:
    return getattr(line, "place", None)


def _with(design: Design, line_id: str, **values: object) -> Design:
    recipe = [one.model_copy(update=values) if one.id == line_id else one for one in design.recipe]
    return design.model_copy(update={"recipe": recipe})


def _put(design: Design, goals: dict[str, float], share: float, axis: int, boxes: Boxes) -> Design:
    """Lines moved along an axis until a share of their way from low to high is where it should be.

    One by one in the recipe's order, as what is held to a line moves with it.
    """
    for line in design.recipe:
        if line.id not in goals:
            continue
        box, place = boxes(design)[line.id], _place(line)
        assert place is not None
        by = goals[line.id] - (box[axis] + share * (box[axis + 2] - box[axis]))
        design = _with(
            design, line.id, place=moved(place, by if axis == 0 else 0.0, by if axis == 1 else 0.0)
        )
    return design


def _target(design: Design, to: To, now: dict[str, Box]) -> Box:
    """The box of all there is, or of the ground; a ground of no stated size counts as its middle."""
    if to == "ground":
        x, y = (design.ground.width or 0.0) / 2, (design.ground.height or 0.0) / 2
        return (-x, -y, x, y)
    boxes = list(now.values())
    if not boxes:
        raise PerigramError("There is nothing on the bench to line up with.")
    return (
        min(b[0] for b in boxes),
        min(b[1] for b in boxes),
        max(b[2] for b in boxes),
        max(b[3] for b in boxes),
    )


def _aligned(design: Design, lines: Sequence[AnyLine], how: str, target: Box, boxes: Boxes) -> Design:
    axis, _, share = _EDGES[how]
    goal = target[axis] + share * (target[axis + 2] - target[axis])
    share_of_own = 0.5 if target[axis] == target[axis + 2] else share
    return _put(design, {one.id: goal for one in lines}, share_of_own, axis, boxes)


def _spread(
    design: Design, lines: Sequence[AnyLine], how: str, to: To, now: dict[str, Box], boxes: Boxes
) -> Design:
    """Evenly, by middles or by clear space; the outermost stay, or go to the edges of what is given."""
    axis = 0 if how.endswith("across") else 1
    lines = sorted(lines, key=lambda one: now[one.id][axis] + now[one.id][axis + 2])
    if len(lines) < (3 if to == "each other" else 2):
        raise PerigramError("To spread things evenly, choose three or more: Shift and a click adds one.")
    spans = [(now[one.id][axis], now[one.id][axis + 2]) for one in lines]
    sizes = [high - low for low, high in spans]
    low, high = spans[0][0], spans[-1][1]
    if to != "each other":
        target = _target(design, to, now)
        if target[axis + 2] > target[axis]:
            low, high = target[axis], target[axis + 2]
    if how.startswith("space"):
        space = (high - low - sum(sizes)) / (len(lines) - 1)
        starts = [low + sum(sizes[:i]) + i * space for i in range(len(lines))]
    else:
        first, last = low + sizes[0] / 2, high - sizes[-1] / 2
        step = (last - first) / (len(lines) - 1)
        starts = [first + i * step - sizes[i] / 2 for i in range(len(lines))]
    goals = {one.id: start for one, start in zip(lines, starts, strict=True) if not one.locked}
    return _put(design, goals, 0.0, axis, boxes)


def _matched(design: Design, lines: Sequence[AnyLine], how: str, target: Box, boxes: Boxes) -> Design:
    """Lines made as wide or tall as a box, their middles left where they are."""
    axis = 0 if how == "width" else 1
    goal = target[axis + 2] - target[axis]
    if goal <= 0.0:
        raise PerigramError("The ground has no size yet. Give it one, or match to something else.")
    for one in lines:
        # Gaps keep their measure, so letters do not grow quite in proportion: a few rounds settle it.
        for _ in range(_ROUNDS):
            now = boxes(design).get(one.id)
            if now is None or abs(now[axis + 2] - now[axis] - goal) < 1e-3:
                break
            design = _resized(design, one.id, goal / (now[axis + 2] - now[axis]), how)
    return design


def _resized(design: Design, line_id: str, ratio: float, how: str) -> Design:
    line = next(one for one in design.recipe if one.id == line_id)
    place = _place(line)
    assert place is not None
    free = place.model_copy(update={"as_wide": None, "as_tall": None})
    values: dict[str, float] = {}
    for side in _sides_along(how, place.rotate):
        values |= kind_of(line).resized(line, ratio, side)
    return _with(design, line_id, **values, place=free)


def _sides_along(how: str, turned: float) -> Sequence[Side]:
    """The sides of a turned thing that make it as wide or tall as it looks: askew, both in proportion."""
    if turned % 90.0:
        return ("width", "height")
    across = (how == "width") != bool(turned % 180.0)
    return ("width",) if across else ("height",)


def _held(design: Design, line: AnyLine, anchor: AnyLine, how: str, boxes: Boxes) -> Design:
    """A relation to the anchor that holds from now on; what it does not fix stays as it looks now."""
    ref = ref_to(anchor.id, next(iter(kind_of(anchor).names(anchor))))
    before = boxes(design)[line.id]
    place = _place(line)
    assert place is not None
    if how in get_args(Match):
        if place.rotate % 180.0:
            # What is held is its size before it is turned, which is not what is seen.
            raise PerigramError(
                f"What is turned cannot be held as {'wide' if how == 'width' else 'tall'} as something "
                "else. Match it without holding, or turn it straight first."
            )
        side = "as_wide" if how == "width" else "as_tall"
        return _with(design, line.id, place=place.model_copy(update={side: ref}))
    axis, relation, _ = _EDGES[how]
    if place.on != ref:
        place = place.model_copy(update={"on": ref, "across": "middle", "down": "middle", "x": 0.0, "y": 0.0})
    fixed = {"across": relation, "x": 0.0} if axis == 0 else {"down": relation, "y": 0.0}
    place = place.model_copy(update=fixed)
    design = _with(design, line.id, place=place)
    after = boxes(design)[line.id]
    drift = [before[0] - after[0], before[1] - after[1]]
    drift[axis] = 0.0
    return _with(design, line.id, place=moved(place, drift[0], drift[1]))
