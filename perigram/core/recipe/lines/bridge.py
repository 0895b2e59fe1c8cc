"""Bridge: strips that hold what would drop out of a stencil."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field, FiniteFloat

from perigram.core.combine.bridges import Strip, bridged, islands, strip_at, strips_for
from perigram.core.geometry.measure import Box
from perigram.core.geometry.overlay import cut_away, weld
from perigram.core.geometry.region import Region
from perigram.core.recipe.kinds import Kind, Note, Outcome, Tools, on_one
from perigram.core.recipe.pieces import Anchor, Pick, Piece, Places
from perigram.core.recipe.values import Line, Ref, length, number, slot


class Bridge(Line):
    kind: Literal["bridge"] = "bridge"
    of: Ref = slot("ref", "What is bridged", "")
    width: FiniteFloat = length("Width of a strip", 2.0, low=0.1, high=50.0, measure=True)
    each: FiniteFloat = number("Strips for each island", 2.0, low=1.0, high=6.0)
    #: strips taken away, and places where one was added, by hand
    gone: Annotated[list[Anchor], Field(max_length=400)] = slot("anchors", "Strips", [])
    own: Annotated[list[Anchor], Field(max_length=400)] = slot("anchors", "Strips of one's own", [])


def run(line: Bridge, tools: Tools) -> Outcome:
    made = tools.inputs[line.of]
    region, places = made.region, Places({line.of: made})
    figure, x, y = region.at_origin()
    key = ("strips", figure.digest(), line.width, line.each)
    found: list[Strip] = tools.memo(key, lambda: strips_for(figure, line.width, int(line.each)))
    by_rule = [Strip(one.corners + (x, y), one.joins, one.score) for one in found]
    gone: list[tuple[Strip, Anchor]] = []
    for anchor in line.gone:
        where = places.find(anchor)
        if where is None or not by_rule:
            continue
        away = shapely.distance([one.body for one in by_rule], shapely.points(where[0]))
        if away.min() <= line.width:
            gone.append((by_rule.pop(int(away.argmin())), anchor))
    own: list[tuple[Strip, Anchor]] = []
    for anchor in line.own:
        where = places.find(anchor)
        strip = strip_at(region, where[0], line.width) if where else None
        if strip:
            own.append((strip, anchor))
    kept = [(one, _anchor(one, line.of, places)) for one in by_rule] + own
    strips = [strip for strip, _ in kept]
    left, tool = bridged(region, strips), weld([one.region() for one in strips])
    pieces = [
        Piece(strip.region(), Pick(anchor=anchor, parents=[line.of], to=to), _name(strip))
        for to, some in ((line.of, kept), ("", gone))
        for strip, anchor in some
    ]
    result = made.reduced(left, lambda part: cut_away(part, tool))
    lost = len(line.own) - len(own)
    return Outcome({"bridged": result}, _notes(region, left, len(strips), lost), pieces=pieces)


def _anchor(strip: Strip, ref: str, places: Places) -> Anchor:
    found = places.anchor(strip.middle, [ref])
    assert found is not None, "a strip lies on something"
    return found[0]


def _name(strip: Strip) -> str:
    return f"strip {np.hypot(*(strip.corners[1] - strip.corners[0])):.1f} mm long"


def _notes(region: Region, left: Region, strips: int, lost: int) -> list[Note]:
    """What is held and what is not; `lost` strips set by hand have nothing to run across."""
    notes = _held(region, left, strips)
    if lost:
        what = "1 strip" if lost == 1 else f"{lost} strips"
        text = f"{what} set by hand would cross nothing there, so there is none. Set it across a stroke."
        notes.append(Note("look", text))
    return notes


def _held(region: Region, left: Region, strips: int) -> list[Note]:
    count, loose = len(islands(region)), islands(left)
    if count == 0:
        return [Note("holds", "No islands: nothing would drop out")]
    held = count - len(loose)
    what = "island" if held == 1 else "islands"
    notes = [Note("holds", f"{held} {what} held by {strips} strips")] if held > 0 else []
    if len(loose):
        what = "1 island" if len(loose) == 1 else f"{len(loose)} islands"
        text = f"{what} would still drop out. Click where a strip is to go, or make strips narrower."
        notes.append(Note("look", text, _box_of(left, int(loose[0]))))
    return notes


def _box_of(region: Region, loop: int) -> Box:
    start = region.start[region.loop_offsets[loop] : region.loop_offsets[loop + 1]]
    (x0, y0), (x1, y1) = start.min(axis=0).tolist(), start.max(axis=0).tolist()
    return x0, y0, x1, y1


KIND = Kind(
    Bridge,
    name="Bridge",
    sentence="Bridge {of} with strips {width} wide, {each} for each island; "
    "by hand {gone} taken away, {own} added",
    words=("bridge", "stencil", "island", "counter", "hold", "tab", "strip", "crate", "drop out"),
    results={"bridged": "bridged"},
    run=run,
    replaces={"bridged": "of"},
    starts=on_one,
)
