"""What the API does: keep designs and pictures, and evaluate designs for their owner."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Hashable, Mapping
from datetime import timedelta
from functools import cached_property
from typing import Any
from uuid import UUID

from django.contrib.auth.models import AbstractBaseUser
from django.db import transaction
from django.shortcuts import get_object_or_404
from django.utils import timezone

from perigram.core.art.svg import Drawing, read_svg
from perigram.core.errors import PictureError
from perigram.core.formats.svg import path_data
from perigram.core.geometry import measure
from perigram.core.geometry.measure import Box
from perigram.core.lettering.fonts import Font
from perigram.core.recipe.cache import Cache
from perigram.core.recipe.design import Design, read_design, with_pictures
from perigram.core.recipe.evaluate import Care, Proof, evaluate
from perigram.core.recipe.things import free_name
from perigram.library import font_at
from perigram.studio import fonts, heavy, history
from perigram.studio.models import PictureFile, Revision, StoredDesign
from perigram.studio.problems import Problem

#: Results held in memory by one process, in bytes, for all of its shops.
_held = Cache(400_000_000)
#: States are thinned out after so many saves.
_THINNED = 20
#: Removed designs can be brought back for this long.
_KEPT_REMOVED = timedelta(days=30)


class ShopCache:
    """Results held for one shop; shops never share, so no key can lead to another's picture."""

    def __init__(self, owner: AbstractBaseUser) -> None:
        self._shop = owner.pk

    def get(self, key: Hashable, make: Callable[[], Any]) -> Any:
        return _held.get((self._shop, key), make)

    def held(self, key: Hashable) -> Any | None:
        return _held.held((self._shop, key))


class ShopSources:
    """Shipped fonts, and the owner's fonts and pictures."""

    def __init__(self, owner: AbstractBaseUser) -> None:
        self._owner = owner

    @cached_property
    def state(self) -> str:
        # Pictures go by their content, and so do fonts: which of those there are is all that can change.
        return fonts.state_of(self._owner)

    def font(self, font_id: str, axes: Mapping[str, float]) -> Font:
        return font_at(fonts.find_font(self._owner, font_id), axes)

    def fonts_with(self, characters: str) -> list[str]:
        return fonts.names_with(self._owner, characters)

    def drawing(self, picture_id: str) -> Drawing:
        return picture_drawing(self._owner, picture_id)


def picture_drawing(owner: AbstractBaseUser, digest: str) -> Drawing:
    """One of the owner's pictures, read.

    Raises:
        PictureError: when it is not in this shop.
    """

    def read() -> Drawing:
        stored = PictureFile.objects.filter(owner=owner, digest=digest).first()
        if stored is None:
            raise PictureError("This picture is not in your shop. Bring it in again.")
        return heavy.read_again(f"“{stored.name}”", read_svg, stored.svg)

    drawing: Drawing = ShopCache(owner).get(("drawing", digest), read)
    return drawing


def picture_size(owner: AbstractBaseUser, digest: str) -> tuple[Box, float, float]:
    """The box of one of the owner's pictures, its width and its height in mm."""
    parts = picture_drawing(owner, digest).parts
    box = measure.union_box([measure.bounds(part.region) for part in parts]) or (0.0, 0.0, 0.0, 0.0)
    return box, box[2] - box[0], box[3] - box[1]


def store_picture(owner: AbstractBaseUser, name: str, svg: str) -> str:
    """Keep a drawing once it has proved readable; returns its digest, the id designs use.

    Raises:
        PerigramError: when it cannot be read, or takes too much.
        Problem: 429 when the shop has several files read already.
    """
    digest = hashlib.sha256(svg.encode()).hexdigest()
    ShopCache(owner).get(("drawing", digest), lambda: heavy.read(owner, f"“{name}”", read_svg, svg))
    PictureFile.objects.get_or_create(owner=owner, digest=digest, defaults={"name": name[:120], "svg": svg})
    return digest


def adopt(owner: AbstractBaseUser, design: Design) -> Design:
    """A design as the shop keeps it: pictures it carries are stored and referred to by digest."""
    renamed = {p.id: store_picture(owner, p.name, p.svg) for p in design.pictures if p.svg is not None}
    if not renamed:
        return design
    pictures = [p.model_copy(update={"id": renamed.get(p.id, p.id), "svg": None}) for p in design.pictures]
    recipe = [with_pictures(line, renamed) for line in design.recipe]
    return design.model_copy(update={"pictures": pictures, "recipe": recipe})


def prove(owner: AbstractBaseUser, design: Design, care: Care = "checked") -> Proof:
    """Evaluate a design with what its owner has, at least with so much care.

    One evaluation of a state serves checking, its picture on the shelf and its cut files.
    """
    cache, sources = ShopCache(owner), ShopSources(owner)
    state = hashlib.sha256(design.model_dump_json().encode()).hexdigest()
    key = ("proof", state, sources.state)
    known = None if care == "checked" else cache.held((*key, "checked"))
    proof: Proof = known or cache.get((*key, care), lambda: evaluate(design, sources, cache, care))
    return proof


def prove_lines(
    owner: AbstractBaseUser, design: Design, upto: str | None = None, care: Care = "drawn"
) -> Proof:
    """What the lines of a design come to, without its plies; those up to one line, if it is named."""
    recipe = design.recipe
    last = next((i for i, line in enumerate(recipe) if line.id == upto), len(recipe) - 1)
    return prove(owner, design.model_copy(update={"recipe": recipe[: last + 1], "plies": []}), care)


