"""Place a picture: imported vector art, all of it or some of its parts."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, FiniteFloat

from perigram.core.art.svg import Drawing, Light
from perigram.core.geometry.simplify import WITHIN, simplified
from perigram.core.recipe.kinds import Kind, Naming, Note, Outcome, Start, Tools
from perigram.core.recipe.parts import Made, Part
from perigram.core.recipe.placing import matched, placing, sizing
from perigram.core.recipe.refs import is_lettering
from perigram.core.recipe.values import Line, Place, length, limits, slot

#: A new picture is so long as a share of what it is placed on, or in mm where that is nothing.
_SHARE, _ALONE = 2.0 / 3.0, 100.0


class Art(Line):
    kind: Literal["art"] = "art"
    picture: Annotated[str, Field(max_length=80)] = slot("picture", "Picture", "")
    size: FiniteFloat = length("Size", 100.0, low=0.5, high=3000.0, step=1.0)
    by: Literal["wide", "tall"] = slot("choice", "Sized by", "tall", choices={"wide": "wide", "tall": "tall"})
    dropped: Annotated[list[int], Field(max_length=5000)] = slot("parts", "Parts left out", [])
    light: Light = slot(
        "choice", "Lighter parts", "cut", choices={"cut": "cut out of darker ones", "kept": "kept"}
    )
    place: Place = slot("place", "Place", Place())
    #: width over height, in percent of how the picture has it; pulled, not in the sentence
    stretch: FiniteFloat = 100.0


def run(line: Art, tools: Tools) -> Outcome:
    if not line.picture:
        return Outcome({}, [Note("stop", "No picture chosen yet. Choose one, or drop an SVG on the proof.")])
    drawing = tools.sources.drawing(line.picture)
    dropped = frozenset(line.dropped)
    key = ("art", line.picture, dropped, line.light)
    drawn = tools.memo(key, lambda: drawing.region(dropped, line.light))
    notes = [Note("look", text) for text in drawing.notes] + [Note("holds", text) for text in drawing.remarks]
    if line.light == "cut" and drawing.has_light_parts:
        text = "Lighter shapes of the picture are cut out of the darker ones they lie on"
        notes.append(Note("holds", text, mend=("Keep them", {"light": "kept"})))
    if not 5.0 <= line.stretch <= 2000.0:
        return Outcome(
            {}, [Note("stop", f"A picture can be stretched to 5 to 2000 %, not {line.stretch:g} %.")]
        )
    wide, tall = matched(line.place, tools)
    if not (wide or tall):
        wide, tall = (line.size, None) if line.by == "wide" else (None, line.size)
    sized = sizing(drawn, wide, tall, line.stretch / 100.0)
    made = Made(drawn, lambda: _parts(drawing, dropped)).moved(sized)
    region = tools.memo((*key, sized.tobytes()), lambda: simplified(made.region))
    if region.node_count < made.region.node_count:
        notes.append(Note("holds", _says_simplified(made.region.node_count, region.node_count)))
    made = replace(made, region=region)
    return Outcome({"art": made.moved(placing(region, line.place, tools))}, notes)


def _says_simplified(drawn: int, kept: int) -> str:
    return (
        f"{kept:,} of the picture's {drawn:,} nodes stay: the others lie too close together to show at this "
        f"size (outlines keep within {WITHIN:g} mm)"
    )


def _parts(drawing: Drawing, dropped: frozenset[int]) -> list[Part]:
    """The shapes of a picture as they were drawn, lighter ones among them."""
    return [
        Part((number,), part.name, part.region, np.eye(2, 3))
        for number, part in enumerate(drawing.parts)
        if number not in dropped
    ]


def _starts(start: Start) -> dict[str, object]:
    """A picture comes two thirds as long as what it is placed on: what is chosen, or words, or the newest."""
    words = [ref for ref in start.free if is_lettering(ref)]
    on = next(iter([*start.chosen[:1], *words[-1:], *start.free[-1:]]), None)
    box = start.boxes.get(on or "")
    long = round(_SHARE * max(box[2] - box[0], box[3] - box[1]), 1) if box else _ALONE
    low, high = limits(Art, "size")
    size = {"size": min(max(long, low), high), "by": "wide" if start.width > start.height else "tall"}
    return {"picture": start.picture or "", "place": {"on": on}, **size}


def _called(kind: Kind, line: Art, name: str, naming: Naming) -> str:
    return naming.picture(line.picture) or "Picture"


KIND = Kind(
    Art,
    name="Place a picture",
    sentence="Place {picture}, {dropped}, lighter parts {light}, {size} {by}, {place}",
    words=(
        "art",
        "picture",
        "image",
        "svg",
        "logo",
        "mascot",
        "import",
        "upload",
        "drawing",
        "clip art",
        "trace",
    ),
    results={"art": "picture"},
    run=run,
    ply="Picture",
    called=_called,
    starts=_starts,
)
