"""Findings about a ply: what stops a cut and what needs a look."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from perigram.core.geometry.clean import narrow_pieces
from perigram.core.geometry.finish import fault
from perigram.core.geometry.measure import Box
from perigram.core.geometry.region import Region
from perigram.core.geometry.thin import strands_looked_for


@dataclass(frozen=True)
class Mend:
    """What would mend a finding: a new line of a kind on a result, values of the line that is named, or
    a result taken off a ply.
    """

    label: str
    kind: str
    on: str
    values: Mapping[str, float | str]
    #: the result that is taken off the ply, where that mends it
    result: str = ""
    ply: str = ""


@dataclass(frozen=True)
class Finding:
    """One thing to know before cutting.

    Attributes:
        level: "stop" for what cannot be cut, "look" for what may not come out well.
        line, ply: the line or ply it is about.
        place: the box in mm it is found in.
        about: what has been looked at, where others need to know.
        mend: what would put it right, where a line can.
    """

    level: Literal["holds", "look", "stop"]
    text: str
    line: str | None = None
    ply: str | None = None
    place: Box | None = None
    about: Literal["validity"] | None = None
    mend: Mend | None = None


def check_ply(
    region: Region, ply: str, name: str, of: Sequence[str], smallest: float, loose: bool = False
) -> list[Finding]:
    """Everything to say about one ply cut from a material with a thinnest strand of `smallest` mm.

    Args:
        ply, name: its id, and what it is called.
        of: the results it is cut from.
        loose: whether nothing holds what stands by itself, as of card, which has no backing.
    """
    if region.is_empty:
        return [Finding("look", f"{name} has nothing to cut.", ply=ply)]
    findings = []
    wrong = fault(region)
    if wrong:
        reason, (x, y) = wrong
        text = f"{name} cannot be cut: {reason}. Move something a little there, or clean the ply."
        findings.append(Finding("stop", text, ply=ply, place=(x, y, x, y), about="validity"))
    narrow = narrow_pieces(region, smallest)
    bits = _by_size(region.flat.polygon_array()[narrow])
    if bits:
        what = "1 bit" if len(bits) == 1 else f"{len(bits)} bits"
        text = f"{what} of {name} under {smallest:g} mm"
        mend = None
        if len(of) == 1:
            what = "it" if len(bits) == 1 else "them"
            mend = Mend(f"Drop {what}", "clean", of[0], {"bits": smallest})
        findings.append(Finding("look", text, ply=ply, place=bits[0], mend=mend))
    if loose:
        findings += _dropping_out(region, ply, name)
    # Bits are thin all over; of what else there is, only some places are.
    rest = region.select_polygons(~narrow)
    thin, looked = strands_looked_for(rest, smallest)
    if thin:
        what = "1 strand" if len(thin) == 1 else f"{len(thin)} strands"
        width = f"{thin[0].width:.2f} mm" if thin[0].width >= 0.01 else "under 0.01 mm"
        text = f"{what} of {name} under {looked:g} mm, thinnest {width}"
        if looked < smallest:
            text += f"; much more of it is under {smallest:g} mm"
        findings.append(Finding("look", text, ply=ply, place=thin[0].place))
    return findings


def _dropping_out(region: Region, ply: str, name: str) -> list[Finding]:
    """Pieces that stand in a hole of another: what a stencil or a plate of card would lose."""
    outer = region.without_holes().flat.polygon_array()
    inner, around = shapely.STRtree(outer).query(outer, predicate="within")
    lost = np.unique(inner[inner != around])
    if len(lost) == 0:
        return []
    what = "1 island" if len(lost) == 1 else f"{len(lost)} islands"
    text = f"{what} of {name} would drop out: bridge what is cut out of it"
    return [Finding("look", text, ply=ply, place=_by_size(outer[lost])[0])]


def _by_size(bits: np.ndarray) -> list[Box]:
    """The boxes of polygons, smallest polygon first."""
    order = np.argsort(shapely.area(bits), kind="stable")
    return [(float(a), float(b), float(c), float(d)) for a, b, c, d in shapely.bounds(bits[order])]
