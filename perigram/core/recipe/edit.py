"""Lines added to and removed from a design, with the plies following sensibly."""

from __future__ import annotations

from collections.abc import Mapping

from pydantic import ValidationError

from perigram.core.errors import PerigramError
from perigram.core.recipe.design import Design, Material, Ply
from perigram.core.recipe.kinds import Kind, Start
from perigram.core.recipe.lines import KINDS, AnyLine
from perigram.core.recipe.refs import line_of, ref_to
from perigram.core.recipe.values import Line

#: Materials a design starts from, invented; HTV is cut from its back and so mirrored (common practice).
STARTERS = (
    Material(id="ember", name="Ember smooth", colour="#D9532C"),
    Material(id="night", name="Night flock", colour="#1F2733", smallest=1.5),
    Material(id="chalk", name="Chalk smooth", colour="#F4F0E6"),
    Material(id="reed", name="Reed smooth", colour="#5E7F57"),
    Material(id="brass", name="Brass metal", colour="#C79A3B", smallest=1.2),
    Material(id="slate", name="Slate matt", kind="vinyl", colour="#2B3A42", mirrored=False, smallest=0.8),
)


def add_line(
    design: Design,
    kind_id: str,
    picture: str | None = None,
    height: float | None = None,
    on: str | None = None,
    given: Mapping[str, float | str] | None = None,
) -> tuple[Design, str]:
    """The design with a line of a kind at its end, and the line's id.

    A picture comes `height` mm tall; a line that works on one result works on `on`; `given` are values
    of its own that are not to be the usual ones.

    References are filled with the results that fit the kind best. A result that
    takes another's place takes it on its ply too; any other gets a ply of its own.

    Raises:
        PerigramError: for a kind that does not exist, or values it does not take.
    """
    kind = KINDS.get(kind_id)
    if kind is None:
        raise PerigramError(f"There is no kind of line called “{kind_id}”.")
    line_id = _free_id("l", [line.id for line in design.recipe])
    values = kind.starts(Start(_uncovered(design), on, picture, height))
    try:
        line = kind.model.model_validate({"id": line_id, **values, **(given or {})})
    except ValidationError as error:
        first = error.errors()[0]
        raise PerigramError(
            f"A line called “{kind.name}” cannot take {first['loc'][-1]} as given: {first['msg']}."
        ) from error
    recipe = [*design.recipe, line]
    taken = {getattr(line, source): ref_to(line_id, name) for name, source in kind.replaces.items()}
    plies = [
        ply.model_copy(update={"results": [taken.get(ref, ref) for ref in ply.results]})
        for ply in design.plies
    ]
    materials = design.materials
    if kind.ply:
        material, materials = _fresh_material(design)
        ply = Ply(
            id=_free_id("p", [p.id for p in plies]),
            name=free_name(_ply_name(kind, line, design), [p.name for p in plies]),
            material=material,
            results=[ref_to(line_id, name) for name in kind.results],
        )
        plies = [ply, *plies] if kind.underneath else [*plies, ply]
    changed = design.model_copy(update={"recipe": recipe, "plies": plies, "materials": materials})
    return Design.model_validate(changed.model_dump()), line_id


def remove_line(design: Design, line_id: str) -> Design:
    """The design without a line; what stood in for its sources gives them their place back."""
    line = next((one for one in design.recipe if one.id == line_id), None)
    if line is None:
        return design
    kind = KINDS[line.kind]
    back = {ref_to(line_id, name): getattr(line, source) for name, source in kind.replaces.items()}
    plies = []
    for ply in design.plies:
        results = [back.get(ref, ref) for ref in ply.results]
        results = [ref for ref in results if ref and line_of(ref) != line_id]
        if results or not ply.results:
            plies.append(ply.model_copy(update={"results": list(dict.fromkeys(results))}))
    recipe = [_rewired(one, line_id, back) for one in design.recipe if one.id != line_id]
    return design.model_copy(update={"recipe": recipe, "plies": plies})


def _rewired(line: AnyLine, gone: str, back: dict[str, str]) -> AnyLine:
    """A line that used the removed one's results, using what they stood for, where there is such."""
    values = line.model_dump()
    for name, field in type(line).model_fields.items():
        extra = field.json_schema_extra
        slot = extra.get("slot") if isinstance(extra, dict) else None
        if slot == "ref":
            values[name] = back.get(values[name], "" if line_of(values[name]) == gone else values[name])
        elif slot == "refs":
            kept = [back.get(ref, ref) for ref in values[name]]
            values[name] = [ref for ref in kept if line_of(ref) != gone]
        elif slot == "place":
            for held in ("on", "as_wide", "as_tall"):
                if line_of(values[name][held] or "") == gone:
                    values[name][held] = back.get(values[name][held])
    return type(line).model_validate(values)


def _uncovered(design: Design) -> list[str]:
    """Results no other line has taken the place of, in the recipe's order."""
    refs = [ref_to(line.id, name) for line in design.recipe for name in KINDS[line.kind].results]
    covered = {
        getattr(line, source) for line in design.recipe for source in KINDS[line.kind].replaces.values()
    }
    under = {line.id for line in design.recipe if KINDS[line.kind].underneath}
    return [ref for ref in refs if ref not in covered and line_of(ref) not in under]


def _fresh_material(design: Design) -> tuple[str, list[Material]]:
    """A material no ply uses yet, from the design's own or from the starters."""
    used = {ply.material for ply in design.plies}
    for material in design.materials:
        if material.id not in used:
            return material.id, design.materials
    held = {m.id for m in design.materials}
    spare = next((m for m in STARTERS if m.id not in held), None)
    if spare is None:
        spare = STARTERS[0].model_copy(update={"id": _free_id("m", list(held))})
    return spare.id, [*design.materials, spare]


def _ply_name(kind: Kind, line: Line, design: Design) -> str:
    wanted = getattr(line, "picture", None)
    names = [p.name for p in design.pictures if p.id == wanted]
    return names[0] if names else kind.ply


def _free_id(prefix: str, taken: list[str]) -> str:
    return next(f"{prefix}{n}" for n in range(1, len(taken) + 2) if f"{prefix}{n}" not in taken)


def free_name(name: str, taken: list[str]) -> str:
    """The name, numbered where another thing has it."""
    if name not in taken:
        return name
    return next(f"{name} {n}" for n in range(2, len(taken) + 3) if f"{name} {n}" not in taken)
