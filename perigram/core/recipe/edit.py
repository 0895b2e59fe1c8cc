"""Lines added to and removed from a design, with the plies following sensibly."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from pydantic import ValidationError

from perigram.core.errors import PerigramError
from perigram.core.geometry.measure import Box
from perigram.core.recipe.design import Design, Material, Ply, references, slots_of
from perigram.core.recipe.kinds import Start
from perigram.core.recipe.leaving import USUAL
from perigram.core.recipe.lines import KINDS, AnyLine, kind_of
from perigram.core.recipe.lines.letter import Letter
from perigram.core.recipe.making import Pressing
from perigram.core.recipe.materials import FRESH, STARTERS, grey_apart, told_apart
from perigram.core.recipe.refs import line_of, ref_to
from perigram.core.recipe.things import covered, free_name, things_of
from perigram.core.recipe.values import Line, Place


@dataclass(frozen=True)
class Bench:
    """What is known of a bench besides its design.

    Attributes:
        chosen: results chosen by hand.
        boxes: where results lie, by reference.
        seen: the boxes of all plies.
    """

    chosen: Sequence[str] = ()
    boxes: Mapping[str, Box] = field(default_factory=dict)
    seen: Sequence[Box] = ()


def add_line(
    design: Design,
    kind_id: str,
    picture: str | None = None,
    size: tuple[float, float] = (0.0, 0.0),
    bench: Bench = Bench(),
    given: Mapping[str, float | str] | None = None,
) -> tuple[Design, str]:
    """The design with a line of a kind at its end, and the line's id.

    References are filled with what is chosen, else with the results that fit the kind best. A result that
    takes another's place takes it on its ply too. What is placed beside another thing joins that one's ply;
    any other gets a ply of its own.

    Args:
        picture, size: the picture it is for, and its width and height in mm as drawn.
        given: values of its own that are not to be the usual ones.

    Raises:
        PerigramError: for a kind that does not exist, or values it does not take.
    """
    kind = KINDS.get(kind_id)
    if kind is None:
        raise PerigramError(f"There is no kind of line called “{kind_id}”.")
    line_id = _free_id("l", [line.id for line in design.recipe])
    values = kind.starts(_start(design, bench, picture, size))
    try:
        line = kind.model.model_validate({"id": line_id, **values, **(given or {})})
        if "least" in kind.model.model_fields and "least" not in (given or {}):
            line = line.model_copy(update={"least": _least(design, line)})
    except ValidationError as error:
        first = error.errors()[0]
        raise PerigramError(
            f"A line called “{kind.name}” cannot take {first['loc'][-1]} as given: {first['msg']}."
        ) from error
    recipe = [*design.recipe, line]
    plies = _handed_over(design.plies, _takes(line))
    changed = design.model_copy(update={"recipe": recipe, "plies": plies})
    if kind.ply:
        refs = [ref_to(line_id, name) for name in kind.names(line)]
        changed = _beside(changed, line, refs) or _on_new_ply(changed, line, refs)
    return _settled(design, _laid_apart(changed, line, set(references(line)))), line_id


def _start(design: Design, bench: Bench, picture: str | None, size: tuple[float, float]) -> Start:
    free, now = _uncovered(design), covered(design.recipe)
    chosen = []
    for ref in bench.chosen:
        while now.get(ref):
            ref = now[ref]
        chosen.append(ref)
    order = [ref for ply in design.plies for ref in ply.results]
    known = {line.id for line in design.recipe}
    return Start(
        free=free,
        chosen=[ref for ref in dict.fromkeys(chosen) if line_of(ref) in known],
        picture=picture,
        width=size[0],
        height=size[1],
        boxes=bench.boxes,
        seen=bench.seen,
        order=order,
    )


def _settled(before: Design, after: Design) -> Design:
    """An edited design, valid, that remembers the material of what no ply cuts any more."""
    cut = _cut_from(after)
    known = {ref_to(line.id, name) for line in after.recipe for name in kind_of(line).names(line)}
    materials = {one.id for one in after.materials}
    was = {**after.was_cut_from, **{thing: ply.material for thing, ply in _cut_from(before).items()}}
    kept = {
        thing: one for thing, one in was.items() if thing in known and thing not in cut and one in materials
    }
    return Design.model_validate(after.model_copy(update={"was_cut_from": kept}).model_dump())


def _things(design: Design, refs: Sequence[str]) -> list[str]:
    """The things that results are."""
    things = things_of(design.recipe)
    return [thing for ref in refs for thing in sorted(things.get(ref, ()))]


def _cut_from(design: Design) -> dict[str, Ply]:
    """By each thing that is cut, the ply that cuts it."""
    return {thing: ply for ply in design.plies for thing in _things(design, ply.results)}


def _beside(design: Design, line: Line, refs: list[str]) -> Design | None:
    """The design with results cut from the ply of what their line is placed beside; None if it is not."""
    place = getattr(line, "place", None)
    if not isinstance(place, Place) or not place.on:
        return None
    if place.across in ("middle", "left", "right") and place.down in ("middle", "top", "bottom"):
        return None
    cuts = _cut_from(design)
    home = next((cuts[thing].id for thing in _things(design, [place.on]) if thing in cuts), None)
    if home is None:
        return None
    plies = [
        ply.model_copy(update={"results": [*ply.results, *refs]}) if ply.id == home else ply
        for ply in design.plies
    ]
    return design.model_copy(update={"plies": plies})


def _laid_apart(design: Design, line: Line, new: set[str]) -> Design:
    """The design with what lies in the place of other things off their ply, on one of its own above.

    Only what is `new` to the line moves, and nothing that two plies were asked to cut: what a hand laid on
    one ply later stays there.
    """
    apart = kind_of(line).apart
    if apart is None:
        return design
    inner, outer = (getattr(line, value) for value in apart)
    mine = {ref_to(line.id, ref) for ref in inner if ref in new}
    theirs = {ref_to(line.id, ref) for ref in outer}
    moved = [
        ref
        for ply in design.plies
        if theirs & set(ply.results)
        for ref in ply.results
        if ref in mine and not any(ref in one.also for one in design.plies)
    ]
    if not moved:
        return design
    plies = _replaced(design.plies, {ref: [] for ref in moved})
    return _on_new_ply(design.model_copy(update={"plies": plies}), line, moved)


def remove_line(design: Design, line_id: str) -> Design:
    """The design without a line; what stood in for its sources gives them their place back."""
    line = next((one for one in design.recipe if one.id == line_id), None)
    if line is None:
        return design
    back: dict[str, list[str]] = {ref_to(line_id, name): [] for name in kind_of(line).names(line)}
    for source, new in _takes(line).items():
        if new:
            back[new] = [*back.get(new, []), source]
    recipe = [one for one in design.recipe if one.id != line_id]
    left = _rewired(design.model_copy(update={"recipe": recipe}), back, line_id)
    return _settled(design, _cut_again(left, kind_of(line).let_go(line)))


def on_own_ply(design: Design, ref: str) -> Design:
    """The design with a result cut from a ply of its own, and no other.

    Raises:
        PerigramError: for a result that is not there.
    """
    line = next((one for one in design.recipe if one.id == line_of(ref)), None)
    if line is None:
        raise PerigramError("This is not in the recipe any more.")
    if any(ply.results == [ref] for ply in design.plies):
        return design
    plies = _replaced(design.plies, {ref: []})
    return _settled(design, _on_new_ply(design.model_copy(update={"plies": plies}), line, [ref]))


def change_sources(design: Design, line_id: str, values: Mapping[str, object]) -> Design:
    """The design with other values of a line; plies go with it where its results stand for other things
    than before, or are others.

    Raises:
        PerigramError: for values the line does not take.
    """
    line = next((one for one in design.recipe if one.id == line_id), None)
    if line is None:
        raise PerigramError("This line is not there any more.")
    try:
        changed = type(line).model_validate({**line.model_dump(), **values})
    except ValidationError as error:
        raise PerigramError(f"This line cannot take that: {error.errors()[0]['msg']}.") from error
    before, after = _takes(line), _takes(changed)
    cut = {ref for ply in design.plies for ref in ply.results}
    # What stands for something now that no ply cuts keeps the ply it has.
    stays = {
        before[old]: after[new]
        for old, new in _swapped(line, changed)
        if old not in after and new not in cut and before.get(old) and after.get(new)
    }
    freed: dict[str, list[str]] = {}
    for old, new in before.items():
        if new and after.get(old) != new and new not in stays:
            freed[new] = [*freed.get(new, []), old]
    # What is left of several goes on with its ply; what was taken out of it gets one of its own again.
    parted = {new for old, new in before.items() if new and after.get(old) == new} & set(freed)
    apart = [old for new in sorted(parted) for old in freed.pop(new)]
    taken = {old: new for old, new in after.items() if before.get(old) != new}
    plies = _replaced(design.plies, freed | {old: [new] for old, new in stays.items()})
    gone = {new: olds for new, olds in freed.items() if new not in after.values()}
    gone |= {old: [new] for old, new in stays.items()}
    recipe = [changed if one.id == line_id else one for one in design.recipe]
    update = {"recipe": recipe, "plies": _handed_over(plies, taken)}
    again = [*apart, *(new for old, new in after.items() if before.get(old) == "")]
    again += [old for old, new in before.items() if new == "" and old not in after]
    cut_again = _cut_again(_rewired(design.model_copy(update=update), gone), again)
    return _settled(design, _laid_apart(cut_again, changed, set(references(changed)) - set(references(line))))


def _swapped(line: Line, changed: Line) -> list[tuple[str, str]]:
    """Sources of a line and what stands in their place in the changed one."""
    pairs: list[tuple[str, str]] = []
    kind = kind_of(line)
    for value in (*kind.each, *kind.replaces.values()):
        old, new = ([v] if isinstance(v, str) else v for v in (getattr(line, value), getattr(changed, value)))
        if len(old) == len(new):
            pairs += [(a, b) for a, b in zip(old, new, strict=True) if a != b]
    return pairs


def _takes(line: Line) -> dict[str, str]:
    """By the result whose place it takes, the result of a line; empty for what is not cut any more."""
    stands = kind_of(line).stands_for(line)
    return {source: ref_to(line.id, name) if name else "" for source, name in stands.items() if source}


def _handed_over(plies: list[Ply], new: Mapping[str, str]) -> list[Ply]:
    """Plies with other results in the place of some, or with none; a ply nothing is left on goes.

    What several come together in is cut once: where it is already, or in the place of the first of them.
    """
    cut = {ref for ply in plies for ref in ply.results}
    home: dict[str, str] = {}
    for source, ref in new.items():
        if source in cut and ref not in cut:
            home.setdefault(ref, source)
    return _replaced(
        plies, {source: [ref] if ref and home.get(ref) == source else [] for source, ref in new.items()}
    )


def _replaced(plies: list[Ply], new: Mapping[str, Sequence[str]]) -> list[Ply]:
    """Plies with other results in the place of some; a ply nothing is left on goes."""
    done = []
    for ply in plies:
        results, also = (
            list(dict.fromkeys(ref for old in refs for ref in new.get(old, (old,))))
            for refs in (ply.results, ply.also)
        )
        if results or not ply.results:
            done.append(ply.model_copy(update={"results": results, "also": also}))
    return done


def _least(design: Design, line: Line) -> float:
    """The thinnest strand in mm that all materials hold of which something is cut that a line works on."""
    worked_on = set(references(line))
    used = {ply.material for ply in design.plies if worked_on & set(ply.results)}
    return max((one.smallest for one in design.materials if one.id in used), default=USUAL)


def _cut_again(design: Design, refs: Sequence[str]) -> Design:
    """The design with a new ply for each of some results that no ply cuts."""
    for ref in refs:
        line = next((one for one in design.recipe if one.id == line_of(ref)), None)
        if line and not any(ref in ply.results for ply in design.plies):
            design = _on_new_ply(design, line, [ref])
    return design


def _on_new_ply(design: Design, line: Line, results: list[str]) -> Design:
    """The design with a ply for results of a line, of a material of its own: above all, or underneath."""
    kind, plies = kind_of(line), design.plies
    at = 0 if kind.underneath else len(plies)
    was = [design.was_cut_from[one] for one in _things(design, results) if one in design.was_cut_from]
    material, materials = (was[0], design.materials) if was else _fresh_material(design, at)
    ply = Ply(
        id=_free_id("p", [p.id for p in plies]),
        name=free_name(kind.ply or kind.name, [p.name for p in plies]),
        typed=False,
        material=material,
        results=results,
    )
    plies = [*plies[:at], ply, *plies[at:]]
    return design.model_copy(update={"plies": plies, "materials": materials})


def _rewired(design: Design, back: Mapping[str, Sequence[str]], gone: str = "") -> Design:
    """The design with results that are no more replaced by others, or by none where there are none.

    Args:
        gone: a line none of whose results are left, whatever they were called.
    """
    back = dict(back)

    def new(ref: str) -> Sequence[str]:
        return back.get(ref, () if gone and line_of(ref) == gone else (ref,))

    recipe: list[AnyLine] = []
    for line in design.recipe:
        for ref in kind_of(line).named_after(line):
            if tuple(new(ref)) != (ref,):
                # Its own results are named after what they come from.
                back[ref_to(line.id, ref)] = [ref_to(line.id, one) for one in new(ref)]
        recipe.append(_with_refs(line, new))
    used = {ref for ply in design.plies for ref in ply.results}
    plies = _replaced(design.plies, {ref: new(ref) for ref in used})
    return design.model_copy(update={"recipe": recipe, "plies": plies})


def _with_refs(line: AnyLine, new: Callable[[str], Sequence[str]]) -> AnyLine:
    """A line with each result it refers to replaced; where there is none it does without."""
    values = line.model_dump()
    for name, slot in slots_of(line).items():
        if slot == "ref":
            values[name] = next(iter(new(values[name])), "")
        elif slot == "refs":
            values[name] = list(dict.fromkeys(ref for old in values[name] for ref in new(old)))
        elif slot in ("picks", "anchors"):
            values[name] = [kept for one in values[name] if (kept := _renamed(one, new))]
        elif slot == "place":
            for held in ("on", "as_wide", "as_tall"):
                if values[name][held]:
                    values[name][held] = next(iter(new(values[name][held])), None)
    return type(line).model_validate(values)


def _renamed(pick: dict[str, Any], new: Callable[[str], Sequence[str]]) -> dict[str, Any] | None:
    """A pick, or an anchor, by the results' new names; None where what it hangs on is no more."""
    if "anchor" in pick:
        anchor = _renamed(pick["anchor"], new)
        parents = [ref for old in pick["parents"] for ref in new(old)]
        return anchor and {
            **pick,
            "anchor": anchor,
            "parents": parents,
            "to": next(iter(new(pick["to"])), ""),
        }
    of = next(iter(new(pick["of"])), None)
    return {**pick, "of": of} if of else None


