"""Ring: a band at a distance from an outline, outside it or inside."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, FiniteFloat

from perigram.core.combine.ring import ring
from perigram.core.geometry.clean import Removed
from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.overlay import fill_holes, weld
from perigram.core.geometry.region import Region
from perigram.core.recipe.kinds import Kind, Note, Outcome, Tools, on_newest
from perigram.core.recipe.parts import Made
from perigram.core.recipe.values import Line, Ref, length, slot


class Ring(Line):
    kind: Literal["ring"] = "ring"
    of: Annotated[list[Ref], Field(max_length=60)] = slot("refs", "What is ringed", [])
    inner: FiniteFloat = length("Inner edge", 2.0, low=-50.0, high=50.0, step=0.5, measure=True)
    outer: FiniteFloat = length("Outer edge", 5.0, low=-50.0, high=50.0, step=0.5, measure=True)
    holes: Literal["kept", "filled"] = slot(
        "choice", "Holes", "filled", choices={"kept": "ringed as well", "filled": "left alone"}
    )


def run(line: Ring, tools: Tools) -> Outcome:
    if line.outer - line.inner < 0.05:
        text = f"A band from {line.inner:g} mm to {line.outer:g} mm has no width. Move its outer edge out."
        return Outcome({}, [Note("stop", text)])
    source = weld([tools.region(ref) for ref in line.of])
    figure, x, y = source.at_origin()

    def make() -> tuple[Region, list[Removed]]:
        solid = without_hairs(figure)
        return ring(fill_holes(solid) if line.holes == "filled" else solid, line.inner, line.outer)

    region, removed = tools.memo(("ring", figure.digest(), line.inner, line.outer, line.holes), make)
    notes = []
    if removed:
        what = "1 remain" if len(removed) == 1 else f"{len(removed)} remains"
        x0, y0, x1, y1 = removed[0].place
        place = (x0 + x, y0 + y, x1 + x, y1 + y)
        notes = [Note("holds", f"{what} narrower than the band dropped", place)]
    if region.is_empty and not source.is_empty:
        notes.append(Note("look", "So far inside nothing is left of it to make a band of."))
    return Outcome({"ring": Made(region.translated(x, y))}, notes)


KIND = Kind(
    Ring,
    name="Ring",
    sentence="Ring {of} from {inner} to {outer} off its edge, holes {holes}",
    words=("ring", "band", "inline", "outline", "contour", "border", "halo", "frame", "gap", "hollow"),
    results={"ring": "ring"},
    run=run,
    ply="Ring",
    starts=on_newest,
)