def shelf_picture(design: Design, proof: Proof) -> dict[str, Any]:
    """The finished look, small: paths to a tenth of a millimetre."""
    hidden = {p.id for p in design.plies if p.hidden}
    return {
        "ground": design.ground.colour,
        "box": proof.bounds,
        "plies": [
            {"colour": p.material.colour, "d": path_data(p.region, 1)}
            for p in proof.plies
            if p.ply.id not in hidden
        ],
    }


def find(owner: AbstractBaseUser, design_id: UUID) -> StoredDesign:
    """The owner's design, removed or not; another owner's is as if it were not there."""
    return get_object_or_404(StoredDesign, id=design_id, owner=owner)


def create(owner: AbstractBaseUser, design: Design) -> StoredDesign:
    """A design on the shelf, numbered where another there has its name."""
    shelf = StoredDesign.objects.filter(owner=owner, removed=None).values_list("name", flat=True)
    design = adopt(owner, design)
    design = design.model_copy(update={"name": free_name(design.name[:110], list(shelf))})
    body = design.model_dump(mode="json")
    picture = shelf_picture(design, prove(owner, design))
    with transaction.atomic():
        stored = StoredDesign.objects.create(owner=owner, name=design.name, body=body, picture=picture)
        Revision.objects.create(design=stored, number=1, body=body, picture=picture)
    return stored


def save(owner: AbstractBaseUser, design_id: UUID, base: int, design: Design) -> StoredDesign:
    """Accept a new state based on revision `base`.

    Raises:
        Problem: 409 when the design has moved on since; the refused state is set aside, not lost. 410 when it
            is not on the shelf any more.
    """
    design = adopt(owner, design)
    body = design.model_dump(mode="json")
    picture = shelf_picture(design, prove(owner, design))
    with transaction.atomic():
        stored = get_object_or_404(StoredDesign.objects.select_for_update(), id=design_id, owner=owner)
        if stored.removed:
            raise Problem(
                410,
                "Removed",
                "This design was removed from the shelf meanwhile. Put it back to go on with it.",
            )
        stale = stored.revision != base
        if not stale:
            stored.revision += 1
            stored.name, stored.body, stored.picture = design.name, body, picture
            stored.save()
        Revision.objects.create(
            design=stored,
            number=base if stale else stored.revision,
            body=body,
            picture=picture,
            set_aside=stale,
        )
        if stored.revision % _THINNED == 0:
            thin_out(stored)
    if stale:
        raise Problem(
            409,
            "Changed elsewhere",
            "This design was changed in another window. Both versions are kept: choose which to go on with.",
            revision=stored.revision,
            design=read_design(stored.body).model_dump(mode="json"),
        )
    return stored


def _states(stored: StoredDesign) -> list[history.State]:
    rows = stored.revisions.values_list("id", "created", "set_aside", "name")
    return [history.State(id_, created, set_aside or bool(name)) for id_, created, set_aside, name in rows]


def thin_out(stored: StoredDesign) -> None:
    """What no one would look for goes; what is kept but not shown loses its picture, the larger part."""
    states, now = _states(stored), timezone.now()
    kept, shown = ({one.id for one in some(states, now)} for some in (history.kept, history.shown))
    stored.revisions.exclude(id__in=kept).delete()
    stored.revisions.filter(id__in=kept - shown).update(picture={})


def at_revision(stored: StoredDesign, revision: int) -> Design:
    """The stored design, if that is the revision that is meant.

    Raises:
        Problem: 409 where it is not.
    """
    if stored.revision != revision:
        raise Problem(
            409,
            "Another version is stored",
            "This design has been changed since what is on your screen was saved, so no cut files were made. "
            "Open it again to see what it is now, then export.",
            revision=stored.revision,
        )
    return read_design(stored.body)


def past_states(stored: StoredDesign) -> list[Revision]:
    """The states a person would look for, newest first."""
    ids = [one.id for one in history.shown(_states(stored), timezone.now())]
    return list(stored.revisions.filter(id__in=ids).exclude(picture={}).order_by("-id").defer("body"))


def name_state(stored: StoredDesign, state_id: int, name: str) -> Revision:
    """Calls a state by a name, or takes that away; while it has one it stays."""
    state = get_object_or_404(stored.revisions, id=state_id)
    state.name = name.strip()
    state.save(update_fields=["name"])
    return state


def rename(stored: StoredDesign, name: str) -> StoredDesign:
    """A rename is a change like any other: a revision of its own."""
    design = read_design({**stored.body, "name": name})
    return save(stored.owner, stored.id, stored.revision, design)


def copy(stored: StoredDesign) -> StoredDesign:
    name = f"{stored.name[:104]} copy"
    return create(stored.owner, read_design({**stored.body, "name": name}))


def removed_designs(owner: AbstractBaseUser) -> list[StoredDesign]:
    """Designs that were removed and are still kept, latest first; those of longer ago go for good."""
    removed = StoredDesign.objects.filter(owner=owner).exclude(removed=None)
    removed.filter(removed__lt=timezone.now() - _KEPT_REMOVED).delete()
    return list(removed.order_by("-removed").defer("body"))


def remove(stored: StoredDesign) -> None:
    stored.removed = timezone.now()
    stored.save(update_fields=["removed"])


def bring_back(stored: StoredDesign) -> None:
    stored.removed = None
    stored.save(update_fields=["removed"])