def _uncovered(design: Design) -> list[str]:
    """Results no other line has taken the place of, in the recipe's order."""
    refs = [ref_to(line.id, name) for line in design.recipe for name in kind_of(line).names(line)]
    gone = covered(design.recipe)
    under = {line.id for line in design.recipe if kind_of(line).underneath}
    return [ref for ref in refs if ref not in gone and line_of(ref) not in under]


def _fresh_material(design: Design, at: int) -> tuple[str, list[Material]]:
    """A material for a new ply at a place in the stack, and the design's materials with it.

    It can be told from the ground and from the plies beside it, and may lie there: of the kind that lies
    beside it, and nothing that bears no heat under what is pressed. The design's own that no ply uses come
    first, then the starters; where none will do, one is made.
    """
    known = {one.id: one for one in design.materials}
    beside = [known[ply.material] for ply in design.plies[max(at - 1, 0) : at + 1] if ply.material in known]
    colours = [design.ground.colour, *(one.colour for one in beside)]
    kind = beside[0].kind if beside else ""
    covered = at < len(design.plies)
    used = {ply.material for ply in design.plies}

    def fits(one: Material) -> bool:
        lies = kind in ("", one.kind) and not (covered and one.pressing.last)
        return lies and told_apart(one.colour, colours)

    for one in design.materials:
        if one.id not in used and fits(one):
            return one.id, design.materials
    spare = next((one for one in STARTERS if one.id not in known and fits(one)), None)
    if spare is None:
        like = beside[0] if beside else FRESH
        fresh = {"id": _free_id("m", list(known)), "colour": grey_apart(colours), "pressing": Pressing()}
        names = [one.name for one in design.materials]
        spare = like.model_copy(update={**fresh, "name": free_name(FRESH.name, names)})
    return spare.id, [*design.materials, spare]


def _free_id(prefix: str, taken: list[str]) -> str:
    return next(f"{prefix}{n}" for n in range(1, len(taken) + 2) if f"{prefix}{n}" not in taken)


def with_word(design: Design, word: str) -> Design:
    """The design with a word of one's own in the first row of its first line of words."""
    at = next((i for i, line in enumerate(design.recipe) if isinstance(line, Letter) and line.rows), None)
    if at is None or not word.strip():
        return design
    line = design.recipe[at]
    assert isinstance(line, Letter)
    first = line.rows[0].model_copy(update={"text": word.strip(), "own": []})
    recipe = list(design.recipe)
    recipe[at] = line.model_copy(update={"rows": [first, *line.rows[1:]]})
    return Design.model_validate(design.model_copy(update={"recipe": recipe}).model_dump())
