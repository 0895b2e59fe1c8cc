"""Every kind of line, one file each. A new kind is added to `KINDS` and nowhere else."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from perigram.core.recipe.kinds import Kind
from perigram.core.recipe.lines import (
    art,
    back,
    bend,
    bridge,
    clean,
    cut_away,
    knock_out,
    let_in,
    letter,
    move_pieces,
    net,
    rails,
    repeat,
    ring,
    shape,
    slice,
    texture,
    weld,
)
from perigram.core.recipe.values import Line

KINDS: dict[str, Kind] = {
    kind.id: kind
    for kind in (
        letter.KIND,
        art.KIND,
        shape.KIND,
        bend.KIND,
        rails.KIND,
        net.KIND,
        knock_out.KIND,
        weld.KIND,
        cut_away.CUT_AWAY,
        cut_away.KEEP_WITHIN,
        slice.SLICE,
        slice.KEEP_PARTS,
        move_pieces.KIND,
        ring.KIND,
        let_in.KIND,
        bridge.KIND,
        texture.KIND,
        repeat.KIND,
        back.KIND,
        clean.KIND,
    )
}


def kind_of(line: Line) -> Kind:
    return KINDS[type(line).model_fields["kind"].default]


AnyLine = Annotated[
    letter.Letter
    | art.Art
    | shape.Shape
    | bend.Bend
    | rails.Rails
    | net.Net
    | knock_out.KnockOut
    | weld.Weld
    | cut_away.CutAway
    | cut_away.KeepWithin
    | slice.Slice
    | slice.KeepParts
    | move_pieces.MovePieces
    | ring.Ring
    | let_in.LetIn
    | bridge.Bridge
    | texture.Texture
    | repeat.Repeat
    | back.Back
    | clean.Clean,
    Field(discriminator="kind"),
]
