"""Materials: what their kinds bring with them, and those a design starts from."""

from __future__ import annotations

from dataclasses import dataclass

from perigram.core.recipe.design import Material
from perigram.core.recipe.making import Pressing


@dataclass(frozen=True)
class MaterialKind:
    """What a kind of material is called, and what it starts with: whether it is cut mirrored, and the
    thinnest strand in mm that still cuts and holds.
    """

    name: str
    mirrored: bool
    smallest: float


#: HTV is cut from its back and so mirrored, the others from their face; strands are common practice.
MATERIAL_KINDS = {
    "htv": MaterialKind("heat-transfer vinyl", True, 1.0),
    "vinyl": MaterialKind("adhesive vinyl", False, 0.8),
    "card": MaterialKind("card", False, 1.5),
}

#: Flock and metal are pressed gently and with nothing over them (common practice).
_FLOCK = Pressing(heat=145.0, pressure="light", peel="cold", most=20.0, last=True, notes="Cover sheet on.")
_METAL = Pressing(full=8.0, heat=150.0, peel="cold", most=25.0, last=True)

#: Materials a design starts from, invented.
STARTERS = (
    Material(id="ember", name="Ember smooth", colour="#D9532C"),
    Material(id="night", name="Night flock", colour="#1F2733", smallest=1.5, pressing=_FLOCK),
    Material(id="chalk", name="Chalk smooth", colour="#F4F0E6"),
    Material(id="reed", name="Reed smooth", colour="#5E7F57"),
    Material(id="brass", name="Brass metal", colour="#C79A3B", smallest=1.2, pressing=_METAL),
    Material(id="slate", name="Slate matt", kind="vinyl", colour="#2B3A42", mirrored=False, smallest=0.8),
)

#: What a material added by hand is at first.
FRESH = Material(id="new", name="New material", colour="#3E7C8C")
