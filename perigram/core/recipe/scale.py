"""The whole design made larger or smaller in one go."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

from pydantic import BaseModel

from perigram.core.errors import PerigramError
from perigram.core.recipe.design import Design
from perigram.core.recipe.evaluate import Proof
from perigram.core.recipe.kinds import Side
from perigram.core.recipe.values import Gap

#: What measures (clear lines, gaps, smallest sizes) do: stay as material and machine ask, or grow along.
Measures = Literal["kept", "scaled"]
#: A design is as large as asked for when it is within so many mm.
_NEAR = 0.005
_ROUNDS = 12
#: Sizes are kept to so many decimals of a mm.
_DECIMALS = 4


def scale_to(
    design: Design, side: Side, size: float, measures: Measures, proof_of: Callable[[Design], Proof]
) -> Design:
    """The design as wide or as tall as asked for when it is finished, all else in proportion.

    Where measures are kept it does not quite grow in proportion, so the ratio is found by trying.

    Args:
        size: in mm.

    Raises:
        PerigramError: where there is nothing to scale, a line cannot be made so large or so small, or no
            ratio makes it of that size.
    """
    axis = 0 if side == "width" else 1

    def extent(proof: Proof) -> float:
        box = proof.bounds
        return box[axis + 2] - box[axis] if box else 0.0

    proof = proof_of(design)
    at_first = now = extent(proof)
    if not now > 0.0:
        raise PerigramError("There is nothing to scale yet: no ply has anything on it.")
    if not 1.0 <= size <= 20_000.0:
        raise PerigramError(
            f"A design can be 1 to 20,000 mm {'wide' if axis == 0 else 'tall'}, not {size:g} mm."
        )
    stopped_before = _stopped(proof).keys()
    # The first try goes by proportion, every other by the line through the last two.
    tries = [(1.0, now)]
    ratio = size / now
    for _ in range(_ROUNDS):
        made = scaled(design, ratio, measures)
        proof = proof_of(made)
        stopped = _stopped(proof)
        for number, line in enumerate(made.recipe, 1):
            if line.id in stopped.keys() - stopped_before:
                other = "more" if size < at_first else "less"
                raise PerigramError(
                    f"Line {number} stops at {size:g} mm: {stopped[line.id]} Ask for {other}."
                )
        now = extent(proof)
        if abs(now - size) <= _NEAR:
            return made
        (before, was), tries = tries[-1], [*tries, (ratio, now)]
        slope = (now - was) / (ratio - before) if ratio != before else now / ratio
        ratio = min(
            max(ratio + (size - now) / slope if slope > 0.0 else ratio * size / max(now, 1e-9), 1e-3), 1e3
        )
    if measures == "kept" and size < at_first:
        raise PerigramError(
            f"Its clear lines and gaps alone leave no room for {size:g} mm. "
            "Let them scale too, or ask for more."
        )
    nearest = min((was for _, was in tries), key=lambda one: abs(one - size))
    raise PerigramError(f"It comes to {nearest:.2f} mm at best, not {size:g} mm. Ask for another size.")


def _stopped(proof: Proof) -> dict[str, str]:
    """Lines that could not be carried out, and why."""
    return {one.line: one.text for one in reversed(proof.findings) if one.line and one.level == "stop"}


def scaled(design: Design, ratio: float, measures: Measures) -> Design:
    """The design with every size times a ratio, and measures as well if they are to be scaled."""
    recipe = [_scaled(line, ratio, measures) for line in design.recipe]
    guides = design.guides.model_copy(
        update={axis: [round(at * ratio, _DECIMALS) for at in getattr(design.guides, axis)] for axis in "xy"}
    )
    return Design.model_validate(design.model_copy(update={"recipe": recipe, "guides": guides}).model_dump())


def _scaled(model: BaseModel, ratio: float, measures: Measures) -> Any:
    """A model with its own lengths, and those of what it holds, as they are to be."""
    grown: dict[str, Any] = {}
    for name, field in type(model).model_fields.items():
        extra = field.json_schema_extra
        scales = extra.get("scales") if isinstance(extra, dict) else None
        value = getattr(model, name)
        if scales == "measure" and measures == "kept":
            continue
        if isinstance(value, Gap):
            if value.of == "mm":
                grown[name] = value.model_copy(update={"value": _times(value.value, ratio)})
        elif scales and value is not None:
            grown[name] = _times(value, ratio, second=scales == "second")
        elif isinstance(value, BaseModel):
            grown[name] = _scaled(value, ratio, measures)
        elif isinstance(value, list) and value and isinstance(value[0], BaseModel):
            grown[name] = [_scaled(one, ratio, measures) for one in value]
    return model.model_copy(update=grown)


def _times(value: Any, ratio: float, second: bool = False) -> Any:
    """A number, a point or points times a ratio; of points only the second, if only that is a length."""
    if isinstance(value, list):
        return [_times(one, ratio, second) for one in value]
    if isinstance(value, tuple):
        x, y = value
        return (x if second else _times(x, ratio), _times(y, ratio))
    return round(value * ratio, _DECIMALS)
